"""Settings of the tests: a database of their own, and Playwright's synchronous API beside Django's."""

import os
import tempfile

os.environ.setdefault("WATTIKOS_DATA", tempfile.mkdtemp(prefix="wattikos-test-"))
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from wattikos_web.settings import *  # noqa: F403
from wattikos_web.settings import DATA_DIR, DATABASES, LOGGING

# A file, since the worker and the live server look at it from several threads.
DATABASES["default"]["TEST"] = {"NAME": DATA_DIR / "test.sqlite3"}
# Refusals are what many tests are about; only errors of the server itself are worth a line.
LOGGING["loggers"] = {"django.request": {"level": "ERROR"}, "distributed": {"level": "CRITICAL"}, "axes": {"level": "CRITICAL"}}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
