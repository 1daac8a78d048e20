"""Buildings valid by construction: rings of walls of every course, with storeys and what stands in them."""

from __future__ import annotations

import random
from math import cos, radians, sin

UNITS = {
    "plain": {"width": "900", "height": "1100", "frame": {"depth": "70"}},
    "two": {
        "width": "1300",
        "height": "1000",
        "frame": {"depth": "70"},
        "columns": {"lights": [{}, {}], "bars": ["50"]},
        "fill": {"kind": "sash", "depth": "60"},
    },
    "round": {"width": "700", "height": "700", "outline": {"kind": "ellipse"}, "frame": {"depth": "70"}},
    "arched": {"width": "800", "height": "1300", "outline": {"kind": "semicircular"}, "frame": {"depth": "70"}},
}


def any_building(seed):
    """A site of one ring of walls on one or two storeys, openings kept apart by their places."""
    pick = random.Random(f"building {seed}")
    storeys = [{"id": f"s{n}", "height": str(pick.choice((2600, 3000, 3300)))} for n in range(pick.choice((0, 1, 2)))]
    walls = _ring(pick, storeys)
    placements = [one for wall in walls for one in _placements(pick, wall, storeys)]
    plates = [{"id": "floor", "walls": [wall["id"] for wall in walls], "level": "0"}] if pick.random() < 0.6 else []
    return {"storeys": storeys, "walls": walls, "plates": plates, "placements": placements, "units": UNITS}


def _ring(pick, storeys):
    count, radius = pick.randint(3, 6), pick.randint(5000, 9000)
    turns = [360 * (n + pick.uniform(-0.2, 0.2)) / count for n in range(count)]
    corners = [(round(radius * cos(radians(turn))), round(radius * sin(radians(turn)))) for turn in turns]
    thickness, reference = pick.choice((150, 300, 380)), pick.choice(("outside", "centre", "inside"))
    walls = []
    for number, ((ax, ay), (bx, by)) in enumerate(zip(corners, [*corners[1:], corners[0]], strict=True)):
        own = {"id": f"w{number}", **_run(ax, ay, bx, by), "reference": reference}
        own["thickness"] = str(thickness + pick.choice((0, 0, 50)))
        own |= _top(pick, storeys) | _leaves(pick) | (_curve(pick) if count > 3 else {})
        own["corner"] = pick.choice(("mitred", "through", "stopped"))
        walls.append(own)
    return walls


def _run(ax, ay, bx, by):
    from math import atan2, degrees, hypot

    length = f"{hypot(bx - ax, by - ay):.6f}"
    return {"x": str(ax), "y": str(ay), "length": length, "angle": degrees(atan2(by - ay, bx - ax)) % 360}


def _top(pick, storeys):
    own = {"height": str(pick.choice((2700, 3200)))}
    if storeys:
        own |= {"storey": storeys[0]["id"], "up_to": storeys[-1]["id"]}
    kind = pick.random()
    if kind < 0.15:
        own["end_height"] = str(pick.choice((2900, 4000)))
    elif kind < 0.3:
        own["ridge"] = {"height": "4500"}
    return own


def _leaves(pick):
    if pick.random() < 0.6:
        return {"lining": str(pick.choice((0, 15)))}
    return {"leaves": [{"thickness": "40"}, {"thickness": "60", "finish": "lime-plaster"}], "lining": "15"}


def _curve(pick):
    if pick.random() < 0.65:
        return {}
    curve = pick.choice(
        (
            {"kind": "arc", "rise": str(pick.choice((300, 700)))},
            {"kind": "radius", "radius": "20 m", "inward": pick.random() < 0.3},
            {"kind": "ellipse", "rise": str(pick.choice((500, 900)))},
        )
    )
    return {"curve": curve | {"facets": pick.randint(4, 9)}}


def _placements(pick, wall, storeys):
    """A row of one to three openings from the middle of a wall, and sometimes again on the next storey."""
    if pick.random() < 0.3:
        return []
    unit = pick.choice([*UNITS, None])
    one = {
        "id": f"p-{wall['id']}",
        "wall": wall["id"],
        "unit": unit,
        "measured": "centre",
        "offset": str(pick.randint(-100, 100)),
        "sill": str(pick.choice((600, 900))),
        "recess": str(pick.choice((20, 40))),
        "gap": str(pick.choice((0, 5))),
        "mirrored": pick.random() < 0.3,
        "turned": pick.random() < 0.2,
        "folded": pick.random() < 0.7,
        "splay": str(pick.choice((0, 0, 30))),
        "step": str(pick.choice((0, 0, 10))) if unit else "0",
    }
    if unit is None:
        one |= {"width": "700", "height": "900", "gap": "0"}
    repeat = {"along": pick.randint(1, 2), "gap": str(pick.randint(300, 500)), "up": max(1, len(storeys))}
    if pick.random() < 0.4:
        one["repeat"] = repeat | {"mirrored": pick.choice(("none", "every second", "second half"))}
        if unit:
            one["repeat"]["then"] = pick.choice(([], ["plain"]))
    return [one]
