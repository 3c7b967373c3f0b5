"""The WSGI application that granian serves."""

import os
import sys
from importlib import import_module

from django.conf import settings
from django.core.wsgi import get_wsgi_application

# A request waits for the interpreter a dozen times, once behind each answer of the database.  Beside one that
# computes, each of these waits takes a whole switching interval; the usual five milliseconds make a save four
# times as long.
sys.setswitchinterval(0.0005)

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "goodquill.runtime.settings")
application = get_wsgi_application()
if settings.MADE_READY:
    import_module("goodquill.runtime.ready").make_ready()
