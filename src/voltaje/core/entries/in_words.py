"""What was entered, in words, for papers and tasks: what is left as it usually is says nothing."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from voltaje.core.entries.form import FieldSpec
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import say, told

YES = ("yes", "on", "true")
# columns whose text says what it is
PLAIN = ("name", "nameplate", "load", "count", "size")


def entry_words(spec: FieldSpec, value: Any) -> str:
    """An entry's text; a choice by its label; empty where it is left as it usually is."""
    text = "" if value is None or value is False else str(value).strip()
    if spec.kind == "check":
        return str(say("yes")) if text.lower() in YES else ""
    if spec.choices:
        label = dict(spec.choices).get(text or spec.default, "")
        return told(str(label)) if text and text != spec.default else ""
    return text


def plain_words(spec: FieldSpec, value: Any, units: UnitSystem) -> str:
    """An entry's text in a sentence: a choice by its label also where it is the usual one, a bare
    figure with its unit; empty where there is none, and for rows."""
    if spec.kind in ("rows", "check"):
        return ""
    text = "" if value is None else str(value).strip() or spec.default
    if spec.choices:
        return told(str(dict(spec.choices).get(text or spec.default, "")))
    bare = text.replace(".", "").replace("/", "").replace("-", "").replace(",", "").isdigit()
    if text and bare and (unit := bare_unit(spec, units)):
        return f"{text} {unit}"
    return text


def bare_unit(spec: FieldSpec, units: UnitSystem) -> str:
    """The unit that a bare figure has; empty where it has none or may have several."""
    known = [unit for unit in spec.units if unit not in ("-", "/")]
    lengths = {"ft": "m", "ft²": "m²"}
    if known[:1] == ["W"]:
        return ""
    if known and known[0] in lengths and units == "metric":
        return lengths[known[0]]
    return known[0] if known else ""


def row_words(spec: FieldSpec, row: Mapping[str, Any]) -> str:
    """A row of a list, its columns one after the other."""
    parts = []
    for column in spec.columns:
        text = entry_words(column, row.get(column.name))
        if text:
            label = told(column.label)
            said = column.name in PLAIN or text.lower().startswith(label.lower())
            parts.append(text if said else f"{label} {text}")
    return ", ".join(parts)
