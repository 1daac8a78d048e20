"""The catalogue: what ships is sound, found by words, family and size, taken in a size of its own, published."""

import json
from dataclasses import replace
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.edit.hardware import first_with_hardware
from ashfell.core.unit.edit.place import at
from ashfell.core.unit.item import found, taken, updated
from ashfell.core.unit.make import make
from ashfell.core.unit.promise import solve
from ashfell.core.unit.starts import start_from
from ashfell.services.catalogue.shipped import FAMILIES, HARDWARE, catalogue
from ashfell.services.kept import published, records
from ashfell.services.kept.models import Project, Published
from ashfell.studio.keeping import waste

ITEMS = catalogue()


def url(name, project, *more):
    return reverse(name, args=[project.pk, *more])


def test_about_sixty_units_of_made_up_workshops_ship_in_families():
    assert len(UNITS) >= 60
    assert len(ITEMS) - len(UNITS) >= 12
    assert {item.family for item in ITEMS.values()} == set(FAMILIES)
    assert len({item.workshop for item in ITEMS.values()}) >= 8
    assert len({item.name for item in ITEMS.values()}) == len(ITEMS)
    assert all(item.words for item in ITEMS.values())


UNITS = [item for item in ITEMS.values() if item.piece is None]


@pytest.mark.parametrize("family", [family for family in FAMILIES if family != HARDWARE])
def test_every_item_of_a_family_is_audited_clean(family):
    items = [item for item in UNITS if item.family == family]
    assert [item.key for item in items if audit_unit(make(read_unit(item.document)))] == []


TAKES = ("panelled-leaf", "flush-leaf", "casement", "slider", "hung-slider", "sliding-door")


@pytest.mark.parametrize("item", [item for item in ITEMS.values() if item.piece is not None], ids=lambda one: one.key)
def test_every_piece_of_hardware_fits_a_leaf_or_a_sash_and_is_audited_clean(item):
    """On the first of some ordinary units that has room for it."""
    for start in TAKES:
        data = dump(start_from(start, "Leaf"))
        place = first_with_hardware(solve(read_unit(data)))
        at(data, place).clear()
        try:
            unit = make(read_unit(change(data, f"{place}.added", json.dumps(dump(item.piece)), "mm")))
        except Refusal:
            continue
        assert audit_unit(unit) == []
        assert any(part.role == "hardware" for part in unit.parts)
        return
    pytest.fail("it fits none of them")


@pytest.mark.parametrize("key", ["marsh-3", "smithy-grid", "hatch-four", "reed-lantern", "chat-grid"])
def test_taken_in_another_size_its_members_keep_theirs(key):
    item = ITEMS[key]
    wider = [str(float(side) * 1.2) for side in item.size]
    own, other = make(read_unit(item.document)), make(read_unit(taken(item, *wider)))
    assert audit_unit(other) == []
    assert other.document.source.item == key
    faces = [[float(face) for face in unit.layout.frame.exact_faces] for unit in (own, other)]
    bars = [[float(bar.face) for bar in unit.layout.bars] for unit in (own, other)]
    assert faces[0] == faces[1]
    assert bars[0] == bars[1]


def test_items_are_found_by_words_workshop_family_and_size():
    items = [*ITEMS.values()]
    assert [item.key for item in found(items, "round zeppelin")] == []
    assert {item.key for item in found(items, "kittiwake porthole")} == {"smithy-round"}
    assert {item.family for item in found(items, family="Doors")} == {"Doors"}
    nearest = found(items, "1200 x 1200", "Windows")
    far = [sum(abs(own - 1200) for own in item.size) for item in nearest]
    assert far == sorted(far)
    assert far[0] == 0
    feet = found(items, "4' x 4'", "Windows", "ft")
    assert sum(abs(own - parse("4 ft")) for own in feet[0].size) < 60


