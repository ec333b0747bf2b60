"""The demo on one's own machine: plain HTTP on 127.0.0.1, a secret made once and kept beside the database."""

from __future__ import annotations

import secrets

from .base import *  # noqa: F403
from .base import SECRET_KEY, VAR

if not SECRET_KEY:
    _kept = VAR / "secret-key"
    if not _kept.exists():
        VAR.mkdir(parents=True, exist_ok=True)
        _kept.write_text(secrets.token_urlsafe(50))
        _kept.chmod(0o600)
    SECRET_KEY = _kept.read_text()
