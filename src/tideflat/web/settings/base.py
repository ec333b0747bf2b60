"""Settings that hold everywhere. Secrets come from the environment."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

from tideflat.web.serving.proxy import read_proxies

WEB = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("TIDEFLAT_VAR", Path.cwd() / "var"))

SECRET_KEY = os.environ.get("TIDEFLAT_SECRET_KEY", "")
DEBUG = False
ALLOWED_HOSTS = [host.strip() for host in os.environ.get("TIDEFLAT_HOSTS", "127.0.0.1,localhost").split(",") if host.strip()]
try:
    TRUSTED_PROXIES = read_proxies(os.environ.get("TIDEFLAT_PROXY", ""))
except ValueError as error:
    raise ImproperlyConfigured(str(error)) from None
#: The demo's people have a password that everybody knows.
DEMO_MAY_RUN = True
#: Only the production settings ask before they serve plain HTTP.
INSECURE = False

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "django_htmx",
    "csp",
    "tideflat.web.ui",
    "tideflat.web.accounts",
    "tideflat.web.work",
    "tideflat.web.stores",
    "tideflat.web.scenes",
]
MIDDLEWARE = [
    "tideflat.web.serving.bad_times.BadTimesMiddleware",
    "tideflat.web.serving.bodies.BodyLimitMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "tideflat.web.serving.compress.QuickGzipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "csp.middleware.CSPMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "tideflat.web.accounts.middleware.StudioMiddleware",
    "tideflat.web.scenes.unreadable.UnreadableSceneMiddleware",
]
ROOT_URLCONF = "tideflat.web.urls"
WSGI_APPLICATION = "tideflat.web.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "tideflat.web.accounts.context.person",
            ],
            "builtins": ["tideflat.web.ui.templatetags.measures"],
        },
    }
]

DATABASES: dict[str, dict[str, Any]] = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": os.environ.get("TIDEFLAT_DATABASE", VAR / "tideflat.sqlite3"),
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            # Writes take milliseconds. Who waits longer than this is told so (serving/bad_times.py).
            "timeout": 5,
            "transaction_mode": "IMMEDIATE",
            # FULL: what was answered is on disk, even after a power cut (docs/decisions/0004).
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; PRAGMA temp_store=MEMORY;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "static/"
STATIC_ROOT = os.environ.get("TIDEFLAT_STATIC", VAR / "static")
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "tideflat.web.ui.storage.HashedFiles"},
}
WHITENOISE_KEEP_ONLY_HASHED_FILES = True

LOGIN_URL = "sign_in"
LOGIN_REDIRECT_URL = "shelf"
LOGOUT_REDIRECT_URL = "sign_in"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF, "data:"],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
        "manifest-src": [SELF],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "tideflat.web.ui.errors.token_missing"
DATA_UPLOAD_MAX_MEMORY_SIZE = 3_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 200
FILE_UPLOAD_HANDLERS = [
    "django.core.files.uploadhandler.MemoryFileUploadHandler",
    "django.core.files.uploadhandler.TemporaryFileUploadHandler",
]

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"no_traceback_for_bad_times": {"()": "tideflat.web.serving.bad_times.NoTracebackForBadTimes"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["no_traceback_for_bad_times"]}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}

#: Whether windows are given the scene's drawn light; it is worked out in a process of its own.
DRAWS_LIGHT = True
#: Whether it is tried if this machine's renderer can be compiled for it.
TRIES_COMPILING = True
