"""Pictures: settings, passes, development, swatches, textures."""

import numpy as np
import pytest

from ashfell.core.base.document import dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY, texture
from ashfell.core.finish.texture import albedo
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.develop import Look, cleaned, developed, mixed, mixed_alike, png
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.swatch import swatch
from ashfell.pictures.trace import Tracer


@pytest.fixture(scope="module")
def tracer():
    site = read_site(
        {
            "walls": [{"id": "w", "length": "4 m"}],
            "units": {"u": {"width": "1500", "height": "1400"}},
            "placements": [{"id": "p", "wall": "w", "unit": "u", "measured": "centre"}],
        }
    )
    settings = PictureSettings.model_validate(
        {"camera": {"eye": [2, -5, 1.6], "target": [2, 0, 1.4]}, "width": 96, "height": 60}
    )
    return Tracer(build_scene(site).parts, settings)


def traced(tracer, number):
    return mixed(tracer.trace(number))


def test_a_pass_is_finite_lit_and_the_same_for_its_seed(tracer):
    first, again, other = traced(tracer, 0), traced(tracer, 0), traced(tracer, 1)
    assert first.shape == (60, 96, 3)
    assert np.isfinite(first).all()
    assert first.mean() > 0.01
    assert np.array_equal(first, again)
    assert not np.array_equal(first, other)


def test_more_passes_are_quieter(tracer):
    reference = sum(traced(tracer, k) for k in range(10, 26)) / 16
    one, four = traced(tracer, 0), sum(traced(tracer, k) for k in range(4)) / 4
    assert np.abs(four - reference).mean() < 0.75 * np.abs(one - reference).mean()


def test_a_glance_is_the_picture_made_small():
    """Of 384 by 256 pixels, a quarter of them: each layer as bright as in two passes, and light and dark where they
    are there."""
    site = read_site({"walls": [{"id": "w", "length": "4 m"}]})
    settings = PictureSettings.model_validate(
        {"camera": {"eye": [2, -5, 1.6], "target": [2, 0, 1.4]}, "width": 384, "height": 256}
    )
    assert (settings.glanced.width, settings.glanced.height) == (192, 128)
    tracer = Tracer(build_scene(site).parts, settings)
    glance, whole = tracer.glance([[name] for name in tracer.quota]), [tracer.trace(number) for number in range(2)]
    assert glance.keys() == whole[0].keys()
    for name, layer in glance.items():
        assert layer.shape == (128, 192, whole[0][name].shape[2])
        passes = np.mean([one[name] for one in whole], axis=0)
        assert layer.mean() == pytest.approx(passes.mean(), rel=0.05)
    small, large = mixed(glance).mean(axis=2), np.mean([mixed(one) for one in whole], axis=0).mean(axis=2)
    blocks = [image.reshape(16, size, 24, size).mean(axis=(1, 3)) for image, size in ((small, 8), (large, 16))]
    assert np.corrcoef(*(one.ravel() for one in blocks))[0, 1] > 0.98


def test_a_glance_traces_as_one_what_is_mixed_alike():
    """Layers that a look dims alike come under the name of the first, as bright as they are one by one; the sky, which
    is seen itself, stays alone, as does what is mixed otherwise."""
    lamps = [
        {"id": name, "kind": "panel", "x": x, "y": "-1 m", "z": "2 m", "lumens": 400_000, "group": name}
        for name, x in (("one", "1 m"), ("two", "2 m"), ("three", "3 m"))
    ]
    site = read_site({"walls": [{"id": "w", "length": "4 m"}], "lamps": lamps})
    settings = PictureSettings.model_validate(
        {"camera": {"eye": [2, -5, 1.6], "target": [2, 0, 1.4]}, "width": 384, "height": 256}
    )
    tracer = Tracer(build_scene(site).parts, settings, lamps=hung(site))
    look = Look.model_validate({"layers": {"lamps:two": {"strength": 0.5}, "sky": {"strength": 0.5}}})
    alike = mixed_alike(tracer.quota, look)
    assert alike == [["sun", "lamps:one", "lamps:three"], ["sky"], ["lamps:two"]]
    glance, apart = tracer.glance(alike), tracer.glance([[name] for name in tracer.quota])
    assert set(glance) == {"sun", "sky", "lamps:two", "through", "beyond"}
    assert mixed(glance, look).mean() == pytest.approx(mixed(apart, look).mean(), rel=0.03)
    together = sum(apart[name].mean() for name in alike[0])
    assert glance["sun"].mean() == pytest.approx(together, rel=0.03)


