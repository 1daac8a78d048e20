"""What is built for others to install: a wheel that holds all that the application needs, whose command works without
the web part, and whose web part starts."""

import json
import os
import shutil
import subprocess
import sys
import zipfile

import pytest

from tests.conftest import DEMO, ROOT

BLOCKING = """
import sys
class Blocked:
    def find_spec(self, name, path=None, target=None):
        if name.partition(".")[0] in ("django", "granian", "whitenoise", "segno", "prometheus_client"):
            raise ImportError(f"{name} belongs to the web part")
sys.meta_path.insert(0, Blocked())
"""


@pytest.fixture(scope="module")
def place(tmp_path_factory):
    """Where the built wheel is unpacked."""
    folder = tmp_path_factory.mktemp("wheel")
    shutil.copytree(ROOT / "src", folder / "clone/src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, folder / "clone" / name)
    command = [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation"]
    subprocess.run([*command, "--wheel-dir", str(folder), str(folder / "clone")], check=True, capture_output=True)
    (wheel,) = folder.glob("ashfell-*.whl")
    with zipfile.ZipFile(wheel) as held:
        held.extractall(folder / "site")
    return folder / "site"


def run(place, folder, *command, **more):
    """Run something with the unpacked wheel and nothing of the clone."""
    own = os.environ | {"PYTHONPATH": str(place), "ASHFELL_VAR": str(folder / "var")} | more
    return subprocess.run([sys.executable, *command], cwd=folder, env=own, capture_output=True, text=True)


def test_all_that_is_no_code_is_in_it(place):
    held = [path for path in (ROOT / "src/ashfell").rglob("*") if path.is_file()]
    shipped = [path for path in held if "__pycache__" not in path.parts]
    missing = [path for path in shipped if not (place / path.relative_to(ROOT / "src")).exists()]
    assert missing == []


def test_the_command_works_without_the_web_part(place, tmp_path):
    (tmp_path / "sitecustomize.py").write_text(BLOCKING)
    paths = f"{tmp_path}:{place}"
    unit, file = DEMO / "units/entrance.json", tmp_path / "entrance.glb"
    made = run(place, tmp_path, "-m", "ashfell.cli", "write", str(unit), str(file), PYTHONPATH=paths)
    assert made.returncode == 0, made.stderr
    assert file.read_bytes().startswith(b"glTF")
    blocked = run(place, tmp_path, "-c", "import django", PYTHONPATH=paths)
    assert "belongs to the web part" in blocked.stderr


def test_the_web_part_starts_with_its_pages_files_and_catalogue(place, tmp_path):
    looked_at = """
import json, ashfell
from django.core.management import call_command
import django
django.setup()
call_command("migrate", verbosity=0)
from django.test import Client
from django.contrib.staticfiles import finders
from ashfell.services.catalogue.shipped import catalogue
page = Client(headers={"host": "localhost"}).get("/sign-in/")
print(json.dumps([ashfell.__file__, page.status_code, bool(finders.find("studio/mark.svg")), len(catalogue())]))
"""
    told = run(place, tmp_path, "-c", looked_at, DJANGO_SETTINGS_MODULE="ashfell.studio.settings", ASHFELL_LOG="ERROR")
    assert told.returncode == 0, told.stderr
    file, status, found, items = json.loads(told.stdout.splitlines()[-1])
    assert file.startswith(str(place))
    assert (status, found) == (200, True)
    assert items > 60
