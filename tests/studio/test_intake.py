"""Files that are brought: read by the worker, shown, kept or left; whole projects out and in again."""

import io
import json
import zipfile
from concurrent.futures import ThreadPoolExecutor

import ezdxf
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.urls import reverse
from PIL import Image

from ashfell.core.base.document import dump, read
from ashfell.core.finish import Finish
from ashfell.core.site.document.site import read_site
from ashfell.core.site.join import joined
from ashfell.core.site.scene import build_scene
from ashfell.formats.archive import packed
from ashfell.services import bounded
from ashfell.services.handover.project_file import FORMAT
from ashfell.services.kept.models import Asset, Membership, Project, Record, Revision, Role
from ashfell.services.kept.whole import take_in
from ashfell.studio.handover.models import Handover
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.intake.models import Intake
from ashfell.studio.intake.tasks import read_brought
from tests.formats.test_dxf_in import hut, written
from tests.formats.test_model_in import gltf

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def bring(signed_in):
    """Brings a file and lets a worker read it."""

    def brought(name, content):
        answer = signed_in.post(reverse("intake-start"), {"file": SimpleUploadedFile(name, content)})
        made = Intake.objects.first()
        assert answer.url == reverse("intake", args=[made.pk])
        read_brought.call(made.pk)
        made.refresh_from_db()
        return made

    return brought


@pytest.fixture
def worked(project, person):
    """A project somebody worked on: an image in a finish, a drawing and an image under documents, changes, an undo."""
    held = io.BytesIO()
    Image.new("RGB", (8, 8), (120, 60, 30)).save(held, "PNG")
    key = Asset.keep(held.getvalue())
    texture = {"pattern": "image", "width": "500", "height": "500", "maps": {"colour": key}}
    finish = dump(read(Finish, {"name": "Tiles", "kind": "tile", "colour": "#a0a0a0", "texture": texture}))
    Record.start(project, "finish", "tiles", finish, person)
    under = {"name": "Survey", "image": "", "lines": "M0 0L5 -5", "across": 5.0, "up": 5.0, "x": "0", "y": "0"}
    site = project.site
    site.save_change(site.data, site.current_id, person, "Laid under", under | {"width": "9 m"})
    unit = project.units.get(key="clubroom-window")
    shown = {"name": "Photo", "image": key, "lines": "", "across": 8.0, "up": 8.0, "x": "0", "y": "0", "width": "900"}
    first = unit.current_id
    unit.save_change(unit.data | {"name": "Other"}, first, person, "name", shown)
    unit.choose(unit.revisions.get(pk=first), unit.current_id)
    unit.save_change(unit.data | {"name": "Third"}, first, person, "name again", shown)
    return project


def handed(project, revisions="none"):
    made = Handover.objects.create(
        project=project, what="site", kind="project", document={}, options={"revisions": revisions}
    )
    assert write_file.call(made.pk) == "done", made.reason
    return made.file.read_bytes()


def test_documents_that_say_only_what_is_unusual_are_kept_whole(signed_in, bring):
    """A project as a program may write it; every page of it is there."""
    site = {"walls": [{"id": "w", "length": "4 m"}], "placements": [{"id": "p", "wall": "w", "unit": "plain"}]}
    files = {
        "site": {"name": "Hut"} | site,
        "units/plain": {},
        "finishes/sage": {"name": "Sage", "kind": "paint", "colour": "#778899"},
    }
    whole = {f"{name}.json": json.dumps(data).encode() for name, data in files.items()}
    revision = {"number": 1, "parent": 0, "made": "2026-01-02T03:04:05Z", "data": {"width": "900"}, "current": True}
    told = {"project.json": json.dumps({"format": FORMAT}).encode()}
    told["revisions/units/plain.json"] = json.dumps([revision]).encode()
    made = bring("hut.zip", packed(whole | told))
    assert made.state == "read", made.reason
    signed_in.post(reverse("intake-keep", args=[made.pk]))
    taken = Project.objects.order_by("pk").last()
    assert [taken.units.get().data[name] for name in ("width", "height", "name")] == ["900", "1200", "Window"]
    at = f"/projects/{taken.pk}/"
    for page in ("", "?side=schedule", "units/", "units/plain/", "units/plain/history/", "units/plain/sizes/", "fit/"):
        assert signed_in.get(at + page).status_code == 200, page
    for page in ("finishes/", "finishes/sage/", "schedule.csv", "pictures/", "hand-over/"):
        assert signed_in.get(at + page).status_code == 200, page


