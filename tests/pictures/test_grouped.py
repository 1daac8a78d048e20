"""A site traced in groups is the picture that it is as one mesh for each finish."""

import numpy as np
import pytest

from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures import trace
from ashfell.pictures.compiled import READY
from ashfell.pictures.grouped import LARGE, SOME, WORTH, Grouped
from ashfell.pictures.settings import Camera, PictureSettings
from ashfell.pictures.trace import Tracer, in_groups

SITE = {
    "walls": [{"id": "front", "length": "12 m", "height": "3 m", "thickness": "300"}],
    "units": {
        "window": {
            "name": "Window",
            "width": "1200",
            "height": "1400",
            "columns": {"lights": [{"size": "400"}, {}], "bars": ["60"]},
            "finishes": {"frame": "ash-timber"},
        }
    },
    "placements": [
        {
            "id": f"w{n}",
            "wall": "front",
            "unit": "window",
            "offset": f"{500 + 1600 * n}",
            "sill": "900",
            "mirrored": n % 2 == 1,
        }
        for n in range(6)
    ],
}
LOOK = PictureSettings(
    camera=Camera(eye=(3.0, -5.0, 1.6), target=(4.0, 0.0, 1.5), lens=28),
    width=120,
    height=80,
    quality="good",
    ground="mown-grass",
)


@pytest.fixture(scope="module")
def scene():
    return build_scene(read_site(SITE))


@pytest.fixture(scope="module")
def tracers(scene):
    return [Tracer(scene.coats, LOOK, None, hung(scene.site), READY, grouped=grouped) for grouped in (False, True)]


def test_coats_are_those_of_every_instance_in_its_place(scene):
    """As many as each definition has wherever it stands, one by one as all together; named without being moved."""
    coats = scene.coats
    assert len(coats) == sum(len(coats.definitions[one.definition]) for one in scene.instances)
    whole = list(coats)
    assert [part.id for part in coats.named] == [part.id for part in whole]
    for number in (0, 7, len(coats) - 1, -1):
        assert coats[number].id == whole[number].id
        assert np.array_equal(coats[number].solid.vertices, whole[number].solid.vertices)
    assert [part.id for part in coats[3:5]] == [part.id for part in whole[3:5]]
    with pytest.raises(IndexError):
        coats[len(coats)]
    assert coats.triangles == sum(len(part.solid.triangles) for part in whole)
    window = sum(len(part.solid.triangles) for part in scene.units["w0"].parts)
    assert coats.repeated == 5 * window


def test_as_much_light_comes_from_everywhere(tracers):
    """Noise apart: means of blocks of 8 by 8 pixels are within 5 % of the whole's mean."""
    flat, grouped = (sum(layer for layer in tracer.trace(0).values()) for tracer in tracers)

    def blocks(image):
        return image.mean(axis=-1).reshape(10, 8, 15, 8).mean(axis=(1, 3))

    assert np.abs(blocks(flat) - blocks(grouped)).mean() < 0.05 * flat.mean()
    assert grouped.mean() == pytest.approx(flat.mean(), rel=0.02)


def test_the_same_parts_are_seen_at_the_same_places(tracers):
    """But where an edge runs through a pixel: one looks at its middle, the other anywhere in it."""
    (marks, depth), (own, far) = (tracer.seen() for tracer in tracers)
    same = marks == own
    assert same.mean() > 0.93
    assert len(np.unique(own)) > 30
    assert np.median(np.abs(depth - far)[same]) < 0.01


@pytest.mark.parametrize("grouped", [False, True])
def test_panes_are_seen_from_either_side(scene, grouped):
    names = [part.role for part in scene.coats.named]
    for eye in ((6.0, -5.0, 1.6), (6.0, 5.0, 1.6)):
        camera = Camera(eye=eye, target=(6.0, 0.15, 1.5), lens=28)
        marks, depth = Tracer(scene.coats, LOOK.model_copy(update={"camera": camera}), grouped=grouped).seen()
        panes = np.isin(marks, [number for number, role in enumerate(names, 1) if role == "glass"])
        assert 0.1 < panes.mean() < 0.4
        assert np.abs(depth[panes] - 5.0).max() < 0.5


def test_guides_are_the_same_but_for_edges(tracers):
    flat, grouped = (tracer.guides() for tracer in tracers)
    assert np.median(np.abs(flat - grouped)) < 0.02
    assert np.abs(flat - grouped).mean() < 0.05
    brick = grouped[20:60, 2:14, :3].mean(axis=-1)
    assert np.corrcoef(brick.ravel(), flat[20:60, 2:14, :3].mean(axis=-1).ravel())[0, 1] > 0.6


def test_textures_of_neighbours_begin_elsewhere(tracers):
    """Of six windows some show the grain of their frames otherwise than others, three ways at most."""
    groups = [group for group in tracers[1]._things.groups if any("ash" in skin.key for skin in group.skins)]
    starts = {tuple(skin.texture[0].round(4).tolist()) for group in groups for skin in group.skins if "ash" in skin.key}
    assert 1 < len(starts) <= 3
    assert sum(len(group.uses) for group in groups) == 6


def test_groups_are_chosen_where_much_is_repeated(scene, monkeypatch):
    coats = scene.coats
    few = LOOK.model_copy(update={"width": 16, "height": 10})
    assert not in_groups(coats, LOOK)
    for repeated, chosen in ((LARGE + 1, True), (SOME, False), (SOME + 1, True)):
        monkeypatch.setitem(coats.__dict__, "repeated", repeated)
        assert in_groups(coats, few) is chosen
    monkeypatch.setitem(coats.__dict__, "repeated", SOME + 1)
    wide = LOOK.model_copy(update={"width": 4000, "height": 3000})
    assert SOME * WORTH < 4000 * 3000
    assert not in_groups(coats, wide)
    assert not in_groups(list(coats), few)


def test_a_large_site_is_traced_in_groups_by_what_is_ready(scene, monkeypatch):
    monkeypatch.setattr(trace, "LARGE", 0)
    tracer = Tracer(scene.coats, LOOK.model_copy(update={"surfaces": "clay"}))
    assert tracer.variant == READY
    assert isinstance(tracer._things, Grouped)
    assert {skin.key for group in tracer._things.groups for skin in group.skins} == {"clay", "clear-glass"}