@pytest.mark.django_db
def test_an_item_is_found_looked_at_and_taken(signed_in, project):
    text = signed_in.get(url("catalogue", project)).content.decode()
    assert text.count("card-of") == len(ITEMS)
    some = signed_in.get(url("catalogue", project), {"q": "lantern"}, headers={"HX-Request": "true"}).content.decode()
    assert "Reed lantern" in some
    assert "Marsh" not in some
    assert "Nothing in the catalogue" in signed_in.get(url("catalogue", project), {"q": "zeppelin"}).content.decode()
    shown = signed_in.get(url("catalogue-item", project, "marsh-3")).content.decode()
    assert "Saltmarsh Joiners" in shown
    assert "<svg" in shown
    answer = signed_in.post(url("catalogue-take", project, "marsh-3"), {"width": "2.1 m", "height": "", "name": "West"})
    record = project.units.get(key="west")
    assert answer.url == url("unit", project, "west")
    assert (record.data["width"], record.data["height"]) == ("2.1 m", "1200")
    assert record.data["source"] == {"item": "marsh-3", "version": 1}


@pytest.mark.django_db
def test_a_size_that_it_cannot_take_is_told_and_nothing_is_kept(signed_in, project):
    before = project.units.count()
    answer = signed_in.post(url("catalogue-take", project, "marsh-3"), {"width": "200"}, follow=True)
    assert "200" in answer.content.decode()
    assert 'class="notice"' in answer.content.decode()
    signed_in.post(url("catalogue-take", project, "marsh-3"), {"width": "wide"})
    assert project.units.count() == before
    assert signed_in.get(url("catalogue-item", project, "no-such-item")).status_code == 404


@pytest.mark.django_db
def test_what_is_published_is_in_all_projects_of_its_person_and_of_nobody_else(
    signed_in, client, project, person, stranger
):
    signed_in.post(url("unit-publish", project, "bar-window"))
    other = Project.objects.create(name="Other")
    other.members.add(person)
    key = published.key_of(project.units.get(key="bar-window"))
    assert "Published by you" in signed_in.get(url("catalogue", other)).content.decode()
    assert signed_in.get(url("catalogue-drawing", other, key, 1)).status_code == 200
    signed_in.post(url("catalogue-take", other, key), {"name": "Copy"})
    assert other.units.get().data["outline"]["kind"] == "semicircular"
    theirs = Project.objects.create(name="Theirs")
    theirs.members.add(stranger)
    client.force_login(stranger)
    assert client.post(url("catalogue-take", theirs, key)).status_code == 404
    assert "Bar window" not in client.get(url("catalogue", theirs)).content.decode()


@pytest.mark.django_db
def test_a_new_version_is_offered_in_words_and_taken_only_when_asked(signed_in, project, person):
    record = project.units.get(key="bar-window")
    assert published.publish(record, person) == 1
    assert published.publish(record, person) == 1  # nothing differs
    signed_in.post(url("catalogue-take", project, published.key_of(record)), {"name": "Copy", "height": "2300"})
    copy = project.units.get(key="copy")
    assert published.update_for(copy, person) is None
    frame = record.data["frame"] | {"face": "70"}
    record.save_change(record.data | {"frame": frame}, record.current_id, person)
    assert published.publish(record, person, "A wider frame") == 2
    page = signed_in.get(url("unit", project, "copy")).content.decode()
    assert "version 2" in page
    assert "A wider frame" in page
    assert "face" in page
    copy.refresh_from_db()
    assert copy.data["frame"]["face"] == "55"  # offered, not forced
    signed_in.post(url("unit-update", project, "copy"), {"base": copy.current_id})
    copy.refresh_from_db()
    assert copy.data["frame"]["face"] == "70"
    assert (copy.data["name"], copy.data["height"]) == ("Copy", "2300")
    assert copy.data["source"]["version"] == 2
    assert copy.undone.data["frame"]["face"] == "55"
    assert Published.objects.count() == 2


@pytest.mark.django_db
def test_an_update_of_a_unit_changed_meanwhile_is_kept_aside(signed_in, project, person):
    record = project.units.get(key="bar-window")
    published.publish(record, person)
    signed_in.post(url("catalogue-take", project, published.key_of(record)), {"name": "Copy"})
    copy, stale = project.units.get(key="copy"), project.units.get(key="copy").current_id
    copy.save_change(copy.data | {"width": "1500"}, stale, person)
    record.save_change(record.data | {"width": "1450"}, record.current_id, person)
    published.publish(record, person)
    answer = signed_in.post(url("unit-update", project, "copy"), {"base": stale}, follow=True)
    assert "kept aside" in answer.content.decode()
    copy.refresh_from_db()
    assert copy.data["width"] == "1500"


