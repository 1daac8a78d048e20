"""Nothing in a light."""

from __future__ import annotations

from typing import Literal

from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.unit.layout import EMPTY


class Open(FillEntry):
    """Nothing."""

    kind: Literal["open"]


KIND = FILLINGS.register(
    Filling("open", Open, "nothing", lambda fill: "nothing", lambda *_: EMPTY, lambda *_: (), order=60)
)
