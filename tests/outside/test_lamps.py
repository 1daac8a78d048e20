"""Lamps, skies and the camera against what is published: photometry, black bodies, the CIE's overcast sky, optics."""

from __future__ import annotations

import mitsuba as mi
import numpy as np
import pytest

from ashfell.core.site import photometry
from ashfell.core.site.aside import Hung, hung
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures import light
from ashfell.pictures.develop import mixed
from ashfell.pictures.sensor import sensor
from ashfell.pictures.settings import Camera, PictureSettings, SunByAngle
from ashfell.pictures.trace import Tracer

WEIGHTS = np.array([0.2126, 0.7152, 0.0722])
"""ITU-R BT.709."""


def lux(shining, place=(0.0, 0.0, 0.0), up=(0.0, 0.0, 1.0), samples=2048):
    """The illuminance of a small plate, lux: a white one gives back E / pi everywhere. What shines from one point needs
    few samples."""
    place, up = np.array(place), np.array(up)
    side = [1.0, 0, 0] if abs(up[2]) > 0.5 else [0, 0, 1.0]
    plate = mi.ScalarTransform4f().look_at(origin=place.tolist(), target=(place + up).tolist(), up=side).scale(0.01)
    eye = place + up * 0.1
    view = mi.ScalarTransform4f().look_at(origin=eye.tolist(), target=place.tolist(), up=side)
    film = {"type": "hdrfilm", "width": 4, "height": 4, "rfilter": {"type": "box"}, "pixel_format": "rgb"}
    white = {"type": "diffuse", "reflectance": 1.0}
    scene = {
        "type": "scene",
        "integrator": {"type": "direct"},
        "plate": {"type": "rectangle", "to_world": plate, "bsdf": white},
        "sensor": {"type": "perspective", "fov": 5, "to_world": view, "film": film},
    }
    seen = np.array(mi.render(mi.load_dict(scene | shining), spp=samples, seed=1))[..., :3].mean(axis=(0, 1))
    return float(seen @ WEIGHTS * np.pi * light.LUX)


def lamp(kind, z=2000.0, **own):
    made = Lamp(id="l", kind=kind, kelvin=own.pop("kelvin", 6504), **own)
    return {"lamp": light.lamp(Hung(made, np.array([0.0, 0.0, z])))}


@pytest.mark.parametrize("far", [1.0, 2.0, 4.0])
def test_a_bulb_lights_by_the_inverse_square(far):
    """I = lumens / 4 pi, E = I / d² (any handbook of lighting)."""
    assert lux(lamp("bulb", far * 1000, lumens=1000, width="40 mm")) == pytest.approx(
        1000 / (4 * np.pi) / far**2, rel=0.01
    )


@pytest.mark.parametrize("aside", [1.0, 2.0])
def test_and_by_the_cosine(aside):
    """E = I cos θ / d²."""
    far = np.hypot(2.0, aside)
    expected = 1000 / (4 * np.pi) * (2.0 / far) / far**2
    assert lux(lamp("bulb", lumens=1000, width="40 mm"), (aside, 0, 0)) == pytest.approx(expected, rel=0.01)


@pytest.mark.parametrize("kind", ["panel", "strip"])
@pytest.mark.parametrize("aside", [0.0, 3.0])
def test_a_plate_shines_by_lamberts_cosine(kind, aside):
    """Far away E = Φ / pi · cos² / d²: a Lambertian plate has I = Φ cos θ / pi."""
    far = np.hypot(6.0, aside)
    expected = 3000 / np.pi * (6.0 / far) ** 2 / far**2
    shining = lamp(kind, 6000.0, lumens=3000, width="50 mm", length="60 mm")
    assert lux(shining, (aside, 0, 0)) == pytest.approx(expected, rel=0.01)


def test_a_plate_gives_nothing_behind_it_and_is_tilted():
    assert lux(lamp("panel", -1000.0), up=(0, 0, -1)) == pytest.approx(0, abs=1e-6)
    level = {"width": "50 mm", "length": "50 mm", "lumens": 3000, "tilt": 90.0, "turn": 0.0}
    assert lux(lamp("panel", 0.0, **level), (6, 0, 0), (-1, 0, 0)) == pytest.approx(3000 / np.pi / 36, rel=0.01)
    assert lux(lamp("panel", 0.0, **level | {"turn": 90.0}), (0, 6, 0), (0, -1, 0)) == pytest.approx(
        3000 / np.pi / 36, rel=0.01
    )


