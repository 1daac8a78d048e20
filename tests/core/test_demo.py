"""Heron Reach stands: nothing refused, nothing found, and of every kind that a building has."""

from __future__ import annotations

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.services.documents import load_site
from tests.conftest import DEMO


@pytest.fixture(scope="module")
def scene():
    return build_scene(read_site(load_site(DEMO / "site.json")))


def test_it_is_audited_clean(scene):
    assert scene.refused == ()
    assert audit_scene(scene) == []


def test_it_has_what_a_boathouse_has(scene):
    assert len(scene.openings) >= 40
    assert scene.units.keys() == scene.openings.keys()
    fillings = {light.filling.key for unit in scene.units.values() for light in unit.layout.lights}
    assert {"leaf", "planks", "overhead", "sliders", "sash", "panel", "louvres"} <= fillings
    assert [storey.name for storey in scene.document.storeys] == ["Ground floor", "Lookout"]
    folded = [one for one in scene.instances if "@" in one.definition]
    assert [one.id for one in folded] == ["lookout-band"]
    assert {"roof-river", "roof-court"} <= scene.standing.keys()
    assert {one.reference for one in scene.document.walls} == {"outside", "centre"}


def test_the_posts_of_the_lookout_stand_on_its_folds(scene):
    """Five lights between six folds: each post is cut in two along its middle."""
    pieces = [part for part in scene.parts if part.id.startswith("lookout-band/mullion")]
    assert len(pieces) == 8
    middles = [part.solid.volume for part in pieces]
    assert max(middles) == pytest.approx(min(middles), rel=1e-3)
