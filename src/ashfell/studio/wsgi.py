"""The application for a WSGI server."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ashfell.studio.settings")
application = get_wsgi_application()

from ashfell.studio.warm import settle, warm_pages  # noqa: E402  there is nothing to warm before that is set up

warm_pages()
settle()
