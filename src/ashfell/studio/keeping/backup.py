"""Everything that is kept as one archive, and everything from one archive: the database by its own backup while it is
in use, files beside it, with the checksum of each."""

from __future__ import annotations

import hashlib
import io
import json
import sqlite3
import tarfile
import tempfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

DATABASE = "ashfell.sqlite3"
FOLDERS = ("pictures", "handed", "brought")
FILES = ("secret-key",)
LIST = "checksums.json"


class Broken(Exception):
    """An archive that is not whole."""


def write(var: Path, archive: Path) -> int:
    """Back everything up; returns how many files there are. The archive is there whole or not at all."""
    part = archive.with_name(archive.name + ".part")
    with tempfile.TemporaryDirectory(dir=archive.resolve().parent) as folder:
        copy = Path(folder) / DATABASE
        with closing(sqlite3.connect(var / DATABASE)) as source, closing(sqlite3.connect(copy)) as target:
            source.backup(target)
        sums: dict[str, str] = {}
        with tarfile.open(part, "w:gz", compresslevel=1) as out:
            for name, path in [(DATABASE, copy), *_files(var)]:
                try:
                    content = path.read_bytes()
                except FileNotFoundError:
                    continue  # deleted since it was listed
                sums[name] = hashlib.sha256(content).hexdigest()
                _add(out, name, content)
            _add(out, LIST, json.dumps(sums, indent=1, sort_keys=True).encode())
    part.chmod(0o600)
    part.replace(archive)
    return len(sums)


def _files(var: Path) -> Iterator[tuple[str, Path]]:
    for name in FILES:
        if (var / name).exists():
            yield name, var / name
    for folder in FOLDERS:
        for path in sorted((var / folder).rglob("*")):
            if path.is_file():
                yield path.relative_to(var).as_posix(), path


def _add(out: tarfile.TarFile, name: str, content: bytes) -> None:
    told = tarfile.TarInfo(name)
    told.size, told.mode = len(content), 0o600
    out.addfile(told, io.BytesIO(content))


def read(archive: Path, var: Path) -> int:
    """Restore everything into an empty folder; returns how many files there are.

    Raises
    ------
    Broken
        When the folder is not empty, or a file is missing or not what its checksum says; nothing is put there then.
    """
    if (var / DATABASE).exists():
        raise Broken(f"There is a database in {var} already. Restore into an empty folder.")
    var.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=var) as folder:
        place = Path(folder)
        try:
            with tarfile.open(archive) as held:
                held.extractall(place, filter="data")
        except (tarfile.TarError, OSError, EOFError) as error:
            raise Broken(f"{archive} is no backup that can be read: {error}") from error
        sums = _sums(place)
        for name, expected in sums.items():
            path = place / name
            if not path.is_file() or hashlib.sha256(path.read_bytes()).hexdigest() != expected:
                raise Broken(f"{name} in {archive} is missing or not what it was. Use another backup.")
        for name in sums:
            (var / name).parent.mkdir(parents=True, exist_ok=True)
            (place / name).replace(var / name)
    return len(sums)


def _sums(place: Path) -> dict[str, str]:
    try:
        found: dict[str, str] = json.loads((place / LIST).read_text())
    except (OSError, ValueError) as error:
        raise Broken("The archive has no list of checksums: it is not whole.") from error
    return found


def keep_only(folder: Path, count: int) -> None:
    """Delete all but the newest backups of a folder."""
    for old in sorted(folder.glob("ashfell-*.tar.gz"))[: -count or None]:
        old.unlink()
