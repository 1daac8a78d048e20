"""Leaded glass: the pieces between the cames, whatever the outline."""

import numpy as np
import pytest
import shapely

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import polygons
from ashfell.core.unit import make, read_unit, solve
from ashfell.core.unit.edit.change import change
from tests.core.test_any_unit import IN_THE_LONG_RUN

KINDS = ("rectangle", "ellipse", "star", "pointed", "quarter-round")


def leaded_document(kind, pattern="brick", **lead):
    entries = {"across": 6, "up": 8, "seed": 5, "came": "8"} | lead
    fill = {"kind": "glass", "lead": {"pattern": pattern, **entries}}
    return {"width": "1500", "height": "1900", "outline": {"kind": kind}, "fill": fill}


def leaded(kind, pattern="brick", **lead):
    return make(read_unit(leaded_document(kind, pattern, **lead)))


def pieces(made):
    """The outline of each piece of glass."""
    found = []
    for part in made.parts:
        if part.role == "glass":
            front = part.solid.vertices[np.isclose(part.solid.vertices[:, 2], part.solid.bounds[1][2])]
            found.append(shapely.Polygon(front[:, :2]))
    return found


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("pattern", ["grid", "brick", "shards"])
def test_glass_fills_what_the_cames_leave_of_any_outline(kind, pattern):
    """Less than a sixth of the clear opening is lead, and what is dark there are slivers: no piece is left out."""
    made = leaded(kind, pattern)
    glass = shapely.union_all(pieces(made))
    clear = shapely.Polygon(made.layout.frame.clear.points)
    assert glass.intersection(clear).area > 0.84 * clear.area
    dark = polygons(clear.difference(glass.buffer(15, join_style="mitre")))
    average = glass.area / len(pieces(made))
    assert max((patch.area for patch in dark), default=0.0) < average / 4
    assert audit_unit(made) == []


def test_pieces_lie_a_heart_apart():
    made = leaded("rectangle", "grid", jitter=0.5, heart="3")
    found = pieces(made)
    gaps = [
        found[a].distance(found[b]) for a in range(len(found)) for b in range(a) if found[a].distance(found[b]) < 20
    ]
    assert min(gaps) == pytest.approx(3, abs=1e-6)


def test_a_seed_gives_the_same_window_and_another_one_another():
    first, again, other = (leaded("ellipse", "shards", seed=seed) for seed in (3, 3, 4))
    came = [next(part.solid for part in made.parts if part.role == "came") for made in (first, again, other)]
    assert np.array_equal(came[0].vertices, came[1].vertices)
    assert came[0].vertices.shape != came[2].vertices.shape or not np.allclose(came[0].vertices, came[2].vertices)
    assert [part.finish for part in first.parts] == [part.finish for part in again.parts]


def flange(made):
    """The area of the cames' faces towards the outside, mm²."""
    solid = next(part.solid for part in made.parts if part.role == "came")
    front = np.isclose(solid.vertices[solid.triangles][:, :, 2], solid.bounds[1][2]).all(axis=1)
    a, b, c = np.moveaxis(solid.vertices[solid.triangles[front]][:, :, :2], 1, 0)
    (x, y), (u, v) = (b - a).T, (c - a).T
    return float(np.abs(x * v - y * u).sum() / 2)


def test_wider_cames_show_more_lead_and_the_pieces_stay():
    """Flanges of 14 mm show much more than those of 6, though less than in proportion, since they cross; the hearts are
    the same, and so are the pieces away from the rim."""
    narrow, wide = (leaded("rectangle", "grid", came=came, heart="2") for came in ("6", "14"))
    edge = shapely.LinearRing(narrow.layout.frame.clear.points)
    inner = [[piece.area for piece in pieces(made) if piece.distance(edge) > 30] for made in (narrow, wide)]
    assert len(inner[0]) > 20
    assert inner[0] == pytest.approx(inner[1])
    assert 1.5 < flange(wide) / flange(narrow) < 14 / 6


@pytest.mark.parametrize("pattern", ["grid", "brick", "shards"])
@pytest.mark.parametrize("kind", [*KINDS, "segmental", "d", "half-round", "polygon", "raked"])
def test_no_hole_reaches_into_the_rim(kind, pattern):
    """Seen from outside, lead runs at least as wide as the rim along the sight line, for pieces of any shape."""
    for seed in range(60 if IN_THE_LONG_RUN else 20):
        across, up = 2 + seed % 5, 3 + seed % 7
        document = leaded_document(kind, pattern, seed=seed, across=across, up=up, jitter=seed % 6 / 5, rim="11")
        layout = solve(read_unit(document))
        edge = shapely.LinearRing(layout.frame.clear.points)
        net = next(member.form for member in layout.members if member.role == "came")
        assert min(edge.distance(shapely.LinearRing(narrow)) for narrow, _ in net.holes) > 11 - 1e-9
        assert min(shapely.LinearRing(net.outline).distance(shapely.LinearRing(wide)) for _, wide in net.holes) > 1


@pytest.mark.parametrize("came", ["8", "0.2", "0.039", "0.01"])
def test_what_is_said_of_a_heart_as_wide_as_its_came_can_be_made(came):
    """A quarter of the came, or, where no quarter of it is a size, a wider came; a third refusal may be of the rim."""
    data = {"width": "600", "height": "600", "fill": {"kind": "glass", "lead": {"came": came, "heart": "8"}}}
    with pytest.raises(Refusal, match="no narrower") as refusal:
        make(read_unit(data))
    assert refusal.value.nearest is not None
    assert refusal.value.entry == ("fill.lead.heart" if float(came) >= 0.04 else "fill.lead.came")
    mended = change(data, refusal.value.entry, exact(refusal.value.nearest))
    try:
        make(read_unit(mended))
    except Refusal as again:
        assert again.rule != refusal.value.rule
