"""The finishes page: copied, changed once for all, seen, replaced, handed over and taken in with their images."""

import io
import json
import re

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from ashfell.services.kept.models import Asset, Project, Record
from ashfell.studio.units import views

pytestmark = pytest.mark.django_db


def url(name, project, *more):
    return reverse(name, args=[project.pk, *more])


@pytest.fixture
def oak(signed_in, project):
    signed_in.post(url("finish-copy", project, "smoked-oak"))
    return project.finishes.get()


@pytest.fixture
def send(signed_in, project, oak):
    def post(entry, value, keep="1", base=None):
        oak.refresh_from_db()
        values = {"entry": entry, "value": value, "keep": keep, "base": base or oak.current_id}
        return signed_in.post(url("finish-edit", project, oak.key), values)

    return post


def picture(width=8, height=4):
    held = io.BytesIO()
    ramp = np.linspace(0, 255, width * height * 3).astype(np.uint8).reshape(height, width, 3)
    Image.fromarray(ramp).save(held, "PNG")
    return SimpleUploadedFile("tile.png", held.getvalue())


def test_a_finish_is_copied_and_changed_once_for_all(signed_in, project, oak, send):
    assert send("roughness", "rough").status_code == 422
    assert send("texture.width", "1.2 m").status_code == 200
    assert send("name", "River oak").status_code == 200
    oak.refresh_from_db()
    assert (oak.data["texture"]["width"], oak.data["name"]) == ("1.2 m", "River oak")
    assert "River oak" in signed_in.get(url("unit", project, "stair-window")).content.decode()
    assert signed_in.get(url("swatch", project, oak.key)).content[:4] == b"\x89PNG"


def test_what_is_only_typed_is_shown_and_not_kept(oak, send):
    shown = send("colour", "#123456", keep="0").content.decode()
    assert "#123456" in shown
    assert "%23123456" in shown
    oak.refresh_from_db()
    assert oak.data["colour"] == "#6f4e35"


def test_undo_goes_back_and_a_stale_save_is_offered(signed_in, project, oak, send):
    first = oak.current_id
    send("varnish", "1")
    assert send("varnish", "0.5", base=first).status_code == 409
    oak.refresh_from_db()
    assert oak.data["varnish"] == 1
    signed_in.post(url("finish-move", project, oak.key, "undo"), {"base": oak.current_id})
    oak.refresh_from_db()
    assert oak.data["varnish"] == 0


@pytest.mark.parametrize("shown", ["still", "board"])
def test_it_is_traced_as_it_is_being_typed(signed_in, project, shown):
    address = url("finish-preview", project, "ember-paint", shown)
    seen = signed_in.get(address)
    assert "immutable" in seen["Cache-Control"]
    own = np.asarray(Image.open(io.BytesIO(seen.content)), dtype=float)
    blue = {"name": "Blue", "kind": "paint", "colour": "#1030a0"}
    other = np.asarray(Image.open(io.BytesIO(signed_in.get(address, {"d": json.dumps(blue)}).content)), dtype=float)
    assert own.shape == other.shape
    red = own[..., 0].sum() - own[..., 2].sum()
    assert red > 0 > other[..., 0].sum() - other[..., 2].sum()


@pytest.mark.parametrize("d", ["{", "[]", "1", '{"kind": "paint"}', "x" * 7000, "[" * 5000])
def test_a_document_that_is_none_is_not_traced(signed_in, project, d):
    assert signed_in.get(url("finish-preview", project, "ember-paint", "still"), {"d": d}).status_code == 404
    assert signed_in.get(url("finish-preview", project, "ember-paint", "other")).status_code == 404


def test_an_image_is_brought_for_its_tile_and_seen(signed_in, project, oak):
    signed_in.post(url("finish-image", project, oak.key), {"of": "colour", "file": picture()})
    oak.refresh_from_db()
    texture = oak.data["texture"]
    assert texture["pattern"] == "image"
    assert Asset.objects.filter(pk=texture["maps"]["colour"]).exists()
    board = signed_in.get(url("finish-preview", project, oak.key, "board"))
    assert board.status_code == 200
    page = signed_in.get(url("finish", project, oak.key)).content.decode()
    assert "Leave out the image of its colours" in page
    assert ">500 mm<" in page  # 1 m wide, half as high as its image is


@pytest.mark.parametrize(
    "content", [b"", b"nonsense", b"\x89PNG\r\n\x1a\n" + b"0" * 400, b"\x76\x2f\x31\x01" + b"0" * 400, b"GIF89a" * 60]
)
def test_what_is_no_image_is_told_and_nothing_of_it_stays(signed_in, project, oak, content):
    before = Asset.objects.count(), oak.current_id
    file = SimpleUploadedFile("tile.png", content)
    page = signed_in.post(url("finish-image", project, oak.key), {"of": "colour", "file": file}, follow=True)
    assert "was not taken in" in page.content.decode()
    oak.refresh_from_db()
    assert (Asset.objects.count(), oak.current_id) == before


