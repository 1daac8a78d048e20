"""DXF: drawings at true scale, in millimetres or inches, layers by what things are, blocks for what is used often, real
dimensions."""

from __future__ import annotations

import io
import re
from collections.abc import Iterable, Mapping, Sequence

import numpy as np
from ezdxf import units
from ezdxf._options import options
from ezdxf.document import Drawing
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.lwpolyline import LWPolyline
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from ezdxf.layouts.base import BaseLayout
from ezdxf.lldxf import const

from ashfell.core.base.progress import steps
from ashfell.core.drawing.draft import LAYERS, Draft, Layer, Path, Size, Words, layer_of
from ashfell.core.plane.points import Floats

MM = {"mm": 1.0, "in": 25.4}
GAP = 0.15
"""Room between drawings, of the larger one's longer side."""
ALIGNED = {
    "start": TextEntityAlignment.LEFT,
    "middle": TextEntityAlignment.CENTER,
    "end": TextEntityAlignment.RIGHT,
}
STYLE = "ASHFELL"
SHADE = 0.5
"""How clear a fill alone is."""
options.write_fixed_meta_data_for_testing = True  # no time and no identity that would differ each time


def write_dxf(drafts: Sequence[Draft], measure: str = "mm", per: float = 50.0) -> bytes:
    """Drawings in a row, each over its title; figures are as high as they are to be on a sheet at 1 to ``per``."""
    drawing = _begun(measure)
    space, scale, at = drawing.modelspace(), 1 / MM[measure], 0.0
    for draft in steps(drafts, "drawings written"):
        left, foot, right, head = draft.extent
        room = max(right - left, head - foot)
        shift = np.array([at - left, -foot])
        _draw(drawing, space, draft, scale, shift, per / draft.nearer)
        high = 3.5 * per / draft.nearer
        title = Words(draft.title, (at, -3 * high), high, "start")
        _words(space, title, scale, np.zeros(2))
        at += right - left + GAP * room + 20 * per / draft.nearer
    _bounds(drawing)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode("utf-8")


def _begun(measure: str) -> Drawing:
    """An empty drawing with its layers and its style of dimensions; without the time it is made at."""
    drawing = new("R2018", setup=["linetypes"])
    drawing.units = units.MM if measure == "mm" else units.IN
    drawing.header["$MEASUREMENT"] = 1 if measure == "mm" else 0
    for layer in LAYERS.values():
        _layer(drawing, layer)
    drawing.styles.add("ASHFELL", font="isocpeur.ttf")
    style = drawing.dimstyles.add(STYLE)
    style.set_tick(size=1.0)
    style.dxf.dimclrd = style.dxf.dimclre = 256
    style.dxf.dimtxsty = "ASHFELL"
    style.dxf.dimdec = 2
    style.dxf.dimzin = 8
    style.dxf.dimtad = 1
    return drawing


def _layer(drawing: Drawing, layer: Layer) -> str:
    if layer.name not in drawing.layers:
        made = drawing.layers.add(layer.name)
        made.rgb = layer.colour
        made.dxf.lineweight = _weight(layer.width)
    return layer.name


def _weight(width: float) -> int:
    """The nearest width of a line that DXF knows, hundredths of a mm."""
    known = (5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70)
    return min(known, key=lambda one: abs(one - width * 100))


def _draw(
    drawing: Drawing, space: BaseLayout, draft: Draft, scale: float, shift: Floats, per: float, dimensioned: bool = True
) -> None:
    for path in draft.paths:
        _path(drawing, space, path, scale, shift, per)
    for use in draft.uses:
        name = _block(drawing, use.draft, draft.used, scale, per)
        place = (np.array(use.at) + shift) * scale
        insert = space.add_blockref(name, place.tolist(), dxfattribs={"layer": LAYERS["unit"].name})
        if use.over:
            insert.dxf.xscale = -1.0
    for word in draft.words:
        _words(space, word, scale, shift)
    for size in draft.sizes if dimensioned else ():
        _size(space, size, scale, shift, per)


