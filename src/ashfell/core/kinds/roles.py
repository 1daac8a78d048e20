"""Roles: what a part is, and what follows from that: its finish, its tone on paper, where the page lists it.

A kind that makes parts of a role of its own registers it beside itself.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import ConfigDict, RootModel, ValidationError, model_validator

from ashfell.core.base.document import Key
from ashfell.core.base.registry import KeyOf, Registry


@dataclass(frozen=True)
class Role:
    """One role.

    Attributes
    ----------
    key : str
        As parts and documents name it.
    label : str
        As the page lists it.
    finish : str
        Key of the finish that parts of it have when nobody says otherwise.
    paper : (3,) tuple
        sRGB bytes it is filled with on paper, in full light.
    order : int
        Where it stands among the others.
    even : bool
        Whether it is drawn in one tone, however it is turned to the light.
    always : bool
        Whether its finish is offered also where a unit has no such part yet.
    sided : bool
        Whether it may have another finish on its inner side.
    """

    key: str
    label: str
    finish: str
    paper: tuple[int, int, int]
    order: int
    even: bool = False
    always: bool = False
    sided: bool = True


ROLES: Registry[Role] = Registry("role", "ashfell.core.kinds.fillings")
"""Every role a part of a unit can have, by key."""

for _role in (
    Role("frame", "Frame", "white-paint", (244, 240, 231), 10, always=True),
    Role("bar", "Bars", "white-paint", (238, 233, 222), 20),
    Role("sash", "Sashes", "white-paint", (250, 247, 240), 30),
    Role("bead", "Beads", "white-paint", (232, 226, 214), 50),
    Role("glass", "Glass", "clear-glass", (211, 221, 222), 60, even=True, always=True, sided=False),
    Role("gasket", "Gasket", "black-rubber", (74, 71, 67), 70, even=True, sided=False),
    Role("spacer", "Spacers", "brushed-metal", (190, 190, 188), 80, sided=False),
    Role("casing", "Casings", "white-paint", (238, 234, 226), 120),
    Role("sill", "Sill", "white-paint", (228, 222, 211), 130),
    Role("board", "Inner board", "white-paint", (230, 222, 208), 135),
):
    ROLES.register(_role)


class Finishes(RootModel[dict[Key, Key]]):
    """The finish of each role, by key."""

    model_config = ConfigDict(frozen=True, validate_default=True)

    root: dict[Key, Key] = {}

    @model_validator(mode="before")
    @classmethod
    def _with_the_usual(cls, given: Any) -> Any:
        if not isinstance(given, Mapping):
            return given
        unknown = [role for role in given if role not in ROLES]
        if unknown:
            told = [{"type": "extra_forbidden", "loc": (str(role),), "input": given[role]} for role in unknown]
            raise ValidationError.from_exception_data("Finishes", told)  # type: ignore[arg-type]
        return {role.key: role.finish for role in ROLES.values()} | dict(given)

    @classmethod
    def usual(cls) -> Finishes:
        """Those of a document that says nothing of them."""
        return cls({})

    def of(self, role: str) -> str:
        """The finish of a role."""
        return self.root[role] if role in self.root else ROLES[role].finish


RoleKey = Annotated[str, KeyOf(ROLES)]
SidedKey = Annotated[str, KeyOf(ROLES, lambda role: role.sided)]
"""A role whose parts may have another finish on their inner side."""
