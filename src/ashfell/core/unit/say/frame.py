"""Sentences of the outline, the frame and its rings."""

from __future__ import annotations

from typing import Any

from ashfell.core.base.lengths import exact
from ashfell.core.kinds.outline import OUTLINES
from ashfell.core.unit import Unit
from ashfell.core.unit.document.members import AXES, ExtraRing, Frame
from ashfell.core.unit.layout import Ring
from ashfell.core.unit.say.writer import Action, Writer, list_actions


def say_outline(w: Writer, unit: Unit) -> None:
    """The outline and the overall size."""
    document, outline = unit.document, unit.document.outline
    kinds = {key: record.words for key, record in OUTLINES.items()}
    w.say(
        "outline",
        w.choice("outline.kind", outline.kind, kinds, "Outline"),
        w.length("width", document.width, "Overall width"),
        "wide,",
        w.length("height", document.height, "Overall height"),
        "high",
        *OUTLINES[outline.kind].say(w, "outline", outline),
        ".",
        about="",
    )


def say_frame(w: Writer, unit: Unit) -> None:
    """The sentences of the frame's members and joints, and of every ring in or round it."""
    _say_members(w, unit)
    for index in range(len(unit.document.frame.rings)):
        _say_ring(w, unit, index)


def _say_members(w: Writer, unit: Unit) -> None:
    frame = unit.document.frame
    sides: list[Any] = []
    names = (
        dict.fromkeys(tag for tag in unit.layout.frame.loop.tags)
        if not frame.rings
        else dict.fromkeys(["sill", "right", "head", "left"])
    )
    for name in names:
        if name in frame.sides:
            sides += [
                f", {name}",
                w.length(f"frame.sides.{name}", frame.sides[name], f"Face of the {name}", "as the frame"),
            ]
    for name in ("head", "sill"):
        if name in names and name not in frame.sides:
            sides += [
                Action(f"frame.sides.{name}", f"Own {name}", f"Give the {name} a face of its own", frame.face.text),
                Action(f"frame.sides.{name}", f"No {name}", f"Leave out the {name}", "0"),
            ]
    frame_ring = unit.layout.frame
    w.say(
        "frame",
        "Frame",
        w.length("frame.face", frame.face, "Frame face"),
        "wide,",
        w.length("frame.depth", frame.depth, "Frame depth"),
        "deep,",
        w.choice(
            "frame.joint",
            frame.joint,
            {"mitred": "mitred", "jambs": "butted, jambs through", "head": "butted, head and sill through"},
            "Joint of the frame",
        ),
        ",",
        w.section("frame", frame.section, w.edge("frame.edge", frame.edge, "Frame"), "the frame"),
        *sides,
        ".",
        Action("frame.rings.added", "Add ring", "Add a ring to the frame"),
        *_glazed(w, frame),
        told=(f"Leaves {_clear(w, unit, frame_ring)} clear.",),
    )


def _glazed(w: Writer, frame: Frame) -> list[Any]:
    """Which ring holds what is in the unit, where there are several."""
    if not frame.rings:
        return []
    kinds = {"": "the innermost", "0": "the frame"} | {str(k + 1): f"ring {k + 1}" for k in range(len(frame.rings))}
    value = "" if frame.glazed is None else str(frame.glazed)
    return ["Held by", w.choice("frame.glazed", value, kinds, "Ring that holds the glass"), "."]