@pytest.mark.parametrize("revisions", ["none", "all"])
def test_same_project_in_same_project_out(signed_in, bring, worked, revisions):
    content = handed(worked, revisions)
    made = bring("hut.ashfell.zip", content)
    assert made.state == "read", made.reason
    answer = signed_in.post(reverse("intake-keep", args=[made.pk]))
    taken = Project.objects.order_by("pk").last()
    assert answer.url == reverse("project", args=[taken.pk])
    assert taken != worked
    assert handed(taken, revisions) == content
    assert taken.site.underlay == worked.site.underlay
    assert taken.units.count() == worked.units.count()
    unit, other = (one.units.get(key="clubroom-window") for one in (worked, taken))
    assert other.data == unit.data
    count = unit.revisions.count() if revisions == "all" else 1
    assert [one.data for one in other.revisions.all()] == [one.data for one in unit.revisions.all()][-count:]
    if revisions == "all":
        assert [one.made for one in other.revisions.all()] == [one.made for one in unit.revisions.all()]
        assert other.undone.data == unit.undone.data
    assert signed_in.get(answer.url).status_code == 200
    assert not made.file.exists()


@pytest.mark.parametrize(
    "change",
    [
        lambda told: told.replace(b'"number": 2', b'"number": 1'),
        lambda told: told.replace(b'"parent": 1', b'"parent": 9'),
        lambda told: told.replace(b'"current": true', b'"current": false'),
        lambda told: told.replace(b'"offered": false', b'"offered": "perhaps"'),
        lambda told: b"{}",
        lambda told: b"[1]",
    ],
)
def test_revisions_that_do_not_hold_are_refused(bring, worked, change):
    files = unzipped(handed(worked, "all"))
    name = "revisions/units/clubroom-window.json"
    assert change(files[name]) != files[name]
    before = Project.objects.count(), Record.objects.count(), Revision.objects.count()
    made = bring("hut.zip", zipped(files | {name: change(files[name])}))
    assert made.state == "failed"
    assert name in made.reason
    assert before == (Project.objects.count(), Record.objects.count(), Revision.objects.count())


def unzipped(content):
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def zipped(files):
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return held.getvalue()


def test_an_underlay_with_a_script_is_refused(bring, worked):
    files = unzipped(handed(worked))
    files["underlays/site.json"] = files["underlays/site.json"].replace(b"M0 0L5 -5", b"M0 0'/><script>")
    made = bring("hut.zip", zipped(files))
    assert made.state == "failed"
    assert "underlays/site.json" in made.reason


# --- a plan


def test_a_plan_is_shown_read_again_and_becomes_a_project(signed_in, bring):
    made = bring("hut.dxf", hut())
    page = signed_in.get(reverse("intake", args=[made.pk])).content.decode()
    for words in ("4 walls, 2 openings", "“TABLE”", 'value="A-WALL" checked', 'class="wall"', "as it says"):
        assert words in page, words
    typed = {"layers": ["A-WALL", "TABLE"], "unit": "mm", "height": "3 m", "sill": "750"}
    again = signed_in.post(reverse("intake-again", args=[made.pk]), typed).content.decode()
    assert 'hx-trigger="every 1s"' in again
    read_brought.call(made.pk)
    made.refresh_from_db()
    assert {wall["height"] for wall in made.site["walls"]} == {"3 m"}
    answer = signed_in.post(reverse("intake-keep", args=[made.pk]), {"name": "Net hut"})
    project = Project.objects.get(name="Net hut")
    assert answer.url == reverse("project", args=[project.pk])
    assert [one["sill"] for one in project.site.data["placements"]] == ["750", "0"]
    assert project.site.underlay["lines"].startswith("M")
    shown = signed_in.get(answer.url).content.decode()
    assert "4 walls, 2 openings" in shown
    made.refresh_from_db()
    assert (made.state, made.told, made.file.exists()) == ("kept", None, False)


def test_kept_twice_it_is_one_project(person, bring):
    made = bring("hut.dxf", hut())

    def keep(number):
        client = Client()
        client.force_login(person)
        try:
            return client.post(reverse("intake-keep", args=[made.pk]), {"name": "Net hut"}).status_code
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        assert set(pool.map(keep, range(4))) == {302}
    assert Project.objects.filter(name="Net hut").count() == 1


