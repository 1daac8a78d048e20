"""IFC of a site of 1,000 placements: time, growth from 100, memory; against writing the same products and the same
geometry through the reading library's own high-level calls, in the same run.

Each size runs in a process of its own, so that its memory is its own.
"""

from __future__ import annotations

import resource
from multiprocessing import get_context
from time import perf_counter
from typing import Any

import numpy as np

from bench.scenes import site

SECONDS, MEMORY = 20.0, 600.0
"""What 1,000 placements may take on two cores, seconds and MB."""


def main() -> None:
    with get_context("spawn").Pool(1, maxtasksperchild=1) as pool:
        small, large = (pool.apply(measured, (size,)) for size in (100, 1_000))
        by_calls = pool.apply(called, (100,))
    verdict = "reached" if large["seconds"] <= SECONDS and large["memory"] <= MEMORY else "missed"
    growth, times = (taken / small["seconds"] for taken in (large["seconds"], by_calls["seconds"]))
    size, peak = large["bytes"] / 1e6, large["memory"]
    print(
        f"IFC: {large['seconds']:.2f} s for 1,000 placements, {growth:.1f} times 100; {size:.1f} MB, {peak:.0f} MB at "
        f"the peak (goal {SECONDS:g} s and {MEMORY:g} MB, {verdict})"
    )
    print(f"IFC: the library's own calls take {times:.1f} times as long for 100 placements")


def measured(count: int) -> dict[str, Any]:
    """Writing a site as IFC, the scene being there."""
    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene
    from ashfell.formats.ifc import write_ifc

    scene = build_scene(read_site(site(count)))
    begun = perf_counter()
    content = write_ifc("Bench", scene)
    seconds = perf_counter() - begun
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
    return {"seconds": seconds, "bytes": len(content), "memory": memory}


def called(count: int) -> dict[str, Any]:
    """The same walls, openings and windows with the same meshes, by the library's calls: a type for each definition."""
    from ifcopenshell.api import aggregate, context, feature, geometry, project, root, spatial, type, unit

    from ashfell.core.site.document.site import read_site
    from ashfell.core.site.scene import build_scene

    scene = build_scene(read_site(site(count)))
    begun = perf_counter()
    file = project.create_file()
    building = root.create_entity(file, ifc_class="IfcProject")
    unit.assign_unit(file)
    model = context.add_context(file, context_type="Model")
    body = context.add_context(
        file, context_type="Model", context_identifier="Body", target_view="MODEL_VIEW", parent=model
    )
    storey = root.create_entity(file, ifc_class="IfcBuildingStorey")
    aggregate.assign_object(file, products=[storey], relating_object=building)

    def shape(parts: Any) -> Any:
        starts = np.cumsum([0, *(len(part.solid.vertices) for part in parts)])
        faces = [part.solid.triangles + start for part, start in zip(parts, starts, strict=False)]
        vertices = np.concatenate([part.solid.vertices for part in parts]) / 1000
        return geometry.add_mesh_representation(
            file, context=body, vertices=[vertices.tolist()], faces=[np.concatenate(faces).tolist()]
        )

    types = {}
    for key, parts in scene.definitions.items():
        if key.startswith("unit."):
            types[key] = root.create_entity(file, ifc_class="IfcWindowType", name=key)
            geometry.assign_representation(file, product=types[key], representation=shape(parts))
    walls = {}
    for one in scene.instances:
        matrix = np.array(one.matrix)
        matrix[:3, 3] /= 1000
        kind = "IfcWindow" if one.host else "IfcWall"
        made = root.create_entity(file, ifc_class=kind, name=one.id)
        geometry.edit_object_placement(file, product=made, matrix=matrix)
        spatial.assign_container(file, products=[made], relating_structure=storey)
        if not one.host:
            walls[one.id] = made
            whole = scene.standing[one.id].host.parts(())
            geometry.assign_representation(file, product=made, representation=shape(whole))
            continue
        type.assign_type(file, related_objects=[made], relating_type=types[one.definition])
        opening = root.create_entity(file, ifc_class="IfcOpeningElement", name=one.id)
        geometry.edit_object_placement(file, product=opening, matrix=matrix)
        size = scene.openings[one.id]
        hole = geometry.add_wall_representation(
            file, context=body, length=float(size.width) / 1000, height=float(size.height) / 1000, thickness=0.4
        )
        geometry.assign_representation(file, product=opening, representation=hole)
        feature.add_feature(file, feature=opening, element=walls[one.host])
        feature.add_filling(file, opening=opening, element=made)
    content = file.to_string()
    return {"seconds": perf_counter() - begun, "bytes": len(content)}


if __name__ == "__main__":
    main()
