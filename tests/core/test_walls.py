"""Walls of every plan: corners, courses, tops, leaves and storeys; floors within them and roofs over them."""

from __future__ import annotations

from fractions import Fraction
from math import cos, radians, sin, sqrt, tan

import numpy as np
import pytest
import trimesh

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.course import facets_of
from ashfell.core.site.document.site import read_site
from ashfell.core.site.document.wall import Wall
from ashfell.core.site.scene import build_scene
from ashfell.core.surface import surface

PLAIN = {"thickness": "300", "lining": "0", "height": "3000"}


def wall(key, x, y, angle, length, **own):
    return PLAIN | {"id": key, "x": str(x), "y": str(y), "angle": angle, "length": str(length)} | own


def ring(**own):
    """Four walls round 8 by 6 m, as their reference lines run."""
    return [
        wall("s", 0, 0, 0, 8000, **own),
        wall("e", 8000, 0, 90, 6000, **own),
        wall("n", 8000, 6000, 180, 8000, **own),
        wall("w", 0, 6000, 270, 6000, **own),
    ]


def built(**site):
    return build_scene(read_site(site))


def sound(scene):
    assert scene.refused == ()
    assert [one for one in audit_scene(scene) if one.level == "fault"] == []
    return scene


def volume(scene, key=None):
    """In m³."""
    return sum(p.solid.volume for p in scene.parts if p.role == "wall" and (key is None or p.id.startswith(key))) / 1e9


@pytest.mark.parametrize(
    ("reference", "outer"), [("outside", (8.0, 6.0)), ("centre", (8.3, 6.3)), ("inside", (8.6, 6.6))]
)
@pytest.mark.parametrize("corner", ["mitred", "through", "stopped"])
def test_a_ring_of_walls_takes_what_lies_between_its_faces(reference, outer, corner):
    scene = sound(built(walls=ring(reference=reference, corner=corner)))
    across, up = outer
    assert volume(scene) == pytest.approx((across * up - (across - 0.6) * (up - 0.6)) * 3, rel=1e-12)


def test_walls_of_different_thickness_meet_at_their_corner():
    """The corner's rectangle is shared along its diagonal: 0.3 by 0.5 m."""
    scene = sound(built(walls=[wall("a", 0, 0, 0, 4000), wall("b", 4000, 0, 90, 4000, thickness="500")]))
    assert volume(scene, "a/") == pytest.approx((4 * 0.3 - 0.3 * 0.5 / 2) * 3, rel=1e-12)
    assert volume(scene, "b/") == pytest.approx((4 * 0.5 - 0.3 * 0.5 / 2) * 3, rel=1e-12)


def test_walls_of_different_thickness_that_hardly_turn_are_cut_halfway():
    scene = sound(built(walls=[wall("a", 0, 0, 0, 4000), wall("b", 4000, 0, 1, 4000, thickness="400")]))
    assert volume(scene, "a/") == pytest.approx((4 - tan(radians(0.5)) * 0.3 / 2) * 0.3 * 3, rel=1e-9)


@pytest.mark.parametrize("corner", ["mitred", "through", "stopped"])
@pytest.mark.parametrize("turn", [151, 160, 174])
def test_walls_that_turn_sharply_back_share_nothing(turn, corner):
    """Their faces meet t tan(θ/2) before the corner, where it closes; where it opens both end square."""
    for reference, closing in (("outside", 1.0), ("centre", 0.5), ("inside", 0.0)):
        for way, taken in ((turn, closing), (-turn, 1 - closing)):
            one = wall("a", 0, 0, 0, 9000, thickness="300", reference=reference, corner=corner)
            scene = sound(built(walls=[one, wall("b", 9000, 0, way, 9000, thickness="300", reference=reference)]))
            cut = 0.3 * taken * tan(radians(turn / 2))
            assert volume(scene, "a/") == pytest.approx((9 - cut / 2) * 0.3 * 3, rel=1e-9)
            assert volume(scene, "b/") == pytest.approx((9 - cut / 2) * 0.3 * 3, rel=1e-9)