@pytest.mark.parametrize(
    ("size", "glanced"), [((640, 400), (213, 133)), ((4096, 2560), (240, 150)), ((64, 40), (64, 40))]
)
def test_a_glance_has_as_many_pixels_whatever_the_size(size, glanced):
    asked = PictureSettings(width=size[0], height=size[1], region=(0.0, 0.0, 0.5, 0.5))
    assert (asked.glanced.width, asked.glanced.height) == glanced
    assert asked.glanced.region is None


@pytest.mark.parametrize(
    ("wrong", "rule"), [({"noise": -3}, "at least 0"), ({"exposure": 9.5}, "at most 8"), ({"width": 5}, "at least 16")]
)
def test_a_wrong_number_is_told_with_the_limit_as_one_would_write_it(wrong, rule):
    with pytest.raises(Refusal) as told:
        read(PictureSettings, wrong)
    assert told.value.rule == rule
    assert told.value.remedy == f"Type {rule}."


def test_guides_show_the_wall_and_its_normal(tracer):
    guides = tracer.guides()
    wall = guides[42:48, 12:22].mean(axis=(0, 1))
    assert wall[3:] == pytest.approx([0, -1, 0], abs=0.02)
    assert wall[0] > 1.5 * wall[2]
    assert guides[..., :3].max() <= 1.01


def test_noise_is_removed_with_the_guides(tracer):
    reference = sum(traced(tracer, k) for k in range(10, 26)) / 16
    noisy = tracer.trace(0)
    shown = [developed(one, Look()).astype(float) for one in ({"": reference}, noisy, cleaned(noisy, tracer.guides()))]
    assert np.abs(shown[2] - shown[0]).mean() < 0.7 * np.abs(shown[1] - shown[0]).mean()


def test_exposure_brightens(tracer):
    layers = tracer.trace(0)
    dark, usual, bright = (developed(layers, Look(exposure=stops)) for stops in (-1, 0, 1))
    assert bright.mean() > usual.mean() > dark.mean()
    assert png(usual).startswith(b"\x89PNG")


def test_settings_refuse_what_is_no_picture():
    for entry, value in (("width", 3), ("exposure", "bright"), ("camera", {"eye": [0, 0, 0], "target": [0, 0, 0]})):
        with pytest.raises(Refusal):
            read(PictureSettings, dump(PictureSettings()) | {entry: value})


@pytest.mark.parametrize("key", sorted(LIBRARY))
def test_textures_repeat_without_a_seam_and_are_the_same_each_time(key):
    finish = LIBRARY[key]
    pixels = albedo(finish, 256).astype(float)
    steps = np.abs(np.diff(pixels, axis=0)).mean(), np.abs(np.diff(pixels, axis=1)).mean()
    seams = np.abs(pixels[0] - pixels[-1]).mean(), np.abs(pixels[:, 0] - pixels[:, -1]).mean()
    for seam, step in zip(seams, steps, strict=True):
        assert seam <= 3 * step + 6
    first = albedo(finish, 256).copy()
    texture._albedo.cache_clear()
    texture._filled.cache_clear()
    assert np.array_equal(albedo(finish, 256), first)


def test_timber_changes_more_across_the_grain_than_along_it():
    pixels = albedo(LIBRARY["ash-timber"], 512).astype(float).mean(axis=2)
    assert np.abs(np.diff(pixels, axis=0)).mean() > 3 * np.abs(np.diff(pixels, axis=1)).mean()


def test_bricks_are_as_long_and_high_as_bricks():
    """215 x 65 with joints of 10: a tile of 1.8 m has 8 bricks and 24 courses (common practice, no source)."""
    pixels = albedo(LIBRARY["river-brick"], 720).astype(float).mean(axis=2)
    rows = np.abs(np.fft.rfft(pixels.mean(axis=1)))[1:60]
    assert int(np.argmax(rows)) + 1 in (24, 48)


def test_every_finish_has_a_swatch_of_its_own():
    seen = {swatch(finish, 48).tobytes() for finish in LIBRARY.values()}
    assert len(seen) == len(LIBRARY)
