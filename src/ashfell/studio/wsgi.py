"""The application for a WSGI server."""

import gc
import os
import sys

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ashfell.studio.settings")
application = get_wsgi_application()

from ashfell.studio.warm import warm_pages  # noqa: E402  there is nothing to warm before the application is set up

warm_pages()
# What is there now stays, and what pages make is values that refer to nothing in circles: the page of the largest unit
# takes a quarter less where the collector looks through them more seldom.
gc.freeze()
gc.set_threshold(50_000, 25, 50)
# Who waits for a short page beside a long one takes its turn sooner.
sys.setswitchinterval(0.001)
