"""The elevation of a wall on the project's page: looked at from both sides, openings moved, sized and cut."""

import pytest
from django.urls import reverse

pytestmark = pytest.mark.django_db
HERE = "placements.clubroom-window"


@pytest.fixture
def send(signed_in, project):
    address = reverse("site-edit", args=[project.pk])

    def sent(keep="1", at=HERE, side="outside", **values):
        base = project.site.current_id
        return signed_in.post(address, {"base": base, "keep": keep, "at": at, "side": side} | values)

    return sent


def placement(project, key="clubroom-window"):
    project.site.refresh_from_db()
    return next(one for one in project.site.data["placements"] if one["id"] == key)


def test_a_wall_is_looked_at_from_both_sides(send):
    outside, inside = (send("0", side=side).content.decode() for side in ("outside", "inside"))
    assert 'aria-label="The wall from outside"' in outside
    assert 'data-mirrored="1"' in inside
    assert outside.count("<use ") == inside.count("<use ") == 1
    assert f'id="hole-{HERE}"' in outside
    assert 'aria-label="Plan"' in send("0", side="plan").content.decode()
    assert 'aria-label="Plan"' in send("0", side="above").content.decode()


def test_an_opening_is_moved_by_a_shift_and_by_what_is_beside_it(send, project):
    """The clubroom's window is 3200 wide in a wall of 6000, its offset from the centre."""
    assert send(entry=f"{HERE}.moved", value="30 mm; -20 mm").status_code == 200
    assert (placement(project)["offset"], placement(project)["sill"]) == ("30 mm", "480 mm")
    assert send(entry=f"{HERE}.before", value="1000").status_code == 200
    assert placement(project)["offset"] == "-400 mm"
    assert send(entry=f"{HERE}.behind", value="1 m").status_code == 200
    assert placement(project)["offset"] == "400 mm"
    away = send(entry=f"{HERE}.moved", value="9 m; 0 mm")
    assert away.status_code == 422
    assert placement(project)["offset"] == "400 mm"
    assert send(entry=f"{HERE}.before", value="far").status_code == 422


def test_it_gets_a_size_a_head_and_a_hand_of_its_own(send, project):
    assert send(entry=f"{HERE}.width", value="2800").status_code == 200
    page = send(entry=f"{HERE}.head", value="2500").content.decode()
    assert "head at" in page
    assert (placement(project)["width"], placement(project)["head"]) == ("2800", "2500")
    send(entry=f"{HERE}.mirrored", value="yes")
    send(entry=f"{HERE}.stands", value="centred")
    send(entry=f"{HERE}.opened", value="40")
    send(entry=f"{HERE}.gaps.sill", value="10")
    page = send(entry=f"{HERE}.finishes.frame", value="smoked-oak").content.decode()
    assert "Finish of its frame" in page
    own = placement(project)
    assert (own["mirrored"], own["stands"], own["opened"], own["gaps"]) == (True, "centred", 40.0, {"sill": "10"})
    assert own["finishes"] == {"frame": "smoked-oak"}
    send(entry=f"{HERE}.finishes.frame", value="")
    send(entry=f"{HERE}.width", value="")
    assert (placement(project)["finishes"], placement(project)["width"]) == ({}, None)


def test_an_opening_without_a_unit_is_cut(send, project):
    page = send(do="add-opening", wall="landing").content.decode()
    project.site.refresh_from_db()
    own = next(one for one in project.site.data["placements"] if one["wall"] == "landing")
    assert (own["unit"], own["width"], own["height"]) == (None, "900", "2100")
    assert 'class="hole empty chosen"' in page
    assert send(entry=f"placements.{own['id']}.unit", value="stair-window").status_code == 200


@pytest.mark.parametrize(
    ("entry", "value"),
    [
        ("stands", "outside"),
        ("sill", "-3"),
        ("width", "0"),
        ("finishes.handle", "white-paint"),
        ("opened", "400"),
        ("id", "x"),
        ("colour", "red"),
    ],
)
def test_wrong_input_is_refused_at_its_entry(send, project, entry, value):
    before = placement(project)
    answer = send(entry=f"{HERE}.{entry}", value=value)
    assert answer.status_code == 422, entry
    assert f"{HERE}.{entry}" in answer.content.decode()
    assert placement(project) == before


def test_what_is_moved_but_not_kept_is_seen_in_3d(signed_in, project):
    moved = {"entry": f"{HERE}.moved", "value": "100 mm; 0 mm", "keep": "0", "at": HERE, "side": "outside"}
    answer = signed_in.post(reverse("site-view", args=[project.pk]), moved)
    assert answer.status_code == 200
    assert answer.content != signed_in.get(reverse("site-view", args=[project.pk])).content


@pytest.mark.parametrize(
    "entry",
    [
        "moved",
        "before",
        "equal",
        "walls.clubroom.equal",
        "placements.nobody.copied",
        f"{HERE}.sash.before",
        "table.x.moved",
    ],
)
def test_an_arrangement_of_what_is_not_there_is_refused(send, project, entry):
    before = project.site.data
    assert send(entry=entry, value="1 m").status_code == 422
    project.site.refresh_from_db()
    assert project.site.data == before
