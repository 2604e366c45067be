"""Settings of the tests: as in production, with plain static files and quick passwords."""

import os
import tempfile
from pathlib import Path

from northfold.config.settings import *  # noqa: F403
from northfold.config.settings import DATABASES, STORAGES

DATABASES["default"]["NAME"] = Path(tempfile.gettempdir()) / f"northfold-tests-{os.getpid()}.sqlite3"
DATABASES["default"]["TEST"] = {"NAME": Path(tempfile.gettempdir()) / f"northfold-test-run-{os.getpid()}.sqlite3"}
STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
DEMO = False
DAY_IN_TURN = True
DAY_SECONDS, SAVING_SECONDS, WAYS_SECONDS = 4.0, 0.8, 3.0