def test_a_wall_that_a_sharp_corner_takes_whole_is_refused_with_a_length():
    """At 170 degrees 300 thick walls meet 3.43 m before their corner."""
    walls = [wall("a", 0, 0, 0, 3000, thickness="300"), wall("b", 3000, 0, 170, 3000, thickness="300")]
    refused = built(walls=walls).refused
    assert [text for text, _ in refused] == ["walls.a", "walls.b"]
    longer = str(refused[0][1].nearest)
    assert float(longer) == pytest.approx(300 * tan(radians(85)), abs=2)
    walls = [wall("a", 0, 0, 0, longer, thickness="300"), wall("b", float(longer), 0, 170, longer, thickness="300")]
    sound(built(walls=walls))


def test_a_wall_that_runs_into_another_at_a_shallow_angle_is_cut_along_its_face():
    """10 degrees: 100 thick, its end is 100 / tan 10° longer on one face than on the other."""
    leaning = wall("t", 1000, 0, 10, 5000, thickness="100", reference="centre")
    scene = sound(built(walls=[wall("a", 0, 0, 0, 4000, thickness="200", reference="centre"), leaning]))
    assert volume(scene, "t/") == pytest.approx((5 - 0.1 / sin(radians(10))) * 0.1 * 3, rel=1e-9)


def test_a_wall_that_ends_in_another_stops_at_its_face():
    inner = wall("t", 3000, 0, 90, 6000, thickness="100", reference="centre")
    scene = sound(built(walls=[*ring(), inner]))
    assert volume(scene, "t/") == pytest.approx(0.1 * 5.4 * 3, rel=1e-12)
    slanting = wall("t", 3000, 0, 60, 3000, thickness="100", reference="centre")
    assert volume(sound(built(walls=[*ring(), slanting])), "t/") == pytest.approx(
        (3 - 0.3 / cos(radians(30))) * 0.1 * 3, rel=1e-9
    )


def test_walls_above_each_other_do_not_cut_each_other():
    high = [one | {"id": f"{one['id']}2", "base": "3000", "thickness": "200"} for one in ring()]
    scene = sound(built(walls=[*ring(), *high]))
    assert volume(scene) == pytest.approx((8 * 6 - 7.4 * 5.4) * 3 + (8 * 6 - 7.6 * 5.6) * 3, rel=1e-12)


# --- courses ----------------------------------------------------------------------------------------------------------


def test_an_arc_is_faceted_through_points_of_its_circle():
    """Over 8 m it rises by 2 m: radius (s² + 4h²) / 8h = 5 m, sagitta formula, any handbook."""
    facets = facets_of(Wall.model_validate(wall("w", 0, 0, 0, 8000, curve={"kind": "arc", "rise": "2 m", "facets": 8})))
    centre = np.array([4000.0, 3000.0])  # outwards is to the right, below
    for facet in facets:
        assert np.hypot(*(np.array([facet.x, facet.y]) - centre)) == pytest.approx(5000, abs=1e-6)
    lengths = {facet.length for facet in facets}
    assert float(max(lengths) - min(lengths)) < 1e-6
    assert float(facets[0].length) == pytest.approx(2 * 5000 * np.sin(np.arcsin(0.8) / 8), abs=1e-6)
    assert facets[-1].end == sum((facet.length for facet in facets), Fraction(0))


