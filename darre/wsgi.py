"""The entry point for a web server."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "darre.settings")
application = get_wsgi_application()
