"""A small building with one of each: two storeys, a straight wall in leaves, a bent one, a roof plane, plates, a
window, an arch, a door and its mirror image, a unit that is turned, an opening without a unit."""

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene

SITE = {
    "name": "Ferry hut",
    "storeys": [{"id": "ground", "name": "Ground", "height": "2800"}, {"id": "loft", "name": "Loft", "height": "2400"}],
    "walls": [
        {
            "id": "front",
            "name": "River front",
            "length": "8 m",
            "height": "2800",
            "thickness": "300",
            "leaves": [{"thickness": "50"}, {"thickness": "100", "finish": "lime-plaster"}],
            "lining": "15",
        },
        {"id": "bow", "x": "0", "y": "6 m", "length": "5 m", "height": "2400", "curve": {"kind": "arc", "rise": "600"}},
        {"id": "above", "x": "0", "y": "0", "length": "8 m", "height": "2400", "storey": "loft"},
        {"id": "line", "x": "1 m", "y": "3 m", "length": "3 m", "height": "2400", "built": False},
    ],
    "surroundings": [
        {"id": "pear", "kind": "tree", "x": "15 m", "y": "6 m", "level": "-200", "seed": 4},
        {"id": "barn", "kind": "block", "x": "-12 m", "y": "4 m", "turn": 30, "ridge": "2 m"},
    ],
    "plates": [
        {"id": "floor", "x": "0", "y": "0", "width": "8 m", "depth": "5 m", "level": "0", "thickness": "200"},
        {"id": "deck", "x": "0", "y": "0", "width": "8 m", "depth": "5 m", "level": "2800", "thickness": "180"},
    ],
    "roofs": [{"id": "slope", "x": "0", "y": "0", "length": "8 m", "run": "3 m", "slope": 35, "level": "5200"}],
    "units": {
        "window": {
            "name": "Hut window",
            "width": "1500",
            "height": "1200",
            "columns": {"lights": [{}, {}, {"size": "300"}], "bars": ["60", "80"]},
        },
        "arch": {
            "name": "Hut arch",
            "width": "1200",
            "height": "1500",
            "outline": {"kind": "semicircular"},
            "finishes": {"frame": "ash-timber"},
        },
        "door": {
            "name": "Hut door",
            "width": "1000",
            "height": "2100",
            "fill": {"kind": "leaf", "depth": "60"},
        },
        "light": {"name": "Hut rooflight", "width": "780", "height": "1180"},
    },
    "placements": [
        {"id": "w1", "wall": "front", "unit": "window", "offset": "500", "sill": "900", "mark": "W1"},
        {"id": "d1", "wall": "front", "unit": "door", "offset": "2600", "sill": "0", "mark": "D1"},
        {"id": "d2", "wall": "front", "unit": "door", "offset": "4200", "sill": "0", "mirrored": True, "mark": "D2"},
        {"id": "a1", "wall": "front", "unit": "arch", "offset": "6000", "sill": "800", "splay": "60"},
        {"id": "b1", "wall": "bow", "unit": "window", "offset": "1700", "sill": "900"},
        {"id": "t1", "wall": "above", "unit": "window", "offset": "1 m", "sill": "800", "turned": True},
        {"id": "m1", "wall": "above", "unit": "window", "offset": "3 m", "sill": "800", "mirrored": True},
        {"id": "gap", "wall": "above", "offset": "5 m", "width": "900", "height": "1000", "sill": "700"},
        {"id": "s1", "wall": "line", "unit": "window", "offset": "500", "sill": "0"},
        {"id": "r1", "wall": "slope", "unit": "light", "offset": "2 m", "sill": "800"},
    ],
}


def scene(**more):
    """The building; ``more`` entries replace those of the site."""
    return build_scene(read_site(SITE | more))