@pytest.mark.parametrize(
    ("curve", "message"),
    [
        ({"kind": "arc", "rise": "0"}, "no arc"),
        ({"kind": "radius", "radius": "3 m"}, "spans"),
        ({"kind": "ellipse", "rise": "0"}, "none"),
        ({"kind": "free", "points": [{"along": "9 m", "out": "1"}]}, "not between"),
        ({"kind": "arc", "rise": "2 m", "chord": "1"}, "720"),
    ],
)
def test_what_is_no_curve_is_refused_with_what_would_be(curve, message):
    scene = built(walls=[wall("w", 0, 0, 0, 8000, curve=curve)])
    ((place, refusal),) = scene.refused
    assert place == "walls.w"
    assert message in refusal.message
    assert refusal.entry.startswith("curve.")
    value = f"{float(refusal.nearest)}"
    points = [{"along": value, "out": "1"}]
    mended = curve | ({"points": points} if curve["kind"] == "free" else {refusal.entry.split(".")[1]: value})
    assert built(walls=[wall("w", 0, 0, 0, 8000, curve=mended)]).refused == ()


def test_facets_can_be_told_by_their_longest():
    curve = {"kind": "arc", "rise": "2 m", "chord": "700"}
    facets = facets_of(Wall.model_validate(wall("w", 0, 0, 0, 8000, curve=curve)))
    round_it = 2 * 5000 * np.arcsin(0.8)
    assert len(facets) == np.ceil(round_it / 700)
    assert all(facet.length <= 700 for facet in facets)


@pytest.mark.parametrize("rise", ["2 m", "-2 m"])
@pytest.mark.parametrize("reference", ["outside", "centre", "inside"])
def test_a_curved_wall_takes_the_band_between_its_faces(rise, reference):
    """Its plan is a band of constant width along a chain of 8 chords: length times width, and by each of the 7 turns θ
    tan(θ/2) times the moments of the faces about the line."""
    curve = {"kind": "arc", "rise": rise, "facets": 8}
    scene = sound(built(walls=[wall("w", 0, 0, 0, 8000, curve=curve, reference=reference)]))
    turn, chord = 2 * np.arcsin(0.8) / 8, 2 * 5 * np.sin(np.arcsin(0.8) / 8)
    outer = {"outside": 0.0, "centre": 0.15, "inside": 0.3}[reference]
    way = 1 if rise[0] != "-" else -1
    band = 8 * chord * 0.3 + 7 * way * np.tan(turn / 2) * (outer**2 - (0.3 - outer) ** 2)
    assert volume(scene) == pytest.approx(band * 3, rel=1e-6)


def test_texture_runs_on_round_folds_and_corners():
    """The outer faces, in metres along: each begins where the one before it ended."""
    first = wall("a", 0, 0, 0, 5000, curve={"kind": "arc", "rise": "1 m", "facets": 4})
    scene = built(walls=[first, wall("b", 5000, 0, 90, 3000)])
    headings = [facet.heading for facet in facets_of(Wall.model_validate(first))]
    faces = [
        (part, (sin(radians(heading - headings[0])), 0, cos(radians(heading - headings[0]))))
        for part, heading in zip(scene.definitions["wall.a"], headings, strict=True)
    ]
    reached = 0.0
    for part, outwards in [*faces, (scene.definitions["wall.b"][0], (0, 0, 1))]:
        seen = surface(part)
        along = seen.texture[seen.normals @ outwards > 0.999][:, 0]
        assert along.min() == pytest.approx(reached, abs=1e-6)
        reached = along.max()
    assert reached == pytest.approx(float(facets_of(Wall.model_validate(first))[-1].end) / 1000 + 3, abs=1e-6)


# --- tops, leaves, storeys --------------------------------------------------------------------------------------------


def test_a_ridge_and_a_rake_shape_the_top():
    gable = sound(built(walls=[wall("w", 0, 0, 0, 6000, ridge={"height": "5000"})]))
    assert volume(gable) == pytest.approx(6 * 0.3 * 4, rel=1e-12)
    raked = sound(built(walls=[wall("w", 0, 0, 0, 6000, end_height="4000")]))
    assert volume(raked) == pytest.approx(6 * 0.3 * 3.5, rel=1e-12)
    off = built(walls=[wall("w", 0, 0, 0, 6000, ridge={"at": "6000", "height": "5000"})])
    assert off.refused[0][1].nearest == 3000


