"""The HTTP interface: projects, their documents, audits, files and pictures."""

from __future__ import annotations

from typing import Annotated, Any

from django.db import transaction
from django.http import FileResponse, Http404, HttpRequest
from django.shortcuts import get_object_or_404
from ninja import NinjaAPI, Path, Query, Status

from ashfell.core.audit.finding import Finding
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import SiteDocument
from ashfell.formats.findings import read_findings
from ashfell.pictures.settings import PictureSettings
from ashfell.services.documents import check_site, check_unit, finish_of, scene_of, unit_of
from ashfell.services.handover import FORMATS, chosen, of_site
from ashfell.services.handover import told as format_of
from ashfell.services.kept import records
from ashfell.services.kept.models import Project, Record
from ashfell.services.kept.records import record_of, refuse_unknown_finishes
from ashfell.studio.answers import person_of
from ashfell.studio.api import schemas
from ashfell.studio.api.access import Bearer, asked_as_of, may_write, project_for, tell_what_is_wrong
from ashfell.studio.handover.behind import digest_of, is_audited_behind, is_large_site, made_behind
from ashfell.studio.handover.models import SELECTED, Handover, kind_of
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import ask_pass

api = NinjaAPI(title="Ashfell", version="1", docs_url=None, auth=Bearer(), urls_namespace="api")
tell_what_is_wrong(api)

