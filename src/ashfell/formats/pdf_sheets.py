"""What stands on the sheets of a PDF: a unit, a site, its schedule, pictures."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from textwrap import wrap

from ashfell.core.base.lengths import Style, show
from ashfell.core.base.progress import steps
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import finishes_of
from ashfell.core.drawing.details import detail_drafts
from ashfell.core.drawing.draft import Draft, Words
from ashfell.core.drawing.drafts import NO_EXTRAS, plan_drafts, unit_draft, wall_draft
from ashfell.core.drawing.sections import section_drafts
from ashfell.core.drawing.shaded import Extras
from ashfell.core.drawing.sheet import VIEWS, View
from ashfell.core.finish import Finish
from ashfell.core.site.plan import Shows, whole
from ashfell.core.site.scene import Scene
from ashfell.core.unit.make import Unit
from ashfell.core.unit.say.build_up import build_up
from ashfell.formats.pdf import FIGURE, MARGIN, PAPERS, PLAIN, STRIP, Page, Picture, Shown, Table, scale_for, width_of

GAP = 14.0
"""Between what stands on a sheet, mm."""
LIST = 0.30
"""How much of a unit's sheet its list takes."""
ROW, LINE = 16.0, 4.4
"""How high a row with a small drawing is, and a line of text, mm."""


def room_on(paper: str) -> tuple[float, float]:
    """How much of a paper there is for drawings, mm."""
    width, height = PAPERS[paper]
    return width - 2 * MARGIN, height - 2 * MARGIN - STRIP


def unit_page(
    unit: Unit,
    style: Style,
    finishes: Mapping[str, Finish],
    paper: str = "A3",
    per: float = 0.0,
    extras: Extras = NO_EXTRAS,
) -> Page:
    """A unit from outside and inside, cut across and up, with its build-up list and its finishes; at a scale of 1 to
    ``per``, or the largest that has room.

    Raises
    ------
    Refusal
        When it has no room at the scale that is asked for.
    """
    wide, high = room_on(paper)
    drafts = {view: unit_draft(unit, style, view, extras=extras) for view in VIEWS}
    boxes = {view: _size(draft) for view, draft in drafts.items()}
    columns: list[tuple[View, ...]] = [("outside", "across"), ("inside",), ("up",)]
    across = sum(max(boxes[view][0] for view in column) for column in columns)
    upwards = max(sum(boxes[view][1] for view in column) for column in columns)
    room = wide * (1 - LIST) - GAP * len(columns), high - GAP * 2
    fitting = scale_for((0, 0, across, upwards), room)
    _check(per, fitting, paper)
    per = per or fitting
    shown, x = [], MARGIN
    top = MARGIN + STRIP + high
    for column in columns:
        y = top
        for view in column:
            y -= boxes[view][1] / per
            shown.append(Shown(drafts[view], x, y, per))
            y -= GAP
        x += max(boxes[view][0] for view in column) / per + GAP
    left = MARGIN + wide * (1 - LIST)
    return Page(PAPERS[paper], unit.document.name, "", tuple(shown), (), tuple(_list(unit, style, finishes, left, top)))


DETAILED = (1, 2, 5, 10)
"""The scales at which details are drawn, 1 to so many."""


def detail_page(unit: Unit, style: Style, paper: str = "A3") -> Page:
    """The members of a unit cut across, each in a place of its own in rows, at the largest scale of 1, 2, 5 or 10 at
    which all have room."""
    drafts = detail_drafts(unit, style)
    wide, high = room_on(paper)
    per = next((per for per in DETAILED if _in_rows(drafts, per, wide, high)), DETAILED[-1])
    shown, words = _named_rows(drafts, per, wide, high)
    title = f"{unit.document.name}, details"
    return Page(PAPERS[paper], title, "", tuple(shown), (), tuple(words))


NARROW = 30.0
"""What a detail with its name takes at least, mm."""
NAMED = 7.0
"""How far the name of a detail is under it, mm."""