@pytest.mark.parametrize("beam", [20.0, 36.0, 90.0])
def test_a_spot_gives_its_lumens_and_half_of_its_candela_at_half_its_beam(beam):
    """The beam angle is where the intensity is half of its peak (CIE 17: half-peak divergence, from memory)."""
    shining = lamp("spot", lumens=700, beam=beam)

    def candela(angle):
        """Seen so far from its axis on a plate 2 m below, radians."""
        place = 2 * np.tan(angle), 0, 0
        return lux(shining, place, samples=64) * (2 / np.cos(angle)) ** 2 / np.cos(angle)

    assert candela(np.radians(beam / 2)) / candela(0.0) == pytest.approx(0.5, abs=0.02)
    rings = np.radians(np.linspace(0.25, beam * 0.7, 120))
    flux = sum(candela(ring) * np.sin(ring) for ring in rings)
    assert flux * (rings[1] - rings[0]) * 2 * np.pi == pytest.approx(700, rel=0.02)


def test_sun_and_sky_are_as_bright_as_they_are():
    """A clear day: about 100 klx in all on level ground with the sun at 60°, some 80 of them from the sun (IES tables,
    from memory: 85 to 110 klx)."""
    settings = PictureSettings(sun=SunByAngle(azimuth=180, altitude=60))
    own = light.layers(settings)
    sun, sky = lux(own["sun"]), lux(own["sky"])
    assert sun == pytest.approx(81_000, rel=0.1)
    assert 12_000 < sky < 25_000


@pytest.mark.parametrize("altitude", [10, 35, 60])
def test_an_overcast_sky_lights_as_krochmann_and_seidl_say(altitude):
    """E = 300 + 21,000 sin γ lx on level ground; 3 / 7 of the way a plate that stands upright has 0.396 of that."""
    settings = PictureSettings(sun=SunByAngle(azimuth=180, altitude=altitude), sky={"kind": "overcast"})
    own = light.layers(settings)
    assert [*own] == ["sky"]
    level = lux(own["sky"])
    assert level == pytest.approx(300 + 21_000 * np.sin(np.radians(altitude)), rel=0.02)


