"""Small drawings as PNG: an elevation as it is on paper, for tables."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from PIL import Image, ImageDraw

from ashfell.core.seen import Shape
from ashfell.formats.svg import fill_of

FINER = 3
"""How many times as large it is drawn before it is made smaller: edges are smooth then."""
LINE = (70, 66, 60)


def elevation_png(shapes: Sequence[Shape], width: int, height: int) -> bytes:
    """An elevation, back to front, as large as goes into so many pixels; always the same bytes for the same shapes."""
    points = np.concatenate([loop for shape in shapes for loop in shape.loops])
    low, high = points.min(axis=0), points.max(axis=0)
    scale = FINER * min((width - 2) / (high[0] - low[0]), (height - 2) / (high[1] - low[1]))
    across, up = (int(np.ceil(scale * span / FINER)) + 2 for span in (high - low).tolist())
    size = across, up
    whole = Image.new("RGB", (size[0] * FINER, size[1] * FINER), "white")
    draw = ImageDraw.Draw(whole)
    for shape in shapes:
        paths = [
            [tuple(p) for p in ((loop - (low[0], high[1])) * (scale, -scale) + FINER).tolist()] for loop in shape.loops
        ]
        if len(paths) == 1:
            draw.polygon(paths[0], fill=fill_of(shape))
        else:
            mask = Image.new("L", whole.size, 0)
            cut = ImageDraw.Draw(mask)
            cut.polygon(paths[0], fill=255)
            for hole in paths[1:]:
                cut.polygon(hole, fill=0)
            whole.paste(Image.new("RGB", whole.size, fill_of(shape)), mask=mask)
        for path in paths:
            draw.line([*path, path[0]], fill=LINE, width=1)
    held = io.BytesIO()
    whole.resize(size, Image.Resampling.BOX).save(held, "PNG")
    return held.getvalue()
