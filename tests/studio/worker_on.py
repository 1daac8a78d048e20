"""A worker process on a test's own database: ``worker_on.py DATABASE [--batch]``."""

import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[2]))

os.environ["DJANGO_SETTINGS_MODULE"] = "tests.settings"

from django.conf import settings

settings.DATABASES["default"]["NAME"] = sys.argv[1]

import django

django.setup()

from ashfell.studio.gallery.management.commands.work import work

work(batch="--batch" in sys.argv)
