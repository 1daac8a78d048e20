"""Documents of every earlier format, brought to the one in force wherever they come from: a file, an upload, a
database, what was kept with a picture."""

from ashfell.core.upgrade.upgrade import STEPS, upgraded

__all__ = ["STEPS", "upgraded"]
