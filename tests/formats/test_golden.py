"""Every unit of Heron Reach as it was before the rooms were redesigned: volumes, bounds and finishes by role, from its
GLB.
"""

import json

import numpy as np
import pytest

from ashfell.core.unit import make, read_unit
from ashfell.formats import glb
from tests.conftest import DEMO, ROOT
from tests.formats.reading import Glb, volume

GOLDEN = json.loads((ROOT / "tests/golden/heron-reach-units.json").read_text())


def measured(data):
    """Parts, volume (mm³) and bounds (mm) by role and finish."""
    found = {}
    for told, corners in Glb(data).placed():
        row = found.setdefault(f"{told['role']} {told['finish']}", {"parts": 0, "volume": 0.0, "corners": []})
        row["parts"] += 1
        row["volume"] += volume(corners) * 1e9
        row["corners"].append(corners.reshape(-1, 3) * 1000)
    return found


@pytest.mark.parametrize("key", GOLDEN)
def test_a_unit_is_what_it_was(key):
    unit = make(read_unit(json.loads((DEMO / f"units/{key}.json").read_text())))
    found = measured(glb.write_unit(unit))
    assert found.keys() == GOLDEN[key].keys()
    for name, row in GOLDEN[key].items():
        corners = np.concatenate(found[name]["corners"])
        assert found[name]["parts"] == row["parts"], name
        assert found[name]["volume"] == pytest.approx(row["volume"], rel=2e-5, abs=2), name
        assert corners.min(axis=0) == pytest.approx(row["low"], abs=2e-3), name
        assert corners.max(axis=0) == pytest.approx(row["high"], abs=2e-3), name


def test_no_unit_is_left_out():
    assert GOLDEN.keys() == {path.stem for path in (DEMO / "units").glob("*.json")}
