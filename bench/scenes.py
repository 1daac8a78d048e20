"""A site of 1,000 and of 10,000 placements in fifty walls: read, fitted, drawn as a plan, audited and written as GLB.

Each step is told against itself at a tenth of the size, and the file against trimesh's writer of the same meshes and
places.

Each size runs in a process of its own, so that its memory is its own.
"""

from __future__ import annotations

import json
import resource
from functools import cache
from multiprocessing import get_context
from pathlib import Path
from time import perf_counter
from typing import Any

import numpy as np
import trimesh

UNITS = Path(__file__).parent.parent / "demo" / "heron-reach" / "units"
KEYS = ("clubroom-window", "stair-window", "changing-room-window", "office-slider")
WALLS, STEP = 50, 4500
GOALS = {"plan": 1.5, "scene": 2.0, "audit": 6.0}
"""Seconds for 10,000 placements on two cores."""


def main() -> None:
    sizes = (1_000, 10_000)
    with get_context("spawn").Pool(1, maxtasksperchild=1) as pool:
        small, large = (pool.apply(measured, (size,)) for size in sizes)
        whole = pool.apply(baked, (sizes[1],))
    for what, taken in large["seconds"].items():
        growth = taken / small["seconds"][what]
        goal = GOALS.get(what)
        verdict = f", goal {goal:g} s {'reached' if taken <= goal else 'missed'}" if goal else ""
        print(f"scene, {what}: {taken:.2f} s for 10,000 placements, {growth:.1f} times 1,000{verdict}")
    theirs = large["trimesh seconds"] / large["seconds"]["GLB"]
    ours, other = large["bytes"] / 1e6, large["trimesh bytes"] / 1e6
    print(
        f"scene, GLB: {ours:.2f} MB and {large['nodes']} nodes; trimesh {other:.2f} MB in {theirs:.1f} times the time"
    )
    ours_whole = sum(large["seconds"][step] for step in ("reading", "scene", "GLB"))
    times, size, memory = (whole["seconds"] / ours_whole, *(whole[what] / large[what] for what in ("bytes", "memory")))
    print(f"scene, baked by trimesh: {times:.0f} times the time, {size:.0f} times the bytes, {memory:.1f} the memory")
    print(f"scene: {large['memory']} MiB at the peak of reading, fitting, plan and file")


def measured(count: int) -> dict[str, Any]:
    """Seconds of each step, and what the file comes to."""
    from ashfell.core.audit.site import audit_scene
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.plan import plan
    from ashfell.core.site.scene import build_scene
    from ashfell.formats.glb import write_scene
    from ashfell.formats.glb_materials import texture_jpeg

    data, seconds = site(count), {}

    def lap(what: str, task: Any) -> Any:
        start = perf_counter()
        made = task()
        seconds[what] = perf_counter() - start
        return made

    document = lap("reading", lambda: read_site(data))
    scene = lap("scene", lambda: build_scene(document))
    assert not scene.refused
    lap("plan", lambda: plan(scene))
    textures = cache(texture_jpeg)  # as they are kept between runs
    write_scene("Warm", build_scene(read_site(site(WALLS * len(KEYS)))), {}, textures)
    file = lap("GLB", lambda: write_scene("Bench", scene, {}, textures))
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    lap("audit", lambda: audit_scene(scene))
    start = perf_counter()
    other = by_trimesh(scene)
    found = {"trimesh seconds": perf_counter() - start, "trimesh bytes": len(other), "memory": memory}
    nodes = len(json.loads(file[20 : 20 + int.from_bytes(file[12:16], "little")])["nodes"])
    return found | {"seconds": seconds, "bytes": len(file), "nodes": nodes}


def baked(count: int) -> dict[str, Any]:
    """The same scene with every placement's triangles by themselves, joined and written by trimesh with the normals
    that flat faces need: seconds from the document to the file, its bytes, and the memory it took, MiB."""
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene

    start = perf_counter()
    scene = build_scene(read_site(site(count)))
    made: dict[str, list[Any]] = {}
    for instance in scene.instances:
        for part in scene.definitions[instance.definition]:
            mesh = trimesh.Trimesh(part.solid.vertices, part.solid.triangles, process=False)
            mesh.unmerge_vertices()
            made.setdefault(part.finish, []).append(mesh.apply_transform(instance.matrix))
    joined = trimesh.Scene({finish: trimesh.util.concatenate(meshes) for finish, meshes in made.items()})
    size = len(joined.export(file_type="glb", include_normals=True))
    seconds = perf_counter() - start
    return {"seconds": seconds, "bytes": size, "memory": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024}


def site(count: int) -> dict[str, Any]:
    """Fifty walls with as many windows each, of four units by turns; no two walls are alike."""
    each = count // WALLS
    return {
        "walls": [
            {"id": f"wall-{w}", "x": "0", "y": str(w * 8000), "length": str(each * STEP + 1000), "height": "4000"}
            for w in range(WALLS)
        ],
        "placements": [
            {
                "id": f"unit-{w}-{k}",
                "wall": f"wall-{w}",
                "unit": KEYS[k % len(KEYS)],
                "offset": str(500 + k * STEP + w),
                "sill": "800",
            }
            for w in range(WALLS)
            for k in range(each)
        ],
        "units": {key: json.loads((UNITS / f"{key}.json").read_text()) for key in KEYS},
    }


def by_trimesh(scene: Any) -> bytes:
    """The same definitions, one mesh each, at the same places, written by trimesh."""
    made = trimesh.Scene()
    for key, parts in scene.definitions.items():
        meshes = [trimesh.Trimesh(part.solid.vertices, part.solid.triangles, process=False) for part in parts]
        if meshes:
            made.geometry[key] = trimesh.util.concatenate(meshes)
    for number, instance in enumerate(scene.instances):
        if instance.definition in made.geometry:
            made.graph.update(f"{number}", matrix=np.asarray(instance.matrix), geometry=instance.definition)
    return bytes(made.export(file_type="glb"))
