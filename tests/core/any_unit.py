"""Units of every kind from a seed: valid and nearly valid documents, for tests that must hold for all of them."""

from __future__ import annotations

import random
from typing import Any

Data = dict[str, Any]
EDGES = ("square", "chamfer", "round", "rebate", "stepped", "ovolo", "ogee", "cove", "bead")
OPENINGS = (
    "fixed",
    "side-hung",
    "side-hung-pair",
    "top-hung",
    "bottom-hung",
    "tilt-and-turn",
    "pivot-horizontal",
    "pivot-vertical",
)


def any_unit(seed: int) -> Data:
    """The document of unit number ``seed``."""
    pick = random.Random(seed)
    outline, width, height = _outline(pick)
    level = outline["kind"] in ("rectangle", "segmental", "semicircular", "elliptical", "raked") and not outline.get(
        "corners"
    )
    cell = _cell(pick, 0)
    if outline["kind"] != "rectangle":
        _without_sliders(pick, cell)
    unit = {
        "name": f"Unit {seed}",
        "width": width,
        "height": height,
        "outline": outline,
        "frame": _frame(pick, outline["kind"]),
        "glazing": _glazing(pick),
        "trim": _trim(pick, level or pick.random() < 0.1),
        **cell,
    }
    _draw_sections(random.Random(f"sections {seed}"), unit)
    _give_gaskets(random.Random(f"gaskets {seed}"), unit)
    _leave_out(random.Random(f"sides {seed}"), unit)
    _vary_rings(random.Random(f"rings {seed}"), unit["frame"])
    _vary_corners(random.Random(f"corners {seed}"), outline)
    _hold_by_gaskets(random.Random(f"stops {seed}"), unit)
    _vary_fillings(random.Random(f"fillings {seed}"), unit)
    _hang_leaves(random.Random(f"leaves {seed}"), unit)
    return unit


def _hang_leaves(pick: random.Random, unit: Data) -> None:
    """Leaves in the place of some sashes, boards and planks in that of some panels, and hardware on what moves."""
    for fill in _fills(unit):
        if fill["kind"] == "sash" and pick.random() < 0.08:
            pick.choice((_folding, _slid, _rolling))(pick, fill)
        if fill["kind"] == "sash" and pick.random() < 0.3:
            fill |= {"kind": "leaf", "sides": pick.choice(({}, {"sill": _mm(pick, 60, 200)}))}
            fill |= {"joint": pick.choice(("mitred", "jambs", "head")), "foot": pick.choice((None, _mm(pick, 7, 12)))}
            fill |= {"hinges": pick.choice((None, {"count": pick.randint(1, 3), "radius": _mm(pick, 4, 9)}))}
            fill |= {"turns": pick.choice((90, 90, 135, 180)), "active": pick.choice((None, None, _mm(pick, 150, 400)))}
            if pick.random() < 0.3:
                fill["opening"] = "stable"
        if fill["kind"] in ("sash", "leaf", "sliders") and pick.random() < 0.3:
            fill["hardware"] = [_hardware(pick) for _ in range(pick.choice((1, 1, 2)))]
        if fill["kind"] == "sliders" and pick.random() < 0.15:
            _overhead(pick, fill)
        elif fill["kind"] == "sliders" and pick.random() < 0.4:
            pick.choice((_folding, _slid, _rolling))(pick, fill)
        if fill["kind"] in ("panel", "louvres", "open") and pick.random() < 0.5:
            fill.clear()
            fill |= pick.choice((_flush(pick), _planks(pick), _raised(pick)))
    for ring in unit["frame"].get("rings", ()):
        if pick.random() < 0.2:
            ring["infill"] = {"kind": pick.choice(("glass", "board")), "thickness": _mm(pick, 6, 30)}
    if pick.random() < 0.1:
        unit["trim"] |= pick.choice(({"feet": {"count": pick.randint(1, 3)}}, {"rail": {"width": _mm(pick, 20, 90)}}))


