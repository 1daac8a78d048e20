"""SVG drawings: the elevation of a unit and the plan of a site, on a sheet measured in its own units."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from functools import lru_cache
from itertools import islice, pairwise
from xml.sax.saxutils import escape

import numpy as np
from pydantic_core import to_json

from ashfell.core.base.address import stretches
from ashfell.core.base.lengths import Style
from ashfell.core.drawing.paper import Sheet, extent_of
from ashfell.core.drawing.sheet import Figure, Line
from ashfell.core.drawing.unit_sheet import unit_sheet
from ashfell.core.finish import LIBRARY, TINT
from ashfell.core.kinds.roles import ROLES
from ashfell.core.plane.outline import Outline
from ashfell.core.plane.points import Floats
from ashfell.core.seen import Shape
from ashfell.core.solid.topology import Indices
from ashfell.core.unit import Unit

INK = "#2f2c28"
BARE = (228, 224, 216)
"""What is filled with where its role says nothing."""


MANY, SEEN, PASSES = 24, 0.16, 2
"""A path of more points than this is drawn without those nobody would see missing, in sheet units."""


PX = 96 / 25.4
"""CSS pixels in a millimetre."""


def path_data(sheet: Sheet, loops: Sequence[Floats]) -> list[str]:
    """A closed path for each loop of points (k, 2), in sheet coordinates as SVG writes them."""
    points = np.concatenate(loops) * (sheet.scale, -sheet.scale) + (sheet.left, sheet.foot)
    counts = np.array([len(loop) for loop in loops])
    for _ in range(PASSES if (counts > MANY).any() else 0):
        points, counts = _thinned(points, counts)
    numbers, ends = np.round(points, 2).ravel().tolist(), np.cumsum(2 * counts).tolist()
    loops_of_numbers = [numbers[start:end] for start, end in pairwise([0, *ends])]
    written = to_json(loops_of_numbers).replace(b".0,", b",").replace(b".0]", b"]").decode()
    return [f"M{loop}Z" for loop in written[2:-2].split("],[")]


def _thinned(points: Floats, counts: Indices) -> tuple[Floats, Indices]:
    """Closed paths one behind another, each of as many points as ``counts`` says: the long ones without every second
    point where nobody would see it missing."""
    starts = np.cumsum(counts) - counts
    long = np.flatnonzero(counts > MANY)
    halves, even = counts[long] // 2, long[counts[long] % 2 == 0]
    owners = np.repeat(long, halves)
    seconds = 2 * (np.arange(len(owners)) - np.repeat(np.cumsum(halves) - halves, halves)) + 1 + starts[owners]
    ahead = seconds + 1
    ahead[np.searchsorted(seconds, starts[even] + counts[even] - 1)] = starts[even]  # round to where it begins
    x, y = points.T
    from_x, from_y = x[seconds - 1], y[seconds - 1]
    chord_x, chord_y = x[ahead] - from_x, y[ahead] - from_y
    away = np.abs(chord_x * (y[seconds] - from_y) - chord_y * (x[seconds] - from_x))
    gone = away < SEEN * np.sqrt(chord_x**2 + chord_y**2)
    kept = np.ones(len(points), dtype=bool)
    kept[seconds[gone]] = False
    return points[kept], counts - np.bincount(owners[gone], minlength=len(counts))


FINE, MOULDED = 0.9, 4
"""Bands narrower than this on the sheet are a moulding's where a part has so many of them: they are drawn as shading.
"""


def shapes_svg(shapes: Iterable[Shape], sheet: Sheet) -> str:
    """Faces, back to front, each with the part and the entry it stands for."""
    drawn = list(shapes)
    if not drawn:
        return ""
    paths = iter(path_data(sheet, [loop for shape in drawn for loop in shape.loops]))
    fine = (_breadths(drawn) * sheet.scale < FINE).tolist()
    narrow = Counter(shape.part for shape, is_narrow in zip(drawn, fine, strict=True) if is_narrow)
    return "".join(
        f'<path d="{"".join(islice(paths, len(shape.loops)))}" fill-rule="evenodd" fill="{fill_of(shape)}" class="part '
        f"{shape.role}"
        f"{HAIRLINE if is_narrow and narrow[shape.part] >= MOULDED and shape.lines is None else CLOSED} "
        f'data-part="{shape.part}" data-entry="{shape.entry}" data-role="{shape.role}"{_in_light(shape.light)}'
        f"{'/>' if shape.lines is None else _lined(shape, sheet)}"
        for shape, is_narrow in zip(drawn, fine, strict=True)
    )


def _lined(shape: Shape, sheet: Sheet) -> str:
    """How a face goes on that is drawn with some of its edges alone: its other edges in its own colour."""
    assert shape.lines is not None
    ends = np.round(shape.lines * (sheet.scale, -sheet.scale) + (sheet.left, sheet.foot), 2).reshape(-1, 4).tolist()
    drawn = "".join(f"M{x0:g},{y0:g} {x1:g},{y1:g}" for x0, y0, x1, y1 in ends)
    return f' stroke="{fill_of(shape)}"/>' + (f'<path d="{drawn}" fill="none"/>' if drawn else "")


@lru_cache(maxsize=4096)
def _in_light(light: str) -> str:
    """The light that a face is in, and the columns and rows of that."""
    return f' data-light="{light}" data-within="{" ".join(stretches(light))}"' if light else ""


HAIRLINE, CLOSED = ' fine" stroke-width=".2" stroke-opacity=".5"', '"'
"""How the class of a face goes on."""


def _breadths(shapes: Sequence[Shape]) -> Floats:
    """How broad each face is, mm: a band is twice its area by its edges' length."""
    loops = [loop for shape in shapes for loop in shape.loops]
    ends = np.cumsum([len(loop) for loop in loops])
    starts = np.concatenate([[0], ends[:-1]])
    x, y = np.concatenate(loops).T
    ahead = np.arange(1, len(x) + 1)
    ahead[ends - 1] = starts
    first = starts[np.cumsum([0, *(len(shape.loops) for shape in shapes[:-1])])]
    area = np.add.reduceat(x * y[ahead] - x[ahead] * y, first) / 2
    length = np.add.reduceat(np.hypot(x[ahead] - x, y[ahead] - y), first)
    return np.asarray(2 * np.abs(area) / np.maximum(length, 1e-9))