def _named_rows(drafts: Sequence[Draft], per: float, wide: float, high: float) -> tuple[list[Shown], list[Words]]:
    """Drafts in rows, each over its name."""
    shown, words = [], []
    for row, foot in _in_rows(drafts, per, wide, high) or []:
        x = MARGIN
        for draft in row:
            room = max(_size(draft)[0] / per, NARROW)
            shown.append(Shown(draft, x, foot, per))
            words += [
                Words(line, (x, foot - NAMED - LINE * index), FIGURE, "start")
                for index, line in enumerate(wrap(draft.title, int(room / (width_of("n", FIGURE) * 0.92)))[:2])
            ]
            x += room + GAP
    return shown, words


def _in_rows(drafts: Sequence[Draft], per: float, wide: float, high: float) -> list[tuple[list[Draft], float]] | None:
    """Drafts in rows from the top, each with where its foot is on the sheet, mm; None where they have no room."""
    rows: list[list[Draft]] = [[]]
    x = 0.0
    for draft in drafts:
        width = max(_size(draft)[0] / per, NARROW)
        if width > wide:
            return None
        if x + width > wide:
            rows.append([])
            x = 0.0
        rows[-1].append(draft)
        x += width + GAP
    y, placed = MARGIN + STRIP + high, []
    for row in rows:
        y -= max((_size(draft)[1] for draft in row), default=0.0) / per
        placed.append((row, y))
        y -= GAP + NAMED
    return placed if y + GAP > MARGIN + STRIP else None


def _size(draft: Draft) -> tuple[float, float]:
    left, foot, right, head = draft.extent
    return right - left, head - foot


def _check(per: float, fitting: float, paper: str) -> None:
    if per and per < fitting:
        raise Refusal(
            "scale",
            "a scale that has room",
            f"At 1 : {per:g} it has no room on {paper}.",
            f"Choose 1 : {fitting:g}, or a larger paper.",
        )


def _list(unit: Unit, style: Style, finishes: Mapping[str, Finish], left: float, top: float) -> Iterator[Words]:
    """The build-up list and the finishes, line by line."""
    names = {key: finish.name for key, finish in finishes.items()}
    sentences = [sentence.text for sentence in build_up(unit, style, names, "") if sentence.text]
    used = list(dict.fromkeys((part.role, key) for part in unit.parts for key in finishes_of(part)))
    by_finish: dict[str, list[str]] = {}
    for role, key in used:
        by_finish.setdefault(names.get(key, key), []).append(role)
    told = [f"{name}: {', '.join(roles)}." for name, roles in by_finish.items()]
    y = top - PLAIN
    letters = int((PAPERS["A4"][0] * LIST) / (width_of("n", FIGURE) * 0.92))
    for sentence in [*sentences, "", *told]:
        for line in wrap(sentence, letters) or [""]:
            if y < MARGIN + STRIP:
                return
            yield Words(line, (left, y), FIGURE, "start")
            y -= LINE


def drawing_page(draft: Draft, paper: str = "A3", per: float = 0.0) -> Page:
    """One drawing in the middle of a sheet.

    Raises
    ------
    Refusal
        When it has no room at the scale that is asked for.
    """
    wide, high = room_on(paper)
    fitting = scale_for(draft.extent, (wide, high))
    _check(per, fitting, paper)
    per = per or fitting
    across, upwards = (value / per for value in _size(draft))
    x, y = MARGIN + (wide - across) / 2, MARGIN + STRIP + (high - upwards) / 2
    return Page(PAPERS[paper], draft.title, "", (Shown(draft, x, y, per),))


