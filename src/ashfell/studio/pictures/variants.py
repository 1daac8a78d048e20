"""Variants of a project: the rows of a sheet. Each is what becomes of the settings and of the site."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from django.http import QueryDict
from django.utils import timezone

from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.core.finishing.uses import replaced
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.services.kept.models import Project, Revision

LATEST = 300
"""How many revisions are offered, of all units together."""


@dataclass(frozen=True)
class Variant:
    """A row of a sheet: its words, what becomes of the settings, and of the site."""

    words: str
    settings: Callable[[Data], Data] = dict
    site: Callable[[Data], Data] = dict


def variants_of(owner: Project, typed: QueryDict) -> list[Variant]:
    """The variants that are asked for.

    Raises
    ------
    Refusal
        When nothing is chosen, or something cannot be read.
    """
    return WAYS.get(typed.get("by", ""), _by_finishes)(owner, typed)


def _by_finishes(owner: Project, typed: QueryDict) -> list[Variant]:
    """One finish, then others in its place."""
    finishes, key = owner.all_finishes(), typed.get("finish", "")
    others = [other for other in dict.fromkeys(typed.getlist("other")) if other in finishes]
    if key not in finishes:
        raise Refusal("finish", "a finish", "No finish is chosen.", "Choose the one that is to vary.")

    def in_place(other: str) -> Callable[[Data], Data]:
        return lambda site: replaced(site, key, other)

    return [Variant(finishes[other].name, site=in_place(other)) for other in others]


def _by_hours(owner: Project, typed: QueryDict) -> list[Variant]:
    """The sun of a place at hours of a day."""
    day, found = typed.get("day", ""), list[Variant]()
    place = {name: typed.get(name, "") for name in ("latitude", "longitude", "utc_offset")}

    def at(hour: str) -> Callable[[Data], Data]:
        sun = {"by": "place", "moment": f"{day}T{hour}"} | place
        return lambda settings: settings | {"sun": sun}

    for text in typed.get("hours", "").replace(",", " ").split():
        hour, _, minute = text.partition(":")
        whole = hour.isdecimal() and (minute or "0").isdecimal() and int(hour) < 24 and int(minute or 0) < 60
        if not whole:
            raise Refusal("hours", "hours of a day", f"“{text}” is no hour.", "Type them as 8:00, 12:30, 20:00.")
        clock = f"{int(hour):02d}:{int(minute or 0):02d}"
        found.append(Variant(clock, settings=at(clock)))
    return found


def _by_units(owner: Project, typed: QueryDict) -> list[Variant]:
    """One unit, then others where it stands, at its size."""
    names, key = {unit.key: unit.name for unit in owner.units}, typed.get("unit", "")
    others = [other for other in dict.fromkeys(typed.getlist("instead")) if other in names]
    if key not in names:
        raise Refusal("unit", "a unit", "No unit is chosen.", "Choose the one that is to vary.")

    def in_place(other: str) -> Callable[[Data], Data]:
        def changed(site: Data) -> Data:
            own = site["units"][key]
            sizes = {name: own[name] for name in ("width", "height")}
            placements = [
                one | {name: one.get(name) or size for name, size in sizes.items()} | {"unit": other}
                if one.get("unit") == key
                else one
                for one in site["placements"]
            ]
            return _standing(site, site | {"placements": placements}, names[other])

        return changed

    return [Variant(names[other], site=in_place(other)) for other in others]


def _by_versions(owner: Project, typed: QueryDict) -> list[Variant]:
    """Revisions of units, each as it was then."""
    chosen = [text for text in dict.fromkeys(typed.getlist("revision")) if text.isdecimal() and len(text) < 18]
    found = {one.pk: one for one in Revision.objects.filter(record__in=owner.units, pk__in=chosen)}

    def as_then(revision: Revision) -> Callable[[Data], Data]:
        def changed(site: Data) -> Data:
            units: Mapping[str, Data] = site["units"] | {revision.record.key: revision.document}
            return _standing(site, site | {"units": units}, words_of(revision))

        return changed

    return [Variant(words_of(found[int(pk)]), site=as_then(found[int(pk)])) for pk in chosen if int(pk) in found]


def _by_opened(owner: Project, typed: QueryDict) -> list[Variant]:
    """Everything that opens as far as is asked for."""

    def opened(percent: float) -> Callable[[Data], Data]:
        return lambda site: site | {"placements": [one | {"opened": percent} for one in site["placements"]]}

    found = []
    for text in typed.get("opened", "").replace(",", " ").replace("%", " ").split():
        if not text.isdecimal() or int(text) > 100:
            raise Refusal("opened", "0 to 100 percent", f"“{text}” is no amount.", "Type them as 0, 30, 100.")
        found.append(Variant(f"{int(text)} % open", site=opened(float(text))))
    return found


WAYS: dict[str, Callable[[Project, QueryDict], list[Variant]]] = {
    "finishes": _by_finishes,
    "hours": _by_hours,
    "units": _by_units,
    "versions": _by_versions,
    "opened": _by_opened,
}
"""What the rows of a sheet can vary by."""


def _standing(before: Data, after: Data, words: str) -> Data:
    """A changed site; refused where something does not stand in it any more that does before."""
    refused = build_scene(read_site(after)).refused
    known = {place for place, _ in build_scene(read_site(before)).refused} if refused else set()
    for place, refusal in refused:
        if place not in known:
            told = f"{words}: {refusal.message}"
            raise Refusal(refusal.entry, refusal.rule, told, "Choose another for these openings.")
    return after


def offered_versions(owner: Project) -> list[tuple[str, list[tuple[int, str]]]]:
    """The latest revisions of units, by the unit's name, the newest first; of units that have several of them."""
    latest = Revision.objects.filter(record__in=owner.units).select_related("record").defer("data", "underlay")
    by_unit: dict[str, list[tuple[int, str]]] = {}
    for one in latest.order_by("-pk")[:LATEST]:
        by_unit.setdefault(one.record.name, []).append((one.pk, words_of(one)))
    return sorted((name, found) for name, found in by_unit.items() if len(found) > 1)


def words_of(revision: Revision) -> str:
    """A revision in words: its unit, its name or what was done, and when."""
    when = timezone.localtime(revision.made)
    told = revision.label or revision.words or "as it was made"
    return f"{revision.record.name}: {told}, {when.day} {when:%B %H:%M}"
