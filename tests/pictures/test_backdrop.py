"""What is beyond the building is a layer by itself, and is changed without tracing."""

import numpy as np
import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.finish.images import image
from ashfell.core.parts import Part
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.solid.plate import boxes
from ashfell.pictures.backdrop import BACKDROPS, Backdrop, laid, standing
from ashfell.pictures.develop import Look, cleaned, developed, jpeg, mixed
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import projected, rays
from ashfell.pictures.trace import Tracer

WALL = {"walls": [{"id": "w", "length": "3 m"}]}
SIZE = {"width": 80, "height": 60}


def settings(**more):
    return PictureSettings(camera={"eye": (1.5, -9, 1.3), "target": (1.5, 0, 1.3)}, **SIZE, **more)


@pytest.fixture(scope="module")
def layers():
    tracer = Tracer(build_scene(read_site(WALL)).parts, settings())
    passes = [tracer.trace(k) for k in range(4)]
    return cleaned({name: sum(one[name] for one in passes) / 4 for name in passes[0]}, tracer.guides())


def shown(layers, **backdrop):
    return developed(layers, Look(backdrop=backdrop))


SKY, FACE, GROUND = (slice(2, 12), slice(4, 76)), (slice(26, 34), slice(34, 46)), (slice(50, 58), slice(4, 76))


def test_what_is_open_is_exactly_open(layers):
    assert (layers["through"][SKY] == 1).all()
    assert not layers["through"][FACE].any()
    assert not layers["through"][GROUND].any()


def test_a_plain_colour_is_that_colour(layers):
    seen = shown(layers, kind="plain", colour="#c04a20")
    assert (seen[SKY] == (0xC0, 0x4A, 0x20)).all()


@pytest.mark.parametrize("kind", sorted(set(BACKDROPS) - {"sky", "image", "far"}))
def test_what_stands_before_it_stays_as_it_was(layers, kind):
    usual, other = shown(layers), shown(layers, kind=kind)[..., :3]
    for place in (FACE, GROUND):
        assert np.abs(usual[place].astype(int) - other[place]).max() <= 1
    if kind != "none":
        assert np.abs(usual[SKY].astype(int) - other[SKY]).mean() > 8


def test_nothing_beyond_is_transparent(layers):
    seen = shown(layers, kind="none")
    assert seen.shape == (60, 80, 4)
    assert not seen[SKY][..., 3].any()
    assert (seen[FACE][..., 3] == 255).all()
    assert jpeg(seen)[:2] == b"\xff\xd8"


def test_two_colours_meet_the_edges_of_the_frame():
    held = laid(Backdrop(kind="gradient", colour="#000000", upper="#ffffff"), 50, 10)
    assert held[0].min() == 1
    assert held[-1].max() == 0
    assert (np.diff(held[:, 0, 0]) < 0).all()


def test_stars_are_the_same_at_every_size():
    small, large = (laid(Backdrop(kind="night", limb=0), 120 * k, 160 * k) for k in (1, 2))
    halved = large.reshape(120, 2, 160, 2, 3).mean(axis=(1, 3))
    bright = small.max(axis=-1) > 0.7
    assert bright.sum() > 10
    assert np.corrcoef(small.max(axis=-1).ravel(), halved.max(axis=-1).ravel())[0, 1] > 0.8


def test_a_limb_rises_as_high_as_is_said():
    held = laid(Backdrop(kind="night", limb=0.5), 200, 200).mean(axis=-1)
    assert abs(int(held[:, 120].argmax()) - 100) <= 3


def test_sky_and_backdrop_are_metered_alike(layers):
    """A backdrop changes nothing of how the building is exposed."""
    assert np.abs(shown(layers)[GROUND].astype(int) - shown(layers, kind="plain")[GROUND]).max() <= 1


def test_a_picture_without_it_says_so(layers):
    older = {"sky": layers["sky"]}
    with pytest.raises(Refusal, match="not traced by itself") as refusal:
        shown(older, kind="plain")
    assert "Choose the sky" in str(refusal.value.remedy)
    assert shown(older).shape == (60, 80, 3)


def test_an_image_must_be_brought():
    with pytest.raises(ValueError, match="No image"):
        Backdrop(kind="image")


