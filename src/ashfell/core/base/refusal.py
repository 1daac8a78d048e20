"""The one error that says what cannot be built: which entry, which rule, the numbers, the remedy."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction


@dataclass(eq=False)
class Refusal(Exception):
    """Something typed cannot be built.

    Attributes
    ----------
    entry : str
        Path of the document entry at fault, dotted, e.g. ``"frame.face"``.
    rule : str
        The rule that is broken, as a short noun phrase.
    message : str
        What is wrong, with the numbers, in words of the trade.
    remedy : str
        What to do instead.
    nearest : Fraction or None
        The nearest value of ``entry`` that would work, in millimetres, where there is one.
    position : int or None
        For text that cannot be read: where in it, from 0.
    """

    entry: str
    rule: str
    message: str
    remedy: str = ""
    nearest: Fraction | None = None
    position: int | None = None

    def __str__(self) -> str:
        return f"{self.message} {self.remedy}".strip()

    def within(self, prefix: str) -> Refusal:
        """The same refusal, its entry read from further out: ``"face"`` within ``"frame"`` is ``"frame.face"``."""
        entry = f"{prefix}.{self.entry}" if self.entry else prefix
        return replace(self, entry=entry)
