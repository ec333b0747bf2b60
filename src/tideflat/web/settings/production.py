"""Behind a proxy that speaks HTTPS. The secret must be given."""

from __future__ import annotations

from django.core.exceptions import ImproperlyConfigured

from .base import *  # noqa: F403
from .base import SECRET_KEY

if len(SECRET_KEY) < 40:
    raise ImproperlyConfigured("TIDEFLAT_SECRET_KEY must be set to at least 40 random characters")
SECURE_SSL_REDIRECT = True
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_HSTS_SECONDS = 31_536_000
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