def test_more_pixels_than_can_be_read_are_refused_in_a_moment(signed_in, project, oak):
    held = io.BytesIO()
    Image.new("1", (9000, 9000)).save(held, "PNG")
    file = SimpleUploadedFile("huge.png", held.getvalue())
    page = signed_in.post(url("finish-image", project, oak.key), {"of": "colour", "file": file}, follow=True)
    assert "9000 by 9000 pixels are too many" in page.content.decode()


def test_a_finish_is_handed_over_with_its_images_and_taken_in_elsewhere(signed_in, person, project, oak):
    signed_in.post(url("finish-image", project, oak.key), {"of": "height", "file": picture()})
    oak.refresh_from_db()
    file = signed_in.get(url("finish-file", project, oak.key)).content
    other = Project.objects.create(name="Other")
    other.members.add(person)
    Record.start(other, "site", "site", {"format": "ashfell/site/3"})
    taken = signed_in.post(url("finish-take-in", other), {"file": SimpleUploadedFile("oak.json", file)})
    assert taken.url == url("finish", other, "smoked-oak-own")
    assert other.finishes.get().data == oak.data
    broken = json.loads(file) | {"images": {}}
    file = SimpleUploadedFile("oak.json", json.dumps(broken).encode())
    page = signed_in.post(url("finish-take-in", other), {"file": file}, follow=True).content.decode()
    assert "The image of its height is not in the file" in page


def test_it_is_replaced_everywhere_it_is_used(signed_in, project, oak):
    window = project.units.get(key="stair-window")
    window.save_change(window.data | {"finishes": {"frame": oak.key}}, window.current_id, None)
    page = signed_in.get(url("finish", project, oak.key)).content.decode()
    assert window.name in page
    signed_in.post(url("finish-replace", project, oak.key), {"by": "navy-paint"})
    window.refresh_from_db()
    assert window.data["finishes"]["frame"] == "navy-paint"
    assert "Navy" in window.current.words or "Night water" in window.current.words
    others = project.units.exclude(pk=window.pk)
    assert others.count() > 10
    assert all(unit.revisions.count() == 1 for unit in others)
    assert project.site.revisions.count() == 1
    assert signed_in.post(url("finish-replace", project, oak.key), {"by": "gone"}).status_code == 404


def test_what_takes_too_long_is_done_in_pieces(signed_in, project, oak, monkeypatch):
    """At least one document each time; nothing is changed twice, and at last nothing is left."""
    from ashfell.services.kept import finishes

    monkeypatch.setattr(finishes, "PATIENCE", -1)
    units = list(project.units)
    asked = {"entry": "finishes.frame", "value": oak.key}
    told = [signed_in.post(url("unit-finish-everywhere", project), asked).content.decode() for _ in range(3)]
    assert told[0].startswith(
        f"1 other unit changed, {len(units) - 1} are still to be looked at: do it again to go on."
    )
    given = [unit for unit in project.units.all() if unit.data["finishes"].get("frame") == oak.key]
    assert len(given) == 3
    monkeypatch.undo()
    last = signed_in.post(url("unit-finish-everywhere", project), asked).content.decode()
    assert last.startswith(f"{len(units) - len(given)} other units changed.")
    assert signed_in.post(url("unit-finish-everywhere", project), asked).content.decode() == "All units are alike.\n"
    assert all(unit.revisions.count() == 2 for unit in project.units.all())


def undo_offered(page):
    """The revisions that a page offers to undo."""
    return re.search(r'name="revisions" value="([\d ]+)"', page)[1]


def test_what_was_changed_in_all_is_undone_in_all(signed_in, project, oak):
    """But where somebody changed it since; and it can be redone, unit by unit."""
    before = {unit.key: unit.data for unit in project.units}
    asked = {"entry": "finishes.frame", "value": oak.key}
    page = signed_in.post(url("unit-finish-everywhere", project), asked).content.decode()
    revisions = undo_offered(page)
    assert len(revisions.split()) == len(before)
    later = project.units.get(key="stair-window")
    later.save_change(later.data | {"name": "Later"}, later.current_id, None)
    told = signed_in.post(url("unit-undo-everywhere", project), {"revisions": revisions}).content.decode()
    assert told == f"{len(before) - 1} documents as before. 1 changed since, and is left so."
    for unit in project.units.all():
        if unit.key != "stair-window":
            assert unit.data == before[unit.key]
            assert unit.redone.data["finishes"]["frame"] == oak.key
    assert project.units.get(key="stair-window").data["name"] == "Later"
    again = signed_in.post(url("unit-undo-everywhere", project), {"revisions": f"{revisions} x -1 {'9' * 300}"})
    assert again.content.decode().startswith("0 documents as before.")
    many = " ".join(str(10**6 + number) for number in range(40_000))
    assert signed_in.post(url("unit-undo-everywhere", project), {"revisions": many}).status_code == 200


