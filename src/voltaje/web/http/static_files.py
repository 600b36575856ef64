"""Static files under names of their contents, modules' imports of one another included."""

from __future__ import annotations

from whitenoise.storage import CompressedManifestStaticFilesStorage


class HashedFiles(CompressedManifestStaticFilesStorage):
    """A page never mixes a new module with an old one that it imports."""

    support_js_module_import_aggregation = True
