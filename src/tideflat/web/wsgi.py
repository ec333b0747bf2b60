"""The application as WSGI."""

from __future__ import annotations

import gc
import os

from django.conf import settings
from django.core.wsgi import get_wsgi_application

from tideflat.web.serving.memory import give_large_blocks_back
from tideflat.web.serving.proxy import TrustedProxy
from tideflat.web.upkeep.database import database_path
from tideflat.web.upkeep.lock import hold_while_serving

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.production")
give_large_blocks_back()
if str(settings.DATABASES["default"]["ENGINE"]).endswith("sqlite3"):  # whatever server loads this: no restore while it lives
    hold_while_serving(database_path())
application = TrustedProxy(get_wsgi_application(), settings.TRUSTED_PROXIES)

# What was made at start-up lives as long as the process, and computed scenes are kept on purpose: nothing is gained by walking
# them all again and again in search of garbage (docs/decisions/0005).
gc.collect()
gc.freeze()
gc.set_threshold(50_000, 30, 100)