@pytest.mark.django_db
def test_of_thousands_of_items_no_more_are_shown_than_somebody_looks_at(signed_in, project, person):
    data = project.units.get(key="bar-window").data
    rows = (Published(owner=person, key=f"own-{k}", version=1, data=data | {"name": f"Unit {k}"}) for k in range(1_940))
    Published.objects.bulk_create(rows, batch_size=500)
    text = signed_in.get(url("catalogue", project)).content.decode()
    assert text.count("card-of") == 120
    assert f"{len(ITEMS) + 1_940 - 120} more" in text
    one = signed_in.get(url("catalogue", project), {"q": "unit 1939"}).content.decode()
    assert one.count("card-of") == 1


def test_an_update_keeps_name_size_tags_and_finishes():
    item = ITEMS["deep-2"]
    own = taken(item, "2000") | {"name": "Mine", "tags": ["north"], "source": {"item": item.key, "version": 1}}
    newer = replace(item, version=3, document=item.document | {"frame": {"face": "90"}})
    data = updated(own, newer)
    assert (data["name"], data["tags"], data["width"]) == ("Mine", ["north"], "2000")
    assert data["frame"] == {"face": "90"}
    assert data["source"] == {"item": "deep-2", "version": 3}


@pytest.fixture
def leaf(project, person):
    return records.start(project, "unit", "Leaf", dump(start_from("panelled-leaf", "Leaf")), person)


@pytest.mark.django_db
def test_hardware_is_found_looked_at_and_put_on_a_leaf(signed_in, project, leaf):
    shown = signed_in.get(url("unit-hardware", project, "leaf"), {"at": "fill.hardware"}).content.decode()
    assert shown.count("card-of") == len(ITEMS) - len(UNITS)
    assert "Wrackline knob" in shown
    few = signed_in.get(url("unit-hardware", project, "leaf"), {"q": "cylinder"}).content.decode()
    assert few.count("card-of") == 1
    assert "has “zeppelin”" in signed_in.get(url("unit-hardware", project, "leaf"), {"q": "zeppelin"}).content.decode()
    base = leaf.current_id
    asked = {"item": "wrack-cylinder", "at": "fill.hardware", "base": base}
    answer = signed_in.post(url("unit-hardware", project, "leaf"), asked)
    assert answer.url == url("unit", project, "leaf")
    leaf.refresh_from_db()
    assert [piece["kind"] for piece in leaf.data["fill"]["hardware"]] == ["lever", "cylinder"]
    assert leaf.data["fill"]["hardware"][1]["across"] == "48"
    assert leaf.undone.pk == base
    page = signed_in.get(url("catalogue-item", project, "wrack-kick")).content.decode()
    assert "A plate, 700 by 180" in page
    assert '<option value="leaf">' in page
    signed_in.post(url("catalogue-take", project, "wrack-kick"), {"unit": "leaf"})
    leaf.refresh_from_db()
    assert leaf.data["fill"]["hardware"][2]["tall"] == "180"


@pytest.mark.django_db
def test_hardware_that_cannot_be_put_there_is_told_and_nothing_is_changed(signed_in, project, person, leaf):
    before = leaf.current_id
    for asked, told in (
        ({"item": "wrack-espagnolette", "at": "fill.hardware.0"}, "cannot be put there"),
        ({"item": "marsh-3"}, "is a unit"),
        ({"item": "wrack-kick", "at": "outline"}, "cannot be put there"),
    ):
        answer = signed_in.post(url("unit-hardware", project, "leaf"), asked | {"base": before}, follow=True)
        assert told in answer.content.decode(), asked
    assert signed_in.post(url("unit-hardware", project, "leaf"), {"item": "no-such"}).status_code == 404
    records.start(project, "unit", "Fixed", dump(start_from("fixed", "Fixed")), person)
    fixed = signed_in.post(url("catalogue-take", project, "wrack-knob"), {"unit": "fixed"}, follow=True)
    assert "takes hardware" in fixed.content.decode()
    assert signed_in.post(url("catalogue-take", project, "wrack-knob"), {"unit": "none"}).status_code == 404
    leaf.refresh_from_db()
    assert leaf.current_id == before
    stale = signed_in.post(
        url("unit-hardware", project, "leaf"), {"item": "wrack-cylinder", "at": "fill.hardware", "base": before - 1}
    )
    assert stale.url == url("unit-history", project, "leaf")
    leaf.refresh_from_db()
    assert leaf.current_id == before