def test_an_opening_under_a_slope_is_told_the_highest_that_it_can_be():
    """The top falls from 4 m to 2 m over 8 m: at its right edge, 5 m along, 2750 mm, and 1 mm is left."""
    placed = {"id": "p", "wall": "w", "offset": "4000", "sill": "1500", "width": "1000", "height": "1500"}
    site = {"walls": [wall("w", 0, 0, 0, 8000, height="4000", end_height="2000")]}
    ((_, refusal),) = built(**site, placements=[placed]).refused
    assert (refusal.entry, refusal.nearest) == ("sill", 1249)
    scene = sound(built(**site, placements=[placed | {"sill": "1249"}]))
    assert volume(scene) == pytest.approx((8 * 3 - 1.5) * 0.3, rel=1e-12)


def test_leaves_and_cavities_share_the_thickness():
    leaves = [{"thickness": "50"}, {"thickness": "140", "finish": "lime-plaster"}]
    scene = sound(built(walls=[wall("w", 0, 0, 0, 4000, thickness="350", leaves=leaves, lining="15")]))
    depths = {part.id: np.ptp(part.solid.vertices[:, 1]) for part in scene.parts}
    assert depths == pytest.approx({"w/body": 145, "w/leaf.2": 140, "w/lining": 15})
    with pytest.raises(Refusal, match="leave nothing for the outer leaf"):
        read_site({"walls": [wall("w", 0, 0, 0, 4000, leaves=[{"thickness": "300"}])]})


@pytest.mark.parametrize(("turned", "front"), [(False, 145), (True, 155)])
def test_a_frame_stands_against_the_leaf_that_it_looks_out_of(turned, front):
    """350 = 145 outer leaf, 50 cavity, 140 inner leaf, 15 lining: its face is 145 from one face of the wall, or 155
    from the other; it follows when the leaf becomes thicker. A step makes the leaf cover it."""
    leaves = [{"thickness": "50"}, {"thickness": "140", "finish": "lime-plaster"}]
    placed = {"id": "p", "wall": "w", "unit": "u", "measured": "centre", "stands": "behind the leaf", "turned": turned}

    def met(thickness, **own):
        walls = [wall("w", 0, 0, 0, 4000, thickness=str(thickness), leaves=leaves, lining="15")]
        scene = sound(built(walls=walls, placements=[placed | own], units={"u": FRAMED}))
        deep = [part.solid.vertices[:, 1] for part in scene.parts if part.role == "frame"]
        outer, inner = min(y.min() for y in deep), max(y.max() for y in deep)
        assert inner - outer == pytest.approx(80)
        return (thickness - inner if turned else outer), volume(scene, "w/body")

    depth, body = met(350)
    assert depth == pytest.approx(front)
    assert met(390)[0] == pytest.approx(front if turned else front + 40)
    if not turned:
        assert met(350, step="20")[1] - body == pytest.approx((1.0 * 1.2 - 0.96 * 1.16) * 0.145)


def test_a_frame_has_no_leaf_to_stand_against_in_a_wall_of_one():
    placed = {"id": "p", "wall": "w", "unit": "u", "measured": "centre", "stands": "behind the leaf"}
    site = {"walls": [wall("w", 0, 0, 0, 4000)], "units": {"u": FRAMED}}
    ((place, refusal),) = built(**site, placements=[placed]).refused
    assert (place, refusal.entry) == ("placements.p", "stands")
    sound(built(**site, placements=[placed | {"stands": "recessed"}]))


