"""Findings of an audit as JSON, written and read."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import asdict

from ashfell.core.audit.finding import Finding


def write_findings(findings: Iterable[Finding], checked: str) -> bytes:
    """All findings, and what was checked: "48 parts"."""
    held = {"checked": checked, "findings": [asdict(finding) for finding in findings]}
    return json.dumps(held, indent=1, ensure_ascii=False).encode()


def read_findings(content: bytes) -> tuple[list[Finding], str]:
    """What :func:`write_findings` wrote."""
    held = json.loads(content)
    return [Finding(**one) for one in held["findings"]], held["checked"]