def test_a_plan_is_put_into_a_project_on_a_storey(signed_in, bring, project):
    site = project.site
    storeys = [{"id": "ground", "name": "Ground floor", "height": "3 m"}]
    site.save_change(site.data | {"storeys": storeys}, site.current_id, None)
    before = len(site.data["walls"])
    made = bring("hut.dxf", hut())
    signed_in.post(reverse("intake-keep", args=[made.pk]), {"into": f"{project.pk}:ground"})
    walls = project.site.data["walls"]
    assert len(walls) == before + 4
    assert {wall["storey"] for wall in walls[before:]} == {"ground"}
    assert project.site.undone is not None
    assert len({wall["id"] for wall in walls}) == len(walls)


def test_a_model_is_put_beside_the_building_of_a_project(signed_in, bring, project):
    """Its file is kept by its content, its colours become finishes of the project, its place is that of the file."""
    page = signed_in.get(reverse("intake-new"), {"into": project.pk}).content.decode()
    assert "A model round" in page
    material = {"pbrMetallicRoughness": {"baseColorFactor": [1, 0, 0, 1], "metallicFactor": 0, "roughnessFactor": 0.5}}
    file = SimpleUploadedFile("Net shed.gltf", gltf([{"mesh": 0, "translation": [20, 0, 0]}], [material]))
    signed_in.post(reverse("intake-start"), {"file": file, "into": project.pk})
    made = Intake.objects.first()
    read_brought.call(made.pk)
    made.refresh_from_db()
    assert made.understood.counted == "1 model"
    shown = signed_in.get(reverse("intake", args=[made.pk])).content.decode()
    assert "2000.0 mm wide, 1000.0 deep, 3000.0 high" in shown
    assert f'<option value="{project.pk}:" selected>' in shown
    signed_in.post(reverse("intake-keep", args=[made.pk]), {"into": f"{project.pk}:"})
    (own,) = project.site.data["surroundings"]
    assert (own["name"], own["x"], own["height"]) == ("Net shed", "21000.0", "3000.0")
    assert Asset.objects.filter(pk=own["mesh"]).exists()
    assert project.records.get(key="model-paint-ff0000-50").data["colour"] == "#ff0000"
    scene = build_scene(read_site(project.composed_site()))
    assert [part.finish for part in scene.parts if part.role == "surrounding"] == ["model-paint-ff0000-50"]
    assert signed_in.get(reverse("site-view", args=[project.pk])).status_code == 200
    assert project.site.undone is not None


def test_a_model_goes_with_its_project(signed_in, bring, project):
    made = bring("shed.gltf", gltf([{"mesh": 0}]))
    signed_in.post(reverse("intake-keep", args=[made.pk]), {"into": f"{project.pk}:"})
    key = project.site.data["surroundings"][0]["mesh"]
    content = handed(project)
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        assert f"models/{key}.mesh" in archive.namelist()
        parts = {name: archive.read(name) for name in archive.namelist()}
    Asset.objects.filter(pk=key).delete()
    made = bring("again.zip", content)
    assert made.state == "read", made.reason
    assert Asset.objects.filter(pk=key).exists()
    signed_in.post(reverse("intake-keep", args=[made.pk]))
    assert handed(Project.objects.order_by("pk").last()) == content
    without = packed({name: data for name, data in parts.items() if not name.endswith(".mesh")})
    assert "is not in the file" in bring("without.zip", without).reason
    other = packed(parts | {f"models/{key}.mesh": b"something else"})
    assert "not what its name says" in bring("other.zip", other).reason


def test_who_may_only_look_puts_nothing_into_a_project(signed_in, bring, person, stranger):
    other = take_in({"name": "Other"}, stranger)
    Membership.objects.create(project=other, user=person, role=Role.VIEWER)
    for name, content in (("hut.dxf", hut()), ("shed.gltf", gltf([{"mesh": 0}]))):
        made = bring(name, content)
        assert "Other" not in signed_in.get(reverse("intake", args=[made.pk])).content.decode()
        kept = signed_in.post(reverse("intake-keep", args=[made.pk]), {"into": f"{other.pk}:"})
        assert kept.status_code == 403
    assert (other.site.data["walls"], other.site.data["surroundings"]) == ([], [])
    assert signed_in.get(reverse("intake-new"), {"into": other.pk}).status_code == 403
    assert signed_in.get(reverse("intake-new"), {"into": "x"}).status_code == 404