def test_replacing_a_finish_is_undone_where_it_was_begun(signed_in, project, oak):
    window = project.units.get(key="stair-window")
    window.save_change(window.data | {"finishes": {"frame": oak.key}}, window.current_id, None)
    page = signed_in.post(url("finish-replace", project, oak.key), {"by": "navy-paint"}, follow=True).content.decode()
    asked = {"revisions": undo_offered(page), "finish": oak.key}
    page = signed_in.post(url("unit-undo-everywhere", project), asked, follow=True).content.decode()
    assert "1 document as before." in page
    window.refresh_from_db()
    assert window.data["finishes"]["frame"] == oak.key


def test_what_another_project_holds_is_not_undone(signed_in, project, stranger):
    other = Project.objects.create(name="Other")
    other.members.add(stranger)
    unit = Record.start(other, "unit", "window", project.units.get(key="stair-window").data, stranger)
    made = unit.save_change(unit.data | {"name": "Mine"}, unit.current_id, stranger)
    told = signed_in.post(url("unit-undo-everywhere", project), {"revisions": str(made.pk)}).content.decode()
    assert told.startswith("0 documents as before.")
    unit.refresh_from_db()
    assert unit.data["name"] == "Mine"


def test_finishes_of_other_projects_are_offered_and_taken(signed_in, person, project, oak):
    other = Project.objects.create(name="Other")
    other.members.add(person)
    Record.start(other, "site", "site", {"format": "ashfell/site/3"})
    page = signed_in.get(url("finishes", other)).content.decode()
    assert "Smoked oak, own" in page
    taken = signed_in.post(url("finish-copy", other, oak.key), {"of": project.pk})
    assert taken.url == url("finish", other, oak.key)
    assert "From your other projects" not in signed_in.get(url("finishes", other)).content.decode()


def test_nobody_takes_a_finish_of_a_project_that_is_not_theirs(client, stranger, project, oak):
    client.force_login(stranger)
    own = Project.objects.create(name="Own")
    own.members.add(stranger)
    assert client.post(url("finish-copy", own, oak.key), {"of": project.pk}).status_code == 404


def test_finishes_are_found_by_name_and_kind(signed_in, project):
    found = signed_in.get(url("finishes", project), {"q": "glass tinted"}).content.decode()
    assert "Bronze tinted glass" in found
    assert "Lime plaster" not in found
    assert "No finish has" in signed_in.get(url("finishes", project), {"q": "zebra"}).content.decode()


def test_one_that_ships_is_looked_at_and_not_changed(signed_in, project):
    page = signed_in.get(url("finish", project, "river-brick")).content.decode()
    assert "Copy to change it" in page
    assert "data-edit-url" not in page
    assert signed_in.post(url("finish-edit", project, "river-brick"), {"entry": "name"}).status_code == 404


def test_of_many_finishes_some_are_shown_and_the_rest_is_found(signed_in, project):
    from ashfell.core.base.document import dump
    from ashfell.core.finish import LIBRARY

    oak = dump(LIBRARY["smoked-oak"])
    for number in range(150):
        Record.start(project, "finish", f"oak-{number}", oak | {"name": f"Oak {number}"})
    page = signed_in.get(url("finishes", project)).content.decode()
    assert page.count('aria-label="Copy Oak ') == 120
    assert "30 more" in page
    assert 'aria-label="Copy Oak 149"' in signed_in.get(url("finishes", project), {"q": "oak 149"}).content.decode()


def test_a_unit_in_3d_is_written_once_until_it_or_a_finish_changes(signed_in, project, oak, send, monkeypatch):
    written = []
    write = views.glb.write_unit
    monkeypatch.setattr(views.glb, "write_unit", lambda *args: written.append(1) or write(*args))
    unit, address = project.units.get(key="stair-window"), url("unit-view", project, "stair-window")
    first = signed_in.get(address).content
    assert first[:4] == b"glTF"
    assert signed_in.get(address).content == first
    assert len(written) == 1
    opens = {"entry": "finishes.frame", "value": oak.key, "keep": "1", "base": unit.current_id}
    assert signed_in.post(url("unit-edit", project, unit.key), opens).status_code == 200
    in_oak = signed_in.get(address).content
    assert in_oak != first
    send("colour", "#123456")
    assert signed_in.get(address).content not in (first, in_oak)
    assert len(written) == 3
