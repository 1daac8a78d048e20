"""Volumes of a window's members from its drawn cross-sections, by the theorem of Pappus.

Nothing of the sections is taken from what is tested.

A mitred rectangular ring of section area A whose centroid lies x behind its outer edge has the volume
A · 2 (W + H - 4 x): the second theorem of Pappus for four straight runs (textbook; from memory).
"""

import pytest
from shapely import Polygon, box
from shapely.affinity import translate

from ashfell.core.unit import build, read_unit

WIDTH, HEIGHT, FACE, DEPTH = 1200.0, 1500.0, 60.0, 90.0
THICKNESS, SETBACK, COVER, CLEARANCE, GASKET, SHOWS = 6.0, 24.0, 12.0, 3.0, 4.0, 2.0
STOP = SETBACK - GASKET  # where the stop ends and the outer gasket begins, behind the face
BEAD = SETBACK + THICKNESS + GASKET  # where the inner gasket ends and the bead begins


def ring(section: Polygon, width: float = WIDTH, height: float = HEIGHT) -> float:
    """The volume of a ring whose section is drawn as (behind the outer edge, behind the face)."""
    return section.area * 2 * (width + height - 4 * section.centroid.x)


def section(edge: float, kind: str) -> Polygon:
    """The frame as a joiner draws it: a block, a rebate behind the stop, and its three arrises worked."""
    block = box(0, 0, FACE, DEPTH) - box(FACE - COVER - CLEARANCE, STOP, FACE, DEPTH)
    corners = [(0, 0, 1, 1), (FACE, 0, -1, 1), (0, DEPTH, 1, -1)]
    cuts = {
        "square": [],
        "chamfer": [Polygon([(x, y), (x + a * edge, y), (x, y + b * edge)]) for x, y, a, b in corners],
        "rebate": [
            box(min(x, x + a * edge), min(y, y + b * edge), max(x, x + a * edge), max(y, y + b * edge))
            for x, y, a, b in corners
        ],
    }
    for cut in cuts[kind]:
        block -= cut
    return block


def volumes(edge: float, kind: str, **more) -> dict[str, float]:
    glazing = {
        "thickness": str(THICKNESS),
        "setback": str(SETBACK),
        "cover": str(COVER),
        "clearance": str(CLEARANCE),
        "gasket": {"thickness": str(GASKET), "shows": str(SHOWS)},
        "bead": {"edge": {"kind": "square"}},
    }
    worked = {"kind": kind, "size": str(edge)} if kind != "square" else {"kind": "square"}
    frame = {"face": str(FACE), "depth": str(DEPTH), "edge": worked}
    data = {"width": str(WIDTH), "height": str(HEIGHT), "frame": frame, "glazing": glazing}
    found: dict[str, float] = {}
    for part in build(read_unit(data | more)):
        found[part.role] = found.get(part.role, 0.0) + part.solid.volume
    return found


@pytest.mark.parametrize(("edge", "kind"), [(1, "square"), (3, "chamfer"), (5, "rebate")])
def test_a_frames_volume_is_that_of_its_section(edge, kind):
    assert volumes(edge, kind)["frame"] == pytest.approx(ring(section(edge, kind)), rel=1e-9)


def test_glass_reaches_its_cover_behind_the_frame():
    wide, high = WIDTH - 2 * (FACE - COVER), HEIGHT - 2 * (FACE - COVER)
    assert volumes(1, "square")["glass"] == pytest.approx(wide * high * THICKNESS, rel=1e-12)


def test_gaskets_lie_before_and_behind_the_glass_and_show():
    """From the edge of the glass to where they show, on both faces."""
    strip = box(FACE - COVER, 0, FACE + SHOWS, GASKET)
    assert volumes(1, "square")["gasket"] == pytest.approx(2 * ring(strip), rel=1e-9)


def test_beads_fill_the_rebate_behind_the_glass():
    bead = translate(box(0, BEAD, COVER + CLEARANCE, DEPTH), FACE - COVER - CLEARANCE)
    assert volumes(1, "square")["bead"] == pytest.approx(ring(bead), rel=1e-9)


def test_a_mullion_has_a_face_before_the_stops_and_a_stem_behind_them():
    """Face and stem are blocks: the stem is narrower by both rebates, and goes on into those of head and sill."""
    bar = 70.0
    clear = HEIGHT - 2 * FACE
    rebate = COVER + CLEARANCE
    expected = bar * clear * STOP + (bar - 2 * rebate) * (clear + 2 * rebate) * (DEPTH - STOP)
    columns = {"lights": [{}, {}], "bars": [{"face": str(bar)}]}
    square = {"edge": {"kind": "square"}}
    assert volumes(1, "square", columns=columns, bars=square)["bar"] == pytest.approx(expected, rel=1e-9)