def _overhead(pick: random.Random, fill: Data) -> None:
    """Sections behind the light in the place of what slid in it."""
    opened, glazing = pick.choice((0, 35, 60, 100)), fill["glazing"]
    fill.clear()
    fill |= {"kind": "overhead", "sections": pick.randint(1, 6), "opened": opened, "glazing": glazing}
    fill |= {"heights": [_mm(pick, 120, 300)] if pick.random() < 0.3 else [], "radius": _mm(pick, 0, 400)}
    fill |= {"content": pick.choice(({}, _cell(pick, 2), {"fill": {"kind": "flush"}}))}


def _folding(pick: random.Random, fill: Data) -> None:
    """Folding leaves in the place of sliding sashes, with as many that fold to the right as may be."""
    kept = {key: fill[key] for key in ("content", "face", "depth") if key in fill}
    fill.clear()
    count = pick.randint(2, 4)
    fill |= kept | {"kind": "folding", "leaves": count, "to_right": pick.randint(0, count)}
    fill |= {"swing": pick.choice(("out", "in")), "opened": pick.choice((0, 20, 60, 100)), "joint": "mitred"}
    fill |= {"hinges": pick.choice((None, {"count": pick.randint(1, 2), "tall": "40", "foot": "60", "head": "60"}))}


def _slid(pick: random.Random, fill: Data) -> None:
    """A leaf that slides along a wall in the place of sliding sashes."""
    kept = {key: fill[key] for key in ("content", "face", "depth") if key in fill}
    fill.clear()
    fill |= kept | {"kind": "sliding-leaf", "leaves": pick.randint(1, 2), "hand": pick.choice(("left", "right"))}
    fill |= {"runs": pick.choice(("outside", "inside", "pocket")), "opened": pick.choice((0, 20, 60, 100))}
    fill |= {"joint": "mitred", "sides": {}, "lap": _mm(pick, 10, 60)}


def _rolling(pick: random.Random, fill: Data) -> None:
    """A curtain behind the light in the place of what slid in it."""
    fill.clear()
    fill |= {"kind": "rolling", "slat": _mm(pick, 40, 120), "opened": pick.choice((0, 35, 60, 100))}
    fill |= {"thickness": _mm(pick, 10, 24), "barrel": _mm(pick, 80, 240)}


def _hardware(pick: random.Random) -> Data:
    kind = pick.choice(("bar-handle", "lever", "knob", "plate", "letter-plate", "cylinder", "closer"))
    own: Data = {
        "kind": kind,
        "height": _mm(pick, 100, 500),
        "edge": _mm(pick, 12, 60),
        "turned": pick.choice((0, 0, 90)),
    }
    own |= {"side": pick.choice(("opening", "hinged")), "faces": pick.choice(("both", "outside", "inside"))}
    if kind == "bar-handle":
        own |= {
            "up": _mm(pick, 60, 300),
            "section": pick.choice(("square", "round")),
            "radius": pick.choice(("0", "20")),
        }
    if kind in ("plate", "closer"):
        own |= {"width": _mm(pick, 40, 120), "tall": _mm(pick, 30, 100)}
    if pick.random() < 0.3:
        small = ("stay", "fastener", "sash-lift", "sash-lock", "recessed-pull")
        placed = {name: own[name] for name in ("height", "edge", "turned", "side", "faces")}
        own = placed | pick.choice(({"kind": pick.choice(small)}, _drawn(pick)))
    return own


def _drawn(pick: random.Random) -> Data:
    """A piece that somebody drew."""
    out, up = pick.randint(30, 70), pick.randint(40, 160)
    path = [(0, 0), (out, 0), (out, up), (pick.choice((0, out)), up + pick.choice((0, 20)))]
    swept = {"kind": "swept-piece", "path": [{"x": str(x), "y": str(y)} for x, y in path], "radius": _mm(pick, 10, 18)}
    return swept if pick.random() < 0.6 else {"kind": "turned-piece"}


def _flush(pick: random.Random) -> Data:
    view = {
        "outline": {"kind": pick.choice(("rectangle", "ellipse"))},
        "width": _mm(pick, 120, 300),
        "height": _mm(pick, 120, 300),
        "foot": _mm(pick, 20, 300),
        "face": _mm(pick, 24, 40),
    }
    grooves = {"count": pick.randint(1, 4), "along": pick.choice(("level", "upright")), "depth": _mm(pick, 1, 5)}
    return {"kind": "flush", "setback": pick.choice(("0", "5")), "view": pick.choice((None, view))} | {
        "grooves": pick.choice((None, None, grooves))
    }


