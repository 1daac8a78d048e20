"""Finishes: changed entry by entry, said, upgraded, found where they are used; their textures at real size."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.base.document import dump, read
from ashfell.core.base.lengths import STYLES
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY, Finish, images
from ashfell.core.finish.kind import SURFACES
from ashfell.core.finish.pattern import PATTERNS
from ashfell.core.finish.texture import albedo, laid, normals, relief, up_of
from ashfell.core.finishing.edit import change_finish, read_colour
from ashfell.core.finishing.say import say_finish
from ashfell.core.finishing.uses import replaced, uses
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.surface import surface
from ashfell.core.unit.say.writer import Slot, Writer

OAK = dump(LIBRARY["smoked-oak"])
PIXELS = np.arange(4 * 8 * 3, dtype=np.uint8).reshape(4, 8, 3)
KEY = "ab" * 32


@pytest.fixture(autouse=True)
def _an_image(monkeypatch):
    monkeypatch.setattr(images.image, "_sources", [lambda key: PIXELS if key == KEY else None])
    images.image._kept.cache_clear()


def said(data, style="mm"):
    return [sentence.text for sentence in say_finish(Writer(STYLES[style], {}), read(Finish, data))]


def told(**own):
    sentences = say_finish(Writer(STYLES["mm"], {}), read(Finish, OAK | {"texture": None} | own))
    return " ".join(line for sentence in sentences for line in sentence.told)


# --- changing


@pytest.mark.parametrize(
    ("entry", "value", "there", "kept"),
    [
        ("name", "Old oak", "name", "Old oak"),
        ("colour", "A0B0C0", "colour", "#a0b0c0"),
        ("colour", "#abc", "colour", "#aabbcc"),
        ("colour", "1", "colour", "#ffffff"),
        ("roughness", "0.25", "roughness", 0.25),
        ("varnish", "1", "varnish", 1.0),
        ("texture.width", "1.2 m", "texture.width", "1.2 m"),
        ("texture.height", "", "texture.height", None),
        ("texture.turn", "90°", "texture.turn", 90.0),
        ("texture.x", "-50", "texture.x", "-50"),
        ("texture.second", "0", "texture.second", "#000000"),
        ("texture.seed", "7", "texture.seed", 7),
        ("texture.depth", "1/16 in", "texture.depth", "1/16 in"),
        ("texture.pattern", "", "texture", None),
        ("texture.removed", "", "texture", None),
    ],
)
def test_an_entry_is_changed_as_typed(entry, value, there, kept):
    found = change_finish(OAK, entry, value)
    for step in there.split("."):
        found = found[step]
    assert found == kept


@pytest.mark.parametrize(
    ("entry", "value"),
    [
        ("roughness", "2"),
        ("roughness", "rough"),
        ("colour", "red"),
        ("colour", "1.5"),
        ("reflectance", "-1"),
        ("kind", "paper"),
        ("texture.pattern", "paisley"),
        ("texture.width", "0"),
        ("texture.height", "-1"),
        ("texture.seed", "1.5"),
        ("texture.depth", "deep"),
        ("texture.maps.colour", "somewhere"),
        ("ior", "0.5"),
        ("format", "ashfell/finish/1"),
        ("gloss", "1"),
        ("", "1"),
    ],
)
def test_what_no_finish_can_be_is_refused(entry, value):
    with pytest.raises(Refusal) as refused:
        change_finish(OAK, entry, value)
    assert refused.value.message


@pytest.mark.parametrize("share", [0.0, 0.05, 0.18, 0.5, 0.83, 0.9, 1.0])
@pytest.mark.parametrize("colour", ["#6f4e35", "#a4452c", "#0000ff", "#000000", "#ffffff"])
def test_a_colour_is_made_as_bright_as_asked(colour, share):
    """Its luminance by ITU-R BT.709 and IEC 61966-2-1, worked out here once more."""
    found = change_finish(OAK | {"colour": colour}, "reflectance", str(share))["colour"]
    linear = [int(found[k : k + 2], 16) / 255 for k in (1, 3, 5)]
    linear = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in linear]
    assert float(np.dot(linear, (0.2126, 0.7152, 0.0722))) == pytest.approx(share, abs=0.006)


def test_grey_of_a_reflectance_is_that_of_the_standard():
    """18 % grey is sRGB 118 (IEC 61966-2-1; a well-known value in photography)."""
    assert read_colour("colour", "0.18") == "#767676"


@pytest.mark.parametrize("kind", SURFACES)
def test_a_finish_becomes_one_of_another_kind(kind):
    found = change_finish(OAK, "kind", kind)
    assert (found["kind"], found["name"]) == (kind, "Smoked oak")
    assert (found["transmission"] > 0) == (SURFACES[kind].meets == "pane")
    assert change_finish(found, "kind", kind) == found
    back = change_finish(found, "kind", "timber")
    assert (back["metallic"], back["transmission"]) == (0.0, 0.0)


@pytest.mark.parametrize("pattern", PATTERNS)
def test_a_texture_begins_at_the_size_that_is_usual_for_it(pattern):
    found = change_finish(OAK, "texture.pattern", pattern)["texture"]
    assert (found["width"], found["depth"]) == (PATTERNS[pattern].width, PATTERNS[pattern].depth)
    assert found["seed"] == 23


# --- saying


@pytest.mark.parametrize("key", LIBRARY)
def test_every_entry_that_a_kind_has_is_said_and_can_be_changed_where_it_is_said(key):
    data = dump(LIBRARY[key])
    sentences = say_finish(Writer(STYLES["in"], {}), LIBRARY[key])
    slots = [part for sentence in sentences for part in sentence.parts if isinstance(part, Slot)]
    assert {"kind", "colour", "roughness", "texture.pattern"} <= {slot.entry for slot in slots}
    assert set(LIBRARY[key].surface.entries) <= {slot.entry for slot in slots}
    for slot in slots:
        if slot.entry != "reflectance":  # that is rounded
            again = change_finish(data, slot.entry, slot.typed or slot.value, "in")
            assert read(Finish, again).linear == LIBRARY[key].linear


def test_a_finish_is_said_as_somebody_would():
    assert said(OAK)[0] == "Timber of colour #6f4e35, reflecting 0.091."
    assert (
        said(OAK)[2] == "Texture timber grain, a tile 900 wide and as wide high, turned 0°, begun 0 along and 0 across."
    )
    glass = said(dump(LIBRARY["grey-glass"]) | {"thickness": "6"})
    assert glass[0] == "Glass that lets through #8f9a9d at 6."


def test_what_is_not_plausible_is_told():
    assert "more than 90%" in told(colour="#fbfbfb")
    assert told(colour="#e9e6df") == ""
    assert "deeper than a quarter" in told(texture={"pattern": "plaster", "width": "100", "depth": "30"})
    assert "every thickness" in told(kind="glass", transmission=1, colour="#ffffff", thickness="4")
    assert "polished metal" in told(kind="metal", metallic=1, roughness=0.1, colour="#404040")


# --- textures


def test_a_tile_is_as_high_as_wide_unless_it_says_so_or_its_image_is_not():
    texture = {"pattern": "image", "width": "2 m", "maps": {"colour": KEY}}
    assert up_of(read(Finish, OAK | {"texture": texture}).texture) == pytest.approx(1.0)
    assert up_of(read(Finish, OAK | {"texture": texture | {"height": "700"}}).texture) == pytest.approx(0.7)
    assert up_of(read(Finish, OAK).texture) == pytest.approx(0.9)


def test_an_image_is_shown_as_it_is_and_one_that_is_gone_is_told():
    texture = {"pattern": "image", "width": "2 m", "maps": {"colour": KEY}}
    assert np.array_equal(albedo(read(Finish, OAK | {"texture": texture})), PIXELS)
    with pytest.raises(Refusal, match="not here"):
        albedo(read(Finish, OAK | {"texture": texture | {"maps": {"colour": "cd" * 32}}}))


@pytest.mark.parametrize(
    ("place", "tile"), [((0.1, 0.0), (0.0, 0.0)), ((0.1, 2.0), (1.0, 0.0)), ((-0.4, 0.0), (0.0, 1.0))]
)
def test_a_turned_tile_runs_along_its_own_axes(place, tile):
    """Turned by a quarter, what ran along the grain runs across it; begun 0.1 m along, 2 m long and 0.5 m high."""
    own = {"pattern": "plain", "width": "2 m", "height": "500", "turn": 90, "x": "100"}
    matrix = laid(read(Finish, OAK | {"texture": own}).texture)
    assert matrix @ (*place, 1) == pytest.approx(tile, abs=1e-12)


def test_normals_lean_as_their_relief_does():
    """A flight of half a tile at 45 degrees: 100 mm up over 100 mm along."""
    high = np.minimum(np.linspace(0, 1, 64, endpoint=False), 1)[None, :].repeat(64, axis=0)
    images.image._kept.cache_clear()
    images.image._sources[:] = [lambda key: (high * 255).round().astype(np.uint8)[..., None].repeat(3, axis=2)]
    texture = {"pattern": "image", "width": "100", "height": "100", "depth": "100", "maps": {"height": KEY}}
    ways = normals(read(Finish, OAK | {"texture": texture}))
    assert ways[10, 30] == pytest.approx((-(0.5**0.5), 0, 0.5**0.5), abs=0.02)
    assert np.linalg.norm(ways, axis=-1) == pytest.approx(1.0)


@pytest.mark.parametrize("pattern", [key for key in PATTERNS if key != "image"])
def test_patterns_repeat_without_a_seam_in_relief_too(pattern):
    texture = {"pattern": pattern, "width": PATTERNS[pattern].width, "depth": "5", "seed": 3}
    high = relief(read(Finish, OAK | {"texture": texture}), 256)
    assert 0 <= high.min() <= high.max() <= 1
    for axis in (0, 1):
        inside = np.abs(np.diff(high, axis=axis)).max()
        seam = np.abs(np.take(high, 0, axis=axis) - np.take(high, -1, axis=axis)).max()
        assert seam <= inside + 1e-9


def test_squared_stones_and_tiles_are_as_large_as_they_say():
    """A tile of 1.8 m has 12 courses of 150 mm; one of 1.2 m has 4 rows of tiles of 300 mm (common practice)."""
    for pattern, width, courses in (("coursed", "1.8 m", 12), ("tiles", "1.2 m", 4)):
        texture = {"pattern": pattern, "width": width, "second": "#000000"}
        rows = albedo(read(Finish, OAK | {"colour": "#ffffff", "texture": texture}), 720).mean(axis=(1, 2))
        dark = rows < (rows.min() + rows.mean()) / 2
        assert np.count_nonzero(np.diff(np.concatenate([dark, dark[:1]]).astype(int)) == 1) == courses


# --- formats and uses


def test_a_finish_of_the_first_format_keeps_its_tile():
    first = {
        "format": "ashfell/finish/1",
        "name": "Old",
        "kind": "timber",
        "colour": "#6f4e35",
        "texture": {"pattern": "timber", "tile": 0.9, "second": "#43301f", "seed": 23},
    }
    found = read(Finish, first)
    assert (found.format, found.texture.across, found.texture.seed) == ("ashfell/finish/2", 0.9, 23)


def test_a_finish_is_found_where_it_is_used_and_replaced_there():
    data = {
        "finishes": {"frame": "oak", "glass": "clear"},
        "walls": [{"id": "w", "outside": "oak", "inside": "lime", "leaves": [{"finish": "oak"}]}],
        "placements": [{"id": "p", "finishes": {"sash": "oak"}, "name": "oak"}],
        "units": {"u": {"finishes": {"frame": "oak"}}},
    }
    assert [*map(str, uses(data, "oak"))] == [
        "finishes.frame",
        "walls.w.outside",
        "walls.w.leaves.0.finish",
        "placements.p.finishes.sash",
    ]
    changed = replaced(data, "oak", "ash")
    assert uses(changed, "oak") == []
    assert len(uses(changed, "ash")) == 4
    assert changed["placements"][0]["name"] == "oak"
    assert replaced(data, "elm", "ash") is data


def test_a_repeat_does_not_show_the_same_piece_of_its_texture():
    """Two placements of one unit: the jambs of one begin their texture elsewhere than those of the other."""
    wall = {"id": "a", "length": "6 m", "thickness": "300", "height": "3 m"}
    placed = [{"id": f"p{n}", "wall": "a", "unit": "w", "sill": "900", "offset": str(500 + 2500 * n)} for n in range(2)]
    scene = build_scene(read_site({"walls": [wall], "units": {"w": {}}, "placements": placed}))
    parts = {part.id: part for part in scene.parts if part.role == "frame"}
    for name in ("frame.left", "frame.right"):
        one, other = (surface(parts[f"p{n}/{name}"]) for n in range(2))
        moved = other.positions - one.positions
        assert moved == pytest.approx(np.broadcast_to([2500, 0, 0], moved.shape), abs=1e-6)
        # Moved across their grain, they would begin alike along it.
        sides = np.abs(one.normals[:, 2]) < 1e-6
        along = (other.texture - one.texture)[sides, 0]
        assert np.ptp(along) < 1e-9
        assert abs(along[0]) > 0.01