def site_pages(
    scene: Scene,
    style: Style,
    paper: str = "A3",
    per: float = 0.0,
    storey: str = "",
    shows: Shows = whole,
    extras: Extras = NO_EXTRAS,
) -> list[Page]:
    """A plan of each storey, an elevation of each wall with openings; of one storey where it is named, its plan whole,
    and otherwise of what it ``shows``."""
    plans = plan_drafts(scene, style, whole if storey else shows)
    drawn = [draft for key, draft in plans.items() if storey in ("", key)]
    built = [key for key, one in scene.standing.items() if one.parts and one.openings and shows(key)]
    walls = [wall_draft(scene, style, key, extras=extras) for key in steps(built, "walls drawn")]
    return [drawing_page(draft, paper, per) for draft in (*drawn, *walls)]


def section_pages(scene: Scene, style: Style, paper: str = "A3", per: float = 0.0, shows: Shows = whole) -> list[Page]:
    """Sections through units as they stand, side by side on as many sheets as they take, all at one scale.

    Raises
    ------
    Refusal
        When one has no room at the scale that is asked for.
    """
    drafts = section_drafts(scene, style, shows)
    wide, high = room_on(paper)
    fitting = max((scale_for(draft.extent, (wide, high - NAMED)) for draft in drafts), default=1.0)
    _check(per, fitting, paper)
    per = per or fitting
    pages: list[Page] = []
    while drafts:
        count = next(n for n in range(len(drafts), 0, -1) if n == 1 or _in_rows(drafts[:n], per, wide, high))
        shown, words = _named_rows(drafts[:count], per, wide, high)
        pages.append(Page(PAPERS[paper], "Sections through units", "", tuple(shown), (), tuple(words)))
        drafts = drafts[count:]
    return pages


def schedule_pages(scene: Scene, style: Style, paper: str = "A3", shows: Shows = whole) -> list[Page]:
    """Every unit that is used with a small drawing of it, its size, how often and where."""
    used = _used(scene, style, shows)
    wide, high = room_on(paper)
    widths = (26.0, 46.0, 44.0, 14.0, 52.0, wide - 182.0)
    head = ("", "Unit", "Size", "No.", "Finishes", "Marks")
    each = max(1, int((high - 6) // ROW))
    pages = []
    for begin in range(0, max(len(used), 1), each):
        some = used[begin : begin + each]
        rows = (head, *(("", *cells) for _, cells in some))
        drawings = {index: draft for index, (draft, _) in enumerate(some, 1)}
        table = Table(MARGIN, MARGIN + STRIP + high, widths, rows, ROW, drawings)
        pages.append(Page(PAPERS[paper], "Schedule of windows and doors", "", (), (table,)))
    return pages


def _used(scene: Scene, style: Style, shows: Shows) -> list[tuple[Draft, tuple[str, ...]]]:
    """A row for each definition: its drawing and its cells."""
    by_definition: dict[str, list[str]] = {}
    for placement in scene.site.placements:
        instance = scene.instance_of.get(placement.id)
        if instance is not None and shows(placement.id):
            key = instance.definition.partition("@")[0]
            by_definition.setdefault(key, []).append(placement.id)
    found: list[tuple[Draft, tuple[str, ...]]] = []
    for _, keys in steps(sorted(by_definition.items()), "units drawn"):
        unit = scene.units[keys[0]]
        size = unit.layout.overall
        marks = ", ".join(scene.site.placement_by_id[key].mark or key for key in keys)
        seen = (part for part in unit.parts if part.role in ("frame", "sash", "stile", "glass"))
        finishes = dict.fromkeys(key for part in seen for key in finishes_of(part))
        text = f"{show(size.width, style)} × {show(size.height, style)}"
        cells = (unit.document.name, text, str(len(keys)), ", ".join(finishes), marks)
        found.append((unit_draft(unit, style, sized=False), cells))
    return found


def picture_pages(pictures: Sequence[tuple[str, bytes]], paper: str = "A3") -> list[Page]:
    """A picture on each sheet."""
    wide, high = room_on(paper)
    box = (MARGIN, MARGIN + STRIP, wide, high)
    return [Page(PAPERS[paper], title, pictures=(Picture(image, box),)) for title, image in pictures]
