"""Doors, windows and a wall with 1,000 openings, against the same solids by manifold3d's booleans and by a kernel."""

from __future__ import annotations

import importlib.util
import multiprocessing
import tracemalloc
from collections.abc import Callable
from fractions import Fraction
from time import perf_counter

import numpy as np
from manifold3d import Manifold, Mesh, OpType

from ashfell.core.site.hosts.face import Face, face_solids
from ashfell.core.site.opening import Opening
from ashfell.core.unit import UnitDocument, build, read_unit
from ashfell.core.unit.promise import solve
from bench import by_manifold
from bench.recipes import recipes
from bench.timing import in_turn, tell
from bench.units import UNITS

HAS_KERNEL = importlib.util.find_spec("OCP") is not None


def main() -> None:
    for name, document in UNITS.items():
        _unit(name, document)
    _growth()
    openings = many_openings(1000)
    (wall,), other = face_solids(WALL, openings, -300, 0), wall_by_booleans(openings)
    print(f"wall with 1,000 openings; volumes differ by {abs(wall.volume / Manifold(other).volume() - 1):.1e}")
    times = in_turn(lambda: face_solids(WALL, openings, -300, 0), lambda: wall_by_booleans(openings))
    tell("wall, cut and triangulated", *times, "manifold3d, one batch,", 2)


def _unit(name: str, document: UnitDocument) -> None:
    """Ours solves and builds; theirs is given the solved layout."""
    asked = recipes(document)
    ours, theirs = volume(document), sum(by_manifold.volumes(asked))
    tracemalloc.start()
    parts = build(document)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    print(
        f"{name}: {len(parts)} parts, {sum(len(p.solid.triangles) for p in parts)} triangles, {peak / 2**20:.1f} MiB; "
        f"volumes differ by {abs(ours / theirs - 1):.1e}"
    )
    layout = solve(document)
    tasks = [lambda: build(document, layout), lambda: build(document), lambda: by_manifold.meshes(asked)]
    own, whole, other = in_turn(*tasks, rounds=20 if len(parts) < 100 else 5)
    tell("  built from the solved layout", own, other, "manifold3d", 2)
    tell("  solved and built", whole, other, "manifold3d", 2)
    if not HAS_KERNEL:
        print("  the kernel is not installed: make bench installs it")
    elif len(parts) < 100:
        from bench import by_kernel

        rounds = 1 if other > KERNEL_IS_SLOW else 7
        own, whole, kernel = in_turn(*map(many, tasks[:2]), lambda: by_kernel.meshes(asked), rounds=rounds)
        own, whole = own / MANY, whole / MANY
        tell("  built from the solved layout", own, kernel, "Open CASCADE", 200)
        tell("  solved and built", whole, kernel, "Open CASCADE", 200)
    else:
        tell("  solved and built", whole, *_kernel_within(name), 200)


MANY = 10
"""How often ours is built in a round beside the kernel, which takes hundreds of times as long."""


def many(task: Callable[[], object]) -> Callable[[], object]:
    return lambda: [task() for _ in range(MANY)]


KERNEL_IS_SLOW = 0.1
"""Where manifold3d takes longer than this, s, the kernel takes many seconds and is asked once."""
KERNEL_TIME = 300
"""How long the kernel may take for the largest unit, s; after that its time is at least this."""


def _kernel_within(name: str) -> tuple[float, str]:
    """Seconds the kernel takes for a unit, in a process that is stopped after a while."""
    context = multiprocessing.get_context("spawn")
    worker = context.Process(target=_by_kernel, args=(name,), daemon=True)
    start = perf_counter()
    worker.start()
    worker.join(KERNEL_TIME)
    taken, finished = perf_counter() - start, not worker.is_alive()
    worker.kill()
    return taken, "Open CASCADE" if finished else "Open CASCADE (stopped before it came to the end)"


def _by_kernel(name: str) -> None:
    from bench import by_kernel

    by_kernel.meshes(recipes(UNITS[name]))


def _growth() -> None:
    """Time against the number of parts: lights from 2 by 2 to 16 by 16."""
    for count in (2, 4, 8, 16):
        division = {"lights": [{}] * count, "bars": ["50"] * (count - 1)}
        document = read_unit(
            {"width": str(400 * count), "height": str(400 * count), "columns": division, "rows": division}
        )
        (taken,) = in_turn(lambda document=document: build(document), rounds=5)
        parts = len(build(document))
        print(f"{count} by {count} lights: {parts} parts in {taken * 1000:.1f} ms, {taken / parts * 1e6:.0f} µs a part")


def volume(document: UnitDocument) -> float:
    return sum(part.solid.volume for part in build(document))


WALL = Face(0, 600_000, ((0, 12_000), (600_000, 12_000)))


def many_openings(count: int) -> list[Opening]:
    return [
        Opening(str(n), Fraction(1000 + 1150 * (n // 2)), Fraction(900 + 4000 * (n % 2)), Fraction(900), Fraction(1500))
        for n in range(count)
    ]


def wall_by_booleans(openings: list[Opening]) -> Mesh:
    wall = Manifold.cube([600_000, 12_000, 300]).translate([0, 0, -300])
    holes = [
        Manifold.cube([float(o.width), float(o.height), 302]).translate([float(o.x), float(o.z), -301])
        for o in openings
    ]
    return Manifold.batch_boolean([wall, *holes], OpType.Subtract).to_mesh()


def check(name: str) -> float:
    """Greatest relative difference of volume between the two ways of making each part of one of the units."""
    ours = sorted(part.solid.volume for part in build(UNITS[name]))
    theirs = sorted(by_manifold.volumes(recipes(UNITS[name])))
    assert len(ours) == len(theirs), (len(ours), len(theirs))
    return float(np.abs(np.array(ours) / np.array(theirs) - 1).max())