def test_walls_stand_on_storeys_and_reach_up_to_them():
    storeys = [{"id": "ground", "height": "3000"}, {"id": "first", "height": "2800"}]
    walls = [wall("a", 0, 0, 0, 4000, storey="first"), wall("b", 0, 9000, 0, 4000, up_to="first")]
    scene = sound(built(storeys=storeys, walls=walls))
    bounds = {part.id: tuple(part.solid.bounds[:, 2].round(6)) for part in scene.parts}
    assert bounds == {"a/body": (3000, 6000), "b/body": (0, 5800)}
    lost = built(storeys=storeys[:1], walls=walls)
    assert {(place, refusal.entry) for place, refusal in lost.refused} == {
        ("walls.a", "storey"),
        ("walls.b", "up_to"),
    }


def test_a_sill_can_be_told_from_a_storey():
    storeys = [{"id": "ground", "height": "3000"}, {"id": "first", "height": "2800"}]
    placed = {"id": "p", "wall": "w", "storey": "first", "sill": "900", "width": "1000", "height": "1200"}
    scene = sound(built(storeys=storeys, walls=[wall("w", 0, 0, 0, 4000, up_to="first")], placements=[placed]))
    assert scene.openings["p"].z == 3900


# --- floors and roofs -------------------------------------------------------------------------------------------------


def test_a_floor_follows_the_walls_round_it():
    plates = [{"id": "in", "walls": ["s", "e", "n", "w"], "level": "0"}]
    scene = sound(built(walls=ring(), plates=plates))
    (floor,) = scene.definitions["plate.in"]
    assert floor.solid.volume == pytest.approx(7400 * 5400 * 200)
    out = sound(built(walls=ring(), plates=[plates[0] | {"reach": "outside", "level": "3200"}]))
    assert out.definitions["plate.in"][0].solid.volume == pytest.approx(8000 * 6000 * 200)
    (refused,) = built(walls=ring(), plates=[plates[0] | {"walls": ["s", "e"]}]).refused
    assert refused[1].rule == "walls that enclose something"


def test_a_roof_of_two_planes_meets_at_its_ridge():
    """Each plane rises by 45° over 3 m: its area is √2 times its plan, its edges are plumb."""
    plane = {"length": "8000", "run": "3000", "slope": 45, "thickness": "200", "lining": "0", "level": "3000"}
    roofs = [{"id": "a"} | plane, {"id": "b", "x": "8000", "y": "6000", "angle": 180} | plane]
    scene = sound(built(roofs=roofs))
    assert volume(scene) == pytest.approx(2 * 8 * 3 * sqrt(2) * 0.2, rel=1e-9)
    assert max(part.solid.bounds[1, 2] for part in scene.parts) == pytest.approx(6000, abs=1e-5)
    eaves = sound(built(roofs=[roofs[0] | {"eaves": "500", "verge": "250"}]))
    assert volume(eaves) == pytest.approx(8.5 * 3.5 * sqrt(2) * 0.2, rel=1e-9)
    assert min(part.solid.bounds[0, 1] for part in eaves.parts) == pytest.approx(-500, abs=1e-6)


def test_hips_close_a_roof():
    plane = {"slope": 45, "thickness": "200", "lining": "0", "run": "3000", "hip_start": "3000", "hip_end": "3000"}
    sides = [(0, 0, 0, 8000), (8000, 0, 90, 6000), (8000, 6000, 180, 8000), (0, 6000, 270, 6000)]
    roofs = [
        {"id": f"r{n}", "x": str(x), "y": str(y), "angle": angle, "length": str(length)} | plane
        for n, (x, y, angle, length) in enumerate(sides)
    ]
    assert volume(sound(built(roofs=roofs))) == pytest.approx(8 * 6 * sqrt(2) * 0.2, rel=1e-9)
    over = built(roofs=[roofs[0] | {"hip_start": "6000"}])
    assert (over.refused[0][1].entry, over.refused[0][1].nearest) == ("hip_start", 5000)


