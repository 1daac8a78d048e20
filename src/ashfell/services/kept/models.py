"""Projects, their members, and the documents they hold, every change of which is a revision."""

from __future__ import annotations

import hashlib
from typing import Any, ClassVar, Literal, Self, TypeVar

from django.conf import settings
from django.db import models, transaction
from django.db.models import F
from django.utils import timezone
from django.utils.text import slugify
from pydantic import BaseModel

from ashfell.core.base.document import dump, read
from ashfell.core.base.lengths import STYLES, Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY, Finish
from ashfell.core.finish.images import Pixels
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.upgrade import STEPS, upgraded
from ashfell.services.images import pixels_of
from ashfell.services.kept.prepared import Prepared

Data = dict[str, Any]
Own = TypeVar("Own", bound=models.Model)
MODELS: dict[str, type[BaseModel]] = {"unit": UnitDocument, "site": SiteDocument, "finish": Finish}
RESERVED = ("new", "take-in", "start", "compare")
"""Words that stand in addresses where a record's key does."""


def with_every_entry(kind: str, data: Data) -> Data:
    """A document as it is kept: with every entry that there is. One of an earlier format, or that can no longer be
    read, stays as it is."""
    if data.get("format") in STEPS:
        return data
    try:
        return dump(read(MODELS[kind], data))
    except Refusal:
        return data


class Kept(models.Manager[Own]):
    """What is not in the bin."""

    def get_queryset(self) -> models.QuerySet[Own]:
        return super().get_queryset().filter(binned=None)


class Binnable(models.Model):
    """What can be put into the bin, and back. ``objects`` are those that are not in it."""

    binned = models.DateTimeField(null=True, editable=False)

    objects: ClassVar[Kept[Self]] = Kept()
    everything: ClassVar[models.Manager[Self]] = models.Manager()

    class Meta:
        abstract = True

    def put_away(self) -> None:
        """Into the bin; it stays as it is."""
        type(self).everything.filter(pk=self.pk, binned=None).update(binned=timezone.now())

    def put_back(self) -> None:
        """Out of the bin."""
        type(self).everything.filter(pk=self.pk).update(binned=None)


class Role(models.TextChoices):
    """What a member may do: an owner also who else may, and delete for good."""

    OWNER = "owner"
    EDITOR = "editor"
    VIEWER = "viewer"


class Project(Binnable):
    """A building somebody makes pictures of. Only its members see it."""

    LENGTHS = {"mm": "Millimetres", "cm": "Centimetres", "m": "Metres", "in": "Inches", "ft-in": "Feet and inches"}

    name = models.CharField(max_length=80)
    lengths = models.CharField(max_length=8, choices=LENGTHS, default="mm")
    members = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="projects", through="Membership")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def style(self) -> Style:
        return STYLES[self.lengths]

    @property
    def site(self) -> Record:
        return self.records.get(kind=Record.Kind.SITE)

    @property
    def units(self) -> models.QuerySet[Record]:
        return self.records.filter(kind=Record.Kind.UNIT).select_related("current")

    @property
    def finishes(self) -> models.QuerySet[Record]:
        return self.records.filter(kind=Record.Kind.FINISH).select_related("current")

    def documents(self, kind: str) -> dict[str, Data]:
        """Those of a kind that are in force, by their keys."""
        return {made.key: made.document for made in IN_FORCE(project=self.pk, kind=kind)}

    def own_finishes(self) -> dict[str, Finish]:
        return {key: Finish.model_validate(data) for key, data in self.documents(Record.Kind.FINISH).items()}

    def all_finishes(self) -> dict[str, Finish]:
        """Those that ship and the project's own."""
        return LIBRARY | self.own_finishes()

    @property
    def face(self) -> Any:
        """The newest finished picture, if there is one."""
        return self.pictures.filter(state="done", sheet=None).first()

    def composed_site(self) -> Data:
        """The site document as it is kept, with the units and own finishes it may use."""
        return self.composed(self.site.data)

    def composed(self, site: Data) -> Data:
        """A site document with the project's units and own finishes."""
        return site | self.stock

    @property
    def stock(self) -> Data:
        """The units and own finishes that its site may use."""
        return {"units": self.documents(Record.Kind.UNIT), "finishes": self.documents(Record.Kind.FINISH)}

    def free_key(self, kind: str, name: str) -> str:
        """A key for a new record, from its name."""
        stem = slugify(name)[:50].strip("-") or kind
        stem = f"{stem}-{kind}" if stem in RESERVED else stem
        alike = Record.everything.filter(project=self, kind=kind, key__startswith=stem)
        taken = set(alike.values_list("key", flat=True))
        return next(key for n in range(1, len(taken) + 2) if (key := stem if n == 1 else f"{stem}-{n}") not in taken)


