"""A region of a picture, traced again and laid into it."""

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.region import SEAM, blended
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.trace import Tracer
from ashfell.studio.pictures import negative
from ashfell.studio.pictures.management.commands.work import work
from ashfell.studio.pictures.models import Picture
from tests.studio.test_pictures import TAKING

pytestmark = pytest.mark.django_db(transaction=True)

ASKED = {"left": "25", "right": "75", "top": "20", "bottom": "80,0 %", "quality": "draft"}


@pytest.fixture
def traced(signed_in, project, monkeypatch, trace_once):
    """A picture of the project, done."""
    monkeypatch.setattr("django_tasks_db.management.commands.db_worker.Worker.configure_signals", lambda self: None)
    signed_in.post(reverse("picture-start", args=[project.pk]), TAKING | {"size": "128 × 80"})
    done = trace_once("room", Picture.objects.get())
    work(batch=True)  # nothing is left to do
    return done


@pytest.fixture
def again(signed_in, project, traced):
    def send(**values):
        address = reverse("picture-region", args=[project.pk, traced.pk])
        return signed_in.post(address, ASKED | values, follow=True).content.decode()

    return send


def test_a_crop_is_what_the_whole_shows_there():
    """The tracer's camera: positions seen in a region are those seen there in the whole, to half a pixel."""
    from ashfell.core.unit import make, read_unit
    from ashfell.formats.model import of_unit

    parts = [*of_unit(make(read_unit({}))).parts()]
    whole = PictureSettings.model_validate(
        {"camera": {"eye": [0.2, -3, 1.0], "target": [0.6, 0, 0.5]}, "width": 200, "height": 120}
    )
    region = whole.model_copy(update={"region": (0.3, 0.25, 0.8, 0.75)})
    left, top, right, bottom = region.crop
    assert (left, top, right, bottom) == (60, 30, 160, 90)
    marks, depth = Tracer(parts, whole).seen()[0], Tracer(parts, whole).seen()[1]
    crop = Tracer(parts, region)
    assert crop.seen()[0].shape == (60, 100)
    assert (crop.seen()[0] == marks[top:bottom, left:right]).mean() > 0.97
    near = np.abs(crop.seen()[1] - depth[top:bottom, left:right]) < 0.02
    assert near.mean() > 0.97
    assert crop.trace(0)["sun"].shape == (60, 100, 3)


def test_it_runs_over_into_what_is_round_it():
    whole, piece = np.zeros((60, 80, 3), np.float32), np.ones((30, 40, 3), np.float32)
    found = blended(whole, piece, (20, 30, 60, 60))[..., 0]
    assert (found[:30] == 0).all()
    assert (found[:, :20] == 0).all()
    assert (found[30 + SEAM :, 20 + SEAM : 60 - SEAM] == 1).all()  # down to the frame's edge
    across = found[55, 20 : 20 + SEAM + 1]
    assert (np.diff(across) > 0).all()
    assert across[0] < 0.2


def test_a_region_is_traced_and_the_rest_stays(again, traced, signed_in, project):
    page = again()
    made = Picture.objects.get(base=traced)
    assert "a region of" in page
    assert made.asked_for.region == (0.25, 0.2, 0.75, 0.8)
    work(batch=True)
    made.refresh_from_db()
    assert made.state == "done"
    left, top, right, bottom = made.asked_for.crop
    before, after = (negative.Layers(one.folder) for one in (traced, made))
    assert set(before) == set(after)
    outside = np.ones((80, 128), dtype=bool)
    outside[top:bottom, left:right] = False
    for name in before:
        assert np.array_equal(before[name][outside], after[name][outside]), name
    assert np.abs(before["sun"] - after["sun"])[~outside].max() > 0.01
    assert abs(before["sun"][~outside].mean() / after["sun"][~outside].mean() - 1) < 0.1
    assert Image.open(made.image).size == (128, 80)
    marks = [negative.read_arrays(one.folder / "seen.npz")["marks"] for one in (traced, made)]
    assert (marks[0] == marks[1]).mean() > 0.97
    look = signed_in.get(reverse("picture-look", args=[project.pk, made.pk]), {"look": '{"exposure": 1}'})
    assert look.status_code == 200
    like = signed_in.get(reverse("pictures", args=[project.pk]), {"like": made.pk})
    assert like.context["settings"].region is None


def test_the_building_may_be_as_it_is_now(again, traced, project):
    record = project.site
    walls = [wall | {"outside": "navy-paint", "inside": "navy-paint"} for wall in record.data["walls"]]
    record.save_change(record.data | {"walls": walls}, record.current_id, None)
    again(now="1", left="2", right="98", top="2")
    work(batch=True)
    now = Picture.objects.get(base=traced)
    assert now.site != traced.site
    left, top, right, bottom = now.asked_for.crop
    middle = np.s_[top + SEAM : bottom - SEAM, left + SEAM : right - SEAM]
    before, after = (negative.Layers(one.folder)["sky"][middle] for one in (traced, now))
    roles = np.array(["", *(part.role for part in build_scene(read_site(traced.site)).parts)])
    walls = roles[negative.read_arrays(traced.folder / "seen.npz")["marks"][middle]] == "wall"
    assert walls.sum() > 100
    red, blue = (after[walls][:, k].mean() / before[walls][:, k].mean() for k in (0, 2))
    assert blue > 1.5 * red  # of a dark blue in the place of brick
    marks = negative.read_arrays(now.folder / "seen.npz")["marks"]
    assert (marks[:top] == 0).all()
    assert (marks[top:bottom, left:right] > 0).any()


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"left": "75", "right": "25"}, "at least 16 pixels"),
        ({"left": "50", "right": "55"}, "at least 16 pixels"),
        ({"left": "-5"}, "was not traced"),
        ({"bottom": "nan"}, "was not traced"),
        ({"top": "half"}, "was not traced"),
        ({"quality": "best"}, "was not traced"),
    ],
)
def test_what_is_no_region_is_told(again, traced, values, words):
    assert words in again(**values)
    assert Picture.objects.count() == 1


def test_without_its_picture_it_fails_in_words(again, traced):
    again()
    made = Picture.objects.get(base=traced)
    (traced.folder / "layers.npz").unlink()
    work(batch=True)
    made.refresh_from_db()
    assert (made.state, "is gone" in made.reason) == ("failed", True)
