"""What ships with the application and under which licence: front-end files and the packages it needs; also as a bill of
materials (CycloneDX 1.5)."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from importlib.metadata import PackageNotFoundError, distribution
from typing import Any

from django.conf import settings
from packaging.requirements import Requirement

VENDOR = "studio/static/vendor/"
LONGEST = 60
"""A licence that is longer is a text, and no name."""


@dataclass(frozen=True)
class Shipped:
    """One thing: a package with its version and licence; ``sha256`` is that of a file which ships as it is."""

    name: str
    version: str
    licence: str
    file: str = ""
    sha256: str = ""

    @property
    def url(self) -> str:
        """Its package URL."""
        return f"pkg:{'npm' if self.file else 'pypi'}/{self.name.replace('@', '%40')}@{self.version}"


@lru_cache(maxsize=1)
def shipped() -> tuple[Shipped, ...]:
    """The files of the front end, then the packages, by name."""
    told = json.loads((settings.BASE / "static/vendor/vendored.json").read_text())
    files = [
        Shipped(one["name"], one["version"], one["licence"], one["file"].rpartition("vendor/")[2], one["sha256"])
        for one in told
        if VENDOR in one["file"]  # others are for tests
    ]
    return (*files, *sorted(_packages("ashfell", set()), key=lambda one: one.name))


def _packages(name: str, met: set[str]) -> Iterator[Shipped]:
    """What a package needs, and what that needs."""
    try:
        needs = distribution(name).requires or ()
    except PackageNotFoundError:
        return
    # What is needed for an extra only does not ship, but for our own web part; nor what another system needs.
    here = {"extra": "web" if name == "ashfell" else ""}
    for need in map(Requirement, needs):
        if (need.marker and not need.marker.evaluate(here)) or _plain(need.name) in met:
            continue
        met.add(_plain(need.name))
        try:
            own = distribution(need.name)
        except PackageNotFoundError:
            continue  # of another system
        yield Shipped(own.metadata["Name"], own.version, _licence(own.metadata))
        yield from _packages(need.name, met)


def _plain(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


def _licence(metadata: Any) -> str:
    named = metadata.get("License-Expression") or metadata.get("License") or ""
    if named and len(named) <= LONGEST:
        return str(named)
    classes = [one.rpartition(" :: ")[2] for one in metadata.get_all("Classifier") or () if one.startswith("License")]
    return ", ".join(one for one in classes if one != "OSI Approved") or "see its package"


def bill() -> dict[str, Any]:
    """The bill of materials."""
    return {
        "bomFormat": "CycloneDX",
        "specVersion": "1.5",
        "version": 1,
        "metadata": {
            "component": {"type": "application", "name": "ashfell", "version": distribution("ashfell").version}
        },
        "components": [
            {
                "type": "file" if one.file else "library",
                "name": one.file or one.name,
                "version": one.version,
                "licenses": [{"license": {"name": one.licence}}],
                "purl": one.url,
            }
            | ({"hashes": [{"alg": "SHA-256", "content": one.sha256}]} if one.sha256 else {})
            for one in shipped()
        ],
    }