def test_ids_that_are_taken_become_others():
    one = {"walls": [{"id": "a"}, {"id": "a-2"}], "placements": [{"id": "o", "wall": "a"}]}
    other = {"walls": [{"id": "a"}], "placements": [{"id": "o", "wall": "a"}, {"id": "p", "wall": "a", "after": "o"}]}
    whole = joined(one, other, "up")
    assert whole["walls"][2:] == [{"id": "a-3", "storey": "up"}]
    assert whole["placements"][1:] == [{"id": "o-2", "wall": "a-3"}, {"id": "p", "wall": "a-3", "after": "o-2"}]
    assert joined(one, {}) == one


def test_what_cannot_be_read_says_why_and_can_be_read_again(signed_in, bring):
    drawing = ezdxf.new(units=0)
    drawing.modelspace().add_lwpolyline([(0, 0), (5, 0), (5, 0.2), (0, 0.2)], close=True)
    made = bring("shed.dxf", written(drawing))
    assert (made.state, made.entry) == ("failed", "unit")
    assert "Choose mm" in signed_in.get(reverse("intake", args=[made.pk])).content.decode()
    refused = signed_in.post(reverse("intake-again", args=[made.pk]), {"thinnest": "-1"})
    assert refused.status_code == 422
    signed_in.post(reverse("intake-again", args=[made.pk]), {"unit": "m"})
    read_brought.call(made.pk)
    made.refresh_from_db()
    assert made.understood.counted == "1 wall"


# --- whose it is, and what stays


def test_another_persons_file_is_not_there(client, stranger, bring):
    made = bring("hut.dxf", hut())
    client.force_login(stranger)
    assert client.get(reverse("intake", args=[made.pk])).status_code == 404
    for name in ("intake-again", "intake-keep", "intake-leave"):
        assert client.post(reverse(name, args=[made.pk])).status_code == 404
    made.refresh_from_db()
    assert made.state == "read"


def test_into_anothers_project_it_does_not_go(signed_in, bring, stranger):
    other = take_in({"name": "Other"}, stranger)
    made = bring("hut.dxf", hut())
    assert signed_in.post(reverse("intake-keep", args=[made.pk]), {"into": f"{other.pk}:"}).status_code == 404
    assert signed_in.post(reverse("intake-keep", args=[made.pk]), {"into": "x:"}).status_code == 404


def test_what_is_left_leaves_nothing(signed_in, bring):
    made = bring("hut.dxf", hut())
    assert made.file.exists()
    assert signed_in.post(reverse("intake-leave", args=[made.pk])).url == reverse("projects")
    made.refresh_from_db()
    assert (made.state, made.told, made.drawing, made.file.exists()) == ("left", None, "", False)
    assert signed_in.get(reverse("intake", args=[made.pk])).status_code == 302
    assert read_brought.call(made.pk) == "nothing to do"


def test_older_ones_go_when_there_are_many(signed_in, bring):
    first = bring("a.dxf", hut())
    for number in range(5):
        signed_in.post(reverse("intake-start"), {"file": SimpleUploadedFile(f"{number}.dxf", hut())})
    first.refresh_from_db()
    assert first.state == "left"
    assert Intake.objects.exclude(state="left").count() == 5


@pytest.mark.parametrize(("name", "content"), [("x.zip", b"no zip"), ("x.exe", b"MZ"), ("x.dxf", b"")])
def test_what_is_no_file_of_ours_is_refused_at_once(signed_in, name, content):
    answer = signed_in.post(reverse("intake-start"), {"file": SimpleUploadedFile(name, content)}, follow=True)
    assert "Nothing was taken in" in answer.content.decode()
    assert not Intake.objects.exists()


def test_what_a_killed_worker_left_is_read_by_the_next(signed_in):
    signed_in.post(reverse("intake-start"), {"file": SimpleUploadedFile("hut.dxf", hut())})
    Intake.objects.update(state=Intake.State.READING)
    made = Intake.objects.get()
    assert read_brought.call(made.pk) == "read"
    assert read_brought.call(made.pk) == "nothing to do"


@pytest.mark.in_a_process
def test_a_process_of_its_own_reads_it(bring):
    made = bring("hut.dxf", hut())
    assert made.understood.counted == "4 walls, 2 openings"
    assert bring("hut.zip", b"PK\x03\x04 nothing").state == "failed"


@pytest.mark.in_a_process
def test_the_reading_is_stopped_when_it_is_left(signed_in, monkeypatch):
    monkeypatch.setattr(bounded, "CALM", 0.05)
    asked = []

    def wanted():
        asked.append(1)
        return len(asked) < 3

    with pytest.raises(Exception, match="stopped"):
        bounded.run("timeit", b"", "-n", "1", "import time; time.sleep(50)", wanted=wanted)
    assert len(asked) == 3
