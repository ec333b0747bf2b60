"""Tests: a database in a file, as browser and test write to it together; plain static files; quick password hashes."""

from __future__ import annotations

import tempfile
from pathlib import Path

from .base import *  # noqa: F403
from .base import DATABASES, STORAGES

_folder = Path(tempfile.mkdtemp(prefix="tideflat-test-"))
SECRET_KEY = "tests-only-" + "x" * 40
DATABASES["default"]["NAME"] = _folder / "unused.sqlite3"
DATABASES["default"]["TEST"] = {"NAME": _folder / "test.sqlite3"}
DATABASES["default"]["OPTIONS"]["init_command"] = DATABASES["default"]["OPTIONS"]["init_command"].replace("FULL", "OFF")
STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
STATIC_ROOT = _folder / "static"
STATIC_ROOT.mkdir()
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
WHITENOISE_MAX_AGE = 3600
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
ALLOWED_HOSTS = ["*"]
#: Tests that are about light turn it on; all others need not wait for it.
DRAWS_LIGHT = False
TRIES_COMPILING = False
