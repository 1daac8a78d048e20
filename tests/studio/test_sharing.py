"""Links that show pictures: to whoever has them, nothing else, until they are withdrawn."""

import re

import pytest
from django.test import Client
from django.urls import reverse

from ashfell.services.kept.whole import take_in
from ashfell.studio.people.models import ShareLink
from ashfell.studio.pictures.models import Picture

pytestmark = pytest.mark.django_db


def picture(project, state="done"):
    settings = {"width": 32, "height": 20}
    made = Picture.objects.create(project=project, settings=settings, site={}, state=state, passes_done=1)
    made.folder.mkdir(parents=True, exist_ok=True)
    made.image.write_bytes(b"\x89PNG of " + str(made.pk).encode())
    return made


@pytest.fixture
def share(signed_in, project):
    """Makes a link; returns the address it is told with."""

    def made(**typed):
        page = signed_in.post(reverse("link-make", args=[project.pk]), typed).content.decode()
        return re.search(r'<code id="link">http://testserver(/shared/[^<]+/)</code>', page)[1]

    return made


def test_one_picture_is_shown_and_no_other(share, project):
    one, other = picture(project), picture(project)
    address = share(picture=one.pk)
    page = Client().get(address)
    assert page.status_code == 200
    assert page["Cache-Control"] == "private, no-store"
    assert f"{address}{one.pk}.png" in page.content.decode()
    assert b"".join(Client().get(f"{address}{one.pk}.png").streaming_content).endswith(str(one.pk).encode())
    assert Client().get(f"{address}{other.pk}.png").status_code == 404
    assert Client().get(reverse("project", args=[project.pk])).status_code == 302


def test_all_pictures_are_those_that_are_done_also_later(share, project, stranger):
    theirs = picture(take_in({"name": "Other"}, stranger))
    first, waiting = picture(project), picture(project, "tracing")
    address = share()
    later = picture(project)
    page = Client().get(address).content.decode()
    assert [f"{address}{one.pk}.png" in page for one in (first, later, waiting, theirs)] == [True, True, False, False]
    assert Client().get(f"{address}{theirs.pk}.png").status_code == 404


def test_a_link_shows_nothing_once_it_is_withdrawn_or_what_it_shows_is_in_the_bin(share, project, signed_in):
    one = picture(project)
    address, whole = share(picture=one.pk), share()
    one.put_away()
    assert Client().get(address).status_code == 404
    assert f"{one.pk}.png" not in Client().get(whole).content.decode()
    one.put_back()
    assert Client().get(address).status_code == 200
    project.put_away()
    assert Client().get(whole).status_code == 404
    project.put_back()
    for link in ShareLink.objects.all():
        signed_in.post(reverse("link-withdraw", args=[project.pk, link.pk]))
    for gone in (address, whole, f"{address}{one.pk}.png", "/shared/nonsense/"):
        assert Client().get(gone).status_code == 404


def test_only_its_hash_is_kept_and_only_ones_own_pictures_are_shared(share, project, signed_in, stranger):
    assert share().split("/")[2] not in str(ShareLink.objects.values())
    theirs = picture(take_in({"name": "Other"}, stranger))
    for number in (theirs.pk, "x", 10**30):
        assert signed_in.post(reverse("link-make", args=[project.pk]), {"picture": number}).status_code == 404
