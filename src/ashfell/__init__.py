"""Ashfell: door and window units with exact spacings, fitted into walls and rendered.

What is listed here is for programs; see :mod:`ashfell.library`. It is loaded when it is asked for.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from ashfell.core.audit.finding import Finding
    from ashfell.core.base.differences import Difference
    from ashfell.core.base.refusal import Refusal
    from ashfell.library import (
        BuiltSite,
        BuiltUnit,
        check,
        compare,
        load,
        picture,
        site,
        unit,
        with_schedule,
        write,
    )

__all__ = [
    "BuiltSite",
    "BuiltUnit",
    "Difference",
    "Finding",
    "Refusal",
    "check",
    "compare",
    "load",
    "picture",
    "site",
    "unit",
    "with_schedule",
    "write",
]


def __getattr__(name: str) -> Any:
    if name in __all__:
        return getattr(import_module("ashfell.library"), name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
