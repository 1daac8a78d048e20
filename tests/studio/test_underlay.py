"""An underlay: what may be laid under a unit, how it is placed, and who may see it."""

import io

import ezdxf
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from ashfell.core.base.lengths import parse
from ashfell.formats.paths import read_lines
from ashfell.services.kept.models import Asset, Record

pytestmark = pytest.mark.django_db
SVG = b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0L96 0L96 192"/><circle cx="48" cy="96" r="24"/></svg>'


def png(width=80, height=40, mode="RGB"):
    kept = io.BytesIO()
    Image.new(mode, (width, height)).save(kept, "PNG")
    return kept.getvalue()


def under():
    """What lies under the clubroom window."""
    return Record.objects.get(key="clubroom-window").underlay


@pytest.fixture
def base():
    return lambda: Record.objects.get(key="clubroom-window").current_id


@pytest.fixture
def address(project):
    return reverse("unit-underlay", args=[project.pk, "clubroom-window"])


@pytest.fixture
def lay(signed_in, address, base):
    def send(content, name="photo.png"):
        return signed_in.post(address, {"file": SimpleUploadedFile(name, content), "base": base()})

    return send


@pytest.fixture
def place(signed_in, project, base):
    def send(entry, value, keep=1):
        data = {"entry": f"underlay.{entry}", "value": value, "keep": keep, "base": base()}
        return signed_in.post(reverse("unit-edit", args=[project.pk, "clubroom-window"]), data)

    return send


def test_an_image_is_kept_as_wide_as_the_unit(lay, signed_in, address):
    answer = lay(png())
    assert answer.status_code == 200
    assert b"<image" in answer.content
    found = under()
    assert (found["across"], found["up"], parse(found["width"]), parse(found["x"])) == (80, 40, 3200, 0)
    shown = signed_in.get(address)
    assert shown["Content-Type"] == "image/png"
    assert Image.open(io.BytesIO(shown.content)).size == (80, 40)


def test_a_large_image_is_made_smaller_and_another_takes_its_place(lay):
    lay(png(4000, 1000))
    assert under()["across"] == 2048
    lay(png(10, 10, "RGBA"))
    assert under()["across"] == 10
    assert Asset.objects.count() == 2, "the earlier image is still there for undo"


def test_a_drawing_is_laid_in_its_own_size(lay):
    answer = lay(SVG, "survey.svg")
    found = under()
    assert (found["across"], found["up"]) == pytest.approx((25.4, 50.8))
    assert parse(found["width"]) == pytest.approx(25.4)
    assert b"<image" not in answer.content
    assert found["lines"].encode() in answer.content


def test_a_dxf_is_read_in_its_own_unit(lay):
    drawing = ezdxf.new(units=ezdxf.units.CM)
    drawing.modelspace().add_line((10, 10), (110, 10))
    drawing.modelspace().add_arc((60, 10), 50, 0, 180)
    text = io.StringIO()
    drawing.write(text)
    lay(text.getvalue().encode(), "survey.dxf")
    assert (under()["across"], under()["up"]) == pytest.approx((1000, 500), abs=0.2)


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        (b"not an image", "photo.png", "no image that can be read"),
        (png()[:60], "cut.png", "no image that can be read"),
        (b"<svg", "bad.svg", "cannot be read as SVG"),
        (b'<svg xmlns="http://www.w3.org/2000/svg"/>', "empty.svg", "nothing to trace"),
        (b"x" * (8 * 2**20 + 1), "large.png", "at most 8 MiB"),
    ],
)
def test_what_cannot_be_laid_under_says_why_and_keeps_nothing(lay, content, name, words):
    answer = lay(content, name)
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert under() is None


def test_it_is_placed_by_typing_and_only_shown_until_it_is_kept(lay, place):
    lay(png())
    shown = place("x", "-1'", keep=0)
    assert 'value="-304.8"' in shown.content.decode()
    assert under()["x"] == "0"
    place("x", "-1'")
    place("width", "2 m")
    assert (under()["x"], under()["width"]) == ("-1'", "2 m")


def test_two_points_and_their_true_distance_give_the_scale_about_the_first(lay, place):
    lay(png())
    place("moved", "100 mm; -20 mm")
    place("scaled", "500 mm; 300 mm; 1300 mm; 300 mm; 400")
    found = under()
    assert parse(found["width"]) == 1600
    assert parse(found["x"]) == 500 - (500 - 100) / 2
    assert parse(found["y"]) == 300 - (300 + 20) / 2


@pytest.mark.parametrize(
    ("entry", "value", "words"),
    [
        ("width", "0", "cannot be shown"),
        ("width", "wide", "number is needed"),
        ("moved", "3", "Give it as 2 lengths"),
        ("scaled", "0;0;0;0;5", "Two points and a length above zero"),
        ("turned", "3", "no entry"),
    ],
)
def test_a_wrong_place_is_refused(lay, place, entry, value, words):
    lay(png())
    answer = place(entry, value)
    assert answer.status_code == 422
    assert words in answer.content.decode()


def test_it_is_taken_away_and_then_cannot_be_placed(lay, place, signed_in, address):
    lay(png())
    assert b"<image" not in place("removed", "").content
    assert under() is None
    assert place("x", "3").status_code == 422
    assert signed_in.get(address).status_code == 404


def test_it_goes_with_undo_redo_and_a_duplicate(lay, place, signed_in, project, base):
    lay(png())
    place("x", "250")
    move = lambda way: signed_in.post(reverse("unit-move", args=[project.pk, "clubroom-window", way]), {"base": base()})  # noqa: E731
    move("undo")
    assert under()["x"] == "0"
    move("undo")
    assert under() is None
    move("redo")
    move("redo")
    assert under()["x"] == "250"
    signed_in.post(reverse("unit-duplicate", args=[project.pk, "clubroom-window"]))
    assert Record.objects.get(key="clubroom-window-copy").underlay == under()


def test_a_change_to_the_unit_keeps_what_lies_under_it(lay, signed_in, project, base):
    lay(png())
    data = {"entry": "width", "value": "3000", "keep": "1", "base": base()}
    signed_in.post(reverse("unit-edit", args=[project.pk, "clubroom-window"]), data)
    assert Record.objects.get(key="clubroom-window").data["width"] == "3000"
    assert under()["across"] == 80


def test_a_stale_placing_is_offered_and_not_merged(lay, place, signed_in, project):
    lay(png())
    data = {"entry": "underlay.x", "value": "99", "keep": "1", "base": "1"}
    assert signed_in.post(reverse("unit-edit", args=[project.pk, "clubroom-window"]), data).status_code == 409
    assert under()["x"] == "0"


def test_only_members_see_it(lay, client, address, stranger):
    lay(png())
    client.force_login(stranger)
    assert client.get(address).status_code == 404
    assert client.post(address, {"file": SimpleUploadedFile("photo.png", png())}).status_code == 404


def test_lines_are_measured_from_the_lower_left_with_y_downwards():
    lines, across, up = read_lines(SVG, "survey.svg")
    assert lines.startswith("M0 -50.8L25.4 -50.8L25.4 0")
    assert (across, up) == pytest.approx((25.4, 50.8))
