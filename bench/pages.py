"""What a change on the unit page costs at the server, for every unit of the demo's library, against a page with nothing
on it in the same run."""

from __future__ import annotations

import json
import os
import tempfile
from itertools import count
from pathlib import Path
from typing import Any

from bench.timing import in_turn

UNITS = Path(__file__).parent.parent / "demo" / "heron-reach" / "units"
DRAWING, VIEW = 60, 300
"""Goals, ms."""


def main() -> None:
    os.environ.setdefault("ASHFELL_VAR", tempfile.mkdtemp(prefix="ashfell-bench-"))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ashfell.studio.settings")
    import django

    django.setup()
    from django.contrib.auth import get_user_model
    from django.core.management import call_command
    from django.test import Client

    from ashfell.core.base.document import dump
    from ashfell.core.base.lengths import parse
    from ashfell.services.kept.models import Project, Record
    from ashfell.studio.warm import settle, warm_pages
    from bench.units import UNITS as PLAIN

    call_command("migrate", verbosity=0)
    person, _ = get_user_model().objects.get_or_create(username="bench")
    project = Project.objects.create(name="Bench")
    project.members.add(person)
    documents = {path.stem: json.loads(path.read_text()) for path in sorted(UNITS.glob("*.json"))}
    documents["four-by-two"] = dump(PLAIN["four by two lights"])
    for key, data in documents.items():
        Record.start(project, "unit", key, data, person)
    client = Client(headers={"host": "localhost"})
    client.force_login(person)
    warm_pages()
    settle()
    missed = []
    for key, data in documents.items():
        address = f"/projects/{project.pk}/units/{key}"
        more = count(1)
        entry = "width" if _can_be_wider(data) else "frame.face"
        at = float(parse(data["width"] if entry == "width" else data["frame"]["face"]))

        def typed(entry=entry, at=at, more=more) -> dict[str, str]:
            """A number that was never typed before, so that nothing of it is known yet."""
            return {"entry": entry, "value": f"{at + next(more) / 100:.2f} mm", "keep": "0"}

        assert client.post(f"{address}/edit/", typed()).status_code == 200, key
        empty, drawing, view = in_turn(
            lambda: client.get("/"),
            lambda address=address, typed=typed: client.post(f"{address}/edit/", typed()),
            lambda address=address, typed=typed: client.post(f"{address}/view.glb", typed()),
            rounds=15,
        )
        missed += [
            f"{key}, {what}"
            for what, taken, most in (("drawing", drawing, DRAWING), ("3D", view, VIEW))
            if taken * 1000 > most
        ]
        print(
            f"{key:24} typing a number: drawing, strips and list {drawing * 1000:4.0f} ms, {drawing / empty:.1f} "
            f"empty pages; 3D {view * 1000:4.0f} ms, {view / empty:.1f}"
        )
    print(
        f"goals of {DRAWING} ms for the drawing and {VIEW} ms for 3D: "
        f"{'missed for ' + '; '.join(missed) if missed else 'reached for every unit'}"
    )


def _can_be_wider(data: dict[str, Any]) -> bool:
    """A free path with arcs cannot be made wider alone."""
    return data.get("outline", {}).get("kind") != "path"
