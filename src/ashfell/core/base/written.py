"""What people type and paste where a number is asked for, made plain: one kind of dash, prime, slash and space, and
grouped and decimal digits told apart.

Text keeps its places: what is wrong is still shown where it was typed.
"""

from __future__ import annotations

import re
import unicodedata
from fractions import Fraction

HIDDEN = frozenset("\ufeff\u200b\u200c\u200d\u2060\u00ad\u200e\u200f")
"""Characters that take no room: marks of byte order, of joining and of direction."""
SAME = {
    **dict.fromkeys("‐‑‒–—―−﹘﹣－⁃", "-"),
    **dict.fromkeys("′’‘‛`´ʹʼˊˈ＇‵", "'"),
    **dict.fromkeys("″”“‟„ʺ˝＂‶", '"'),
    **dict.fromkeys("⁄∕／", "/"),
    **dict.fromkeys("，", ","),
    **dict.fromkeys("．", "."),
    **dict.fromkeys("＋", "+"),
    "μ": "µ",
}
"""Characters that look alike, and the one that stands for them."""

VULGAR = {
    character: Fraction(unicodedata.numeric(character)).limit_denominator(10) for character in "½⅓⅔¼¾⅕⅖⅗⅘⅙⅚⅐⅛⅜⅝⅞⅑⅒"
}
"""Fractions that are one character."""

_SPACED = r"\d{1,3}(?:[ ]\d{3})+(?!\d)(?![ ]*/)(?:[.,]\d+)?"
NUMBER = (
    rf"{_SPACED}"
    r"|\d{1,3}(?:,\d{3})+(?:\.\d+)?(?!\d)"
    r"|\d{1,3}(?:\.\d{3})+,\d+(?!\d)"
    r"|\d{1,3}(?:\.\d{3}){2,}(?!\d)"
    r"|\d+,\d+"
    r"|(?:\d+\.\d*|\.\d+|\d+)(?:[eE][+-]?\d{1,2}(?!\d))?"
)
"""A number as it is written: with groups of three, a decimal point or comma, or an exponent."""
_ONE_COMMA = re.compile(r"[1-9]\d{0,2},\d{3}", re.ASCII)
_SWISS = re.compile(r"(?<![\d.])(\d{1,3})'(\d{3})(?![\d\"/.'])", re.ASCII)


def plain(text: str) -> tuple[str, list[int]]:
    """The same text in plain characters, and for each of them, and the end, its place in what was typed."""
    kept = [(SAME.get(c, " " if c.isspace() else c), place) for place, c in enumerate(text) if c not in HIDDEN]
    return "".join(c for c, _ in kept), [*(place for _, place in kept), len(text)]


def readings(number: str) -> tuple[Fraction, ...]:
    """What a number can mean: one value, or two where a comma may part thousands or decimals.

    >>> readings("1,5"), readings("1,500.5"), readings("1.500,5"), readings("1 500")
    ((Fraction(3, 2),), (Fraction(3001, 2),), (Fraction(3001, 2),), (Fraction(1500, 1),))
    >>> readings("1,500")
    (Fraction(1500, 1), Fraction(3, 2))
    """
    if _ONE_COMMA.fullmatch(number):
        return Fraction(number.replace(",", "")), Fraction(number.replace(",", "."))
    bare = number.replace(" ", "")
    if "," in bare and "." in bare:
        last = max(bare.rfind(","), bare.rfind("."))
        parts = "".join(c for c in bare[:last] if c.isdigit()), bare[last + 1 :]
        return (Fraction(".".join(parts)),)
    if bare.count(",") > 1 or bare.count(".") > 1:
        return (Fraction(bare.replace(",", "").replace(".", "")),)
    return (Fraction(bare.replace(",", ".")),)


def grouped_by_prime(text: str) -> tuple[int, str, str] | None:
    """Where thousands may be parted by what is also the mark of feet: its place, and both parts."""
    match = _SWISS.search(text)
    return (match.start(), match[1], match[2]) if match else None
