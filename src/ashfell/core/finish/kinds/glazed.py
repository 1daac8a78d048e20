"""Glass that lets light through, and glass that gives it back."""

from ashfell.core.finish.kind import SURFACES, Surface

GLASS = SURFACES.register(
    Surface(
        "glass",
        "Glass",
        50,
        ("roughness", "thickness", "ior"),
        {"roughness": 0.0, "transmission": 1.0, "colour": "#ffffff"},
        ("reeded", "hammered"),
        "pane",
    )
)
MIRROR = SURFACES.register(
    Surface("mirror", "Mirror", 60, ("roughness",), {"roughness": 0.0, "metallic": 1.0, "colour": "#eef0f0"})
)
