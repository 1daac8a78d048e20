"""The clear text of ISO 10303-21: instances of entities, numbered as they are made."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from ashfell.core.plane.points import Floats

DIGITS, FINE = 6, 12
"""Decimals of numbers."""
ZEROS = re.compile(r"(\.\d*?)0+(?=[,)])")


@dataclass(frozen=True)
class Ref:
    """An instance by its number."""

    number: int

    def __str__(self) -> str:
        return f"#{self.number}"


@dataclass(frozen=True)
class Enum:
    """A word of an enumeration."""

    word: str

    def __str__(self) -> str:
        return f".{self.word}."


@dataclass(frozen=True)
class Typed:
    """A value with its type."""

    kind: str
    value: str | float | bool

    def __str__(self) -> str:
        return f"{self.kind.upper()}({written(self.value)})"


@dataclass(frozen=True)
class Raw:
    """Text that is written as it is."""

    text: str

    def __str__(self) -> str:
        return self.text


DERIVED = Raw("*")
Value = Ref | Enum | Typed | Raw | str | float | int | bool | None | Sequence["Value"]


def written(value: Value) -> str:
    """A value as the file holds it.

    >>> written(("Größe", 2, 0.5, None, True))
    "('Gr\\\\X2\\\\00F6\\\\X0\\\\\\\\X2\\\\00DF\\\\X0\\\\e',2,0.5,$,.T.)"
    """
    if value is None:
        return "$"
    if isinstance(value, bool):
        return ".T." if value else ".F."
    if isinstance(value, (Ref, Enum, Typed, Raw)):
        return str(value)
    if isinstance(value, str):
        return text(value)
    if isinstance(value, (int, np.integer)):
        return str(int(value))
    if isinstance(value, (float, np.floating)):
        return number(float(value))
    return f"({','.join(written(one) for one in value)})"


def number(value: float, digits: int = DIGITS) -> str:
    """A number, which always has a point."""
    return f"{round(value, digits) + 0.0:.{digits}f}".rstrip("0")


def ratios(values: Iterable[float]) -> Raw:
    """The parts of a direction: what lies far along it must not leave its place."""
    return Raw(f"({','.join(number(float(value), FINE) for value in values)})")


def text(words: str) -> str:
    """A string; what is no printable ASCII as ``\\X2\\``, line ends and the like as blanks."""
    found = []
    for letter in words:
        if letter in "'\\":
            found.append(letter * 2)
        elif " " <= letter <= "~":
            found.append(letter)
        elif ord(letter) < 0x20 or 0xD800 <= ord(letter) < 0xE000:
            found.append(" ")
        elif ord(letter) < 0x10000:
            found.append(f"\\X2\\{ord(letter):04X}\\X0\\")
        else:
            found.append(f"\\X4\\{ord(letter):08X}\\X0\\")
    return f"'{''.join(found)}'"


def points(values: Floats) -> Raw:
    """A list of points, quickly."""
    held = np.round(np.asarray(values, dtype=float), DIGITS) + 0.0
    one = f"({','.join([f'%.{DIGITS}f'] * held.shape[1])})"
    return Raw(ZEROS.sub(r"\1", f"({','.join([one] * len(held)) % tuple(held.ravel().tolist())})"))


def corners(triangles: Iterable[Sequence[int]]) -> Raw:
    """Triangles by the numbers of their corners from 1."""
    held = np.asarray(triangles, dtype=np.int64) + 1
    return Raw(f"({','.join(['(%d,%d,%d)'] * len(held)) % tuple(held.ravel().tolist())})")


@dataclass
class Step:
    """A file that is being written. What has no identity of its own is written once."""

    schema: str
    name: str
    lines: list[str] = field(default_factory=list)
    _known: dict[str, Ref] = field(default_factory=dict)

    def add(self, kind: str, *values: Value) -> Ref:
        """An instance."""
        ref = Ref(len(self.lines) + 1)
        self.lines.append(f"{ref}={kind.upper()}{written(values)};\n")
        return ref

    def once(self, kind: str, *values: Value) -> Ref:
        """An instance of something that is told by its values alone."""
        told = f"{kind.upper()}{written(values)}"
        if told not in self._known:
            self._known[told] = self.add(kind, *values)
        return self._known[told]

    def bytes(self, view: str) -> bytes:
        """The file."""
        head = (
            "ISO-10303-21;\nHEADER;\n"
            f"FILE_DESCRIPTION(({text(f'ViewDefinition [{view}]')}),'2;1');\n"
            f"FILE_NAME({text(self.name)},'1980-01-01T00:00:00',(''),(''),'Ashfell','Ashfell','');\n"
            f"FILE_SCHEMA(({text(self.schema)}));\nENDSEC;\nDATA;\n"
        )
        return (head + "".join(self.lines) + "ENDSEC;\nEND-ISO-10303-21;\n").encode("ascii")
