"""A whole project as one file: its site, units and finishes as JSON, images as they are kept. Written and taken in
again it is the same to the byte."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ashfell.core.base.document import Data, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.core.site.document.site import read_site
from ashfell.formats.archive import packed
from ashfell.services.finishes import image_keys
from ashfell.services.handover.source import Images
from ashfell.services.images import brought

FORMAT = "ashfell/project/1"
LARGEST = 256 * 2**20
"""The largest file that is taken in, and the most that it may hold when it is unpacked, bytes."""
MOST = 20_000
"""The most files in it."""


@dataclass(frozen=True)
class Taken:
    """A project from a file: its site with units and finishes, and the images that these show, by key."""

    site: Data
    images: dict[str, bytes]


def write_project(site: Data, images: Images) -> bytes:
    """A site with all that it uses, as one file."""
    whole = dict(site)
    units, finishes = whole.pop("units", {}), whole.pop("finishes", {})
    files = {"project.json": _json({"format": FORMAT}), "site.json": _json(whole)}
    files |= {f"units/{key}.json": _json(data) for key, data in sorted(units.items())}
    files |= {f"finishes/{key}.json": _json(data) for key, data in sorted(finishes.items())}
    for key in sorted({key for data in finishes.values() for key in image_keys(read(Finish, data))}):
        content = images(key)
        if content is not None:
            files[f"images/{key}.png"] = content
    return packed(files)


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
    site, images = _with_kept_images(site, images)
    read_site(site)
    return Taken(site, {hashlib.sha256(one).hexdigest(): one for one in images.values()})


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


def _data(files: dict[str, bytes], name: str) -> Data:
    try:
        data = json.loads(files[name])
    except KeyError:
        raise _refused(f"There is no {name} in the file.") from None
    except (ValueError, RecursionError) as error:
        raise _refused(f"{name} is not JSON.") from error
    if not isinstance(data, dict):
        raise _refused(f"{name} holds no JSON object.")
    return data


def _image(content: bytes, key: str) -> bytes:
    """An image as it is: one whose bytes are those its key names was read before it was kept."""
    if hashlib.sha256(content).hexdigest() == key and content.startswith(b"\x89PNG"):
        return content
    return brought(io.BytesIO(content), len(content))


def _with_kept_images(site: Data, images: dict[str, bytes]) -> tuple[Data, dict[str, bytes]]:
    """Finishes that show images by the keys that these have now."""
    now = {key: hashlib.sha256(content).hexdigest() for key, content in images.items()}
    for name, data in site["finishes"].items():
        maps = (data.get("texture") or {}).get("maps") or {} if isinstance(data, dict) else {}
        for of, key in maps.items() if isinstance(maps, dict) else ():
            if not key:
                continue
            if key not in now:
                raise _refused(f"The image of the {of} of finishes/{name}.json is not in the file.")
            maps[of] = now[key]
    return site, images


def _refused(told: str) -> Refusal:
    return Refusal("file", "a project in one file", told, "Choose a file that a project was handed over in.")
