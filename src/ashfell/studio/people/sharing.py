"""Links that show a picture, or all finished pictures of a project, to whoever has them, until they are withdrawn."""

from __future__ import annotations

from django.contrib.auth.decorators import login_not_required
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from ashfell.services.kept.records import project_of
from ashfell.studio.answers import person_of
from ashfell.studio.keeping.models import Event
from ashfell.studio.people.models import ShareLink
from ashfell.studio.pictures.models import Picture

SHOWN = 60
"""How many pictures one page shows."""


@require_GET
def links(request: HttpRequest, project: int) -> HttpResponse:
    """The links of a project."""
    owner = project_of(request.user, project)
    return render(request, "people/links.html", {"project": owner, "nav": "pictures", "links": _links(owner.pk)})


def _links(project: int) -> list[ShareLink]:
    return list(ShareLink.objects.filter(project=project).select_related("author", "picture"))


@require_POST
def share(request: HttpRequest, project: int) -> HttpResponse:
    """Make a link, to a picture or to all; it is told this once."""
    owner, number = project_of(request.user, project), request.POST.get("picture", "")
    picture = None
    if number:
        picture = get_object_or_404(owner.pictures, pk=int(number) if number.isdecimal() and len(number) < 15 else 0)
    made, text = ShareLink.issue(owner, picture, person_of(request))
    Event.tell(project, request.user, f"made a link to {made.words}")
    link = request.build_absolute_uri(reverse("shared", args=[text]))
    shown = {"project": owner, "nav": "pictures", "links": _links(owner.pk), "link": link}
    return render(request, "people/links.html", shown)


@require_POST
def withdraw(request: HttpRequest, project: int, link: int) -> HttpResponse:
    """A link that shows nothing any more."""
    found = get_object_or_404(ShareLink, pk=link, project=project_of(request.user, project))
    Event.tell(project, request.user, f"withdrew a link to {found.words}")
    found.delete()
    return redirect("links", project)


def _shown(text: str) -> tuple[ShareLink, list[Picture]]:
    found = ShareLink.of(text)
    if found is None:
        raise Http404
    pictures = Picture.objects.filter(project=found.project_id, state=Picture.State.DONE)
    if found.picture_id:
        pictures = pictures.filter(pk=found.picture_id)
    return found, [one for one in pictures[:SHOWN] if one.has_image]


@login_not_required
@require_GET
def shared(request: HttpRequest, text: str) -> HttpResponse:
    """What a link shows."""
    found, pictures = _shown(text)
    answer = render(request, "people/shared.html", {"shared": found, "pictures": pictures, "text": text})
    answer["Cache-Control"] = "private, no-store"
    answer["X-Robots-Tag"] = "noindex"
    return answer


@login_not_required
@require_GET
def shared_image(request: HttpRequest, text: str, picture: int) -> FileResponse:
    """One of the pictures that a link shows."""
    _, pictures = _shown(text)
    found = next((one for one in pictures if one.pk == picture), None)
    if found is None:
        raise Http404
    return FileResponse(found.image.open("rb"), content_type="image/png")
