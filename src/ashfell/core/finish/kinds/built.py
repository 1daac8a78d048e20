"""What walls, floors and the ground are made of, and what hangs before them."""

from ashfell.core.finish.kind import SURFACES, Surface

MASONRY = SURFACES.register(Surface("masonry", "Masonry", 70, start={"roughness": 0.9}, patterns=("brick", "coursed")))
PLASTER = SURFACES.register(Surface("plaster", "Plaster", 80, start={"roughness": 0.9}, patterns=("plaster",)))
STONE = SURFACES.register(
    Surface("stone", "Stone", 90, ("roughness", "varnish"), {"roughness": 0.6}, ("plaster", "coursed", "tiles"))
)
TILE = SURFACES.register(Surface("tile", "Tile", 100, ("roughness", "varnish"), {"roughness": 0.3}, ("tiles",)))
CONCRETE = SURFACES.register(
    Surface("concrete", "Concrete", 110, start={"roughness": 0.85}, patterns=("boarded", "plaster"))
)
FABRIC = SURFACES.register(Surface("fabric", "Fabric", 120, ("roughness", "sheen"), {"roughness": 0.9}, ("weave",)))
GROUND = SURFACES.register(Surface("ground", "Ground", 130, start={"roughness": 0.95}, patterns=("gravel",)))
PLANT = SURFACES.register(Surface("plant", "Plants", 140, start={"roughness": 0.85}, patterns=("gravel", "boarded")))
