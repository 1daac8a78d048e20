"""Glass and sun against what is published."""

import colorsys
from datetime import UTC, datetime, timedelta, timezone

import numpy as np
import pandas as pd
import pvlib
import pytest

from ashfell.core.finish import LIBRARY, Finish, transmittance
from ashfell.core.unit import build, read_unit
from ashfell.pictures import skins, trace
from ashfell.pictures.develop import mixed
from ashfell.pictures.settings import PictureSettings, SunByPlace, towards
from ashfell.pictures.sun import Sun, sun_at

MST = timezone(timedelta(hours=-7))


def seen_through(finish, looking=(0, 0, -1), glazing=None):
    """Mean radiance of a pane before a white board of radiance 1 in the dark, made as pictures are made."""
    import mitsuba as mi

    pane = [
        part
        for part in build(read_unit({"width": "4000", "height": "4000", "glazing": glazing or {}}))
        if part.role == "glass"
    ]
    board = mi.ScalarTransform4f().translate([2, 2, -5]).scale(50)
    white = {"type": "area", "radiance": {"type": "rgb", "value": 1.0}}
    eye = np.array([2, 2, 0]) - 1.5 * np.array(looking)
    film = {"type": "hdrfilm", "width": 24, "height": 24, "rfilter": {"type": "box"}, "pixel_format": "rgb"}
    view = mi.ScalarTransform4f().look_at(origin=eye.tolist(), target=[2, 2, 0], up=[0, 1, 0])
    scene = mi.load_dict(
        {"type": "scene", "integrator": {"type": "volpath", "max_depth": 12}}
        | skins.meshes(pane, {"clear-glass": finish})
        | {
            "board": {
                "type": "rectangle",
                "to_world": board,
                "emitter": white,
                "bsdf": {"type": "diffuse", "reflectance": 0.0},
            }
        }
        | {"sensor": {"type": "perspective", "fov": 4, "to_world": view, "film": film}}
    )
    return np.array(mi.render(scene, spp=1024, seed=1))[..., :3].mean()


def test_clear_pane_transmits_what_fresnels_equations_say():
    """2n / (n² + 1), all inner reflections counted: 91.8 % for n = 1.52 (Hecht, Optics; Fresnel's equations)."""
    clear = LIBRARY["clear-glass"]
    assert transmittance(1.52) == pytest.approx(0.918, abs=5e-4)
    assert seen_through(clear) == pytest.approx(transmittance(clear.ior), rel=0.01)


def test_one_surface_reflects_426_thousandths_at_normal_incidence():
    """((n - 1) / (n + 1))² = 4.26 % for n = 1.52; the pane's share follows from both surfaces: (1 - R) / (1 + R)."""
    reflected = ((1.52 - 1) / (1.52 + 1)) ** 2
    assert reflected == pytest.approx(0.0426, abs=5e-5)
    assert (1 - reflected) / (1 + reflected) == pytest.approx(transmittance(1.52))


def test_at_a_slant_less_comes_through():
    """At 60° each surface reflects R = (Rs + Rp) / 2 by Fresnel's equations; both polarisations pass T = (1 - R) / (1 +
    R).
    """
    n, angle = 1.52, np.radians(60)
    inner = np.arcsin(np.sin(angle) / n)
    rs = ((np.cos(angle) - n * np.cos(inner)) / (np.cos(angle) + n * np.cos(inner))) ** 2
    rp = ((n * np.cos(angle) - np.cos(inner)) / (n * np.cos(angle) + np.cos(inner))) ** 2
    mean = (rs + rp) / 2
    looking = (np.sin(angle), 0, -np.cos(angle))
    assert seen_through(LIBRARY["clear-glass"], looking) == pytest.approx((1 - mean) / (1 + mean), rel=0.015)


@pytest.mark.parametrize("thick", ["4", "8"])
def test_a_tinted_pane_transmits_its_colour_by_its_thickness(thick):
    """Bouguer, Lambert and Beer: what lets half of what enters it through at 4 mm lets a quarter through at 8."""
    half = Finish(name="Half", kind="glass", colour="#bcbcbc", roughness=0, transmission=1, thickness="4")
    assert half.linear[0] == pytest.approx(0.5, abs=0.005)
    expected = transmittance(half.ior) * half.linear[0] ** (float(thick) / 4)
    assert seen_through(half, glazing={"thickness": thick}) == pytest.approx(expected, rel=0.02)


