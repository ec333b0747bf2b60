"""Static files under names that carry their content's hash, the imports of script modules too."""

from __future__ import annotations

from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedFiles(CompressedManifestStaticFilesStorage):
    """A module imports the others by the names they have after hashing, so that no browser mixes two versions."""

    support_js_module_import_aggregation = True
