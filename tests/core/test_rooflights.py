"""Domes and lanterns: their volumes by formulas of their own, and that nothing touches."""

from math import cos, pi, radians, tan

import numpy as np
import pytest
import trimesh

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.make import make
from ashfell.core.unit.starts import STARTS, start_from


def over(kind, width="2000", height="1200", outline="rectangle", **own):
    frame = {"face": "60", "depth": "300"}
    return {
        "width": width,
        "height": height,
        "outline": {"kind": outline},
        "frame": frame,
        "fill": {"kind": kind} | own,
    }


@pytest.mark.parametrize("bare", ["mm", "in"])
@pytest.mark.parametrize("key", [key for key, start in STARTS.items() if start.group == "Rooflights"])
def test_every_rooflight_to_start_from_is_sound(key, bare):
    assert audit_unit(make(start_from(key, STARTS[key].name, bare))) == []


@pytest.mark.parametrize(("width", "height"), [("2000", "1200"), ("1200", "2000"), ("1500", "1500")])
@pytest.mark.parametrize("slope", [10, 25, 45])
def test_glass_and_joints_of_a_lantern_cover_it_once(width, height, slope):
    """Square to its slope a layer is as thick as it says: its volume is the plan's area over the cosine, times that."""
    unit = make(read_unit(over("lantern", width, height, slope=slope, thickness="20", lap="30")))
    assert audit_unit(unit) == []
    layer = [part.solid.volume for part in unit.parts if part.id.startswith(("glass.", "gasket."))]
    plan = (float(width) - 60) * (float(height) - 60)
    assert sum(layer) == pytest.approx(plan / cos(radians(slope)) * 20, rel=1e-9)
    top = max(part.solid.bounds[1][2] for part in unit.parts if part.role == "glass")
    ridge = (min(float(width), float(height)) - 60) / 2 * tan(radians(slope))
    # Panes end half a joint before the ridge, and before both hips where those meet in a point.
    before = 10 * 2**0.5 if width == height else 10
    assert top == pytest.approx(ridge - before * tan(radians(slope)) + 20 / cos(radians(slope)), abs=0.01)


def test_rafters_stand_no_further_apart_than_they_may():
    unit = solve(read_unit(over("lantern", "3060", "1060", apart="700", lap="0")))
    content = unit.body.lights[0].content
    rafters = [
        region.centroid.x for name, region, way in content.bars if name.startswith("rafter") and abs(way[1]) > 0.5
    ]
    feet = sorted({round(x, 6) for x in rafters})
    assert np.diff(feet) == pytest.approx([2940 / 5] * (len(feet) - 1))


def test_a_dome_rises_as_high_as_it_says_and_lies_on_its_frame():
    unit = make(read_unit(over("dome", rise="200", thickness="6", lap="30")))
    (dome,) = [part for part in unit.parts if part.role == "glass"]
    assert dome.solid.bounds.tolist() == pytest.approx(np.array([[30, 30, 0], [1970, 1170, 200]]), abs=1e-6)
    # Square to the plan it is as thick everywhere.
    assert dome.solid.volume == pytest.approx(1940 * 1140 * 6, rel=1e-9)
    other = trimesh.Trimesh(dome.solid.vertices, dome.solid.triangles, process=False)
    assert other.is_watertight
    assert audit_unit(unit) == []


def test_over_a_circle_it_is_round():
    unit = make(read_unit(over("dome", "1200", "1200", "ellipse", rise="300", lap="0")))
    (dome,) = [part for part in unit.parts if part.role == "glass"]
    heights = dome.solid.vertices[:, 2]
    rings = {round(height, 6) for height in heights.tolist()}
    for height in sorted(rings)[1:-1:5]:
        radii = np.hypot(*(dome.solid.vertices[np.abs(heights - height) < 1e-6, :2] - 600).T)
        assert np.ptp(radii) < 0.5
    assert dome.solid.volume == pytest.approx(pi * 540**2 * 8, rel=2e-3)


@pytest.mark.parametrize(
    ("data", "entry"),
    [
        (over("lantern", outline="ellipse"), "fill.kind"),
        (over("lantern", lap="80"), "fill.lap"),
        (over("lantern", "300", "300"), "fill.kind"),
        (over("lantern", apart="90"), "fill.apart"),
        (over("dome", outline="star", height="2000"), "fill.kind"),
        (over("dome", lap="80"), "fill.lap"),
        (over("dome", rise="5"), "fill.thickness"),
    ],
)
def test_what_they_cannot_stand_over_is_refused(data, entry):
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert told.value.entry == entry
    if told.value.nearest is not None:
        key = entry.removeprefix("fill.")
        solve(read_unit(data | {"fill": data["fill"] | {key: str(float(told.value.nearest))}}))


def dome_in(lap, **sash):
    """A dome on a sash 40 mm wide, that opens outwards."""
    content = {"fill": {"kind": "dome", "lap": lap}}
    own = {"kind": "sash", "swing": "out", "face": "40", "depth": "60", "clearance": "10", "content": content}
    return {"width": "1600", "height": "1200", "frame": {"depth": "110"}, "fill": own | sash}


@pytest.mark.parametrize(
    ("sash", "fits", "too_wide"),
    [
        ({"opening": "side-hung-pair", "meeting": {"kind": "planted", "width": "40"}}, "24", "26"),
        ({"opening": "side-hung-pair"}, "38", ""),
        ({"opening": "side-hung", "hinges": {"radius": "9"}}, "35", "37"),
        ({"opening": "side-hung"}, "40", ""),
    ],
)
def test_it_lies_clear_of_what_is_on_the_face_of_its_sash(sash, fits, too_wide):
    """A stile 40 mm wide over a gap of 10 covers 15 of each leaf; a knuckle with a radius of 9 before the middle of the
    gap reaches 4 over the face."""
    assert audit_unit(make(read_unit(dome_in(fits, **sash)))) == []
    if too_wide:
        with pytest.raises(Refusal) as refused:
            solve(read_unit(dome_in(too_wide, **sash)))
        assert refused.value.rule == "nothing before what rises"
