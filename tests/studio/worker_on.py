"""A worker process on a test's own database: ``worker_on.py DATABASE [--batch] [--kept]``."""

import os
import sys
from pathlib import Path


def main(database: str, batch: bool, kept: bool) -> None:
    sys.path.insert(0, str(Path(__file__).resolve().parents[2]))
    os.environ["DJANGO_SETTINGS_MODULE"] = "tests.settings"
    os.environ["ASHFELL_COMPILED"] = "no"  # one pass more or less takes no time here
    import django
    from django.conf import settings

    settings.DATABASES["default"]["NAME"] = database
    django.setup()
    from ashfell.studio.pictures.management.commands import work as of_work
    from ashfell.studio.pictures.management.commands.work import keep_working, work

    of_work.BEHIND = 0  # tests wait for it

    if kept:
        keep_working([sys.executable, __file__, database])
    work(batch)


if __name__ == "__main__":
    main(sys.argv[1], "--batch" in sys.argv, "--kept" in sys.argv)
