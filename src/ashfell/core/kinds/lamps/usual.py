"""Bulbs, panels, strips and spots; what they begin as is common practice, no source."""

from ashfell.core.kinds.lamp import LAMPS, LampKind

BULB = LAMPS.register(LampKind("bulb", "bulb", 10, "ball", ("width",), {"lumens": 800.0, "width": "100 mm"}))
PANEL = LAMPS.register(
    LampKind(
        "panel",
        "panel",
        20,
        "plate",
        ("width", "length", "turn", "tilt"),
        {"lumens": 3600.0, "width": "600 mm", "length": "600 mm"},
    )
)
STRIP = LAMPS.register(
    LampKind(
        "strip",
        "strip",
        30,
        "plate",
        ("width", "length", "turn", "tilt"),
        {"lumens": 2000.0, "width": "20 mm", "length": "1200 mm"},
    )
)
SPOT = LAMPS.register(LampKind("spot", "spot", 40, "cone", ("beam", "turn", "tilt"), {"lumens": 700.0, "beam": 36.0}))
