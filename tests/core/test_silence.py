"""Nothing that is said in a document is passed over in silence."""

from __future__ import annotations

import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit, solve

OPEN = {"fill": {"kind": "open"}}
TWO = {"columns": {"lights": [{}, {}], "bars": ["60"]}}


def test_the_light_of_what_is_not_divided_is_that_light():
    unit = make(read_unit({"cells": {"c1r1": OPEN}}))
    assert [light.fill.kind for light in unit.layout.lights] == ["open"]
    assert not any(part.role == "glass" for part in unit.parts)
    divided = solve(read_unit({"cells": {"c1r1": TWO | {"cells": {"c2r1": {"cells": {"c1r1": OPEN}}}}}}))
    assert [light.fill.kind for light in divided.lights] == ["glass", "open"]


@pytest.mark.parametrize(
    ("cells", "entry"),
    [({"c3r1": OPEN}, "cells.c3r1"), ({"c0r1": OPEN}, "cells.c0r1"), ({"c1r2": {}}, "cells.c1r2")],
)
def test_a_light_that_is_not_there_is_refused_with_those_that_are(cells, entry):
    with pytest.raises(Refusal) as refused:
        solve(read_unit(TWO | {"cells": cells}))
    assert refused.value.entry == entry
    assert "c1r1 to c2r1" in refused.value.remedy or refused.value.rule == "a name of lower-case letters"


@pytest.mark.parametrize(
    ("unit", "entry"),
    [
        ({"span": [2, 1]}, "span"),
        ({"fill": {"kind": "sash", "content": {"span": [1, 2]}}}, "fill.content.span"),
        (TWO | {"cells": {"c1r1": {"span": [5, 5]}}}, "cells.c1r1.span"),
        ({"frame": {"sides": {"north": "90"}}}, "frame.sides.north"),
    ],
)
def test_what_cannot_mean_anything_is_refused(unit, entry):
    with pytest.raises(Refusal) as refused:
        solve(read_unit(unit))
    assert refused.value.entry == entry
    assert refused.value.remedy


def test_every_side_of_an_outline_can_be_named():
    """As the refusal of a name that is not one lists them."""
    for outline in (
        {"kind": "polygon", "points": 6},
        {"kind": "star"},
        {"kind": "rectangle", "corners": [{"kind": "clipped", "size": "80"}]},
    ):
        with pytest.raises(Refusal) as refused:
            solve(read_unit({"outline": outline, "frame": {"sides": {"north": "90"}}}))
        names = refused.value.remedy.removeprefix("Its sides are ").rstrip(".").split(", ")
        assert len(names) >= 5
        for name in names:
            layout = solve(read_unit({"outline": outline, "frame": {"sides": {name: "66"}}}))
            faces = dict(zip(layout.frame.loop.tags, layout.frame.faces.tolist(), strict=True))
            assert faces[name] == 66
