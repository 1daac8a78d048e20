"""Kinds of files that are read into a new site: what they look like, how large they may be, and what reads them."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from math import ceil

from ashfell.core.base.document import Data, Document, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.services import bounded
from ashfell.services.handover import project_file
from ashfell.services.reading.options import MeshOptions, PlanOptions
from ashfell.services.reading.understood import Understood

Wanted = Callable[[], bool]


class NoOptions(Document):
    """A file that says all itself."""


@dataclass(frozen=True)
class Reader:
    """A kind of file: what it ``begins`` with, or nothing where its name tells it. ``module`` reads it in a process of
    its own, with ``seconds`` and ``memory`` at most, and ``options`` as JSON for its argument; ``as_it_is`` tells that
    documents are not written anew, ``by_name`` that it may begin with anything. A small file may take no more than
    other strangers' bytes, and of ``least`` memory; with each MiB it may take more, by ``more`` seconds and MiB."""

    key: str
    label: str
    suffixes: tuple[str, ...]
    begins: tuple[bytes, ...]
    largest: int
    module: str
    seconds: int
    memory: int
    options: type[Document] = NoOptions
    as_it_is: bool = False
    by_name: bool = False
    more: tuple[int, int] = (4, 40)
    least: int = 480 * 2**20

    def limits(self, size: int) -> dict[str, int]:
        """What reading a file of a size may take, s and bytes."""
        seconds, memory = (size * one / 2**20 for one in self.more)
        return {
            "seconds": min(self.seconds, ceil(bounded.SECONDS + seconds)),
            "memory": min(self.memory, self.least + int(memory * 2**20)),
        }

    def understood(self, content: bytes, typed: Data, wanted: Wanted = lambda: True) -> Understood:
        """What is understood of a file.

        Raises
        ------
        Refusal
            When it cannot be read, takes more than it may, or an option is none.
        """
        options = dump(read(self.options, typed))
        given = (json.dumps(options),) if options else ()
        run = bounded.run(self.module, content, *given, **self.limits(len(content)), wanted=wanted)
        return Understood.of(run)


READERS = {
    one.key: one
    for one in (
        Reader(
            "project",
            "a project in one file",
            (".zip",),
            (b"PK\x03\x04", b"PK\x05\x06"),
            project_file.LARGEST,
            "ashfell.services.reading.project",
            60,
            3 * 2**30,
            as_it_is=True,
            more=(20, 200),
        ),
        Reader(
            "ifc",
            "IFC",
            (".ifc",),
            (b"ISO-10303-21",),
            128 * 2**20,
            "ashfell.services.reading.ifc",
            60,
            3 * 2**30,
            least=bounded.MEMORY,  # most of it is its library, which is mapped and not read
        ),
        Reader(
            "dxf",
            "a plan in DXF",
            (".dxf",),
            (),
            64 * 2**20,
            "ashfell.services.reading.dxf",
            60,
            3 * 2**30,
            PlanOptions,
            by_name=True,
        ),
        Reader(
            "model",
            "a model in glTF or OBJ",
            (".glb", ".gltf", ".obj"),
            (b"glTF",),
            64 * 2**20,
            "ashfell.services.reading.mesh",
            20,
            1536 * 2**20,
            MeshOptions,
            by_name=True,
        ),
    )
}
LARGEST = max(one.largest for one in READERS.values())


def reader_of(name: str, head: bytes, size: int) -> Reader:
    """The reader of a file, told from what it begins with, and its name where that leaves a choice.

    Raises
    ------
    Refusal
        When there is none, or the file is larger than it may be.
    """
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n")
    begun = [one for one in READERS.values() if start.startswith(one.begins)]
    # What may begin with anything is told by its name.
    named = [one for one in READERS.values() if one.by_name and name.lower().endswith(one.suffixes)]
    found = next(iter(begun + named), None)
    if found is None:
        known = ", ".join(f"{one.label} ({one.suffixes[0]})" for one in READERS.values())
        raise Refusal(
            "file", "a file that can be taken in", f"“{name[:80]}” is none of {known}.", "Choose one of these."
        )
    if size > found.largest:
        message = f"“{name[:80]}” has {size / 2**20:.0f} MiB; at most {found.largest // 2**20} are read."
        raise Refusal("file", "a file of a sensible size", message, "Export less of it.")
    return found