def fill_of(shape: Shape) -> str:
    """The colour of a face on paper, ``#rrggbb``."""
    return _filled(shape.role, shape.finish, shape.tone)


@lru_cache(maxsize=4096)
def _filled(of_role: str, finish: str, lit: float) -> str:
    tint = TINT.fullmatch(finish)
    if tint:
        return f"#{tint[1]}"
    role = ROLES.get(of_role)
    full = _seen_through(finish, role.paper) if role and role.even else role.paper if role else BARE
    tone = 1.0 if role and role.even else 0.62 + 0.5 * lit
    return "#" + "".join(f"{min(255, round(value * tone)):02x}" for value in full)


MILKY = 0.6
"""How much of white frosted glass is drawn with."""


def _seen_through(finish: str, paper: tuple[int, int, int]) -> tuple[int, int, int]:
    """The colour of glass on paper: paler where it is frosted, in its own colour where it is tinted."""
    own = LIBRARY.get(finish)
    if own is None or not own.transmits:
        return paper
    colour = [int(own.colour[k : k + 2], 16) for k in (1, 3, 5)]
    share = MILKY if own.roughness else 0.0 if min(colour) > PALE else 0.5
    red, green, blue = (round(a * (1 - share) + b * share) for a, b in zip(paper, colour, strict=True))
    return red, green, blue


PALE = 240
"""Glass of a colour lighter than this in all its parts is clear, of 255."""


def elevation_svg(unit: Unit, style: Style = Style()) -> str:
    """The outer elevation with all its dimensions, as a file that stands alone."""
    sheet = unit_sheet(unit, style)
    paper = sheet.paper.times(PX)
    lines = "".join(_line(line) for line in sheet.lines)
    figures = "".join(_figure(figure) for figure in sheet.told)
    boxes = "".join(
        f'<rect x="{box.x * PX:.2f}" y="{box.y * PX:.2f}" width="{box.width * PX:.2f}" height="{box.height * PX:.2f}"/>'
        for box in sheet.boxes
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {paper.width:g} {paper.height:g}" '
        f'font-family="Barlow, sans-serif" font-size="13" fill="{INK}">'
        f"<title>{escape(unit.document.name)}</title>"
        f'<g stroke="{INK}" stroke-width=".6" stroke-linejoin="round">{shapes_svg(sheet.shapes, paper)}</g>'
        f'<g stroke="{INK}" stroke-width=".4" fill="none">{boxes}</g>'
        f'<g stroke="{INK}" stroke-width=".6">{lines}</g><g text-anchor="middle">{figures}</g></svg>'
    )


def _line(line: Line) -> str:
    x1, y1, x2, y2 = (value * PX for value in (line.x1, line.y1, line.x2, line.y2))
    return f'<line x1="{x1:.2f}" y1="{y1:.2f}" x2="{x2:.2f}" y2="{y2:.2f}"/>'


def _figure(figure: Figure) -> str:
    """A number in the middle of its place."""
    x, y = (figure.x + figure.width / 2) * PX, (figure.y + figure.height / 2) * PX
    size = ' font-size="10.5"' if figure.small else ""
    return f'<text x="{x:.2f}" y="{y + 4.5:.2f}"{size}>{escape(figure.value)}</text>'


def thumbnail_svg(shapes: Sequence[Shape]) -> str:
    """What is seen of something alone, small."""
    sheet = Sheet.fitted_to(extent_of(shapes), (200, 160), (6, 6, 6, 6))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {sheet.width:g} {sheet.height:g}">'
        f'<g stroke="{INK}" stroke-width=".35" stroke-linejoin="round">{shapes_svg(shapes, sheet)}</g></svg>'
    )


def path_svg(nodes: Iterable[tuple[float, float, float]]) -> str:
    """A closed path of lines and arcs alone, small."""
    points = Outline.of(nodes).facets(0.5).points
    sheet = Sheet.fitted_to((*points.min(axis=0).tolist(), *points.max(axis=0).tolist()), (200, 160), (6, 6, 6, 6))
    return f'<svg viewBox="0 0 200 160"><path d="{path_data(sheet, [points])[0]}" fill="none" stroke="{INK}"/></svg>'
