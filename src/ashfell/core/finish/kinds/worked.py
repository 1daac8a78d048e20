"""What frames, leaves and hardware are made of and painted with."""

from ashfell.core.finish.kind import SURFACES, Surface

PAINT = SURFACES.register(Surface("paint", "Paint", 10, ("roughness", "varnish"), {"roughness": 0.4}))
TIMBER = SURFACES.register(Surface("timber", "Timber", 20, ("roughness", "varnish"), {"roughness": 0.5}, ("timber",)))
METAL = SURFACES.register(
    Surface("metal", "Metal", 30, ("roughness", "metallic"), {"roughness": 0.3, "metallic": 1.0}, ("brushed",))
)
RUBBER = SURFACES.register(Surface("rubber", "Rubber", 40, start={"roughness": 0.75}))
