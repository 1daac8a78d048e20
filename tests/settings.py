"""The studio's settings with a folder of their own and quick passwords."""

import os
import tempfile

os.environ.setdefault("ASHFELL_VAR", tempfile.mkdtemp(prefix="ashfell-test-"))

from ashfell.studio.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
