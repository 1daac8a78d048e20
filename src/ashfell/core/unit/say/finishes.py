"""The finishes of a unit's roles, outside and inside."""

from __future__ import annotations

from ashfell.core.kinds.roles import Role
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.say.writer import Action, Said, Writer

AS_OUTSIDE = "as outside"


def inner_said(w: Writer, document: UnitDocument, role: Role) -> tuple[Said, ...]:
    """What a role has on its inner side, or the way to give it another finish there; nothing where it has no sides."""
    if not role.sided:
        return ()
    entry, words = f"inner.{role.key}", f"the {role.label.lower()}"
    if role.key in document.inner:
        return "inside", w.finish(entry, document.inner[role.key], f"Finish of {words}, inside", usual=AS_OUTSIDE)
    first = document.finishes.of(role.key)
    return (Action(entry, "Inside", f"Give {words} another finish on the inner side", first),)