def _block(drawing: Drawing, key: str, used: Mapping[str, Draft], scale: float, per: float) -> str:
    """A drawing as a block, made once."""
    name = re.sub(r"[^A-Za-z0-9_$-]+", "-", key).upper()[:200]
    if name not in drawing.blocks:
        block = drawing.blocks.new(name)
        _draw(drawing, block, used[key], scale, np.zeros(2), per, dimensioned=False)
    return name


def _path(drawing: Drawing, space: BaseLayout, path: Path, scale: float, shift: Floats, per: float) -> None:
    layer = _layer(drawing, layer_of(path.layer))
    told = {"layer": layer} | ({"linetype": "DASHED", "ltscale": per * scale} if path.dashed else {})
    if not path.lined:
        _filled(space, path, layer, scale, shift)
        return
    for ring in (path.points, *path.holes):
        space.add_lwpolyline(_corners(ring, scale, shift), close=path.closed, dxfattribs=told)
    if path.hatched:
        hatch = space.add_hatch(dxfattribs={"layer": LAYERS["hatch"].name})
        hatch.set_pattern_fill("ANSI31", scale=per * scale * 0.6)
        hatch.paths.add_polyline_path(_corners(path.points, scale, shift), is_closed=True)


def _filled(space: BaseLayout, path: Path, layer: str, scale: float, shift: Floats) -> None:
    """A fill alone, through which one sees what it lies on."""
    hatch = space.add_hatch(dxfattribs={"layer": layer})
    hatch.rgb = path.fill or layer_of(path.layer).colour
    hatch.transparency = SHADE
    for index, ring in enumerate((path.points, *path.holes)):
        flags = const.BOUNDARY_PATH_EXTERNAL if index == 0 else const.BOUNDARY_PATH_DEFAULT
        hatch.paths.add_polyline_path(_corners(ring, scale, shift), is_closed=True, flags=flags)


def _corners(points: Floats, scale: float, shift: Floats) -> list[tuple[float, float]]:
    held = np.round((np.asarray(points) + shift) * scale, 6) + 0.0
    return [(x, y) for x, y in held.tolist()]


def _words(space: BaseLayout, word: Words, scale: float, shift: Floats) -> None:
    place = ((np.array(word.at) + shift) * scale).tolist()
    text = space.add_text(
        _line(word.text),
        height=word.height * scale,
        dxfattribs={"layer": LAYERS["text"].name, "style": "ASHFELL"},
    )
    text.set_placement(place, align=ALIGNED[word.anchor])


def _line(text: str) -> str:
    """A line of text: nothing in it begins a code of its own."""
    return re.sub(r"[\x00-\x1f]", " ", text).replace("%%", "% %").replace("\\", "/").replace("^", " ")


def _size(space: BaseLayout, size: Size, scale: float, shift: Floats, per: float) -> None:
    """A real dimension: it measures, and says what the page says."""
    (start, end) = _corners(np.array([size.start, size.end]), scale, shift)
    if start == end:
        return
    tall = 2.2 * per * scale
    told = {
        "dimtxt": tall,
        "dimtsz": tall / 3,
        "dimexo": tall / 2,
        "dimexe": tall / 3,
        "dimgap": tall / 4,
        "dimdec": 2,
    }
    made = space.add_aligned_dim(
        p1=start, p2=end, distance=size.off * scale, text=_line(size.text), dimstyle=STYLE, override=told,
        dxfattribs={"layer": LAYERS["dimension"].name},
    )  # fmt: skip
    made.render()


def _bounds(drawing: Drawing) -> None:
    """Say how far the drawing goes, so that it is seen whole when it is opened."""
    found = _extent(drawing.modelspace())
    if found is None:
        return
    low, high = found
    drawing.header["$EXTMIN"], drawing.header["$EXTMAX"] = (*low, 0.0), (*high, 0.0)
    middle = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2)
    drawing.set_modelspace_vport(height=max(high[1] - low[1], (high[0] - low[0]) / 1.6) * 1.1, center=middle)


def _extent(space: Iterable[DXFEntity]) -> tuple[tuple[float, float], tuple[float, float]] | None:
    corners = [np.array([point[:2] for point in one.get_points()]) for one in space if isinstance(one, LWPolyline)]
    if not corners:
        return None
    points = np.concatenate(corners)
    (left, foot), (right, head) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return (left, foot), (right, head)
