"""Entry point of the production server."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ember_server.settings")
application = get_wsgi_application()

if os.environ.get("EMBER_SERVES") == "1":
    # Else the first who has something computed waits a second for them.
    import scipy.optimize
    import scipy.stats  # noqa: F401

    from jobs.services import worker

    worker.begin()