@pytest.mark.parametrize("finish", ["clear-glass", "frosted-glass"])
def test_glass_lets_through_what_it_does(finish):
    """Square to a clear pane 2n / (n² + 1) of what is beyond is seen (all inner reflections; Hecht, Optics, from
    memory), and nothing through frosted glass."""
    (solid,) = boxes(np.array([[0.0, 0, 0]]), np.array([[3000.0, 6, 3000]]))
    pane = Part("pane", "glass", "glass", finish, (0.0, 0.0, 1.0), solid)
    n = 1.52
    tracer = Tracer([pane], settings())
    seen = sum(tracer.trace(k)["through"] for k in range(24))[20:29, 34:46].mean() / 24
    expected = 2 * n / (n**2 + 1) if finish == "clear-glass" else 0.0
    assert seen == pytest.approx(expected, abs=0.01)


def test_with_the_sky_it_is_the_same_picture_as_one_traced_whole(layers):
    """The sky behind is what it lights with: mixed, it is seen where nothing stands before it."""
    whole = mixed(layers)
    assert np.allclose(whole[SKY], layers["beyond"][SKY] + sum(layers[k][SKY] for k in ("sun", "sky")))
    assert whole[SKY].min() > 0


# --- an image at a distance


@pytest.fixture(scope="module")
def board():
    """The key of an image, 40 by 20 pixels, red on its left and blue on its right."""
    pixels = np.zeros((20, 40, 3), dtype=np.uint8)
    pixels[:, :20, 0], pixels[:, 20:, 2] = 200, 200
    image.offer({"b" * 64: pixels}.get)
    return "b" * 64


def test_an_image_stands_where_it_is_said_to(layers, board):
    """By similar triangles: 100 m away, 60 m across and 30 m high, seen from 9 m before the origin and 1.5 m beside
    it."""
    far = {"kind": "far", "image": board, "away": 91.0, "across": 60.0}
    seen = developed(layers, Look(backdrop=far), settings())
    usual = developed(layers, Look())
    pixel = 38.6 / 36 * 80 / 100  # of a metre at 100 m
    column, head = 40 - 1.5 * pixel, 30 - (30 - 1.3) * pixel
    left, right = column - 30 * pixel, column + 30 * pixel
    row = round(head) + 2  # over the wall
    for at, colour in (
        (left + 2, (200, 0, 0)),
        (column - 2, (200, 0, 0)),
        (column + 2, (0, 0, 200)),
        (right - 2, (0, 0, 200)),
    ):
        assert (seen[row, round(at)] == colour).all()
    for at in (left - 2, right + 2):
        assert (seen[row, round(at)] == usual[row, round(at)]).all()  # the sky beside it
    assert (seen[round(head) - 2] == usual[round(head) - 2]).all()  # and over it
    for place in (FACE, GROUND):
        assert np.abs(usual[place].astype(int) - seen[place]).max() <= 1


def test_it_is_not_seen_by_who_looks_the_other_way_or_stands_past_it(board):
    place = standing(
        Backdrop(kind="far", image=board, bearing=90, away=50), np.zeros(3), np.array([[[-1.0, 0, 0.1], [1.0, 0, 0.1]]])
    )
    assert place[1].ravel().tolist() == [0, 1]
    past = standing(
        Backdrop(kind="far", image=board, bearing=90, away=50), np.array([60.0, 0, 0]), np.array([[[1.0, 0, 0.1]]])
    )
    assert past[1].ravel().tolist() == [0]


@pytest.mark.parametrize("region", [None, (0.25, 0.5, 0.75, 1.0)])
@pytest.mark.parametrize(
    "camera", [{"roll": 25}, {"upright": False, "target": (2, 0, 4)}, {"target": (2, 0, 4), "lens": 24}, {}]
)
def test_what_is_seen_at_a_pixel_is_projected_there(camera, region):
    asked = PictureSettings(camera={"eye": (1.5, -9, 1.3), "target": (1.5, 0, 1.3)} | camera, **SIZE, region=region)
    left, top, right, bottom = asked.crop
    eye, ways = rays(asked, bottom - top, right - left)
    at, far = projected((eye + 7 * ways).reshape(-1, 3), asked)
    rows, columns = np.mgrid[top:bottom, left:right]
    assert np.allclose(at, np.stack([columns, rows], axis=-1).reshape(-1, 2) + 0.5)
    assert np.allclose(far, 7)
