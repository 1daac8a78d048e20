"""The library of units: search, starting points, templates, comparing, history, sizes, outlines from drawings."""

import io

import ezdxf
import pytest
from django.urls import reverse

from ashfell.core.base.document import dump
from ashfell.core.unit.starts import STARTS, ordinary_window
from ashfell.services.kept.models import Project, Record

SVG = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 300">
<path d="M0 300 H400 V100 A200 200 0 0 0 0 100 Z"/><path d="M10 10 L50 60"/>
<rect x="20" y="120" width="60" height="40"/></svg>"""


def url(name, project, *rest):
    return reverse(name, args=[project.pk, *rest])


def test_units_are_found_by_name_size_and_tag(signed_in, project):
    page = signed_in.get(url("units", project)).content.decode()
    assert "Clubroom window" in page
    assert "Stair window" in page
    found = signed_in.get(url("units", project), {"q": "leaded"}, headers={"HX-Request": "true"}).content.decode()
    assert "Clubroom round window" in found
    assert "Stair window" not in found
    assert "700 mm × 2200 mm" in signed_in.get(url("units", project), {"q": "2200"}).content.decode()
    assert "No unit has" in signed_in.get(url("units", project), {"q": "portcullis"}).content.decode()


@pytest.mark.parametrize("key", STARTS)
@pytest.mark.parametrize("lengths", ["mm", "ft-in"])
def test_every_starting_point_starts_a_unit_that_can_be_drawn(signed_in, person, key, lengths):
    project = Project.objects.create(name="New", lengths=lengths)
    project.members.add(person)
    answer = signed_in.post(url("unit-start", project), {"start": key, "name": ""}, follow=True)
    assert answer.status_code == 200
    unit = project.units.get()
    assert unit.name == STARTS[key].name
    assert b'id="elevation"' in answer.content


def test_named_versions_survive_and_can_be_gone_back_to(signed_in, project, person):
    record = project.units.get(key="stair-window")
    first = record.current_id
    record.save_change(record.data | {"width": "800"}, first, person, "Overall width: 800")
    signed_in.post(
        url("unit-history", project, "stair-window"), {"do": "name", "revision": first, "label": "As agreed"}
    )
    signed_in.logout()
    signed_in.force_login(person)
    page = signed_in.get(url("unit-history", project, "stair-window")).content.decode()
    assert 'value="As agreed"' in page
    assert "Overall width: 800" in page
    signed_in.post(url("unit-history", project, "stair-window"), {"do": "take", "revision": first})
    record.refresh_from_db()
    assert record.data["width"] == "700"
    assert record.revisions.count() == 2


def test_two_versions_are_compared_in_words(signed_in, project, person):
    record = project.units.get(key="stair-window")
    before = record.current_id
    after = record.save_change(record.data | {"width": "800"}, before, person)
    told = signed_in.get(url("unit-compare", project), {"a": f"stair-window@{before}", "b": f"stair-window@{after.pk}"})
    assert "Overall width: 700 became 800." in told.content.decode()
    same = signed_in.get(url("unit-compare", project), {"a": f"stair-window@{before}", "b": f"stair-window@{before}"})
    assert "they are the same" in same.content.decode()


def test_a_sheet_of_sizes_resolves_each_and_says_what_does_not_fit(signed_in, project):
    asked = {"sizes": "2400 x 1900, 3.2 m x 1.2 m, 150 x 900, wide x 3"}
    page = signed_in.get(url("unit-sizes", project, "clubroom-window"), asked).content.decode()
    assert "4 lights of 532.5 mm clear" in page
    assert "4 lights of 732.5 mm clear" in page
    assert "The frame would have to be at least" in page
    assert "A number is needed" in page


def test_a_thumbnail_is_for_members_and_never_changes(signed_in, client, project, stranger):
    record = project.units.get(key="round-window")
    answer = signed_in.get(url("unit-thumbnail", project, "round-window", record.current_id))
    assert answer.content.count(b"<path") > 40
    assert "immutable" in answer["Cache-Control"]
    client.force_login(stranger)
    assert client.get(url("unit-thumbnail", project, "round-window", record.current_id)).status_code == 404


def upload(signed_in, project, name, content, **more):
    file = io.BytesIO(content)
    file.name = name
    if not project.units.filter(key="plain").exists():
        Record.start(project, "unit", "plain", dump(ordinary_window("Plain")), None)
    held = {"file": file, "base": project.units.get(key="plain").current_id}
    return signed_in.post(url("unit-path", project, "plain"), held | more, follow=True)


def test_an_outline_is_chosen_from_the_closed_paths_of_an_svg(signed_in, project):
    page = upload(signed_in, project, "arch.svg", SVG.encode(), unit="mm").content.decode()
    assert page.count("Take this outline") == 2
    base = project.units.get(key="plain").current_id
    signed_in.post(url("unit-path", project, "plain"), {"chosen": "0", "base": base})
    data = Record.objects.get(project=project, key="plain").data
    assert (data["width"], data["height"]) == ("400", "400")
    assert any(abs(node["bulge"]) > 0.4 for node in data["outline"]["nodes"])


def test_an_outline_taken_from_an_old_page_is_kept_aside(signed_in, project):
    upload(signed_in, project, "arch.svg", SVG.encode(), unit="mm")
    record = project.units.get(key="plain")
    opened = record.current_id
    record.save_change(record.data | {"width": "1500"}, opened, None)
    answer = signed_in.post(url("unit-path", project, "plain"), {"chosen": "0", "base": opened}, follow=True)
    assert "kept aside as version" in answer.content.decode()
    assert Record.objects.get(pk=record.pk).data["width"] == "1500"
    assert record.revisions.get(offered=True).data["width"] == "400"


def test_an_outline_from_a_dxf_has_the_drawings_own_unit(signed_in, project):
    drawing = ezdxf.new(units=ezdxf.units.IN)
    drawing.modelspace().add_lwpolyline([(0, 0, 0), (40, 0, 0), (40, 60, 1), (0, 60, 0)], format="xyb", close=True)
    held = io.StringIO()
    drawing.write(held)
    upload(signed_in, project, "door.dxf", held.getvalue().encode())
    data = Record.objects.get(project=project, key="plain").data
    assert (float(data["width"]), float(data["height"])) == (1016, pytest.approx(80 * 25.4))


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("open.svg", b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L5 5L9 0"/></svg>', "none of them closed"),
        ("plan.pdf", b"%PDF", "neither SVG nor DXF"),
        ("broken.dxf", b"not a drawing", "cannot be read as DXF"),
        ("broken.svg", b"<svg", "cannot be read as SVG"),
    ],
)
def test_a_drawing_that_gives_no_outline_says_why(signed_in, project, name, content, words):
    assert words in upload(signed_in, project, name, content).content.decode()


def test_a_dxf_without_a_unit_asks_for_one(signed_in, project):
    drawing = ezdxf.new(units=0)
    drawing.modelspace().add_circle((0, 0), 300)
    held = io.StringIO()
    drawing.write(held)
    assert (
        "does not say in which unit"
        in upload(signed_in, project, "round.dxf", held.getvalue().encode()).content.decode()
    )
    upload(signed_in, project, "round.dxf", held.getvalue().encode(), unit="mm")
    assert Record.objects.get(project=project, key="plain").data["width"] == "600"


def test_measuring_snaps_to_edges_and_answers_exactly(signed_in, project):
    asked = {"points": "[[61.2, 700.0], [793.1, 700.0]]", "reach": "5"}
    answer = signed_in.post(url("unit-measure", project, "clubroom-window"), asked).json()
    assert answer["text"] == "732.5 mm"
    assert answer["snapped"] == [[60.0, 700.0], [792.5, 700.0]]
    slant = signed_in.post(
        url("unit-measure", project, "clubroom-window"), {"points": "[[0, 0], [3201, 1899]]", "reach": "5"}
    )
    assert "(3200 mm across, 1900 mm up)" in slant.json()["text"]