def test_sun_of_the_worked_example():
    """Reda & Andreas, Solar Position Algorithm, NREL/TP-560-34302: zenith 50.11162°, azimuth 194.34024°."""
    sun = sun_at(39.742476, -105.1786, datetime(2003, 10, 17, 12, 30, 30, tzinfo=MST))
    assert 90 - sun.altitude == pytest.approx(50.11162, abs=0.02)
    assert sun.azimuth == pytest.approx(194.34024, abs=0.02)


@pytest.mark.parametrize("latitude", [-35.0, 0.5, 52.0, 67.0])
def test_sun_over_the_year_against_pvlib(latitude):
    for month in range(1, 13):
        moment = datetime(2026, month, 21, 14, 20, tzinfo=UTC)
        theirs = pvlib.solarposition.get_solarposition(pd.DatetimeIndex([moment]), latitude, 8.0, altitude=0).iloc[0]
        ours = sun_at(latitude, 8.0, moment)
        if theirs.apparent_elevation > 3:
            assert ours.altitude == pytest.approx(theirs.apparent_elevation, abs=0.05)
            assert ours.azimuth == pytest.approx(theirs.azimuth, abs=0.08)


def test_local_time_counts_its_offset():
    here = SunByPlace(latitude=52, longitude=0, moment=datetime(2026, 6, 21, 13, 0), utc_offset=1).sun()
    assert here == sun_at(52, 0, datetime(2026, 6, 21, 12, 0, tzinfo=UTC))


def test_azimuth_goes_clockwise_from_north():
    assert towards(Sun(90, 0)) == pytest.approx((1, 0, 0))
    assert towards(Sun(180, 45)) == pytest.approx((0, -np.sqrt(0.5), np.sqrt(0.5)))


def test_sunlight_comes_in_through_a_window_and_is_weakened_by_its_glass():
    """A floor behind a pane, lit by the sun through it, has the pane's share of what it has without one."""
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene

    def floor(thickness_of_glass_finish):
        unit = {"width": "2400", "height": "2400", "finishes": {"glass": thickness_of_glass_finish}}
        site = read_site(
            {
                "walls": [{"id": "w", "length": "4 m", "height": "2700"}],
                "placements": [{"id": "p", "wall": "w", "unit": "u", "measured": "centre", "sill": "100"}],
                "plates": [
                    {"id": "f", "y": "0", "width": "4 m", "depth": "4 m", "level": "10", "finish": "white-paint"}
                ],
                "units": {"u": unit},
            }
        )
        settings = PictureSettings.model_validate(
            {
                "camera": {"eye": [2, 1.5, 2.6], "target": [2, 1.2, 0], "lens": 171.3, "upright": False},
                "sun": {"by": "angle", "azimuth": 180, "altitude": 50},
                "width": 32,
                "height": 32,
            }
        )
        parts = [
            part for part in build_scene(site).parts if thickness_of_glass_finish != "none" or part.role != "glass"
        ]
        tracer = trace.Tracer(parts, settings)
        return np.mean([mixed(tracer.trace(k))[8:24, 8:24].mean() for k in range(12)])

    with_glass, without = floor("clear-glass"), floor("none")
    assert 0.80 < with_glass / without < 0.95


WHITE = {"name": "White", "colour": "#ffffff"}
FURNACE = {
    "dull paint": Finish(kind="paint", roughness=1, **WHITE),
    "paint": Finish(kind="paint", roughness=0.4, **WHITE),
    "glossy paint": Finish(kind="paint", roughness=0, **WHITE),
    "varnished": Finish(kind="timber", roughness=0.5, varnish=1, **WHITE),
    "cloth": Finish(kind="fabric", roughness=0.9, sheen=1, **WHITE),
    "metal": Finish(kind="metal", roughness=0.3, metallic=1, **WHITE),
    "half metal": Finish(kind="metal", roughness=0.2, metallic=0.5, **WHITE),
} | {key: LIBRARY[key] for key in ("clear-glass", "frosted-glass", "reeded-glass", "river-brick", "white-tile")}


