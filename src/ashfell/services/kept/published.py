"""What a person may take from: the catalogue that ships, and the units they published from any of their projects."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from ashfell.core.base.document import Data
from ashfell.core.unit.item import Item, updated
from ashfell.core.unit.words import differences
from ashfell.services.catalogue.shipped import FAMILIES, catalogue
from ashfell.services.kept.models import Published, Record

OWN = "Published by you"
"""The family of what people published themselves."""
ALL_FAMILIES = (*FAMILIES, OWN)


@transaction.atomic
def publish(record: Record, person: Any, news: str = "") -> int:
    """Publish a unit as it is, for all projects of a person: a new version where it differs from the last. Its number.

    A unit that was taken from the catalogue is published as the person's own.
    """
    key, data = key_of(record), {name: own for name, own in record.data.items() if name != "source"}
    last = Published.objects.filter(owner=person, key=key).last()
    if last is not None and last.data == data:
        return last.version
    version = (last.version if last else 0) + 1
    Published.objects.create(owner=person, record=record, key=key, version=version, data=data, news=news.strip()[:200])
    return version


def key_of(record: Record) -> str:
    """What a unit is published as."""
    return f"own-{record.pk}"


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
    words = ", ".join(document.get("tags", ())) or "a unit of your own"
    made_in = one.record.project.name if one.record else "a project that is gone"
    return Item(one.key, str(document["name"]), words, made_in, OWN, document, one.version, one.news)


def update_for(record: Record, person: Any) -> tuple[Item, Data, list[str]] | None:
    """A newer version of the item that a unit was taken from: that, the unit as it would be, and what would differ in
    words. None where there is none."""
    source = record.data.get("source")
    item = item_for(person, source["item"]) if source else None
    if source is None or item is None or item.version <= source["version"]:
        return None
    data = updated(record.data, item)
    return item, data, differences(record.data, data)
