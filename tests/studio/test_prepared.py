"""Prepared queries answer what the query sets they are made of answer."""

from __future__ import annotations

import pytest
from django.http import Http404
from django.utils import timezone

from ashfell.core.base.document import dump
from ashfell.core.finish import LIBRARY
from ashfell.services.kept.models import IN_FORCE, Membership, Project, Record, Revision, Role
from ashfell.services.kept.prepared import Prepared
from ashfell.services.kept.records import listed_projects_of, record_of, role_in
from ashfell.studio.pictures.models import Picture

pytestmark = pytest.mark.django_db
LAMP = dump(LIBRARY["ember-paint"])


@pytest.fixture
def two(django_user_model):
    """Two people, each with a project that has a unit, a site and finishes of its own under the same keys."""
    found = []
    for name in ("rook", "siskin"):
        person = django_user_model.objects.create_user(name)
        project = Project.objects.create(name=name.title())
        Membership.objects.create(project=project, user=person, role=Role.EDITOR)
        for kind, key in (("unit", "one"), ("site", "site"), ("finish", "soot"), ("finish", "lamp")):
            Record.start(project, kind, key, LAMP | {"name": f"{name} {key}"}, person)
        found.append((person, project))
    return found


def test_a_record_comes_with_its_project_and_what_is_in_force(two, django_assert_num_queries):
    for person, project in two:
        for kind, key in (("unit", "one"), ("site", "site"), ("finish", "lamp")):
            with django_assert_num_queries(3):
                found = record_of(person, project.pk, kind, key)
                assert (found.project.name, found.current.data["name"]) == (project.name, f"{person} {key}")
            wanted = Record.objects.select_related("project", "current").get(project=project, kind=kind, key=key)
            for one, other in ((found, wanted), (found.project, wanted.project), (found.current, wanted.current)):
                names = [field.attname for field in one._meta.concrete_fields]
                assert type(one) is type(other)
                assert [getattr(one, name) for name in names] == [getattr(other, name) for name in names]


def test_projects_are_listed_with_one_query_however_many_there_are(two, django_assert_num_queries):
    person = two[0][0]
    for number in range(8):
        project = Project.objects.create(name=f"Hut {number}")
        Membership.objects.create(project=project, user=person, role=Role.OWNER)
        for unit in range(number):
            Record.start(project, "unit", f"u{unit}", {}, person)
        for state in ("done", "done", "failed"):
            Picture.objects.create(project=project, settings={}, site={}, state=state)
    gone = project.units.first()
    gone.binned = timezone.now()
    gone.save()
    Picture.objects.filter(project=project, state="done").update(binned=timezone.now())
    with django_assert_num_queries(1):
        found = [*listed_projects_of(person)]
    assert [(one.name, one.counted) for one in found] == [
        *((f"Hut {n}", n) for n in range(7)),
        ("Hut 7", 6),
        ("Rook", 1),
    ]
    assert [one.shown for one in found] == [one.face and one.face.pk for one in found]
    assert [bool(one.shown) for one in found] == [True] * 7 + [False] * 2


def test_what_is_nobodys_is_not_found(two):
    (rook, rooks), (_, siskins) = two
    for project, kind, key in ((siskins.pk, "unit", "one"), (rooks.pk, "unit", "two"), (10**15, "unit", "one")):
        with pytest.raises(Http404):
            record_of(rook, project, kind, key)
    Record.objects.get(project=rooks, kind="unit").put_away()
    with pytest.raises(Http404):
        record_of(rook, rooks.pk, "unit", "one")
    assert (role_in(rook, rooks.pk), role_in(rook, siskins.pk)) == ("editor", "")
    rooks.put_away()
    assert role_in(rook, rooks.pk) == ""
    with pytest.raises(Http404):
        record_of(rook, rooks.pk, "site", "site")


def test_what_undo_and_redo_go_to(two):
    person, project = two[0]
    record = record_of(person, project.pk, "unit", "one")
    first = record.current
    assert (record.undone, record.redone) == (None, None)
    second = record.save_change(record.data | {"name": "second"}, first.pk, person)
    assert (record.undone, record.redone) == (first, None)
    record.choose(first, second.pk)
    assert (record.undone, record.redone) == (None, second)
    third = record.save_change(record.data | {"name": "third"}, first.pk, person)
    record.choose(first, third.pk)
    assert record.redone == third  # the later one
    Revision.objects.filter(pk=third.pk).update(offered=True)
    assert record.redone == second


def test_own_finishes_are_those_in_force_in_order_of_their_keys(two):
    person, project = two[1]
    soot = record_of(person, project.pk, "finish", "soot")
    soot.save_change(soot.data | {"name": "Soot, darker"}, soot.current_id, person)
    assert list(project.own_finishes()) == ["lamp", "soot"]
    assert project.own_finishes()["soot"].name == "Soot, darker"
    Record.objects.filter(project=project, key="lamp").update(binned=timezone.now())
    assert [made.key for made in IN_FORCE(project=project.pk, kind="finish")] == ["soot"]


def test_a_query_that_does_not_use_what_it_is_asked_is_refused():
    """A stand-in that is reckoned with would be sent as a value."""
    with pytest.raises(TypeError, match="project"):
        Prepared(lambda project: Record.objects.filter(project=project + 1), "project")(project=1)
