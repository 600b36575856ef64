"""A model described for a program."""

from __future__ import annotations

from typing import Any

from voltaje.core.entries.model import Entries
from voltaje.core.entries.readers import SCHEMA_UNITS
from voltaje.core.quantities import UnitSystem


def schema(model: type[Entries], system: UnitSystem = "us") -> dict[str, Any]:
    """The JSON schema of a document that :func:`parse` accepts, bare figures in the units of
    ``system``."""
    asked = SCHEMA_UNITS.set(system)
    try:
        found = model.model_json_schema()
    finally:
        SCHEMA_UNITS.reset(asked)
    found["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    found["properties"]["version"] = {
        "type": "integer",
        "minimum": 1,
        "maximum": model.VERSION,
        "default": model.VERSION,
        "description": "Version of these entries.",
    }
    _strip_form(found)
    return found


def _strip_form(node: Any) -> None:
    if isinstance(node, dict):
        node.pop("form", None)
        if node.get("type") == "boolean":  # a text says yes or no as well
            node["type"] = ["boolean", "string"]
            node["enum"] = [True, False, "yes", "no", ""]
        for name, value in node.items():
            # an entry may be called form as well
            within = value.values() if name == "properties" else [value]
            for one in list(within):
                _strip_form(one)
    elif isinstance(node, list):
        for value in node:
            _strip_form(value)
