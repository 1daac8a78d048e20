"""The unit that a project's lengths are shown in, and what is seen when a field is entered."""

import pytest
from django.urls import reverse

pytestmark = pytest.mark.django_db


def test_a_project_is_shown_in_another_unit(signed_in, project):
    answer = signed_in.post(reverse("project-lengths", args=[project.pk]), {"lengths": "ft-in"})
    assert (answer.status_code, answer["HX-Refresh"]) == (204, "true")
    project.refresh_from_db()
    assert project.lengths == "ft-in"
    page = signed_in.get(reverse("unit", args=[project.pk, "clubroom-window"])).content.decode()
    assert 'data-typed="3200 mm"' in page
    assert "10&#x27; 5 31/32" in page


def test_an_unknown_unit_is_refused_with_those_there_are(signed_in, project):
    answer = signed_in.post(reverse("project-lengths", args=[project.pk]), {"lengths": "ell"})
    assert answer.status_code == 422
    assert "mm, cm, m, in, ft-in" in answer.content.decode()
    project.refresh_from_db()
    assert project.lengths == "mm"


def test_a_site_shows_what_was_typed_too(signed_in, project):
    edit = reverse("site-edit", args=[project.pk])
    base = signed_in.get(reverse("project", args=[project.pk])).context["base"]
    wall = project.site.data["walls"][0]["id"]
    values = {"entry": f"walls.{wall}.lining", "value": "1 in", "keep": "1", "base": base, "at": f"walls.{wall}"}
    page = signed_in.post(edit, values).content.decode()
    assert 'value="25.4"' in page
    assert 'data-typed="1 in"' in page
