"""Hundreds of buildings, thousands in the long run: what stands is closed, looks outwards and shares nothing; what is
refused is mended by what the refusal says."""

from __future__ import annotations

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.address import Address
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import exact
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import change
from ashfell.core.site.scene import build_scene
from tests.core.any_building import any_building
from tests.core.test_any_unit import IN_THE_LONG_RUN

BATCHES, BATCH = (16, 125) if IN_THE_LONG_RUN else (4, 12)
NUMBERS = ("facets", "along", "up")
MOST = 12


def faults(scene):
    """What the audit finds besides what is refused."""
    refused = {refusal.message for _, refusal in scene.refused}
    return [one for one in audit_scene(scene) if one.level == "fault" and one.reason not in refused]


def examined(seed):
    """What is wrong with a building as it is and as it is when it is mended, and on the way there; empty when nothing
    is."""
    data = dump(read_site(any_building(seed)))
    first = scene = build_scene(read_site(data))
    for _ in range(MOST):
        mended = [(place, refusal) for place, refusal in scene.refused if refusal.nearest is not None]
        if not mended:
            break
        place, refusal = mended[0]
        entry = Address(place) / refusal.entry
        value = str(int(refusal.nearest)) if entry.last in NUMBERS else exact(refusal.nearest)
        data = change(data, entry, value)
        scene = build_scene(read_site(data))
        again = [one for where, one in scene.refused if where == place]
        if any((one.rule, one.entry) == (refusal.rule, refusal.entry) for one in again):
            return f"{seed}: {entry} = {value} did not mend: {refusal}, then {again[0]}"
    found = [*faults(first), *(faults(scene) if scene is not first else [])]
    return f"{seed}: {found[0].rule} at {found[0].place}: {found[0].reason}" if found else ""


@pytest.mark.parametrize("batch", range(BATCHES))
def test_buildings_stand_and_are_mended(batch):
    seeds = range(batch * BATCH, (batch + 1) * BATCH)
    assert [wrong for seed in seeds if (wrong := examined(seed))] == []


def test_the_buildings_are_of_every_kind():
    """The generator does what it is there for."""
    sites = [any_building(seed) for seed in range(25)]
    walls = [wall for site in sites for wall in site["walls"]]
    placed = [one for site in sites for one in site["placements"]]
    for name in ("curve", "ridge", "end_height", "leaves", "up_to"):
        assert any(wall.get(name) for wall in walls), name
    assert {wall["corner"] for wall in walls} == {"mitred", "through", "stopped"}
    assert {wall["reference"] for wall in walls} == {"outside", "centre", "inside"}
    assert {one["folded"] for one in placed} == {True, False}
    assert any(one.get("repeat", {}).get("up", 1) > 1 for one in placed)
