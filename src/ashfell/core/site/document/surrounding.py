"""What stands round the building in a site document: blocks, trees, models."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document, Gap, Key, Name, Place, Size, mm
from ashfell.core.base.registry import KeyOf
from ashfell.core.kinds.surrounding import SURROUNDINGS, SurroundingKind


class Surrounding(Document):
    """Something of a ``kind`` that stands round the building, its middle at ``x, y``, its foot at ``level`` above 0,
    turned counter-clockwise from the site's x by ``turn`` degrees, ``height`` high to its top.

    A block is ``width`` by ``depth``; its roof rises by ``ridge`` to the middle, along its width. A tree is ``width``
    across; its crown begins at the height of its ``trunk``; the number ``seed`` says how it has grown. A model
    is the ``mesh`` of that SHA-256, scaled to its height, in the finishes it was brought with (``as_brought``) or all
    of it in one; it may stand in an ``opening``, the id of its placement, as it is: its foot on the sill, its middle in
    the middle, what of it is outermost ``recess`` behind the outer face, turned by ``turn`` from looking outwards; it
    has no other place then. What is not said is as its kind begins.
    """

    id: Key
    name: Name = "Surrounding"
    kind: Annotated[str, KeyOf(SURROUNDINGS)] = "block"
    x: Place = mm("0")
    y: Place = mm("0")
    level: Place = mm("0")
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    width: Size = mm("8 m")
    depth: Size = mm("8 m")
    height: Size = mm("6 m")
    ridge: Gap = mm("0")
    trunk: Gap = mm("2200")
    seed: Annotated[int, Field(ge=1, le=9999)] = 1
    finish: Key = "white-plaster"
    mesh: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    as_brought: bool = True
    opening: Annotated[str, Field(max_length=90, pattern=r"^[^\x00-\x1f]*$")] = ""
    recess: Place = mm("0")

    @model_validator(mode="before")
    @classmethod
    def _as_its_kind_begins(cls, given: Any) -> Any:
        kind = SURROUNDINGS.get(given.get("kind", "block")) if isinstance(given, Mapping) else None
        return {**kind.start, **given} if kind else given

    @model_validator(mode="after")
    def _has_what_it_is_made_of(self) -> Self:
        if ("mesh" in self.of.entries) != bool(self.mesh):
            told = {"kind": self.of.label}
            if self.mesh:
                raise PydanticCustomError("a_mesh_for_a_model", "A {kind} has no mesh of its own.", told)
            raise PydanticCustomError("a_mesh_for_a_model", "A {kind} is brought in a file: it needs its mesh.", told)
        if self.opening and not self.mesh:
            raise PydanticCustomError(
                "a_model_in_an_opening", "A {kind} cannot stand in an opening; models can.", {"kind": self.of.label}
            )
        return self

    @property
    def of(self) -> SurroundingKind:
        """Its kind."""
        return SURROUNDINGS[self.kind]