def _planks(pick: random.Random) -> Data:
    braces = pick.choice(("none", "to the left", "to the right"))
    along = pick.choice(("upright", "level"))
    return {
        "kind": "planks",
        "along": along,
        "width": _mm(pick, 60, 160),
        "ledges": pick.randint(0, 3),
        "braces": braces,
    }


def _raised(pick: random.Random) -> Data:
    """A dome or a lantern."""
    dome = {"kind": "dome", "rise": _mm(pick, 40, 300), "lap": _mm(pick, 0, 30)}
    lantern = {"kind": "lantern", "slope": pick.randint(5, 60), "apart": _mm(pick, 200, 700), "lap": _mm(pick, 0, 30)}
    return pick.choice((dome, lantern))


def _leave_out(pick: random.Random, unit: Data) -> None:
    """Frames without a sill, a head or a jamb, legs to the floor."""
    if unit["outline"]["kind"] in ("rectangle", "segmental", "raked") and pick.random() < 0.12:
        sides = unit["frame"].setdefault("sides", {})
        sides |= dict.fromkeys(pick.choice((("sill",), ("sill",), ("head",), ("sill", "head"), ("left",))), "0")


def _vary_rings(pick: random.Random, frame: Data) -> None:
    """Rings evenly over a width or by chance, with an outline of their own, and the one that holds the glass."""
    for ring in frame.get("rings", ()):
        if pick.random() < 0.3:
            ring |= {"over": _mm(pick, 130, 200), "seed": pick.choice((None, pick.randint(0, 999)))}
        if pick.random() < 0.3:
            ring["outline"] = pick.choice(
                (
                    {"kind": "ellipse"},
                    {"kind": "segmental", "rise": "60"},
                    {"kind": "rectangle", "corners": [{"kind": "rounded", "size": "60"}]},
                )
            )
            ring["steps"] = {side: _mm(pick, 0, 40) for side in ("head", "sill", "jambs") if pick.random() < 0.5}
        if pick.random() < 0.3:
            frame["glazed"] = pick.choice((0, 1))


def _vary_corners(pick: random.Random, outline: Data) -> None:
    """Corners flatter than a quarter of a circle."""
    for corner in outline.get("corners", ()):
        if corner["kind"] in ("rounded", "scooped") and pick.random() < 0.4:
            corner |= pick.choice(({"radius": _mm(pick, 230, 600)}, {"rise": _mm(pick, 1, 5)}))


def _hold_by_gaskets(pick: random.Random, unit: Data) -> None:
    """Thick gaskets without a stop before them, or without a bead behind."""
    if pick.random() < 0.08:
        unit["glazing"] |= {"thickness": "10", "setback": "10", "gasket": {"thickness": "10", "shows": "3"}, "panes": 1}
        if pick.random() < 0.5 and not any(fill["kind"] in ("sash", "sliders") for fill in _fills(unit)):
            unit["frame"]["depth"] = "30"


def _vary_fillings(pick: random.Random, unit: Data) -> None:
    """Muntins and beads of their own section, and hands of sliding panels."""
    if pick.random() < 0.15:
        unit["glazing"]["bead"] = {"section": _points((0, -8), (0, 0), (3, 0), (6, -3), (6, -8))}
    for fill in _fills(unit):
        if muntins := fill.get("muntins"):
            if pick.random() < 0.3:
                muntins["section"] = _points((0, -8), (0, -6), (5, 0), (13, 0), (18, -6), (18, -8))
            if pick.random() < 0.3:
                edge = pick.choice((None, _edge(pick, 3)))
                muntins["inner"] = {"proud": pick.choice((None, _mm(pick, 3, 8))), "edge": edge}
        if fill.get("opening") == "side-hung-pair" and pick.random() < 0.5:
            fill["meeting"] = {"kind": pick.choice(("rebated", "planted")), "lap": _mm(pick, 6, 14)}
        if fill["kind"] == "sliders" and fill["slide"] == "across" and pick.random() < 0.4:
            fill["each"] = {f"panel-{pick.randint(1, fill['panels'])}": {"hand": pick.choice(("left", "right"))}}


