"""The compiled variant of the tracer: where it pays, what is done where its compiler is not there or too old, and that
it traces the same light. The compiler comes with what the tests need, so that nothing of this is skipped."""

import sys

import numpy as np
import pytest

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures import compiled, tiles
from ashfell.pictures.compiled import COMPILED, LIBRARY, PAYS, READY, SWITCH, paths_of, variant_of
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.tiles import joined, tiles_of
from ashfell.pictures.trace import Tracer

SMALL = {"camera": {"eye": [2, -5, 1.6], "target": [2, 0, 1.4]}, "width": 96, "height": 60}
LARGE = PictureSettings(width=1280, height=800, quality="final")


def parts():
    wall = {"walls": [{"id": "w", "length": "4 m"}], "units": {"u": {"width": "1500", "height": "1400"}}}
    placed = {"placements": [{"id": "p", "wall": "w", "unit": "u", "measured": "centre"}]}
    return build_scene(read_site(wall | placed)).parts


@pytest.fixture
def tried(monkeypatch):
    """Called with the compiler to be tried: whether it runs, in processes of its own."""
    monkeypatch.delenv(SWITCH, raising=False)

    def trial(library):
        monkeypatch.setenv(LIBRARY, str(library))
        compiled.runs.cache_clear()
        return compiled.runs()

    yield trial
    compiled.runs.cache_clear()


def test_what_pays_is_told_by_its_paths(monkeypatch):
    monkeypatch.delenv(SWITCH, raising=False)
    monkeypatch.setattr(compiled, "runs", lambda: True)
    draft = PictureSettings.model_validate(SMALL)
    assert paths_of(draft) == 96 * 60 * 16
    assert paths_of(LARGE.model_copy(update={"region": (0.5, 0.5, 1.0, 1.0)})) == paths_of(LARGE) // 4
    assert (variant_of(draft), variant_of(LARGE)) == (READY, COMPILED)
    least = draft.model_copy(update={"width": 1250, "height": PAYS // 1250 // 16})
    assert paths_of(least) == PAYS
    assert variant_of(least) == COMPILED
    assert variant_of(least.model_copy(update={"height": least.height - 1})) == READY
    monkeypatch.setenv(SWITCH, "no")
    assert variant_of(LARGE) == READY


def test_what_is_no_compiler_is_found_out_in_another_process(tried, tmp_path):
    (tmp_path / "libLLVM.so").write_text("not a library")
    assert not tried(tmp_path / "libLLVM.so")
    assert variant_of(LARGE) == READY


def test_a_compiler_that_ends_its_process_costs_that_process_only(tried, monkeypatch, tmp_path):
    dies = tmp_path / "dies"
    dies.write_text("#!/bin/sh\nkill -ABRT $$\n")
    dies.chmod(0o755)
    monkeypatch.setattr(sys, "executable", str(dies))
    assert not tried("any")
    assert variant_of(LARGE) == READY


def test_a_compiled_scene_has_the_same_light_and_the_same_bytes_each_time(monkeypatch):
    monkeypatch.delenv(SWITCH, raising=False)
    assert compiled.runs(), "There is no compiler: make test installs it."
    shown, settings = compiled.trial()
    ready, fast = (Tracer(shown, settings, variant=variant) for variant in (READY, COMPILED))
    sums = [{name: np.zeros((30, 48, 3), np.float32) for name in ready.trace(0)} for _ in range(2)]
    for number in range(12):
        for total, tracer in zip(sums, (ready, fast), strict=True):
            for name, layer in tracer.trace(number).items():
                total[name] += layer / 12
    for name, light in sums[0].items():
        assert sums[1][name].mean() == pytest.approx(light.mean(), rel=0.02), name
        blocks = [one[name].reshape(5, 6, 6, 8, 3).mean(axis=(1, 3)) for one in sums]
        assert np.abs(blocks[1] - blocks[0]).mean() < 0.05 * light.mean() + 1e-6, name
    first, again = fast.trace(7), Tracer(shown, settings, variant=COMPILED).trace(7)
    assert all(np.array_equal(first[name], again[name]) for name in first)
    assert np.array_equal(ready.guides(), fast.guides())  # what is seen is asked of the other


def test_a_large_picture_is_traced_in_tiles_that_make_the_whole(monkeypatch):
    settings = PictureSettings.model_validate(SMALL | {"quality": "draft"})
    whole = Tracer(parts(), settings)
    assert tiles_of(settings) == [(0, 0, 96, 60)]
    monkeypatch.setattr(tiles, "TILE", 96 * 25)
    parted = Tracer(parts(), settings)
    assert parted.tiles == [(0, 0, 96, 25), (0, 25, 96, 50), (0, 50, 96, 60)]
    found = parted.trace(3)
    apart = joined([parted.tile(3, place) for place in range(3)])
    assert all(np.array_equal(found[name], apart[name]) for name in found)
    mean = {name: sum(whole.trace(n)[name] for n in range(4)) / 4 for name in found}
    ours = {name: sum(parted.trace(n)[name] for n in range(4)) / 4 for name in found}
    for name, layer in mean.items():
        rows = [one[name].mean(axis=(1, 2)).reshape(12, 5).mean(axis=1) for one in (mean, ours)]
        assert np.allclose(rows[1], rows[0], rtol=0.08, atol=0.02 * layer.mean()), name
    # No tile has the noise of another.
    sky = found["sky"]
    assert np.corrcoef((sky - mean["sky"])[:10].ravel(), (sky - mean["sky"])[25:35].ravel())[0, 1] < 0.2
    region = PictureSettings.model_validate(SMALL | {"region": (0.25, 0.5, 0.75, 1.0)})
    assert tiles_of(region) == [(24, 30, 72, 60)]
