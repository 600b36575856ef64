"""The WSGI application, for gunicorn or any other server."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "voltaje.web.settings")
application = get_wsgi_application()
