"""Writes down what programs may ask, with each kind's entries and results: by drf-spectacular, into
src/voltaje/web/api/openapi.json.

    python checks/openapi.py            writes it
    python checks/openapi.py --check    says whether it is up to date; part of ./voltaje check
"""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path

HERE = Path(__file__).parent.parent
sys.path.insert(0, str(HERE / "src"))


def main(arguments: list[str]) -> int:
    """1 where the file is out of date."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "voltaje.web.settings")
    import django

    django.setup()
    from drf_spectacular.generators import SchemaGenerator
    from drf_spectacular.validation import validate_schema

    from voltaje.web.api.reference import FILE

    found = SchemaGenerator().get_schema(request=None, public=True)
    validate_schema(found)
    text = json.dumps(found, indent=1, ensure_ascii=False, sort_keys=True) + "\n"
    if "--check" not in arguments:
        FILE.write_text(text, encoding="utf-8")
        return 0
    if FILE.is_file() and FILE.read_text(encoding="utf-8") == text:
        return 0
    print(f"{FILE.relative_to(HERE)} is out of date: run checks/openapi.py")
    return 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