@pytest.mark.parametrize("name", FURNACE)
def test_no_finish_gives_back_more_than_it_gets(name):
    """The furnace test: a ball under a sky of radiance 1 everywhere looks no brighter than 1, at no angle, to 1 %."""
    import mitsuba as mi

    from ashfell.pictures.materials import bsdf
    from ashfell.pictures.preview import _ball

    film = {"type": "hdrfilm", "width": 12, "height": 12, "rfilter": {"type": "box"}, "pixel_format": "rgb"}
    view = mi.ScalarTransform4f().look_at(origin=[0, -1, 0], target=[0, 0, 0], up=[0, 0, 1])
    scene = mi.load_dict(
        {
            "type": "scene",
            "integrator": {"type": "path", "max_depth": 40, "rr_depth": 50},
            "ball": skins.mesh_of("ball", *_ball((0, 0, 0), 0.1), bsdf(FURNACE[name])),
            "sky": {"type": "constant", "radiance": 1.0},
            "sensor": {"type": "perspective", "fov": 11, "to_world": view, "film": film},
        }
    )
    seen = np.array(mi.render(scene, spp=512, seed=1))[..., :3]
    away = np.hypot(*(np.mgrid[:12, :12] - 5.5))
    for low, high in ((0, 2), (2, 4), (4, 5.2)):
        assert 0.05 < seen[(away >= low) & (away < high)].mean() <= 1.01


def test_a_relief_of_45_degrees_looks_45_degrees_aside(monkeypatch):
    """Lambert's cosine: a flight that rises as far as it goes, lit from straight above, gets cos 45° of the light."""
    import mitsuba as mi

    from ashfell.core.finish import images
    from ashfell.pictures.materials import bsdf

    flight = np.linspace(0, 255, 256, endpoint=False).round().astype(np.uint8)[None, :, None]
    monkeypatch.setattr(images.image, "_sources", [lambda key: np.tile(flight, (256, 1, 3))])
    maps = {"height": "cd" * 32}
    texture = {"pattern": "image", "width": "1 m", "height": "1 m", "depth": "1 m", "maps": maps}
    grey = {"name": "Grey", "kind": "plaster", "colour": "#767676", "roughness": 1}
    corners = np.array([(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 0, 0), (1, 1, 0), (0, 1, 0)], dtype=float)

    def lit(finish):
        up = np.tile((0.0, 0.0, 1.0), (6, 1))
        view = mi.ScalarTransform4f().look_at(origin=[0.4, 0.5, 9], target=[0.4, 0.5, 0], up=[0, 1, 0])
        film = {"type": "hdrfilm", "width": 8, "height": 8, "rfilter": {"type": "box"}, "pixel_format": "rgb"}
        scene = mi.load_dict(
            {
                "type": "scene",
                "integrator": {"type": "direct"},
                "plate": skins.mesh_of("plate", corners, up, corners[:, :2], bsdf(finish)),
                "sun": {"type": "directional", "direction": [0, 0, -1], "irradiance": 1.0},
                "sensor": {"type": "perspective", "fov": 1, "to_world": view, "film": film},
            }
        )
        return np.array(mi.render(scene, spp=64, seed=1))[..., :3].mean()

    assert lit(Finish(**grey, texture=texture)) / lit(Finish(**grey)) == pytest.approx(np.cos(np.radians(45)), rel=0.08)


@pytest.mark.parametrize("altitude", [30, 45, 60])
def test_a_shadow_is_as_long_as_the_sun_is_low(altitude):
    """Length = height / tan(altitude): that of a wall 2 m high on level ground, in pixels from above."""
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene

    wall = {"id": "w", "length": "6 m", "height": "2 m", "thickness": "300"}
    parts = build_scene(read_site({"walls": [wall]})).parts
    behind = max(part.solid.bounds[1][1] for part in parts) / 1000
    # 80 m above, a lens of 300 mm sees 9.6 m across: 50 mm a pixel.
    settings = PictureSettings.model_validate(
        {
            "camera": {"eye": [3, behind + 2, 80], "target": [3, behind + 2, 0], "lens": 300, "upright": False},
            "sun": {"by": "angle", "azimuth": 180, "altitude": altitude},
            "off": ["sky"],
            "ground": "white-paint",
            "width": 192,
            "height": 120,
        }
    )
    tracer = trace.Tracer(parts, settings)
    seen = sum(mixed(tracer.trace(k)) for k in range(4)).mean(axis=2)[:, 86:106].mean(axis=1)
    north = seen[: 60 + round(2 / 0.05)]  # from the top of the picture down to the wall's back
    lit = north > (north.max() + north.min()) / 2
    edge = int(np.flatnonzero(lit).max()) + 1  # the first row in shade
    length = (60 + 2 / 0.05 - edge) * 0.05
    assert length == pytest.approx(2 / np.tan(np.radians(altitude)), abs=0.06)