def _say_ring(w: Writer, unit: Unit, index: int) -> None:
    ring = unit.document.frame.rings[index]
    path = f"frame.rings.{index}"
    made = [one for one in (*unit.layout.rings, unit.layout.holder) if one.entry == path][-1]
    told = (
        f"Leaves {w.size(made.clear)} clear." if ring.place == "inside" else f"Makes it {w.size(made.loop)} over all."
    )
    w.say(
        path,
        w.number(f"{path}.count", ring.count, f"How many rings {index + 1}"),
        "ring" if ring.count == 1 else "rings",
        w.choice(f"{path}.place", ring.place, {"inside": "inside", "outside": "outside"}, f"Place of ring {index + 1}"),
        w.length(f"{path}.face", ring.face, f"Face of ring {index + 1}"),
        "wide,",
        w.length(f"{path}.depth", ring.depth, f"Depth of ring {index + 1}", "as the frame"),
        "deep, set back",
        w.length(f"{path}.setback", ring.setback, f"Set-back of ring {index + 1}"),
        *_steps(w, path, ring, index),
        *_ring_outline(w, path, ring, index),
        ",",
        w.section(path, ring.section, w.edge(f"{path}.edge", ring.edge, f"Ring {index + 1}"), f"ring {index + 1}"),
        *_infill(w, path, ring, index),
        ".",
        list_actions(path, f"ring {index + 1}"),
        told=(told,),
    )


def _steps(w: Writer, path: str, ring: ExtraRing, index: int) -> list[Any]:
    """How the rings of an entry are spaced: by a step, evenly over a width, or by chance."""
    number, several = index + 1, ring.count > 1
    said: list[Any] = []
    if ring.over is None:
        said += [", a step of", w.length(f"{path}.step", ring.step, f"Step to ring {number}"), "away"]
        if several:
            said += [Action(f"{path}.over", "Over a width", f"Space ring {number} evenly over a width", _taken(ring))]
    else:
        said += [", evenly over", w.length(f"{path}.over", ring.over, f"What ring {number} goes over")]
        said += [Action(f"{path}.over", "By steps", f"Space ring {number} by steps")]
    for side, size in ring.steps.items():
        said += [",", w.length(f"{path}.steps.{side}", size, f"Step to ring {number}, {side}"), f"at the {side}"]
    if several and ring.seed is None:
        said += [Action(f"{path}.seed", "By chance", f"Space ring {number} by chance", "1")]
    elif several:
        said += [", by chance", w.number(f"{path}.seed", ring.seed, f"Seed of ring {number}")]
        said += [Action(f"{path}.seed", "Evenly", f"Space ring {number} evenly")]
    return said


INFILLS = {"glass": "glass", "board": "a board"}


def _infill(w: Writer, path: str, ring: ExtraRing, index: int) -> list[Any]:
    """What stands between the rings of an entry."""
    own, number = f"{path}.infill", index + 1
    if ring.infill is None:
        return [Action(own, "Fill between", f"Put glass between ring {number} and the one before it", "yes")]
    return [
        ", between them",
        w.choice(f"{own}.kind", ring.infill.kind, INFILLS, f"Infill of ring {number}"),
        w.length(f"{own}.thickness", ring.infill.thickness, f"Thickness of the infill of ring {number}"),
        "thick,",
        w.finish(f"{own}.finish", ring.infill.finish, f"Finish of the infill of ring {number}"),
        Action(own, "×", f"Leave out the infill of ring {number}"),
    ]


def _taken(ring: ExtraRing) -> str:
    """What the rings of an entry go over as they are."""
    return exact(ring.count * (ring.face.mm + ring.step.mm))


def _ring_outline(w: Writer, path: str, ring: ExtraRing, index: int) -> list[Any]:
    """Whether rings follow the one before them, or have an outline of their own."""
    kinds = {"": "as the one before"} | {key: record.words for key, record in OUTLINES.items()}
    kind = ring.outline.kind if ring.outline else ""
    said: list[Any] = [", outline", w.choice(f"{path}.outline.kind", kind, kinds, f"Outline of ring {index + 1}")]
    return said + (OUTLINES[kind].say(w, f"{path}.outline", ring.outline) if ring.outline else [])


def _clear(w: Writer, unit: Unit, ring: Ring) -> str:
    """The clear opening of a ring: exact where lights are laid out in it."""
    if ring is not unit.layout.holder:
        return w.size(ring.clear)
    spans = (unit.layout.spacing(axis).lights for axis in AXES)
    return w.by(*(lights[-1].end - lights[0].start for lights in spans))
