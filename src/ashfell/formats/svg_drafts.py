"""SVG of drawings in the millimetres of what they show: a file is as large as that, layers are groups."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from math import atan2, degrees
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from ashfell.core.drawing.draft import LAYERS, Draft, Path, Size, Words, layer_of
from ashfell.core.plane.points import Floats

FIGURE = 2.2
"""How high the figures of dimensions are, mm of paper."""
TICK = 1.1
MARGIN = 4.0
"""Round a drawing, mm of paper."""
HATCH = 1.6
"""How far lines of a hatch are from each other, mm of paper."""
DASHES = "1.6 0.9"


def write_svg(draft: Draft, per: float = 50.0) -> bytes:
    """A drawing by itself; lines and figures are as thick and high as they are to be on a sheet at 1 to ``per``."""
    per /= draft.nearer
    left, foot, right, head = draft.extent
    edge = MARGIN * per
    box = left - edge, -head - edge, right - left + 2 * edge, head - foot + 2 * edge
    body = [*_defined(draft.used, per), *_drawn(draft, per)]
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{box[2]:.4f}mm" height="{box[3]:.4f}mm" '
        f'viewBox="{" ".join(f"{value:.4f}" for value in box)}" stroke-linejoin="round" '
        'font-family="Barlow Semi Condensed, sans-serif">\n'
        f"<title>{escape(draft.title)}</title>\n" + "\n".join(body) + "\n</svg>\n"
    ).encode()


def _defined(used: Mapping[str, Draft], per: float) -> Iterator[str]:
    """The hatch, and what is used more than once."""
    wide, layer = HATCH * per, LAYERS["hatch"]
    yield "<defs>"
    yield (
        f'<pattern id="hatch" width="{wide:g}" height="{wide:g}" patternUnits="userSpaceOnUse" '
        f'patternTransform="rotate(-45)"><path d="M0 0H{wide:g}" stroke="{_hex(layer.colour)}" '
        f'stroke-width="{layer.width * per:g}"/></pattern>'
    )
    for key, draft in used.items():
        yield f"<g id={quoteattr(key)}>"
        yield from _paths(draft.paths, per)
        yield "</g>"
    yield "</defs>"


def _drawn(draft: Draft, per: float) -> Iterator[str]:
    yield from _paths(draft.paths, per)
    for use in draft.uses:
        turn = " scale(-1 1)" if use.over else ""
        yield f'<use href={quoteattr("#" + use.draft)} transform="translate({use.at[0]:.4f} {-use.at[1]:.4f}){turn}"/>'
    for word in draft.words:
        yield _text(word, LAYERS["text"].colour)
    layer = LAYERS["dimension"]
    if draft.sizes:
        yield f'<g id="{layer.name}" stroke="{_hex(layer.colour)}" stroke-width="{layer.width * per:g}" fill="none">'
        for size in draft.sizes:
            yield from _size(size, per)
        yield "</g>"


def _paths(paths: Iterable[Path], per: float) -> Iterator[str]:
    """Paths in their order, those that follow each other on one layer in one group."""
    open_on = ""
    for path in paths:
        layer = layer_of(path.layer)
        if layer.name != open_on:
            if open_on:
                yield "</g>"
            open_on = layer.name
            yield f'<g class="{layer.name}" stroke="{_hex(layer.colour)}" stroke-width="{layer.width * per:g}">'
        fill = "url(#hatch)" if path.hatched else _hex(path.fill) if path.fill else "none"
        told = "" if path.lined else ' stroke="none"'
        if path.dashed:
            told += f' stroke-dasharray="{" ".join(f"{float(one) * per:g}" for one in DASHES.split())}"'
        rings = "".join(_ring(ring, path.closed) for ring in (path.points, *path.holes))
        yield f'<path d="{rings}" fill="{fill}" fill-rule="evenodd"{told}/>'
    if open_on:
        yield "</g>"


def _ring(points: Floats, closed: bool) -> str:
    places = (np.asarray(points) * (1.0, -1.0)).round(4) + 0.0
    return (
        "M"
        + " ".join(f"{x:g},{y:g}" if abs(x) < 1e5 > abs(y) else f"{x:.4f},{y:.4f}" for x, y in places.tolist())
        + ("Z" if closed else "")
    )


def _size(size: Size, per: float) -> Iterator[str]:
    """A dimension: its line with a tick at each end, what leads to it, and its figures above it."""
    (ax, ay), (bx, by) = size.line
    long = size.length
    if long < 1e-6:
        return
    way, tick = np.array([bx - ax, by - ay]) / long, TICK * per / 2
    slant = (way + np.array([-way[1], way[0]])) * tick / 2**0.5
    lines = [((ax, ay), (bx, by))]
    for place, foot in (((ax, ay), size.start), ((bx, by), size.end)):
        lines.append((foot, place))
        lines.append(((place[0] - slant[0], place[1] - slant[1]), (place[0] + slant[0], place[1] + slant[1])))
    path = "".join(f"M{a[0]:.4f},{-a[1]:.4f} {b[0]:.4f},{-b[1]:.4f}" for a, b in lines)
    yield f'<path d="{path}"/>'
    turn = degrees(atan2(way[1], way[0]))
    turn += 180 if turn > 90.01 or turn <= -89.99 else 0
    yield (
        f'<text transform="translate({(ax + bx) / 2:.4f} {-(ay + by) / 2:.4f}) rotate({-turn:.4f})" y="{-0.7 * per:g}" '
        f'font-size="{FIGURE * per:g}" text-anchor="middle" stroke="none" '
        f'fill="{_hex(LAYERS["dimension"].colour)}">{escape(size.text)}</text>'
    )


def _text(word: Words, colour: tuple[int, int, int]) -> str:
    return (
        f'<text x="{word.at[0]:.4f}" y="{-word.at[1]:.4f}" font-size="{word.height:g}" text-anchor="{word.anchor}" '
        f'fill="{_hex(colour)}">{escape(word.text)}</text>'
    )


def _hex(colour: tuple[int, int, int]) -> str:
    return "#" + "".join(f"{value:02x}" for value in colour)
