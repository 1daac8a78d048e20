"""What an audit finds."""

from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.unit import audit_unit
from ashfell.formats.findings import write_findings
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source


def _write(source: Source, chosen: Chosen) -> bytes:
    if source.made is not None:
        return write_findings(audit_unit(source.unit, source.style), f"{len(source.unit.parts)} parts")
    return write_findings(audit_scene(source.scene), source.scene.counted)


FORMATS.register(
    Format(
        "audit",
        220,
        "Audit",
        "lists",
        ("site", "unit"),
        ".audit.json",
        "application/json",
        "Everything that the audit finds: level, rule, place, reason and remedy.",
        _write,
    )
)
