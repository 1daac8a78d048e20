"""What a surface is: finishes with a physical meaning, those that ship, and their textures."""

from ashfell.core.finish.document import GLASS_IOR, Finish, Texture, transmittance
from ashfell.core.finish.library import LIBRARY, TINT, find, tinted

__all__ = ["GLASS_IOR", "LIBRARY", "TINT", "Finish", "Texture", "find", "tinted", "transmittance"]
