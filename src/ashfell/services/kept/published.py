"""What a person may take from: the catalogue that ships, and what they published from any of their projects."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils.text import slugify

from ashfell.core.base.document import Data, dump, read
from ashfell.core.unit.edit.hardware import piece_at
from ashfell.core.unit.item import Item, updated
from ashfell.core.unit.piece import PieceDocument
from ashfell.core.unit.words import difference_words
from ashfell.services.catalogue.shipped import FAMILIES, HARDWARE, catalogue
from ashfell.services.kept.models import Published, Record

OWN = "Published by you"
"""The family of what people published themselves."""
ALL_FAMILIES = (*FAMILIES, OWN)


@transaction.atomic
def publish(record: Record, person: Any, news: str = "") -> int:
    """Publish a unit as it is, for all projects of a person: a new version where it differs from the last. Its number.

    A unit that was taken from the catalogue is published as the person's own.
    """
    data = {name: own for name, own in record.data.items() if name != "source"}
    return _publish(record, person, key_of(record), data, news)


@transaction.atomic
def publish_piece(record: Record, person: Any, address: str, name: str) -> int:
    """Publish a piece of hardware of a unit under a name, as :func:`publish` does. Its number.

    Raises
    ------
    Refusal
        When there is no piece at the address, or its name says nothing.
    """
    own = piece_at(record.data, address)
    data = dump(read(PieceDocument, {"name": name, "hardware": own}))
    return _publish(record, person, key_of_piece(data["name"]), data, "")


def key_of_piece(name: str) -> str:
    """What a piece of a name is published as; one name is one piece."""
    return f"piece-{slugify(name)[:50] or 'own'}"


def _publish(record: Record, person: Any, key: str, data: Data, news: str) -> int:
    last = Published.everything.filter(owner=person, key=key).last()
    if last is not None and last.data == data:
        put_back(person, key)
        return last.version
    version = (last.version if last else 0) + 1
    Published.objects.create(owner=person, record=record, key=key, version=version, data=data, news=news.strip()[:200])
    return version


def key_of(record: Record) -> str:
    """What a unit is published as."""
    return f"own-{record.pk}"


def take_out(person: Any, key: str) -> int:
    """Take what a person published out of their catalogue, all versions of it; how many of their units came from it,
    which stay as they are."""
    for version in Published.objects.filter(owner=person, key=key):
        version.put_away()
    return Record.objects.filter(project__members=person, kind="unit", current__data__source__item=key).count()


def put_back(person: Any, key: str) -> None:
    """Put what was taken out back."""
    for version in Published.everything.filter(owner=person, key=key):
        version.put_back()


def taken_out(person: Any) -> dict[str, str]:
    """What was taken out and can be put back: names by key."""
    gone = Published.everything.filter(owner=person).exclude(binned=None)
    return {one.key: str(one.data["name"]) for one in gone}


def items_for(person: Any) -> list[Item]:
    """All that a person may take from, in its newest versions: what ships, then their own by name."""
    newest = {one.key: one for one in Published.objects.filter(owner=person).select_related("record__project")}
    return [*catalogue().values(), *sorted(map(_item, newest.values()), key=lambda item: item.name)]


def item_for(person: Any, key: str) -> Item | None:
    """The newest version of an item; None where this person has none of that key."""
    shipped = catalogue().get(key)
    if shipped is not None:
        return shipped
    own = Published.objects.filter(owner=person, key=key).last()
    return _item(own) if own else None


def _item(one: Published) -> Item:
    document = one.data
    is_piece = "hardware" in document
    words = ", ".join(document.get("tags", ())) or f"{'a piece' if is_piece else 'a unit'} of your own"
    made_in = one.record.project.name if one.record else "a project that is gone"
    family = HARDWARE if is_piece else OWN
    return Item(one.key, str(document["name"]), words, made_in, family, document, one.version, one.news)


def update_for(record: Record, person: Any) -> tuple[Item, Data, list[str]] | None:
    """A newer version of the item that a unit was taken from: that, the unit as it would be, and what would differ in
    words. None where there is none."""
    source = record.data.get("source")
    item = item_for(person, source["item"]) if source else None
    if source is None or item is None or item.version <= source["version"]:
        return None
    data = updated(record.data, item)
    return item, data, difference_words(record.data, data)
