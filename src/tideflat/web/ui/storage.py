"""Static files under names that carry their content's hash, the imports of our script modules too."""

from __future__ import annotations

from typing import Any

from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedFiles(CompressedManifestStaticFilesStorage):
    """A module imports the others by the names they have after hashing, so that no browser mixes two versions.

    Only our own modules are rewritten: other packages ship scripts that import what they do not ship.
    """

    support_js_module_import_aggregation = True
    _js_module_import_aggregation_patterns: Any = (
        "tideflat/*.js",
        CompressedManifestStaticFilesStorage._js_module_import_aggregation_patterns[1],
    )