class Membership(models.Model):
    """What a person may do in a project."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=8, choices=Role, default=Role.OWNER)

    class Meta:
        db_table = "projects_project_members"
        ordering = ["pk"]
        unique_together = [("project", "user")]

    def __str__(self) -> str:
        return f"{self.user}, {self.role} of {self.project}"


class Stale(Exception):
    """A save that started from another revision than the current one; ``offered`` holds what it would have saved."""

    def __init__(self, offered: Revision) -> None:
        super().__init__("This was changed since it was opened.")
        self.offered = offered


class Record(Binnable):
    """A document a project holds: a unit, the site, or a finish of its own."""

    class Kind(models.TextChoices):
        UNIT = "unit"
        SITE = "site"
        FINISH = "finish"

    project = models.ForeignKey(Project, models.CASCADE, related_name="records")
    kind = models.CharField(max_length=8, choices=Kind)
    key = models.SlugField(max_length=60)
    current = models.ForeignKey("Revision", models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ["key"]
        constraints = [models.UniqueConstraint(fields=["project", "kind", "key"], name="one_record_for_each_key")]

    def __str__(self) -> str:
        return f"{self.kind} {self.key}"

    @property
    def data(self) -> Data:
        """The document in force."""
        assert self.current is not None
        return self.current.document

    @property
    def underlay(self) -> Data | None:
        """What lies under it to be traced over, if something does: a part of every revision."""
        return self.current.underlay if self.current else None

    @property
    def name(self) -> str:
        return str(self.data["name"])

    @classmethod
    @transaction.atomic
    def start(
        cls, project: Project, kind: str, key: str, data: Data, author: Any = None, underlay: Data | None = None
    ) -> Record:
        """A new record with its first revision.

        Raises
        ------
        Refusal
            When one of that key lies in the bin.
        """
        if cls.everything.filter(project=project, kind=kind, key=key).exclude(binned=None).exists():
            message, remedy = f"The {kind} “{key}” lies in the bin.", "Put it back, or delete it there for good."
            raise Refusal("key", "a free key", message, remedy)
        record = cls.objects.create(project=project, kind=kind, key=key)
        made = with_every_entry(kind, data)
        record.current = record.revisions.create(data=made, underlay=underlay, author=author, words="Made")
        record.save(update_fields=["current"])
        return record

    def save_change(
        self,
        data: Data,
        base: int,
        author: Any,
        words: str = "",
        underlay: Data | Literal["as it is"] | None = "as it is",
    ) -> Revision:
        """Make ``data`` the current revision, if the current one is still ``base``; with the underlay there is, or
        another.

        Raises
        ------
        Stale
            When it is not; what was to be saved is kept as a revision that is offered.
        """
        with transaction.atomic():
            under = self.underlay if underlay == "as it is" else underlay
            parent = base if self.revisions.filter(pk=base).exists() else None
            revision = self.revisions.create(
                parent_id=parent, data=data, underlay=under, author=author, words=words[:200]
            )
            if self._move(base, revision):
                return revision
            revision.offered = True
            revision.save(update_fields=["offered"])
        raise Stale(revision)

    def choose(self, revision: Revision, base: int) -> bool:
        """Make another revision of this record the current one; False when somebody was faster."""
        if revision.offered:
            self.revisions.filter(pk=revision.pk).update(offered=False, parent_id=base)
        return self._move(base, revision)

    @property
    def undone(self) -> Revision | None:
        """What undo would go back to."""
        return REVISION.first(revision=self.current.parent_id) if self.current else None

    @property
    def redone(self) -> Revision | None:
        """What redo would go on to: the latest change made from here."""
        return LATEST_FROM.first(record=self.pk, parent=self.current_id)

    def _move(self, base: int, revision: Revision) -> bool:
        moved = Record.everything.filter(pk=self.pk, current_id=base).update(current=revision)
        if moved:
            self.current = revision
        return bool(moved)


class Published(Binnable):
    """A version of a unit or a piece that its person published, for all their projects; none is ever changed."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="published")
    record = models.ForeignKey(Record, models.SET_NULL, null=True, related_name="published")
    key = models.SlugField(max_length=60)
    version = models.PositiveIntegerField()
    data = models.JSONField()
    news = models.CharField(max_length=200, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["key", "version"]
        constraints = [models.UniqueConstraint(fields=["owner", "key", "version"], name="one_of_each_version")]

    def __str__(self) -> str:
        return f"{self.key} {self.version}"


class Asset(models.Model):
    """The bytes of an image or a mesh that revisions refer to, kept once whatever refers to it; its key is the SHA-256
    of its content.
    """

    key = models.CharField(max_length=64, primary_key=True)
    content = models.BinaryField()

    def __str__(self) -> str:
        return self.key[:12]

    @classmethod
    def keep(cls, content: bytes) -> str:
        """The key of an image, which is kept if it is not yet."""
        key = hashlib.sha256(content).hexdigest()
        cls.objects.get_or_create(key=key, defaults={"content": content})
        return key


def kept_bytes(key: str) -> bytes | None:
    """The bytes of a mesh that is kept, for models."""
    found = Asset.objects.filter(pk=key).first()
    return bytes(found.content) if found else None


def held(key: str) -> Pixels | None:
    """The pixels of an image that is kept, for textures."""
    found = Asset.objects.filter(pk=key).first()
    return pixels_of(bytes(found.content)) if found else None


class Revision(models.Model):
    """One state of a record. Revisions are never changed or removed, so nothing saved is lost."""

    record = models.ForeignKey(Record, models.CASCADE, related_name="revisions")
    parent = models.ForeignKey("self", models.PROTECT, null=True, related_name="children")
    data = models.JSONField()
    underlay = models.JSONField(null=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    words = models.CharField(max_length=200, blank=True)
    offered = models.BooleanField(default=False)
    label = models.CharField(max_length=80, blank=True)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.record} #{self.pk}"

    @property
    def document(self) -> Data:
        """Its document in the format that is in force; one of an earlier format with every entry there is now, as what
        is kept from then on has them."""
        fresh = dict(upgraded(self.data))
        return with_every_entry(self.record.kind, fresh) if self.data.get("format") in STEPS else fresh


REVISION = Prepared(lambda revision: Revision.objects.filter(pk=revision), "revision")
LATEST_FROM = Prepared(
    lambda record, parent: Revision.objects.filter(record=record, parent=parent, offered=False).order_by("-pk")[:1],
    "record",
    "parent",
)
IN_FORCE: Prepared[Any] = Prepared(
    lambda project, kind: (
        Revision.objects.filter(
            record__project=project, record__kind=kind, record__binned=None, pk=F("record__current")
        )
        .annotate(key=F("record__key"))
        .order_by("key")
    ),
    "project",
    "kind",
)
"""The revisions in force of a project's records of a kind, each with its key."""
