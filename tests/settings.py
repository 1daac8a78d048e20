"""The studio's settings with a folder of their own for each process that tests, and quick passwords."""

import gc
import os
import tempfile

WORKER = os.environ.get("PYTEST_XDIST_WORKER", "alone")
if os.environ.get("ASHFELL_TESTED_BY") != WORKER:  # what it starts works in the same folder
    os.environ |= {"ASHFELL_TESTED_BY": WORKER, "ASHFELL_VAR": tempfile.mkdtemp(prefix="ashfell-test-")}

from ashfell.studio.settings import *  # noqa: F403

MIDDLEWARE = ["tests.flat.models_of_nothing", *MIDDLEWARE]  # noqa: F405
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

gc.set_threshold(50_000, 25, 50)  # as the server does
