"""The demo on one's own machine: plain HTTP on 127.0.0.1, a secret made once and kept beside the database."""

from __future__ import annotations

import secrets

from .base import *  # noqa: F403
from .base import SECRET_KEY, VAR

if not SECRET_KEY:
    _kept = VAR / "secret-key"
    try:
        if not _kept.exists():
            VAR.mkdir(parents=True, exist_ok=True)
            _kept.touch(0o600)
            _kept.write_text(secrets.token_urlsafe(50))
        SECRET_KEY = _kept.read_text()
    except OSError:  # a folder that may only be read, or a full disk: enough for a backup or a check; nothing can be served from it
        SECRET_KEY = ""
    SECRET_KEY = SECRET_KEY or secrets.token_urlsafe(50)