@pytest.mark.django_db
def test_a_piece_is_published_and_put_on_a_leaf_of_another_project(signed_in, project, person, leaf):
    place = {"at": "fill.hardware.0"}
    assert "A lever" in signed_in.get(url("unit-hardware-publish", project, "leaf"), place).content.decode()
    for _ in range(2):
        signed_in.post(url("unit-hardware-publish", project, "leaf"), place | {"name": "Long lever"})
    assert Published.objects.get().version == 1  # nothing differs
    longer = change(leaf.data, "fill.hardware.0.arm", "140", "mm")
    leaf.save_change(longer, leaf.current_id, person)
    signed_in.post(url("unit-hardware-publish", project, "leaf"), place | {"name": "Long lever"})
    assert Published.objects.last().version == 2
    other = Project.objects.create(name="Other")
    other.members.add(person)
    records.start(other, "unit", "Door", dump(start_from("flush-leaf", "Door")), person)
    assert "Long lever" in signed_in.get(url("catalogue", other), {"family": HARDWARE}).content.decode()
    data = other.units.get().data
    data["fill"]["hardware"] = []
    other.units.get().save_change(data, other.units.get().current_id, person)
    signed_in.post(url("catalogue-take", other, "piece-long-lever"), {"unit": "door"})
    (piece,) = other.units.get().data["fill"]["hardware"]
    assert (piece["kind"], piece["arm"], piece["finish"]) == ("lever", "140", None)


@pytest.mark.django_db
def test_nothing_is_published_of_an_address_without_a_piece(signed_in, project, leaf):
    for place in ("fill", "fill.hardware", "fill.hardware.7", "", "outline.hardware.0"):
        for send in (signed_in.get, signed_in.post):
            assert send(url("unit-hardware-publish", project, "leaf"), {"at": place}).status_code == 422
    assert not Published.objects.exists()


@pytest.mark.django_db
def test_what_was_published_is_taken_out_and_put_back(signed_in, client, project, person, stranger):
    signed_in.post(url("unit-publish", project, "bar-window"))
    key = published.key_of(project.units.get(key="bar-window"))
    signed_in.post(url("catalogue-take", project, key), {"name": "Copy"})
    assert "Take it out" in signed_in.get(url("catalogue-item", project, key)).content.decode()
    page = signed_in.post(url("catalogue-out", project, key), follow=True).content.decode()
    assert "1 unit came from it and stays as before" in page
    assert "Put Bar window back" in page
    assert signed_in.get(url("catalogue-item", project, key)).status_code == 404
    assert signed_in.get(url("unit", project, "copy")).status_code == 200
    assert signed_in.post(url("catalogue-out", project, "marsh-3")).status_code == 404
    assert signed_in.post(url("catalogue-back", project, "marsh-3")).status_code == 404
    signed_in.post(url("catalogue-back", project, key))
    assert signed_in.get(url("catalogue-item", project, key)).status_code == 200
    signed_in.post(url("catalogue-out", project, key))
    signed_in.post(url("unit-publish", project, "bar-window"))  # published again it is there again
    assert signed_in.get(url("catalogue-item", project, key)).status_code == 200


@pytest.mark.django_db
def test_what_was_taken_out_is_gone_after_a_month(signed_in, project, person):
    signed_in.post(url("unit-publish", project, "bar-window"))
    published.take_out(person, published.key_of(project.units.get(key="bar-window")))
    Published.everything.update(binned=timezone.now() - timedelta(days=29))
    waste.empty()
    assert Published.everything.count() == 1
    Published.everything.update(binned=timezone.now() - timedelta(days=31))
    waste.empty()
    assert Published.everything.count() == 0