def _fills(cell: Data) -> list[Data]:
    """Every filling of a cell, those within sashes among them."""
    fill = cell.get("fill")
    within = [*cell.get("cells", {}).values(), *([fill["content"]] if fill and fill.get("content") else [])]
    return [*([fill] if fill else []), *(inner for one in within for inner in _fills(one))]


def _points(*points: tuple[int, int]) -> list[Data]:
    return [{"x": str(x), "y": str(y)} for x, y in points]


def _draw_sections(pick: random.Random, unit: Data) -> None:
    """Sections of their own for some frames, rings, bars and sashes."""
    for holder in (unit["frame"], *unit["frame"].get("rings", ()), unit.get("bars"), unit.get("fill")):
        if holder is not None and holder.get("kind", "sash") in ("sash", "sliders") and pick.random() < 0.2:
            holder["section"] = _section(pick)


def _give_gaskets(pick: random.Random, cell: Data) -> None:
    """Gaskets of their own for some lights."""
    fill = cell.get("fill")
    if fill and fill["kind"] == "glass" and pick.random() < 0.3:
        fill["gasket"] = {"thickness": str(pick.randint(2, 9)), "shows": str(pick.randint(0, 6))}
    for inner in [*cell.get("cells", {}).values(), *([fill["content"]] if fill and fill.get("content") else [])]:
        _give_gaskets(pick, inner)


def _section(pick: random.Random) -> list[Data]:
    """A moulded front on a square back."""
    face, depth = pick.choice((24, 40, 60)), pick.choice((60, 90))
    front = [(0.0, -pick.uniform(0, 5))]
    for k in range(1, pick.randint(2, 6)):
        front.append((face * (k / 6 + pick.uniform(-0.05, 0.05)), -pick.choice((0.0, 0.0, pick.uniform(0, 5)))))
    front.append((face, -pick.uniform(0, 4)))
    bulges = [pick.choice((0.0, 0.0, 0.15, -0.15)) for _ in front[:-1]]
    drawn = [
        (0.0, -float(depth), 0.0),
        *((x, y, b) for (x, y), b in zip(front, [*bulges, 0.0], strict=True)),
        (float(face), -float(depth), 0.0),
    ]
    return [{"x": f"{x:.4f}", "y": f"{min(y - 4, 0):.4f}", "bulge": b} for x, y, b in drawn]


def _without_sliders(pick: random.Random, cell: Data) -> None:
    """Sliding sashes need a rectangle: elsewhere most give way to glass."""
    if (cell.get("fill") or {}).get("kind") == "sliders" and pick.random() < 0.9:
        cell["fill"] = {"kind": "glass"}
    for inner in cell.get("cells", {}).values():
        _without_sliders(pick, inner)


def _mm(pick: random.Random, low: float, high: float) -> str:
    if pick.random() < 0.15:
        return f'{pick.randint(round(low / 25.4 * 8), round(high / 25.4 * 8)) or 1}/8"'
    return str(pick.randint(round(low * 4), round(high * 4)) / 4)


