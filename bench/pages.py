"""What a change on the unit page costs at the server, against a page with nothing on it in the same run."""

from __future__ import annotations

import os
import tempfile

from bench.timing import in_turn


def main() -> None:
    os.environ.setdefault("ASHFELL_VAR", tempfile.mkdtemp(prefix="ashfell-bench-"))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ashfell.studio.settings")
    import django

    django.setup()
    from django.contrib.auth import get_user_model
    from django.core.management import call_command
    from django.test import Client

    from ashfell.core.document import dump
    from ashfell.studio.projects.models import Project, Record
    from bench.units import UNITS

    call_command("migrate", verbosity=0)
    person, _ = get_user_model().objects.get_or_create(username="bench")
    project = Project.objects.create(name="Bench")
    project.members.add(person)
    Record.start(project, "unit", "four-by-two", dump(UNITS["four by two lights"]), person)
    client = Client(headers={"host": "localhost"})
    client.force_login(person)
    address = f"/projects/{project.pk}/units/four-by-two"
    typed = {"entry": "width", "value": "2400", "keep": "0"}
    empty, drawing, view = in_turn(
        lambda: client.get("/"),
        lambda: client.post(f"{address}/edit/", typed),
        lambda: client.post(f"{address}/view.glb", typed),
    )
    for what, taken, limit in (("elevation, strips and list", drawing, 100), ("3D view", view, 300)):
        verdict = "reached" if taken * 1000 <= limit else "missed"
        print(
            f"typing a number, {what}: {taken * 1000:.0f} ms, {taken / empty:.1f} empty pages of {empty * 1000:.1f} ms (goal {limit} ms, {verdict})"
        )