MOST = 200
"""How many of a list are told at once."""
Limit = Annotated[int, Query(ge=1, le=MOST)]
Offset = Annotated[int, Query(ge=0, le=10**6)]
Id = Annotated[int, Path(ge=0, le=2**31)]
Kind = Annotated[str, Path(pattern="^(units|finishes)$")]
Key = Annotated[str, Path(max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")]
KINDS = {"units": "unit", "finishes": "finish"}
READ: dict[Any, Any] = {401: schemas.Told, 404: schemas.Told, 422: schemas.Wrong}
AUDITED = {200: list[schemas.FindingOut], 202: schemas.FileOut} | READ
WRITTEN = READ | {400: schemas.Told, 403: schemas.Told}
"""How what is asked for, or asked to be written, may be answered besides."""
KEPT = {200: schemas.Stored, 201: schemas.Stored, 409: schemas.StaleOut} | WRITTEN


def bytes_of(*media: str) -> dict[str, Any]:
    """What an answer is described as that is a file of one of some media types."""
    content = {one: {"schema": {"type": "string", "format": "binary"}} for one in media}
    return {"responses": {200: {"description": "The file", "content": content}}}


WRITABLE = bytes_of(*dict.fromkeys(one.media for one in FORMATS.values()))


# --- projects


@api.get("/projects", response={200: list[schemas.ProjectOut]} | READ, tags=["projects"])
def projects(request: HttpRequest, limit: Limit = MOST, offset: Offset = 0) -> Any:
    """The projects of the token's person, by name."""
    return list(Project.objects.filter(members=person_of(request))[offset : offset + limit])


@api.post("/projects", response={201: schemas.ProjectOut} | WRITTEN, tags=["projects"])
def make_project(request: HttpRequest, typed: schemas.ProjectIn) -> Any:
    """An empty project."""
    may_write(request)
    with transaction.atomic():
        project = Project.objects.create(name=typed.name, lengths=typed.lengths)
        project.members.add(person_of(request))
        Record.start(project, "site", "site", dump(SiteDocument(name=typed.name)), request.user)
    return Status(201, project)


@api.get("/projects/{project}", response={200: schemas.ProjectOut} | READ, tags=["projects"])
def project_by_id(request: HttpRequest, project: Id) -> Any:
    """One project."""
    return project_for(request, project)


# --- the site


@api.get("/projects/{project}/site", response={200: schemas.RecordOut} | READ, tags=["site"])
def site(request: HttpRequest, project: Id) -> Any:
    """The document of the site, without the units and finishes that it uses."""
    return _record(project_for(request, project).site)


@api.put("/projects/{project}/site", response=KEPT, tags=["site"])
def save_site(request: HttpRequest, project: Id, typed: schemas.RecordIn) -> Any:
    """Keep the document of the site."""
    owner = project_for(request, project, write=True)
    document = typed.document | owner.stock
    whole = dump(scene_of(document).site) | {"units": {}, "finishes": {}}
    return _saved(owner.site, whole, typed.revision, request)


@api.get("/projects/{project}/audit", response=AUDITED, tags=["site"])
def audit(request: HttpRequest, project: Id) -> Any:
    """What the audit finds of the whole site. A large one is audited by the worker: until it is there, the file that
    will hold it; ask again then."""
    site = project_for(request, project).site
    document = site.project.composed(site.data)
    return _audited(request, site, document) if is_large_site(document) else _findings(check_site(document)[1])


# --- files


@api.get("/formats", response={200: list[schemas.FormatOut]} | READ, tags=["files"])
def formats(request: HttpRequest) -> Any:
    """What can be written, and what can be set about each."""
    return [
        {
            "format": one.key,
            "of": list(one.of),
            "suffix": one.suffix,
            "media": one.media,
            "holds": one.holds,
            "options": {option.key: list(option.words) for option in one.options},
        }
        for one in FORMATS.values()
    ]


@api.post("/projects/{project}/files", response={202: schemas.FileOut} | WRITTEN, tags=["files"])
def ask_for_file(request: HttpRequest, project: Id, typed: schemas.FileIn) -> Any:
    """Ask for a file; the worker writes it. Asked again under the same ``Idempotency-Key`` it is the same one."""
    owner = project_for(request, project)
    may_write(request)
    of, _, key = typed.what.partition(":")
    kind = format_of(typed.format, kind_of(typed.what))
    options = chosen(kind, typed.options)
    data: Data = _record_of(request, project, "units", key).data if of == "unit" else owner.composed_site()
    if of == SELECTED:
        of_site(data, owner.style, selected=typed.selected)
        options[SELECTED] = ",".join(typed.selected)
    person, asked_as = person_of(request), asked_as_of(request)
    with transaction.atomic():
        made = Handover.asked_before(project, person, asked_as)
        if made is None:
            Handover.room_for(person)
            own = {"project": owner, "author": person, "asked_as": asked_as}
            made = Handover.objects.create(**own, what=typed.what, kind=kind.key, options=options, document=data)
            write_file.enqueue(made.pk)
    return Status(202, _file(made))


@api.get("/projects/{project}/files/{file}", response={200: schemas.FileOut} | READ, tags=["files"])
def file(request: HttpRequest, project: Id, file: Id) -> Any:
    """How far a file has come."""
    return _file(get_object_or_404(Handover, pk=file, project=project_for(request, project)))


@api.get("/projects/{project}/files/{file}/content", response=READ, tags=["files"], openapi_extra=WRITABLE)
def content(request: HttpRequest, project: Id, file: Id) -> Any:
    """A file that is written."""
    found = get_object_or_404(Handover, pk=file, project=project_for(request, project))
    if not found.has_file:
        raise Http404
    return FileResponse(found.file.open("rb"), filename=found.name, content_type=found.format.media)


# --- pictures


@api.get("/projects/{project}/pictures", response={200: list[schemas.PictureOut]} | READ, tags=["pictures"])
def pictures(request: HttpRequest, project: Id, limit: Limit = MOST, offset: Offset = 0) -> Any:
    """The pictures of a project, the newest first."""
    return [_picture(one) for one in project_for(request, project).pictures.all()[offset : offset + limit]]


@api.post("/projects/{project}/pictures", response={202: schemas.PictureOut} | WRITTEN, tags=["pictures"])
def ask_for_picture(request: HttpRequest, project: Id, typed: schemas.PictureIn) -> Any:
    """Put a picture into the queue. Asked again under the same ``Idempotency-Key`` it is the same one."""
    owner = project_for(request, project, write=True)
    settings, whole = read(PictureSettings, typed.settings), owner.composed_site()
    if not scene_of(whole).scene.instances:
        raise Refusal("site", "something to see", "There is nothing on the site yet.", "Add a wall first.")
    person, asked_as = person_of(request), asked_as_of(request)
    with transaction.atomic():
        made = Picture.asked_before(project, person, asked_as)
        if made is None:
            Picture.room_for(person)
            own = {"project": owner, "author": person, "asked_as": asked_as}
            made = Picture.objects.create(**own, settings=dump(settings), site=whole)
            ask_pass(made)
    return Status(202, _picture(made))


@api.get("/projects/{project}/pictures/{picture}", response={200: schemas.PictureOut} | READ, tags=["pictures"])
def picture(request: HttpRequest, project: Id, picture: Id) -> Any:
    """How far a picture has come."""
    return _picture(get_object_or_404(Picture, pk=picture, project=project_for(request, project)))


@api.get(
    "/projects/{project}/pictures/{picture}/image",
    response=READ,
    tags=["pictures"],
    openapi_extra=bytes_of("image/png"),
)
def image(request: HttpRequest, project: Id, picture: Id) -> Any:
    """The image as far as it has come, as PNG."""
    found = get_object_or_404(Picture, pk=picture, project=project_for(request, project))
    if not found.has_image:
        raise Http404
    return FileResponse(found.image.open("rb"), content_type="image/png")


# --- units and finishes: behind all other addresses of a project, since theirs begin with any word


@api.get("/projects/{project}/{kind}", response={200: list[schemas.RecordLine]} | READ, tags=["units and finishes"])
def listed(request: HttpRequest, project: Id, kind: Kind, limit: Limit = MOST, offset: Offset = 0) -> Any:
    """The units, or the project's own finishes, by key."""
    found = project_for(request, project).records.filter(kind=KINDS[kind]).select_related("current")
    return [_line(one) for one in found[offset : offset + limit]]


@api.get("/projects/{project}/{kind}/{key}", response={200: schemas.RecordOut} | READ, tags=["units and finishes"])
def document(request: HttpRequest, project: Id, kind: Kind, key: Key) -> Any:
    """One of them, with its document."""
    return _record(_record_of(request, project, kind, key))


@api.put("/projects/{project}/{kind}/{key}", response=KEPT, tags=["units and finishes"])
def save(request: HttpRequest, project: Id, kind: Kind, key: Key, typed: schemas.RecordIn) -> Any:
    """Keep a document under a key. One that is not there is made with revision 0; made again with the same document it
    is the same one."""
    owner = project_for(request, project, write=True)
    made = dump(unit_of(typed.document).document if kind == "units" else finish_of(typed.document))
    if kind == "units":
        refuse_unknown_finishes(owner, made)
    with transaction.atomic():
        existing = owner.records.select_related("current").filter(kind=KINDS[kind], key=key).first()
        if existing is None:
            if typed.revision:
                raise Http404
            started = Record.start(owner, KINDS[kind], key, made, request.user)
            return Status(201, _line(started))
    if not typed.revision and existing.data == made:
        return Status(200, _line(existing))
    return _saved(existing, made, typed.revision, request)


@api.get(
    "/projects/{project}/units/{key}/audit",
    response=AUDITED,
    tags=["units and finishes"],
)
def audit_unit(request: HttpRequest, project: Id, key: Key) -> Any:
    """What the audit finds of a unit; a large one as a large site."""
    record = _record_of(request, project, "units", key)
    return (
        _audited(request, record, record.data)
        if is_audited_behind(record.data)
        else _findings(check_unit(record.data)[1])
    )


# --- as data


def _record_of(request: HttpRequest, project: int, kind: str, key: str) -> Record:
    return record_of(request.user, project, KINDS[kind], key)


def _line(record: Record) -> Data:
    return {"key": record.key, "name": record.name, "revision": record.current_id}


def _record(record: Record) -> Data:
    return _line(record) | {"document": record.data}


def _saved(record: Record, data: Data, revision: int, request: HttpRequest) -> Status[Data]:
    records.save(record, data, revision, request.user, "by a program")
    return Status(200, _line(record))


def _audited(request: HttpRequest, record: Record, document: Data) -> Any:
    """What the worker found, or the file that waits for it."""
    made = made_behind(record, request.user, "audit", document, digest_of(document))
    return _findings(read_findings(made.file.read_bytes())[0]) if made.has_file else Status(202, _file(made))


def _findings(found: list[Finding]) -> list[dict[str, str]]:
    return [finding.as_dict() for finding in found]


def _file(found: Handover) -> Data:
    own = {name: getattr(found, name) for name in ("what", "state", "name", "size", "reason", "doing", "done", "of")}
    return own | {"id": found.pk, "format": found.kind}


def _picture(found: Picture) -> Data:
    own = {name: getattr(found, name) for name in ("state", "passes", "passes_done", "seconds", "reason", "settings")}
    return own | {"id": found.pk}