@pytest.mark.parametrize(("height", "courses"), [("1800", 24), ("2400", 32), ("3000", 40)])
def test_a_wall_has_as_many_courses_as_its_height_says(height, courses):
    """Courses of 65 mm bricks with joints of 10 (common practice): one wall higher than another has more of them."""
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene

    wall = {"id": "w", "length": "6 m", "height": height, "outside": "river-brick"}
    parts = build_scene(read_site({"walls": [wall]})).parts
    middle = float(height) / 2000
    settings = PictureSettings.model_validate(
        {
            "camera": {"eye": [3, -40, middle], "target": [3, 0, middle], "lens": 36 * 40 / 5},
            "width": 512,
            "height": 512,
        }
    )
    seen = trace.Tracer(parts, settings).guides()[..., :3].mean(axis=2)
    rows = np.flatnonzero(seen[:, 256] > 0.01)
    across = seen[rows[0] : rows[-1] + 1].mean(axis=1)
    waves = np.abs(np.fft.rfft(across - across.mean()))
    assert int(np.argmax(waves[10:])) + 10 == courses


PATCHES = [
    "#{:02x}{:02x}{:02x}".format(*(round(255 * part) for part in colorsys.hsv_to_rgb(hue / 12, rich, value)))
    for hue, rich, value in [
        *((hue, 0.75 - hue % 3 / 5, 0.9 - hue % 4 / 5) for hue in range(12)),
        (0, 0, 0.95),
        (0, 0, 0.7),
        (0, 0, 0.4),
        (0, 0, 0.15),
    ]
]
"""Twelve hues, rich and pale, light and dark, and four greys."""


def lab(srgb):
    """CIE 1976 L*a*b* of sRGB from 0 to 255 under D65 (IEC 61966-2-1; CIE 15:2004)."""
    held = np.asarray(srgb, dtype=float) / 255
    linear = np.where(held <= 0.04045, held / 12.92, ((held + 0.055) / 1.055) ** 2.4)
    matrix = [[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]
    x, y, z = linear @ np.transpose(matrix) / (0.9505, 1.0, 1.089)
    f = [t ** (1 / 3) if t > (6 / 29) ** 3 else t / (3 * (6 / 29) ** 2) + 4 / 29 for t in (x, y, z)]
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def test_patches_of_colour_rendered_flat_come_back():
    """Within a ΔE of 1 (CIE 1976), each found by the number of its part."""
    from ashfell.core.parts import Part
    from ashfell.core.solid.plate import boxes
    from ashfell.pictures.develop import to_srgb

    low = np.array([(k % 4 * 500.0, 0.0, k // 4 * 500.0) for k in range(len(PATCHES))])
    solids = boxes(low, low + np.array([480.0, 20.0, 480.0]))
    parts = [Part(f"p{k}", "panel", "panel", f"own-{k}", (0.0, 0.0, 1.0), solid) for k, solid in enumerate(solids)]
    own = {f"own-{k}": Finish(name=hex_, kind="plaster", colour=hex_, roughness=1) for k, hex_ in enumerate(PATCHES)}
    settings = PictureSettings(camera={"eye": (1, -4, 1), "target": (1, 0, 1)}, width=160, height=120)
    tracer = trace.Tracer(parts, settings, own)
    albedo, marks = tracer.guides()[..., :3], tracer.seen()[0]
    for number, patch in enumerate(PATCHES, 1):
        seen = marks == number
        assert seen.sum() > 150
        inside = seen & np.roll(seen, 1, 0) & np.roll(seen, -1, 0) & np.roll(seen, 1, 1) & np.roll(seen, -1, 1)
        pixel = to_srgb(albedo[inside].mean(axis=0))
        wanted = [int(patch[k : k + 2], 16) for k in (1, 3, 5)]
        assert np.linalg.norm(lab(pixel) - lab(wanted)) < 1, (patch, pixel)
