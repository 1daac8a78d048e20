"""PDF: drawings on sheets of paper at a true scale, as vectors, with a title and a bar of the scale; tables; pictures.

The same content gives the same bytes. Fonts are embedded.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path as File

import numpy as np
from fontTools.ttLib import TTFont
from reportlab import rl_config
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont as Embedded
from reportlab.pdfgen.canvas import Canvas
from reportlab.pdfgen.pathobject import PDFPathObject

from ashfell.core.base.progress import steps
from ashfell.core.drawing.crowd import zooms
from ashfell.core.drawing.draft import INK, LAYERS, Draft, Path, Size, Words, layer_of
from ashfell.core.plane.points import Floats

POINT = 72 / 25.4
"""Points in a millimetre."""
PAPERS = {"A4": (297.0, 210.0), "A3": (420.0, 297.0), "A2": (594.0, 420.0), "A1": (841.0, 594.0), "A0": (1189.0, 841.0)}
"""ISO 216, lying, mm."""
SCALES = (1, 2, 5, 10, 20, 25, 50, 100, 200, 500, 1000)
"""What drawings are drawn at, 1 to so much (ISO 5455, with 25 and the like that are in common use)."""
MARGIN, STRIP = 12.0, 16.0
"""Round what is on a sheet, and how high its title is, mm."""
FIGURE, SMALL, PLAIN, LARGE = 2.5, 2.2, 3.0, 4.5
"""Heights of what is written, mm."""
TICK = 1.1
FINE = 4
"""Decimals of a place on paper, mm."""
rl_config.useA85 = 0  # streams as bytes: smaller, and made sooner, than as letters
FONTS = File(__file__).resolve().parents[1] / "studio/static/vendor/fonts"
REGULAR, BOLD = "Barlow Semi Condensed", "Barlow Semi Condensed Semibold"
PALE = (120, 114, 106)


@dataclass(frozen=True)
class Shown:
    """A drawing on a sheet: the lower left corner of its extent, mm of paper, and its scale, 1 to ``per``."""

    draft: Draft
    x: float
    y: float
    per: float


@dataclass(frozen=True)
class Table:
    """Rows of cells from an upper left corner; columns as wide as said, mm. The first row are headings. ``drawings``
    are small ones in the first column, by row."""

    x: float
    y: float
    widths: tuple[float, ...]
    rows: tuple[tuple[str, ...], ...]
    high: float = 5.0
    drawings: Mapping[int, Draft] = field(default_factory=dict)


@dataclass(frozen=True)
class Picture:
    """An image, and the box on the sheet that it is to fill, mm: left, foot, width, height."""

    image: bytes
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class Page:
    """A sheet: its size in mm, what its title says, and what is on it, from the lower left corner."""

    size: tuple[float, float]
    title: str
    about: str = ""
    shown: tuple[Shown, ...] = ()
    tables: tuple[Table, ...] = ()
    words: tuple[Words, ...] = ()
    pictures: tuple[Picture, ...] = ()


def write_pdf(project: str, pages: Sequence[Page]) -> bytes:
    """Sheets as one PDF."""
    _fonts()
    held = io.BytesIO()
    canvas = Canvas(held, invariant=1, pageCompression=1)
    canvas.setTitle(project)
    canvas.setCreator("Ashfell")
    for number, page in enumerate(steps(pages, "sheets written"), 1):
        canvas.setPageSize((page.size[0] * POINT, page.size[1] * POINT))
        canvas.bookmarkPage(f"sheet-{number}")
        canvas.addOutlineEntry(page.title, f"sheet-{number}")
        canvas.scale(POINT, POINT)
        _Pen(canvas).page(project, page, number, len(pages))
        canvas.showPage()
    canvas.save()
    return held.getvalue()


@lru_cache(maxsize=1)
def _fonts() -> None:
    """The fonts that ship, as a PDF can hold them."""
    for name, weight in ((REGULAR, 400), (BOLD, 600)):
        font = TTFont(FONTS / f"barlow-semi-condensed-latin-{weight}-normal.woff2", recalcTimestamp=False)
        font.flavor = None
        held = io.BytesIO()
        font.save(held)
        held.seek(0)
        pdfmetrics.registerFont(Embedded(name, held))


def width_of(text: str, high: float, font: str = REGULAR) -> float:
    """How wide a line of text is, mm."""
    _fonts()
    return float(pdfmetrics.stringWidth(text, font, high))


class _Pen:
    """Draws on one page, in millimetres."""

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas

    def page(self, project: str, page: Page, number: int, count: int) -> None:
        for picture in page.pictures:
            self._picture(picture)
        for shown in page.shown:
            self._shown(shown)
        for table in page.tables:
            self._table(table)
        for word in page.words:
            self.text(word.text, *word.at, word.height, word.anchor)
        self._title(project, page, number, count)

    # --- what is round a sheet

    def _title(self, project: str, page: Page, number: int, count: int) -> None:
        width, _ = page.size
        self._pen(0.25, INK)
        self.canvas.line(MARGIN, MARGIN + STRIP - 4, width - MARGIN, MARGIN + STRIP - 4)
        base = MARGIN + 2
        self.text(page.title, MARGIN, base + 3.6, LARGE, "start", BOLD)
        self.text(project, MARGIN, base - 1.4, PLAIN, "start", colour=PALE)
        self.text(page.about, width / 2, base + 3.6, PLAIN, "middle")
        self.text(f"{number} of {count}", width - MARGIN, base - 1.4, PLAIN, "end", colour=PALE)
        scales = {shown.per for shown in page.shown}
        if len(scales) == 1:
            (per,) = scales
            self.text(f"1 : {per:g}", width - MARGIN, base + 3.6, LARGE, "end", BOLD)
            self._bar(width - MARGIN - 20, base + 3.6, per)

    def _bar(self, right: float, y: float, per: float) -> None:
        """A bar of the scale: five pieces, each a round length."""
        length = next(
            (one for one in (10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000) if one / per >= 6), 50_000
        )
        piece = length / per
        left = right - 5 * piece
        self._pen(0.13, INK)
        for index in range(5):
            self.canvas.rect(left + index * piece, y, piece, 1.2, stroke=1, fill=index % 2 == 0)
        for index in (0, 1, 5):
            self.text(f"{length * index / 1000:g}", left + index * piece, y + 2.0, SMALL, "middle")
        self.text("m", left + 5 * piece + 3.2, y + 2.0, SMALL, "start")

    # --- drawings

    def _shown(self, shown: Shown) -> None:
        left, foot, _, _ = shown.draft.extent
        scale = 1 / shown.per
        shift = np.array([shown.x - left * scale, shown.y - foot * scale])
        self.draft(shown.draft, np.array([scale, scale]), shift)

    def draft(self, draft: Draft, scale: Floats, shift: Floats, sized: bool = True) -> None:
        for path in draft.paths:
            self._path(path, scale, shift)
        for use in draft.uses:
            turn = np.array([-1.0 if use.over else 1.0, 1.0])
            self.draft(draft.used[use.draft], scale * turn, shift + np.array(use.at) * scale, sized=False)
        if sized:
            for size, told in zip(draft.sizes, _have_room(draft.sizes, float(scale[1])), strict=True):
                self._size(size, scale, shift, told)
        for word in draft.words:
            x, y = (np.array(word.at) * scale + shift).tolist()
            self.text(word.text, x, y, max(word.height * float(scale[1]), 1.6), word.anchor)

    def _path(self, path: Path, scale: Floats, shift: Floats) -> None:
        layer, canvas = layer_of(path.layer), self.canvas
        rings = [np.asarray(ring) * scale + shift for ring in (path.points, *path.holes)]
        drawn = PDFPathObject(["n", *(word for ring in rings for word in _ring(ring, path.closed))])
        self._pen(layer.width, layer.colour, path.dashed)
        if path.hatched:
            self._hatch(drawn, rings[0])
            self._pen(layer.width, layer.colour)
        if path.fill:
            canvas.setFillColorRGB(*(value / 255 for value in path.fill))
        canvas.drawPath(drawn, stroke=1 if path.lined else 0, fill=1 if path.fill else 0, fillMode=0)

    def _hatch(self, drawn: object, ring: Floats) -> None:
        """Lines at 45 degrees within a path, 1.6 mm apart, the same ones through all that is hatched."""
        canvas = self.canvas
        canvas.saveState()
        canvas.clipPath(drawn, stroke=0, fill=0)
        layer = LAYERS["hatch"]
        self._pen(layer.width, layer.colour)
        (left, foot), (right, head) = ring.min(axis=0).tolist(), ring.max(axis=0).tolist()
        apart = 1.6 * 2**0.5
        first = int(np.floor((left - head) / apart))
        lines = []
        for index in range(first, int(np.ceil((right - foot) / apart)) + 1):
            at = index * apart
            lines.append((at + foot, foot, at + head, head))
        canvas.lines(lines)
        canvas.restoreState()

    def _size(self, size: Size, scale: Floats, shift: Floats, told: bool) -> None:
        start, end = (np.array(point) * scale + shift for point in (size.start, size.end))
        a, b = (np.array(point) * scale + shift for point in size.line)
        way = b - a
        long = float(np.hypot(*way))
        if long < 0.1:
            return
        layer = LAYERS["dimension"]
        self._pen(layer.width, layer.colour)
        across = np.array([-way[1], way[0]]) / long
        lines = [(*a, *b)]
        for point, foot in ((a, start), (b, end)):
            out = point - foot
            far = float(np.hypot(*out))
            if far > 2:
                lines.append((*(foot + out / far * 1.0), *(point + out / far * 1.0)))
            slant = (way / long + across) * TICK / 2**0.5
            lines.append((*(point - slant), *(point + slant)))
        self.canvas.lines([tuple(float(value) for value in line) for line in lines])
        if not told:
            return
        wide = width_of(size.text, SMALL)
        turn = float(np.degrees(np.arctan2(way[1], way[0])))
        if turn > 90.01 or turn <= -89.99:
            turn += 180
        middle = (a + b) / 2
        above = np.array([-np.sin(np.radians(turn)), np.cos(np.radians(turn))])
        lift = 0.7 if _fits(wide, long) else 0.7 + (SMALL + 0.5)
        place = middle + above * lift
        self.canvas.saveState()
        self.canvas.translate(*(float(value) for value in place))
        self.canvas.rotate(turn)
        self.text(size.text, 0, 0, SMALL, "middle")
        self.canvas.restoreState()

    # --- tables, pictures, words

    def _table(self, table: Table) -> None:
        y = table.y
        for index, row in enumerate(table.rows):
            high = table.high if index else 5.5
            x = table.x
            for number, (cell, width) in enumerate(zip(row, table.widths, strict=True)):
                if number == 0 and index in table.drawings:
                    self._small(table.drawings[index], x + 0.5, y - high + 0.8, width - 1.5, high - 1.6)
                font = BOLD if index == 0 else REGULAR
                self.text(_fitted(cell, FIGURE, width - 1.5, font), x, y - high / 2 - 0.9, FIGURE, "start", font)
                x += width
            y -= high
            self._pen(0.25 if index == 0 else 0.09, INK if index == 0 else PALE)
            self.canvas.line(table.x, y, table.x + sum(table.widths), y)

    def _small(self, draft: Draft, x: float, y: float, width: float, height: float) -> None:
        """A drawing as large as its box holds."""
        left, foot, right, head = draft.extent
        scale = min(width / max(right - left, 1e-9), height / max(head - foot, 1e-9))
        shift = np.array([x - left * scale, y - foot * scale + (height - (head - foot) * scale) / 2])
        self.draft(draft, np.array([scale, scale]), shift, sized=False)

    def _picture(self, picture: Picture) -> None:
        left, foot, width, height = picture.box
        held = ImageReader(io.BytesIO(picture.image))
        across, up = held.getSize()
        scale = min(width / across, height / up)
        wide, high = across * scale, up * scale
        self.canvas.drawImage(held, left + (width - wide) / 2, foot + (height - high) / 2, wide, high)

    def text(
        self,
        words: str,
        x: float,
        y: float,
        high: float,
        anchor: str = "start",
        font: str = REGULAR,
        colour: tuple[int, int, int] = INK,
    ) -> None:
        """A line of text; letters that the font has not are shown as such."""
        self.canvas.setFillColorRGB(*(value / 255 for value in colour))
        self.canvas.setFont(font, high)
        draw = {"start": "drawString", "middle": "drawCentredString", "end": "drawRightString"}[anchor]
        getattr(self.canvas, draw)(x, y, words)

    def _pen(self, width: float, colour: Iterable[int], dashed: bool = False) -> None:
        self.canvas.setLineWidth(width)
        self.canvas.setStrokeColorRGB(*(value / 255 for value in colour))
        self.canvas.setDash([1.6, 0.9] if dashed else [])
        self.canvas.setLineJoin(1)
        self.canvas.setFillColorRGB(*(value / 255 for value in colour))


def _ring(points: Floats, closed: bool) -> Iterator[str]:
    """The operators of a path, mm; written here since a drawing has tens of thousands of points."""
    (x, y), *rest = (points.round(FINE) + 0.0).tolist()
    yield f"{x} {y} m"
    yield from (f"{x} {y} l" for x, y in rest)
    if closed:
        yield "h"


def _fitted(text: str, high: float, room: float, font: str) -> str:
    """A text that has room, its end left out where it has none."""
    if width_of(text, high, font) <= room:
        return text
    while text and width_of(text + "…", high, font) > room:
        text = text[:-1]
    return text + "…"


def scale_for(extent: tuple[float, float, float, float], room: tuple[float, float]) -> float:
    """The largest usual scale at which a drawing has room."""
    left, foot, right, head = extent
    least = max((right - left) / room[0], (head - foot) / room[1])
    return float(next((one for one in SCALES if one >= least - 1e-9), np.ceil(least / 1000) * 1000))


def _fits(wide: float, long: float) -> bool:
    """Whether a number stands on its line; else it stands above it."""
    return wide <= long - 0.6


def _have_room(sizes: Sequence[Size], scale: float) -> list[bool]:
    """Which of the numbers that stand above the lines of a chain have room beside each other; those on their lines
    always have."""
    told = [True] * len(sizes)
    chains: dict[tuple[float, ...], list[tuple[float, float, int]]] = {}
    for index, size in enumerate(sizes):
        wide, long = width_of(size.text, SMALL), size.length * abs(scale)
        if long and not _fits(wide, long):
            a, b = (np.array(point) for point in size.line)
            way = (b - a) / np.hypot(*(b - a))
            level = float(way[0] * a[1] - way[1] * a[0])
            middle = float((a + b) @ way / 2) * abs(scale)
            chains.setdefault((*np.round(way, 6), round(level, 3)), []).append((middle, wide + 0.8, index))
    for chain in chains.values():
        chain.sort()
        found = zooms([middle for middle, _, _ in chain], [wide for _, wide, _ in chain])
        for (_, _, index), zoom in zip(chain, found, strict=True):
            told[index] = zoom <= 1
    return told
