"""Pictures of sites with many units: as one mesh for each finish, ready at once or compiled, against groups of shapes
that stand wherever they are used. What each takes to load, in time and memory, and to trace; where groups are chosen.

Each runs in a process of its own, so that its memory is its own.
"""

from __future__ import annotations

import resource
from multiprocessing import get_context
from time import perf_counter
from typing import Any

from bench.scenes import site

SIZES = (100, 1_000, 3_000)
LARGEST = 10_000
SAMPLES = 640 * 400 * 16


def main() -> None:
    with get_context("spawn").Pool(1, maxtasksperchild=1) as pool:
        for count in SIZES:
            for way in ("flat", "compiled", "grouped"):
                _tell(pool.apply(measured, (count, way)))
        _tell(pool.apply(measured, (LARGEST, "grouped")))


def _tell(found: dict[str, Any]) -> None:
    rate = SAMPLES / found["trace"] / 1e6
    print(
        f"{found['count']} placements, {found['triangles'] / 1e6:.2f} million triangles, {found['way']}: loaded in "
        f"{found['load']:.1f} s, first pass {found['first']:.1f} s, then {rate:.2f} million samples a second, "
        f"{found['memory']:.0f} MB {found['chosen']}"
    )


def measured(count: int, way: str) -> dict[str, Any]:
    """One way to trace a site of so many placements from its street, in seconds and MB."""
    from ashfell.core.site.aside import hung
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene
    from ashfell.pictures import trace
    from ashfell.pictures.compiled import COMPILED, READY
    from ashfell.pictures.framing import first_look
    from ashfell.pictures.grouped import LARGE, SOME, WORTH

    scene = build_scene(read_site(site(count)))
    settings = first_look(scene).model_copy(update={"width": 640, "height": 400, "quality": "good"})
    spared = scene.coats.repeated
    told = f"up to {spared * WORTH / 1e6:.0f} million paths" if spared <= LARGE else "for every picture"
    chosen = f"; chosen {told if spared > SOME else 'for none'}"
    begun = perf_counter()
    variant = COMPILED if way == "compiled" else READY
    tracer = trace.Tracer(
        scene.coats, settings, scene.site.finishes, hung(scene.site), variant, grouped=way == "grouped"
    )
    load = perf_counter() - begun
    taken = []
    for number in range(3):
        begun = perf_counter()
        tracer.trace(number)
        taken.append(perf_counter() - begun)
    per_sample = min(taken[1:]) / (640 * 400 * tracer.samples)
    return {
        "count": count,
        "way": way,
        "triangles": scene.coats.triangles,
        "load": load,
        "first": taken[0],
        "trace": per_sample * SAMPLES,
        "memory": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000,
        "chosen": chosen if way == "grouped" else "",
    }


if __name__ == "__main__":
    main()
