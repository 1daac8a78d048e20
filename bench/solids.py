"""A four-by-two-light unit and a wall with 1,000 openings, against the same solids by manifold3d's booleans."""

from __future__ import annotations

from fractions import Fraction

import manifold3d
import numpy as np
from manifold3d import CrossSection, Manifold

from ashfell.core.unit import build, read_unit
from ashfell.core.unit.build import frame_section
from ashfell.core.unit.layout import Layout
from ashfell.core.unit.solve import solve
from ashfell.core.wall.fit import Opening
from ashfell.core.wall.solid import wall_solids
from bench.timing import in_turn, tell

UNIT = read_unit({
    "name": "Four by two", "width": "2300", "height": "1600", "frame": {"face": "50", "depth": "90", "chamfer": "2"},
    "columns": {"lights": [{}] * 4, "bars": ["50"] * 3}, "rows": {"lights": [{}] * 2, "bars": ["50"]},
})  # fmt: skip


def main() -> None:
    ours, theirs = build(UNIT), unit_by_booleans()
    same = abs(sum(part.solid.volume for part in ours) / sum(mesh_volume(mesh) for mesh in theirs) - 1)
    print(f"four by two lights, {len(ours)} parts; volumes differ by {same:.1e}")
    tell("unit, solved and built to triangles", *in_turn(lambda: build(UNIT), unit_by_booleans), "manifold3d", 2)
    openings = many_openings(1000)
    (wall,), other = wall_solids(600_000, 12_000, openings, -300, 0), wall_by_booleans(openings)
    print(f"wall with 1,000 openings; volumes differ by {abs(wall.volume / mesh_volume(other) - 1):.1e}")
    times = in_turn(lambda: wall_solids(600_000, 12_000, openings, -300, 0), lambda: wall_by_booleans(openings))
    tell("wall, cut and triangulated", *times, "manifold3d, one batch,", 2)


def mesh_volume(mesh: manifold3d.Mesh) -> float:
    return Manifold(mesh).volume()


def many_openings(count: int) -> list[Opening]:
    return [
        Opening(str(n), Fraction(1000 + 1150 * (n // 2)), Fraction(900 + 4000 * (n % 2)), Fraction(900), Fraction(1500))
        for n in range(count)
    ]


def wall_by_booleans(openings: list[Opening]) -> manifold3d.Mesh:
    wall = Manifold.cube([600_000, 12_000, 300]).translate([0, 0, -300])
    holes = [
        Manifold.cube([float(o.width), float(o.height), 302]).translate([float(o.x), float(o.z), -301])
        for o in openings
    ]
    return Manifold.batch_boolean([wall, *holes], manifold3d.OpType.Subtract).to_mesh()


def unit_by_booleans() -> list[manifold3d.Mesh]:
    """The same solids as somebody would make them: sections extruded, cut at the mitres, notched at their ends."""
    layout = solve(UNIT)
    solids = [*_frame(layout), *_bars(layout)]
    for light in layout.lights:
        pane = _rect(light.pane)
        clear = _rect(light.clear)
        depths = layout.depths
        shows = float(UNIT.glazing.gasket.shows.mm)
        solids.append(_box(pane, -float(depths.glass_back), -float(depths.glass_front)))
        for front, back in ((depths.stop_back, depths.glass_front), (depths.glass_back, depths.bead_front)):
            outer = _box(pane, -float(back), -float(front))
            inner = _box(_grown(clear, -shows), -float(back) - 1, -float(front) + 1)
            solids.append(outer - inner)
        solids += _beads(pane, clear, layout)
    return [solid.to_mesh() for solid in solids]


Box = tuple[float, float, float, float]


def _rect(rect: object) -> Box:
    x, y, width, height = (float(getattr(rect, name)) for name in ("x", "y", "width", "height"))
    return x, y, x + width, y + height


def _grown(box: Box, by: float) -> Box:
    return box[0] - by, box[1] - by, box[2] + by, box[3] + by


def _box(box: Box, low: float, high: float) -> Manifold:
    return Manifold.cube([box[2] - box[0], box[3] - box[1], high - low]).translate([box[0], box[1], low])


def _members(section: list[tuple[float, float]], box: Box) -> list[Manifold]:
    """Four members round a box: the section (inset, w) extruded along each side, cut at 45° at both ends."""
    found = []
    turns = ((box[0], box[1], 0), (box[2], box[1], 90), (box[2], box[3], 180), (box[0], box[3], 270))
    for x, y, turn in turns:
        length = box[2] - box[0] if turn % 180 == 0 else box[3] - box[1]
        bar = CrossSection([section]).extrude(length)
        along = bar.transform([[0, 0, 1, 0], [1, 0, 0, 0], [0, 1, 0, 0]])
        cut = along.trim_by_plane([1, -1, 0], 0).trim_by_plane([-1, -1, 0], -length / np.sqrt(2))
        found.append(cut.rotate([0, 0, turn]).translate([x, y, 0]))
    return found


def _frame(layout: Layout) -> list[Manifold]:
    return _members(list(frame_section(UNIT, layout)), _rect(layout.outer))


def _beads(pane: Box, clear: Box, layout: Layout) -> list[Manifold]:
    clearance, ease = float(UNIT.glazing.clearance.mm), float(UNIT.glazing.bead.chamfer.mm)
    outer = _grown(pane, clearance)
    width = clear[0] - outer[0]
    front, back = -float(layout.depths.bead_front), -float(layout.depths.bead_back)
    section = [(0, back), (width - ease, back), (width, back + ease), (width, front), (0, front)]
    return _members(section, outer)


def _bars(layout: Layout) -> list[Manifold]:
    depths, ease = layout.depths, float(UNIT.bars.chamfer.mm)
    front, stop, back = -float(depths.bar_front), -float(depths.stop_back), -float(depths.bar_back)
    found = []
    for run in layout.bars:
        half = float(run.face) / 2
        stem = half - float(run.rebate)
        start, end = float(run.start), float(run.end)
        before, behind = float(run.tongue_start), float(run.tongue_end)
        face = [
            (-half, stop),
            (half, stop),
            (half, front - ease),
            (half - ease, front),
            (-half + ease, front),
            (-half, front - ease),
        ]
        web = [(-stem, back), (stem, back), (stem, stop), (-stem, stop)]
        flange = CrossSection([face]).extrude(end - start).translate([0, 0, start])
        tongue = CrossSection([web]).extrude(end - start + before + behind).translate([0, 0, start - before])
        bar = (flange + tongue).transform([[0, 0, 1, 0], [1, 0, 0, 0], [0, 1, 0, 0]])
        if run.axis == "columns":
            bar = bar.rotate([0, 0, 90])
            found.append(bar.translate([float(run.across), 0, 0]))
        else:
            found.append(bar.translate([0, float(run.across), 0]))
    return found


def check() -> float:
    """Greatest relative difference of volume between the two ways of making each kind of part."""
    ours = sorted(part.solid.volume for part in build(UNIT))
    theirs = sorted(mesh_volume(mesh) for mesh in unit_by_booleans())
    return float(np.abs(np.array(ours) / np.array(theirs) - 1).max())
