"""Handing over: everything that can be written into a file, each kind of file as one record."""

from ashfell.services.handover.format import FORMATS, Format, Option, chosen, told
from ashfell.services.handover.source import Source, of_site, of_unit

__all__ = ["FORMATS", "Format", "Option", "Source", "chosen", "of_site", "of_unit", "told"]