def _outline(pick: random.Random) -> tuple[Data, str, str]:
    kind = pick.choice(
        (
            "rectangle",
            "rectangle",
            "corners",
            "segmental",
            "semicircular",
            "three-centred",
            "elliptical",
            "pointed",
            "raked",
            "ellipse",
            "circle",
            "half-round",
            "quarter-round",
            "d",
            "polygon",
            "star",
            "path",
        )
    )
    width, height = pick.randint(500, 3200), pick.randint(500, 2600)
    if kind == "corners":
        corners = [
            {"kind": pick.choice(("square", "rounded", "clipped", "scooped")), "size": _mm(pick, 20, 220)}
            for _ in range(pick.choice((1, 4)))
        ]
        return {"kind": "rectangle", "corners": corners}, str(width), str(height)
    if kind in ("segmental", "three-centred", "elliptical", "raked"):
        return (
            {"kind": kind, "rise": _mm(pick, 60, min(width / 2, height - 200)), "high": pick.choice(("left", "right"))},
            str(width),
            str(height),
        )
    if kind == "pointed":
        return {"kind": kind, "radius": str(round(width * pick.uniform(0.6, 1.3)))}, str(width), str(height + width)
    if kind == "semicircular":
        return {"kind": kind}, str(width), str(height + width / 2)
    if kind == "circle":
        return {"kind": "ellipse"}, str(width), str(width)
    if kind == "half-round":
        return {"kind": kind}, str(width), str(width / 2) if pick.random() < 0.5 else str(height / 2)
    if kind in ("quarter-round", "d"):
        return {"kind": kind, "straight": pick.choice(("foot", "right"))}, str(max(width, height)), str(height)
    if kind in ("polygon", "star"):
        return (
            {"kind": kind, "points": pick.randint(4, 9), "inner": round(pick.uniform(0.45, 0.8), 2)},
            str(max(width, 1200)),
            str(max(width, 1200)),
        )
    if kind == "path":
        nodes = [
            ("0", "0", 0),
            (str(width), "0", 0),
            (str(width), str(height), 0),
            (str(width / 2), str(height * 0.8), 0),
            ("0", str(height), 0),
        ]
        return {"kind": "path", "nodes": [{"x": x, "y": y, "bulge": b} for x, y, b in nodes]}, str(width), str(height)
    return {"kind": kind}, str(width), str(height)


def _edge(pick: random.Random, most: float) -> Data:
    return {"kind": pick.choice(EDGES), "size": _mm(pick, 1, most)}


def _frame(pick: random.Random, kind: str) -> Data:
    frame: Data = {"face": _mm(pick, 24, 90), "depth": _mm(pick, 92, 170), "edge": _edge(pick, 8)}
    if kind in ("rectangle", "raked", "segmental") and pick.random() < 0.3:
        frame["sides"] = {"sill": _mm(pick, 40, 120), "head": _mm(pick, 40, 90)}
    if kind == "rectangle" and pick.random() < 0.25:
        frame["joint"] = pick.choice(("jambs", "head"))
    if pick.random() < 0.15:
        frame["rings"] = [
            {
                "place": pick.choice(("inside", "outside")),
                "face": _mm(pick, 24, 60),
                "step": _mm(pick, 0, 10),
                "count": pick.randint(1, 2),
                "edge": _edge(pick, 4),
                "setback": pick.choice(("0", "5")),
            }
        ]
    return frame


def _glazing(pick: random.Random) -> Data:
    return {
        "thickness": _mm(pick, 4, 24),
        "setback": _mm(pick, 14, 30),
        "cover": _mm(pick, 7, 15),
        "bar_cover": pick.choice((None, "9")),
        "clearance": _mm(pick, 0, 4),
        "panes": 1 if pick.random() < 0.95 else 2,
        "gasket": {"thickness": _mm(pick, 2, 5), "shows": _mm(pick, 0, 4)},
        "bead": {"edge": _edge(pick, 5)},
    }


def _division(pick: random.Random, most: int) -> Data:
    count = pick.randint(1, most)
    lights: list[Data] = [
        {"size": _mm(pick, 80, 400)} if pick.random() < 0.15 else {"share": pick.choice((1, 1, 2))}
        for _ in range(count)
    ]
    lights[pick.randrange(count)] = {}
    bars = [
        {"face": _mm(pick, 36, 80)} if pick.random() < 0.9 else {"face": "60", "depth": "70", "setback": "5"}
        for _ in range(count - 1)
    ]
    return {"rule": pick.choice(("clear", "centres", "sashes")), "lights": lights, "bars": bars}


def _cell(pick: random.Random, depth: int) -> Data:
    columns, rows = _division(pick, (3, 2, 1)[depth]), _division(pick, (2, 2, 1)[depth])
    cell: Data = {
        "columns": columns,
        "rows": rows,
        "fill": _fill(pick, depth),
        "bars": {
            "setback": pick.choice(("0", "3")),
            "edge": _edge(pick, 5),
            "through": pick.choice(("columns", "rows")),
        },
    }
    if depth == 0 and len(columns["lights"]) * len(rows["lights"]) == 1 and pick.random() < 0.15:
        bulge = pick.choice((0.0, 0.0, 0.2, -0.4))
        cell["angled"] = [{"x1": "0", "y1": "100", "x2": "900", "y2": "700", "bulge": bulge, "face": "60"}]
    if depth < 2:
        cells = {}
        for i in range(len(columns["lights"])):
            for j in range(len(rows["lights"])):
                if pick.random() < 0.3:
                    cells[f"c{i + 1}r{j + 1}"] = (
                        _cell(pick, depth + 1) if pick.random() < 0.3 else {"fill": _fill(pick, depth)}
                    )
        if len(columns["lights"]) > 1 and pick.random() < 0.3:
            cells.setdefault("c1r1", {})["span"] = [2, 1]
        cell["cells"] = cells
    return cell