def test_an_opening_in_a_roof_goes_square_through_it():
    roof = {"id": "r", "length": "6000", "run": "3000", "slope": 30, "thickness": "200", "lining": "0"}
    placed = {"id": "p", "wall": "r", "offset": "1000", "sill": "800", "width": "780", "height": "1180"}
    before, after = volume(built(roofs=[roof])), volume(sound(built(roofs=[roof], placements=[placed])))
    assert before - after == pytest.approx(0.78 * 1.18 * 0.2, rel=1e-9)


# --- reveals ----------------------------------------------------------------------------------------------------------

FRAMED = {"width": "1000", "height": "1200", "frame": {"depth": "80"}}


def opening_volume(**placed):
    """What an opening takes of a wall 300 thick, in m³; the frame stands from 60 to 140 behind its outer face."""
    plain = wall("w", 0, 0, 0, 4000)
    one = {"id": "p", "wall": "w", "unit": "u", "measured": "centre", "sill": "900", "recess": "60"} | placed
    scene = sound(built(walls=[plain], placements=[one], units={"u": FRAMED}))
    return 4 * 3 * 0.3 - volume(scene, "w/")


def test_a_splayed_reveal_takes_a_frustum_behind_the_frame():
    """From 1.0 by 1.2 m to 1.1 by 1.3 m over 160 mm: a prismatoid, (A + 4 M + B) h / 6, any handbook."""
    frustum = (1.0 * 1.2 + 4 * 1.05 * 1.25 + 1.1 * 1.3) * 0.16 / 6
    assert opening_volume(splay="50") == pytest.approx(1.2 * 0.14 + frustum, rel=1e-9)


def test_sides_can_be_splayed_by_themselves():
    """The sill stays level: it widens to 1.1 by 1.25 m."""
    frustum = (1.0 * 1.2 + 4 * 1.05 * 1.225 + 1.1 * 1.25) * 0.16 / 6
    assert opening_volume(splay="50", splays={"sill": "0"}) == pytest.approx(1.2 * 0.14 + frustum, rel=1e-9)


def test_a_step_covers_the_frame_from_before():
    """Before the frame it is 20 mm narrower on every side."""
    assert opening_volume(step="20") == pytest.approx(0.96 * 1.16 * 0.06 + 1.2 * 0.24, rel=1e-9)


@pytest.mark.parametrize(
    ("placed", "entry"),
    [
        ({"splay": "50", "stands": "flush inside"}, "splay"),
        ({"step": "20", "stands": "flush outside"}, "step"),
        ({"splay": "50", "measured": "start", "offset": "20"}, "splay"),
        ({"step": "600"}, "step"),
        ({"splays": {"corner.1": "5"}}, "splays.corner.1"),
    ],
)
def test_a_reveal_without_room_is_refused_and_mended(placed, entry):
    site = {"walls": [wall("w", 0, 0, 0, 4000)], "units": {"u": FRAMED}}
    one = {"id": "p", "wall": "w", "unit": "u", "measured": "centre", "recess": "60"} | placed
    ((_, refusal),) = built(**site, placements=[one]).refused
    assert refusal.entry == entry
    if refusal.nearest is not None:
        sound(built(**site, placements=[one | {entry: str(float(refusal.nearest))}]))


def test_reveals_of_neighbours_stay_apart():
    site = {"walls": [wall("w", 0, 0, 0, 4000)], "units": {"u": FRAMED}}
    row = {"wall": "w", "unit": "u", "recess": "60", "splay": "50"}
    near = [row | {"id": "p", "offset": "200"}, row | {"id": "q", "offset": "1290"}]
    ((_, refusal),) = built(**site, placements=near).refused
    assert refusal.rule == "openings stay apart"
    far = [near[0], near[1] | {"offset": "1302"}]
    sound(built(**site, placements=far))


ROOF = {"id": "r", "slope": 35, "run": "4000", "length": "6000", "thickness": "250"}
KERBED = {"width": "1000", "height": "1200", "frame": {"depth": "80"}}


