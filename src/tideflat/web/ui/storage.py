"""Static files under names that carry their content's hash, the imports of our script modules too."""

from __future__ import annotations

from typing import Any

from django.core.files.base import ContentFile
from rjsmin import jsmin
from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedFiles(CompressedManifestStaticFilesStorage):
    """A module imports the others by the names they have after hashing, so that no browser mixes two versions.

    Only our own modules are rewritten: other packages ship scripts that import what they do not ship.
    """

    def _save(self, name: str, content: Any) -> str:
        """Our scripts are kept without their comments and blanks: a quarter of what goes over the wire."""
        if name.startswith("tideflat/bench/") and name.endswith(".js"):
            content.seek(0)  # its hash was read from it already
            content = ContentFile(jsmin(content.read().decode()).encode())
        return str(super()._save(name, content))

    #: A name changes with the names of what a module imports: so often for as long a chain of imports.
    max_post_process_passes = 30
    support_js_module_import_aggregation = True
    _js_module_import_aggregation_patterns: Any = (
        "tideflat/*.js",
        CompressedManifestStaticFilesStorage._js_module_import_aggregation_patterns[1],
    )
