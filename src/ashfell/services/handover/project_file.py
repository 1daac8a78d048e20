"""A whole project as one file: its site, units and finishes as JSON, images as they are kept. Written and taken in
again it is the same to the byte."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any

from pydantic import Field

from ashfell.core.base.document import Data, Document, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.core.site.document.site import read_site
from ashfell.core.solid import meshes
from ashfell.formats.archive import packed
from ashfell.services.finishes import image_keys
from ashfell.services.handover.source import Images
from ashfell.services.images import brought
from ashfell.services.underlays import Underlay

FORMAT = "ashfell/project/1"
LARGEST = 256 * 2**20
"""The largest file that is taken in, and the most that it may hold when it is unpacked, bytes."""
MOST = 20_000
"""The most files in it."""


class KeptRevision(Document):
    """A revision as it is written: see `write_project`."""

    number: Annotated[int, Field(ge=1)]
    parent: Annotated[int, Field(ge=0)]
    made: datetime
    words: Annotated[str, Field(max_length=200)] = ""
    label: Annotated[str, Field(max_length=80)] = ""
    data: Data
    underlay: Underlay | None = None
    offered: bool = False
    current: bool = False


@dataclass(frozen=True)
class Taken:
    """A project from a file: its site with units and finishes, the images that these show and the meshes of models, by
    key, and what lies under its documents and all their revisions, by their names in the file (``site``,
    ``units/key``)."""

    site: Data
    images: dict[str, bytes]
    underlays: dict[str, Data] = field(default_factory=dict)
    revisions: dict[str, list[Data]] = field(default_factory=dict)


def write_project(
    site: Data, images: Images, underlays: Mapping[str, Data] = {}, revisions: Mapping[str, Sequence[Data]] = {}
) -> bytes:
    """A site with all that it uses, as one file; with what lies under its documents, and with their revisions where
    these are asked for. A revision has a number of its own, that of its parent (0 without one), when it was made, its
    words, label, document and underlay, and says whether it was offered or is in force.
    """
    whole = dict(site)
    units, finishes = whole.pop("units", {}), whole.pop("finishes", {})
    files = {"project.json": _json({"format": FORMAT}), "site.json": _json(whole)}
    files |= {f"units/{key}.json": _json(data) for key, data in sorted(units.items())}
    files |= {f"finishes/{key}.json": _json(data) for key, data in sorted(finishes.items())}
    files |= {f"underlays/{name}.json": _json(data) for name, data in sorted(underlays.items())}
    files |= {f"revisions/{name}.json": _json(list(told)) for name, told in sorted(revisions.items())}
    earlier = [one for told in revisions.values() for one in told]
    shown = {key for data in finishes.values() for key in image_keys(read(Finish, data))}
    shown |= {key for one in earlier for key in _maps(one["data"]).values() if key}
    shown |= {
        one["image"] for one in (*underlays.values(), *(one["underlay"] or {} for one in earlier)) if one.get("image")
    }
    for key in sorted(shown):
        content = images(key)
        if content is not None:
            files[f"images/{key}.png"] = content
    for key in sorted({*_meshes(whole), *(key for one in earlier for key in _meshes(one["data"]))}):
        content = images(key)
        if content is not None:
            files[f"models/{key}.mesh"] = content
    return packed(files)


def _maps(finish: Data) -> Data:
    """The images that a finish shows, by what they are for."""
    texture = finish.get("texture")
    maps = texture.get("maps") if isinstance(texture, dict) else None
    return maps if isinstance(maps, dict) else {}


def _meshes(site: Data) -> list[str]:
    """The meshes that models of a site are."""
    beside = site.get("surroundings", ())
    return [one["mesh"] for one in beside if isinstance(one, dict) and isinstance(one.get("mesh"), str) and one["mesh"]]


def _json(data: Any) -> bytes:
    return (json.dumps(data, indent=1, ensure_ascii=False, sort_keys=True) + "\n").encode()


def read_project(content: bytes) -> Taken:
    """A project from a file that somebody brings. Every document is checked, and kept as it is; every image read again
    as one that is brought.

    Raises
    ------
    Refusal
        When it is no such file, holds too much, or a document in it is wrong; the entry names the file.
    """
    if len(content) > LARGEST:
        raise _refused(f"The file is larger than {LARGEST // 2**20} MiB.")
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            files = dict(_unpacked(archive))
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, ValueError, OSError) as error:
        raise _refused("The file is no project that can be read.") from error
    told = _data(files, "project.json")
    if told.get("format") != FORMAT:
        raise _refused(f"The file is of the format “{told.get('format')}”, not {FORMAT}.")
    site = _data(files, "site.json")
    site["units"] = {key: _data(files, name) for name, key in _named(files, "units/")}
    site["finishes"] = {key: _data(files, name) for name, key in _named(files, "finishes/")}
    images = {key: _image(files[name], key) for name, key in _named(files, "images/", ".png")}
    underlays = {key: _underlay(_data(files, name), name) for name, key in _named(files, "underlays/")}
    revisions = {key: _revisions(files, name) for name, key in _named(files, "revisions/")}
    models = {key: _mesh(files[name], key) for name, key in _named(files, "models/", ".mesh")}
    for one in (site, *(one["data"] for told in revisions.values() for one in told)):
        if lacking := next((key for key in _meshes(one) if key not in models), None):
            raise _refused(f"The mesh {lacking[:12]}… of a model is not in the file.")
    _with_kept_images(site, underlays, revisions, images)
    read_site(site)
    known = {"site", *(f"units/{key}" for key in site["units"]), *(f"finishes/{key}" for key in site["finishes"])}
    if unknown := sorted((set(underlays) | set(revisions)) - known):
        raise _refused(f"There is no {unknown[0]}.json in the file, but something that belongs to it.")
    kept = {hashlib.sha256(one).hexdigest(): one for one in images.values()} | models
    return Taken(site, kept, underlays, revisions)


def _unpacked(archive: zipfile.ZipFile) -> Iterator[tuple[str, bytes]]:
    told = archive.infolist()
    if len(told) > MOST or sum(one.file_size for one in told) > LARGEST:
        raise _refused(f"The file holds more than {MOST} files or {LARGEST // 2**20} MiB.")
    left = LARGEST
    for one in told:
        with archive.open(one) as file:
            content = file.read(left + 1)
        left -= len(content)
        if left < 0:
            raise _refused(f"The file holds more than {LARGEST // 2**20} MiB.")
        yield one.filename, content


def _named(files: dict[str, bytes], folder: str, suffix: str = ".json") -> list[tuple[str, str]]:
    """The files of a folder, and their keys."""
    return [
        (name, name[len(folder) : -len(suffix)])
        for name in sorted(files)
        if name.startswith(folder) and name.endswith(suffix)
    ]


def _json_of(files: dict[str, bytes], name: str) -> Any:
    try:
        return json.loads(files[name])
    except KeyError:
        raise _refused(f"There is no {name} in the file.") from None
    except (ValueError, RecursionError) as error:
        raise _refused(f"{name} is not JSON.") from error


def _data(files: dict[str, bytes], name: str) -> Data:
    data = _json_of(files, name)
    if not isinstance(data, dict):
        raise _refused(f"{name} holds no JSON object.")
    return data


def _mesh(content: bytes, key: str) -> bytes:
    """A mesh as it is, when it is one and that which its key names."""
    if hashlib.sha256(content).hexdigest() != key:
        raise _refused(f"models/{key[:12]}… is not what its name says.")
    meshes.unpacked(content)
    return content


def _image(content: bytes, key: str) -> bytes:
    """An image as it is: one whose bytes are those its key names was read before it was kept."""
    if hashlib.sha256(content).hexdigest() == key and content.startswith(b"\x89PNG"):
        return content
    return brought(io.BytesIO(content), len(content))


def _underlay(data: Any, name: str) -> Data:
    try:
        return dump(read(Underlay, data))
    except Refusal as refusal:
        raise _refused(f"{name}: {refusal.entry}: {refusal.message}") from refusal


def _revisions(files: dict[str, bytes], name: str) -> list[Data]:
    """The revisions of a document, each checked as far as it is kept; the one in force is the document itself."""
    told = _json_of(files, name)
    if not isinstance(told, list):
        raise _refused(f"{name} holds no list.")
    found = []
    for number, one in enumerate(told, 1):
        try:
            whole = dump(read(KeptRevision, one if isinstance(one, dict) else {}))
        except Refusal as refusal:
            raise _refused(f"{name}: {number}: {refusal.entry}: {refusal.message}") from refusal
        if whole["number"] != number or whole["parent"] >= number:
            raise _refused(f"{name}: revision {number} is not in its place.")
        found.append(whole)
    if sum(one["current"] for one in found) != 1:
        raise _refused(f"{name}: one revision is to be in force.")
    return found


def _with_kept_images(
    site: Data, underlays: Mapping[str, Data], revisions: Mapping[str, Sequence[Data]], images: Mapping[str, bytes]
) -> None:
    """What shows images shows them by the keys that these have now."""
    now = {key: hashlib.sha256(content).hexdigest() for key, content in images.items()}

    def renamed(holder: Data, of: str, name: str) -> None:
        key = holder.get(of)
        if key and key not in now:
            raise _refused(f"The image of the {of} of {name} is not in the file.")
        if key:
            holder[of] = now[key]

    for key, data in site["finishes"].items():
        for of in _maps(data):
            renamed(_maps(data), of, f"finishes/{key}.json")
    for key, data in underlays.items():
        renamed(data, "image", f"underlays/{key}.json")
    for key, told in revisions.items():
        for one in told:
            if one["underlay"]:
                renamed(one["underlay"], "image", f"revisions/{key}.json")
            for of in _maps(one["data"]) if key.startswith("finishes/") else ():
                renamed(_maps(one["data"]), of, f"revisions/{key}.json")


def _refused(told: str) -> Refusal:
    return Refusal("file", "a project in one file", told, "Choose a file that a project was handed over in.")