def test_it_is_three_times_as_bright_at_the_zenith():
    """Moon and Spencer's sky, ISO 15469."""
    sky = light.overcast(40.0, rows=512)[:, 0, 0]
    assert sky[0] / sky[255] == pytest.approx(3.0, rel=0.02)
    assert sky[256 // 3 * 2] / sky[0] == pytest.approx((1 + 2 * np.cos(np.radians(60))) / 3, rel=0.02)


@pytest.mark.parametrize(
    ("kelvin", "x", "y"),
    [
        (2000, 0.5267, 0.4133),
        (2856, 0.4476, 0.4074),
        (4000, 0.3805, 0.3768),
        (6500, 0.3135, 0.3237),
        (10000, 0.2807, 0.2884),
    ],
)
def test_black_bodies_have_the_colours_of_planck(kelvin, x, y):
    """Chromaticities on the Planckian locus (Wyszecki and Stiles; illuminant A at 2856 K), from memory."""
    red, green, blue = photometry.black_body(kelvin)
    assert 0.2126 * red + 0.7152 * green + 0.0722 * blue == pytest.approx(1)
    xyz = np.linalg.inv(photometry.XYZ_TO_SRGB) @ (red, green, blue)
    clipped = min(red, green, blue) == 0
    assert xyz[:2] / xyz.sum() == pytest.approx((x, y), abs=0.02 if clipped else 0.002)


@pytest.mark.parametrize("turn", [0.0, 90.0])
def test_a_sky_of_an_image_lights_as_much_as_it_is_told_and_turns(monkeypatch, turn):
    """White to the north alone, 12 klx on level ground; turned clockwise by a quarter it is in the east."""
    from ashfell.core.finish import images

    pixels = np.zeros((32, 64, 3), dtype=np.uint8)
    pixels[:16, 28:36] = 255
    monkeypatch.setattr(images.image, "_sources", [lambda key: pixels])
    images.image._kept.cache_clear()
    settings = PictureSettings(sky={"kind": "image", "image": "ef" * 32, "turn": turn, "klx": 12})
    own = light.layers(settings)["sky"]
    images.image._kept.cache_clear()
    assert lux(own) == pytest.approx(12_000, rel=0.03)
    lit = {way: lux(own, up=way) for way in ((0, 1, 0), (1, 0, 0), (0, -1, 0), (-1, 0, 0))}
    assert max(lit, key=lit.get) == ((0, 1, 0) if turn == 0 else (1, 0, 0))


# --- layers and the camera

HOUSE = {
    "walls": [{"id": "w", "length": "4 m"}],
    "units": {"u": {"width": "1500", "height": "1400"}},
    "placements": [{"id": "p", "wall": "w", "unit": "u", "measured": "centre"}],
    "lamps": [
        {"id": "a", "kind": "bulb", "x": "1 m", "y": "-1 m", "z": "2 m", "lumens": 400_000, "group": "one"},
        {"id": "b", "kind": "panel", "x": "3 m", "y": "-1 m", "z": "2 m", "lumens": 400_000, "group": "two"},
    ],
}


def tracer(**own):
    site = read_site(HOUSE)
    camera = Camera(eye=(2, -5, 1.6), target=(2, 0, 1.4), lens=30)
    settings = PictureSettings(camera=camera, width=48, height=30, quality="good", **own)
    return Tracer(build_scene(site).parts, settings, None, hung(site))


def test_layers_together_are_what_all_lights_give_together(monkeypatch):
    """Light adds up: the layers' sum is the picture traced with everything on, within its noise."""
    apart = tracer()
    assert [*apart.scenes] == ["sun", "sky", "lamps:one", "lamps:two"]
    total = sum(mixed(apart.trace(k)) for k in range(24)) / 24

    def in_one(settings, lamps):
        return {"all": {key: own for one in light.layers(settings, lamps).values() for key, own in one.items()}}

    monkeypatch.setattr("ashfell.pictures.trace.layers", in_one)
    together = tracer()
    whole = sum(together.trace(k)["all"] for k in range(24)) / 24
    assert total.mean() == pytest.approx(whole.mean(), rel=0.03)
    blocks = (slice(None), slice(None))
    for rows in np.array_split(np.arange(30), 3):
        for columns in np.array_split(np.arange(48), 3):
            blocks = np.ix_(rows, columns)
            assert total[blocks].mean() == pytest.approx(whole[blocks].mean(), rel=0.12)


def test_what_is_off_is_not_traced_and_nothing_at_all_is_refused():
    from ashfell.core.base.refusal import Refusal

    assert [*tracer(off=("sun", "lamps:one")).scenes] == ["sky", "lamps:two"]
    with pytest.raises(Refusal, match="Neither sun, sky nor a lamp"):
        tracer(sky={"kind": "none"}, off=("lamps:one", "lamps:two"))


def where(camera, place):
    """At which pixel a small shining ball is seen, across and down, shares of the picture."""
    settings = PictureSettings(camera=camera, width=320, height=200)
    ball = {"type": "sphere", "center": list(place), "radius": 0.06, "emitter": {"type": "area", "radiance": 1.0}}
    path = {"type": "path", "max_depth": 1}
    scene = mi.load_dict({"type": "scene", "integrator": path, "sensor": sensor(settings), "ball": ball})
    rows, columns = np.nonzero(np.array(mi.render(scene, spp=4))[..., 0] > 0.1)
    return (columns.mean() + 0.5) / 320, (rows.mean() + 0.5) / 200


def test_a_lens_sees_as_much_as_it_says():
    """At 10 m a lens of 36 mm sees 10 m across a frame 36 mm wide: a point 2.5 m aside is a quarter off the middle."""
    camera = Camera(eye=(0, -10, 1.6), target=(0, 0, 1.6), lens=36)
    assert where(camera, (2.5, 0, 1.6)) == pytest.approx((0.75, 0.5), abs=0.004)


def test_upright_verticals_stay_upright_and_the_target_in_the_middle():
    camera = Camera(eye=(0, -10, 1.6), target=(0, 0, 4.0), lens=28)
    assert where(camera, (0, 0, 4.0)) == pytest.approx((0.5, 0.5), abs=0.004)
    foot, head = where(camera, (3, 0, 2)), where(camera, (3, 0, 5))
    assert foot[0] == pytest.approx(head[0], abs=0.003)
    tilted = camera.model_copy(update={"upright": False})
    foot, head = where(tilted, (3, 0, 2)), where(tilted, (3, 0, 5))
    assert abs(foot[0] - head[0]) > 0.01


def test_a_camera_rolled_clockwise_turns_the_picture_the_other_way():
    camera = Camera(eye=(0, -10, 1.6), target=(0, 0, 1.6), lens=36, roll=90)
    assert where(camera, (2, 0, 1.6)) == pytest.approx((0.5, 0.5 - 0.2 * 1.6), abs=0.006)


def test_what_is_nearer_than_the_clip_is_left_out():
    site = read_site({"walls": [{"id": "w", "length": "4 m"}]})
    parts = build_scene(site).parts
    for clip, seen in ((0.0, True), (6.0, False)):
        camera = Camera(eye=(2, -5, 1.6), target=(2, 0, 1.6), clip=clip)
        marks = Tracer(parts, PictureSettings(camera=camera, width=32, height=20)).seen()[0]
        assert (marks[10, 16] > 0) == seen


def test_marks_and_depth_say_what_stands_where():
    own = tracer()
    marks, depth = own.seen()[0], own.seen()[1]
    parts = [*build_scene(read_site(HOUSE)).parts]
    assert parts[marks[14, 24] - 1].role == "glass"
    assert parts[marks[14, 10] - 1].role == "wall"
    assert depth[14, 10] == pytest.approx(5.0, abs=0.01)
    assert marks[0, 0] == 0 == depth[0, 0]
