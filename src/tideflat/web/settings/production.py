"""Behind a proxy that speaks HTTPS (docs/serving.md). The secret and the host names must be given."""

from __future__ import annotations

import os

from django.core.exceptions import ImproperlyConfigured

from .base import *  # noqa: F403
from .base import SECRET_KEY

if len(SECRET_KEY) < 40:
    raise ImproperlyConfigured(
        "TIDEFLAT_SECRET_KEY must be set to at least 40 random characters. "
        "Make one: python3 -c 'import secrets; print(secrets.token_urlsafe(60))'"
    )
#: Plain HTTP, because its owner says so: on one's own machine, or in a network where nobody listens.
INSECURE = os.environ.get("TIDEFLAT_INSECURE", "") == "1"
DEMO_MAY_RUN = False

# The scheme that TrustedProxy believed stands in the request itself, so Django needs no header of its own for it.
SECURE_SSL_REDIRECT = not INSECURE
SECURE_HSTS_SECONDS = 0 if INSECURE else 31_536_000
SECURE_HSTS_INCLUDE_SUBDOMAINS = not INSECURE
SESSION_COOKIE_SECURE = not INSECURE
CSRF_COOKIE_SECURE = not INSECURE
# Whether a whole domain may be listed in browsers for ever is for the domain's holder to say, not for one program on it.
SILENCED_SYSTEM_CHECKS = ["security.W021"]