def _fill(pick: random.Random, depth: int) -> Data | None:
    kind = pick.choice(
        ("none", "glass", "glass", "muntins", "lead", "sash", "sash", "sliders", "panel", "louvres", "open")
    )
    if kind == "glass":
        return {"kind": "glass", "thickness": pick.choice((None, "6"))}
    if kind == "muntins":
        return {"kind": "glass", "muntins": _muntins(pick)}
    if kind == "lead":
        pattern = pick.choice(("grid", "brick", "shards"))
        return {
            "kind": "glass",
            "lead": {
                "pattern": pattern,
                "across": pick.randint(1, 5),
                "up": pick.randint(1, 6),
                "seed": pick.randint(0, 999),
            },
        }
    if kind == "sash" and depth < 2:
        return {
            "kind": "sash",
            "opening": pick.choice(OPENINGS),
            "hand": pick.choice(("left", "right")),
            "swing": pick.choice(("out", "in")),
            "face": _mm(pick, 30, 70),
            "depth": _mm(pick, 58, 70),
            "clearance": _mm(pick, 7, 12),
            "opened": pick.choice((0, 0, 30, 100)),
            "edge": _edge(pick, 5),
            "content": _cell(pick, 2) if pick.random() < 0.3 else {},
        }
    if kind == "sliders" and depth < 2:
        return {
            "kind": "sliders",
            "slide": pick.choice(("up", "across")),
            "panels": pick.choice((2, 2, 3, 4)),
            "face": _mm(pick, 30, 60),
            "depth": _mm(pick, 34, 44),
            "glazing": {"thickness": "4", "setback": "14", "cover": "8", "clearance": "2"},
            "opened": pick.choice((0, 50, 100)),
        }
    if kind == "panel":
        return {"kind": "panel", "style": pick.choice(("flat", "raised", "framed")), "thickness": "22"}
    if kind == "louvres":
        return {"kind": "louvres", "angle": pick.randint(10, 60)}
    return {"kind": "open"} if kind == "open" else None


def _muntins(pick: random.Random) -> Data:
    kind = pick.choice(("grid", "perimeter", "diamond", "radial"))
    grid = {
        axis: {"lights": [{}] * count, "bars": ["18"] * (count - 1)}
        for axis, count in (("columns", pick.randint(1, 4)), ("rows", pick.randint(1, 4)))
    }
    return {
        "kind": kind,
        **grid,
        "edge": _edge(pick, 4),
        "proud": _mm(pick, 5, 12),
        "circles": pick.choice(((), ("150", "300"))),
        "faces": pick.choice(("outer", "inner", "both")),
    }


def _trim(pick: random.Random, level: bool) -> Data:
    trim: Data = {}
    if not level:
        return trim
    if pick.random() < 0.3:
        trim["outside"] = {"sides": pick.choice(("all", "no sill", "fitting")), "edge": _edge(pick, 8)}
    if pick.random() < 0.2:
        trim["inside"] = {"edge": _edge(pick, 8), "lap": pick.choice(("10", "-5"))}
    if pick.random() < 0.2:
        trim["sill"] = {"fall": _mm(pick, 0, 15), "under": pick.choice(("0", "60", "150"))}
    own = random.Random(str(pick.getstate()[1][:3]))  # by itself, so that what others throw stays as it is
    if own.random() < 0.1:
        trim["board"] = {"forward": own.choice((None, "0", _mm(own, 20, 200))), "edge": _edge(own, 5)}
    if pick.random() < 0.1:
        trim["apron"] = {"height": _mm(pick, 40, 120)}
    return trim