def in_a_roof(slope=35, unit=None, **placed):
    one = {"id": "p", "wall": "r", "unit": "u", "measured": "centre", "sill": "1500", "recess": "0"} | placed
    return built(roofs=[ROOF | {"slope": slope}], placements=[one], units={"u": unit or KERBED})


def looking(scene, *way):
    """How much of the roof's surface looks one way, m²."""
    solids = [part.solid for part in scene.parts if part.role == "wall"]
    mesh = trimesh.util.concatenate([trimesh.Trimesh(one.vertices, one.triangles, process=False) for one in solids])
    return mesh.area_faces[mesh.face_normals @ np.array(way) > 0.9999].sum() / 1e6


def test_a_plumb_reveal_leans_with_the_roof_and_takes_as_much_of_it():
    """A prism that leans takes what an upright one of the same base and height does (Cavalieri)."""
    square, plumb = in_a_roof(), sound(in_a_roof(reveal="plumb"))
    assert volume(plumb) == pytest.approx(volume(sound(square)), rel=1e-9)
    upright = 1.0 * 0.17 / cos(radians(35))
    for way in ((0, 1, 0), (0, -1, 0)):
        assert looking(plumb, *way) - looking(square, *way) == pytest.approx(upright, rel=1e-6)
    bounds = plumb.openings["p"].reach.bounds
    assert bounds[1] == pytest.approx(1500 - (250 - 80) * tan(radians(35)), abs=1)


def test_a_flared_reveal_is_plumb_at_its_foot_and_level_at_its_head():
    scene = sound(in_a_roof(reveal="flared"))
    deep, foot, head = 0.25 - 0.08, tan(radians(35)), 1 / tan(radians(35))
    taken = 1.0 * 1.2 * 0.08 + 1.0 * deep * (1.2 + (1.2 + deep * (foot + head))) / 2
    assert volume(built(roofs=[ROOF])) - volume(scene) == pytest.approx(taken, rel=1e-9)
    assert looking(scene, 0, 0, -1) == pytest.approx(1.0 * deep / sin(radians(35)), rel=1e-6)
    assert looking(scene, 0, 1, 0) - looking(in_a_roof(), 0, 1, 0) == pytest.approx(
        1.0 * deep / cos(radians(35)), rel=1e-6
    )


@pytest.mark.parametrize("reveal", ["plumb", "flared"])
def test_a_round_rooflight_has_such_a_reveal_too(reveal):
    sound(in_a_roof(reveal=reveal, unit=KERBED | {"height": "1000", "outline": {"kind": "ellipse"}}))


@pytest.mark.parametrize(("slope", "placed"), [(35, {"sill": "50"}), (0, {}), (6, {"sill": "2500"})])
def test_a_reveal_that_has_no_room_in_its_roof_is_refused_and_mended(slope, placed):
    ((_, refusal),) = in_a_roof(slope, reveal="flared", **placed).refused
    assert (refusal.entry, "square" in refusal.remedy) == ("reveal", True)
    sound(in_a_roof(slope, reveal="square", **placed))


def test_a_wall_has_no_leaning_reveal():
    site = {"walls": [wall("w", 0, 0, 0, 4000)], "units": {"u": FRAMED}}
    one = {"id": "p", "wall": "w", "unit": "u", "reveal": "plumb", "recess": "60", "measured": "centre"}
    ((_, refusal),) = built(**site, placements=[one]).refused
    assert (refusal.entry, refusal.rule) == ("reveal", "a reveal in a slope")


def test_a_splay_is_cut_in_a_roof_as_in_a_wall():
    frustum = (1.0 * 1.2 + 4 * 1.05 * 1.25 + 1.1 * 1.3) * 0.17 / 6
    scene = sound(in_a_roof(splay="50"))
    assert volume(built(roofs=[ROOF])) - volume(scene) == pytest.approx(1.2 * 0.08 + frustum, rel=1e-9)
