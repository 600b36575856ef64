"""The WSGI application, for gunicorn or any other server."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "voltaje.web.settings")
application = get_wsgi_application()

# What is kept of worked parts is many small values without cycles. Looking through all of them for
# garbage over and over took longer than working them.
THRESHOLDS = (100_000, 20, 100)
gc.collect()
gc.freeze()
gc.set_threshold(*THRESHOLDS)
