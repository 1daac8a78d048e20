r"""Lengths as people write them, kept as exact rationals of a millimetre.

>>> parse("3' 0 1/2\"")
Fraction(9271, 10)
>>> parse("1.5 m")
Fraction(1500, 1)
>>> show(parse("6'8\""), Style("ft-in"))
'6\' 8"'
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any, Literal

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from ashfell.core.base.written import NUMBER, VULGAR, grouped_by_prime, plain, readings

Unit = Literal["mm", "cm", "m", "in", "ft"]

MM_PER: dict[Unit, Fraction] = {
    "mm": Fraction(1),
    "cm": Fraction(10),
    "m": Fraction(1000),
    "in": Fraction(254, 10),
    "ft": Fraction(3048, 10),
}

LONGEST = Fraction(10_000_000)
"""Nothing longer than 10 km is a length of a building; in millimetres."""

OTHERS: dict[str, Fraction] = {
    "µm": Fraction(1, 1000),
    "dm": Fraction(100),
    "km": Fraction(1_000_000),
    "thou": Fraction(254, 10_000),
    "yd": Fraction(9144, 10),
}
"""Units that are read, and never shown: millimetres in one of each."""
_SCALE: dict[str, Fraction] = dict([*MM_PER.items(), *OTHERS.items()])

_SPELLINGS: dict[str, str] = {
    **dict.fromkeys(("mm", "mms", "millimetre", "millimetres", "millimeter", "millimeters"), "mm"),
    **dict.fromkeys(("cm", "cms", "centimetre", "centimetres", "centimeter", "centimeters"), "cm"),
    **dict.fromkeys(("m", "mtr", "mtrs", "metre", "metres", "meter", "meters"), "m"),
    **dict.fromkeys(('"', "''", "in", "ins", "inch", "inches"), "in"),
    **dict.fromkeys(("'", "ft", "foot", "feet"), "ft"),
    **dict.fromkeys(("µm", "um", "micron", "microns", "micrometre", "micrometres"), "µm"),
    **dict.fromkeys(("dm", "decimetre", "decimetres", "decimeter", "decimeters"), "dm"),
    **dict.fromkeys(("km", "kms", "kilometre", "kilometres", "kilometer", "kilometers"), "km"),
    **dict.fromkeys(("thou", "mil", "mils"), "thou"),
    **dict.fromkeys(("yd", "yds", "yard", "yards"), "yd"),
}


_TOKEN = re.compile(
    rf"""\s*(?:
        (?P<number>{NUMBER})
      | (?P<vulgar>[{"".join(VULGAR)}])
      | (?P<slash>/)
      | (?P<dash>-)
      | (?P<plus>\+)
      | (?P<join>,|&|and\b)
      | (?P<unit>''|["']|[A-Za-zµ]+\.?)
    )""",
    re.VERBOSE | re.ASCII,
)


@dataclass(eq=False)
class LengthError(ValueError):
    """Text that is not a length; ``position`` is where in ``text`` (0-based) reading stopped."""

    text: str
    position: int
    reason: str

    def __str__(self) -> str:
        return self.reason


@dataclass(frozen=True)
class _Token:
    kind: str
    text: str
    start: int


def parse(text: str, bare: Unit = "mm") -> Fraction:
    """Read one length.

    Parameters
    ----------
    text : str
        ``1500``, ``1.5 m``, ``25 cm``, ``6'8"``, ``3' 0 1/2"``, ``0.125in``, ``7/8"``, ``-12``, ``6 ft. and 8 in.``,
        ``1 500``, ``1,5``, ``1e3``. A bare number after feet is inches. What can be read in two ways is refused with
        both.
    bare : Unit
        The unit of a number without one.

    Returns
    -------
    Fraction
        Millimetres, exact.

    Raises
    ------
    LengthError
        With the place in the text.
    """
    if len(text) < 12 and text.isascii() and text.isdecimal() and (whole := int(text) * _SCALE[bare]) <= LONGEST:
        return whole  # as nearly all are written
    cleaned, places = plain(text)
    try:
        return _parsed(cleaned, bare)
    except LengthError as error:
        raise LengthError(text, places[min(error.position, len(places) - 1)], error.reason) from None


def _parsed(text: str, bare: Unit) -> Fraction:
    tokens = _tokens(text)
    if not tokens:
        raise LengthError(text, 0, "A length is missing here, for example 1500, 1.5 m or 6' 8\".")
    if parted := grouped_by_prime(text):
        place, thousands, rest = parted
        raise LengthError(
            text,
            place,
            f"“{thousands}'{rest}” can be {thousands}{rest} or {thousands} ft {rest} in; write one of them.",
        )
    signed = tokens[0].kind in ("dash", "plus")
    position, total, last = int(signed), Fraction(0), None
    while position < len(tokens) or last is None:
        while last is not None and position < len(tokens) and tokens[position].kind in ("dash", "join"):
            position += 1
        value, position = _number(text, tokens, position)
        unit, position = _unit(text, tokens, position, bare, last)
        if last is not None:
            _check_order(text, tokens[position - 1].start, value, unit, last)
        total, last = total + value * _SCALE[unit], unit
    if total > LONGEST:
        raise LengthError(text, 0, f"{text.strip()} is {float(total / 1_000_000):g} km; the longest length is 10 km.")
    return -total if tokens[0].kind == "dash" else total


def _check_order(text: str, place: int, value: Fraction, unit: str, last: str) -> None:
    """Refuse a unit that is not smaller than the one before it, and a foot or more of inches behind feet."""
    if _SCALE[unit] >= _SCALE[last]:
        raise LengthError(text, place, f"“{unit}” cannot follow “{last}”: go from large to small.")
    if (last, unit) == ("ft", "in") and value >= 12:
        feet, inches = divmod(value, 12)
        raise LengthError(
            text,
            place,
            f"{_decimal(value, 4)} inches behind feet are {feet} ft {_decimal(inches, 4)} in more; write that.",
        )


def _tokens(text: str) -> list[_Token]:
    found, position, end = [], 0, len(text.rstrip())
    if end > 80:
        raise LengthError(text, 80, "A length has at most 80 characters.")
    while position < end:
        match = _TOKEN.match(text, position)
        if match is None:
            place = position + len(text[position:]) - len(text[position:].lstrip())
            raise LengthError(text, place, f"“{text[place]}” has no meaning in a length.")
        kind = str(match.lastgroup)
        found.append(_Token(kind, match[kind], match.start(kind)))
        position = match.end()
    return found


def _number(text: str, tokens: list[_Token], at: int) -> tuple[Fraction, int]:
    """An integer, decimal, fraction, or an integer with a fraction behind it."""
    kinds = [token.kind for token in tokens[at : at + 5]]
    if kinds[:1] == ["vulgar"]:
        return VULGAR[tokens[at].text], at + 1
    if kinds[:1] != ["number"]:
        place, seen = (tokens[at].start, tokens[at].text) if at < len(tokens) else (len(text.rstrip()), "the end")
        raise LengthError(text, place, f"A number is needed before {seen if seen == 'the end' else f'“{seen}”'}.")
    if kinds[1:2] == ["slash"]:
        return _fraction(text, tokens, at), at + 3
    whole, *other = readings(tokens[at].text)
    if other:
        one, two = (_decimal(value, 6) for value in (whole, *other))
        raise LengthError(text, tokens[at].start, f"“{tokens[at].text}” can be {one} or {two}; write one of them.")
    dash = kinds[1:2] == ["dash"]
    if kinds[1 + dash : 2 + dash] == ["vulgar"]:
        return whole + VULGAR[tokens[at + 1 + dash].text], at + 2 + dash
    if kinds[1 + dash : 3 + dash] == ["number", "slash"]:
        return whole + _fraction(text, tokens, at + 1 + dash), at + 4 + dash
    return whole, at + 1


def _fraction(text: str, tokens: list[_Token], at: int) -> Fraction:
    if at + 2 >= len(tokens) or tokens[at + 2].kind != "number":
        raise LengthError(text, tokens[at + 1].start, "A fraction needs a number below the line, as in 7/8.")
    above, below = tokens[at], tokens[at + 2]
    for part in (above, below):
        if not part.text.isdecimal():
            raise LengthError(text, part.start, "A fraction is made of whole numbers, as in 7/8.")
    if int(below.text) == 0:
        raise LengthError(text, below.start, "A fraction cannot have 0 below the line.")
    return Fraction(int(above.text), int(below.text))


def _unit(text: str, tokens: list[_Token], at: int, bare: Unit, last: str | None) -> tuple[str, int]:
    if at < len(tokens) and tokens[at].kind == "unit":
        token = tokens[at]
        spelling = token.text.removesuffix(".")
        unit = _SPELLINGS.get(spelling) or _SPELLINGS.get(spelling.lower())
        if unit is None:
            raise LengthError(text, token.start, f"“{token.text}” is not a unit; use mm, cm, m, in, ft or yd.")
        return unit, at + 1
    if at < len(tokens) and tokens[at].kind == "slash":
        raise LengthError(text, tokens[at].start, "This fraction has two lines; write it as in 7/8.")
    if at < len(tokens) and tokens[at].kind not in ("dash", "join"):
        raise LengthError(text, tokens[at].start, "A unit is needed between two numbers, as in 6 ft 8 in.")
    if last is None:
        return bare, at
    if last == "ft":
        return "in", at
    raise LengthError(text, len(text.rstrip()), f"A unit is needed for the number after “{last}”.")


@dataclass(frozen=True)
class Style:
    """How lengths are shown: a unit, and decimals or a fraction's largest denominator. A metric length that ends within
    ``finest`` decimals is shown whole, any other rounded to ``decimals``."""

    unit: Literal["mm", "cm", "m", "in", "ft-in"] = "mm"
    decimals: int = 2
    finest: int = 4
    denominator: int = 16

    @property
    def bare(self) -> Unit:
        """The unit of a bare number typed by somebody who reads this style."""
        return "in" if self.unit == "ft-in" else self.unit

    @property
    def step(self) -> Fraction:
        """The finest step this style shows, in millimetres."""
        if self.unit in ("in", "ft-in"):
            return MM_PER["in"] / self.denominator
        return MM_PER[self.bare] * Fraction(1, 10**self.decimals)


STYLES: dict[str, Style] = {
    "mm": Style("mm", decimals=2, finest=4),
    "cm": Style("cm", decimals=3, finest=5),
    "m": Style("m", decimals=4, finest=6),
    "in": Style("in", denominator=32),
    "ft-in": Style("ft-in", denominator=32),
}


@lru_cache(maxsize=8192)
def show(mm: Fraction, style: Style = Style()) -> str:
    """The length as text, rounded where it does not end; ``parse(show(x, s), s.bare)`` is x for every x on the step."""
    whole = style.unit in ("mm", "cm", "m") and (mm / MM_PER[style.bare] * 10**style.finest).denominator == 1
    steps = round(mm / style.step)
    sign, rounded = ("-" if steps < 0 or (whole and mm < 0) else ""), abs(mm) if whole else abs(steps) * style.step
    if style.unit == "ft-in":
        feet, rest = divmod(rounded, MM_PER["ft"])
        inches = f'{_mixed(rest / MM_PER["in"])}"'
        return f"{sign}{feet}' {inches}" if feet else f"{sign}{inches}"
    if style.unit == "in":
        return f'{sign}{_mixed(rounded / MM_PER["in"])}"'
    return sign + _decimal(rounded / MM_PER[style.bare], style.finest if whole else style.decimals)


def named(mm: Fraction, style: Style = Style()) -> str:
    """As :func:`show`, with the unit behind metric numbers: ``1500 mm``."""
    text = show(mm, style)
    return text if style.unit in ("in", "ft-in") else f"{text} {style.unit}"


def typed(length: Length, style: Style = Style()) -> str:
    """A length as it was typed, so that it is read as the same where bare numbers are in the style's unit.

    >>> typed(Length.read("36 in")), typed(Length.read("1200"), Style("in"))
    ('36 in', '1200 mm')
    """
    try:
        same = parse(length.text, style.bare) == length.mm
    except LengthError:
        same = False
    return length.text if same else exact(length.mm)


def entered(kept: Length | None, size: Fraction, style: Style) -> str:
    """What is seen when a size on a drawing is entered: as it was typed where that is ``kept``, or exactly where it is
    shown rounded; empty where that is what is shown.

    >>> entered(Length.read("1 m"), Fraction(1000), Style()), entered(None, Fraction(1000, 3), Style())
    ('1 m', '333 1/3 mm')
    """
    shown = show(size, style)
    if kept is not None and kept.mm == size:
        text = typed(kept, style)
    else:
        text = shown if parse(shown, style.bare) == size else exact(size)
    return text if text != shown else ""


@lru_cache(maxsize=4096)
def exact(mm: Fraction) -> str:
    """Millimetres without any rounding, as a decimal where that ends and a mixed fraction where not.

    >>> exact(Fraction(1025, 2)), exact(Fraction(1537, 3))
    ('512.5 mm', '512 1/3 mm')
    """
    sign, size = ("-" if mm < 0 else ""), abs(mm)
    below = size.denominator
    for prime in (2, 5):
        while below % prime == 0:
            below //= prime
    return f"{sign}{_decimal(size, 30) if below == 1 else _mixed(size)} mm"


def _mixed(value: Fraction) -> str:
    whole, rest = divmod(value, 1)
    if not rest:
        return str(whole)
    return f"{whole} {rest}" if whole else str(rest)


def _decimal(value: Fraction, places: int) -> str:
    scaled = round(value * 10**places)
    digits = str(scaled).rjust(places + 1, "0")
    whole, part = (digits[:-places], digits[-places:].rstrip("0")) if places else (digits, "")
    return f"{whole}.{part}" if part else whole


@dataclass(frozen=True, eq=False)
class Length:
    """A length in a document: what was typed, and what it is. Equal when the millimetres are equal."""

    text: str
    mm: Fraction

    @classmethod
    def read(cls, value: object, bare: Unit = "mm") -> Length:
        """From text or a number; text with a bare number in another unit than mm gets that unit behind it."""
        if isinstance(value, Length):
            return value
        if isinstance(value, bool) or not isinstance(value, (str, int, float, Fraction)):
            raise LengthError(str(value), 0, "A length is text or a number.")
        return _length(exact(value) if isinstance(value, Fraction) else str(value).strip(), bare)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Length) and other.mm == self.mm

    def __hash__(self) -> int:
        return hash(self.mm)

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(
            _validated, serialization=core_schema.plain_serializer_function_ser_schema(lambda length: length.text)
        )

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {
            "description": "A length: a number is millimetres, text may carry a unit.",
            "anyOf": [{"type": "string", "examples": ["1500", "1.5 m", "6' 8\"", "7/8 in"]}, {"type": "number"}],
        }


@lru_cache(maxsize=4096)
def _length(text: str, bare: Unit) -> Length:
    """A length from its text; a document says the same few again and again."""
    mm = parse(text, bare)
    return Length(text if bare == "mm" or mm == _or_none(text) else f"{text} {bare}", mm)


def _or_none(text: str) -> Fraction | None:
    try:
        return parse(text)
    except LengthError:
        return None


def _validated(value: object) -> Length:
    try:
        return Length.read(value)
    except LengthError as error:
        raise PydanticCustomError(
            "length", "{reason}", {"reason": error.reason, "text": error.text, "position": error.position}
        ) from error
