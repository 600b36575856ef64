"""What is needed and missing, and figures outside their usual span."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import Any

from pydantic import BaseModel

from voltaje.core import quantities
from voltaje.core.entries.form import FieldSpec, fields, reads_of
from voltaje.core.entries.model import Entries, WrongEntryError
from voltaje.core.entries.readers import SLACK, Reads
from voltaje.core.quantities import Dimension, UnitSystem
from voltaje.core.report import Text, say


def unusual(entries: Any, system: UnitSystem = "us") -> Iterator[tuple[str, Text, Text]]:
    """Every figure outside its usual span: its path, what is odd about it, what may be meant."""
    model: type[BaseModel] = type(entries)
    for spec in fields(model):
        value = getattr(entries, spec.name)
        if spec.kind == "rows":
            for row in value:
                for path, odd, meant in unusual(row, system):
                    yield f"{spec.name}.{row.id}.{path}", odd, meant
        elif spec.usual is not None and _applies(spec, entries):
            found = _odd(spec, value, entries, system)
            if found is not None:
                yield (spec.name, *found)


def ask_needed(entries: Entries, known: Collection[str] = ()) -> None:
    """Raises :class:`WrongEntryError` at the first entry that is needed, asked for, and empty;
    ``known`` are those that are had elsewhere."""
    for spec in fields(type(entries)):
        if spec.required and spec.name not in known and _applies(spec, entries):
            value = getattr(entries, spec.name)
            if value is None or value == "":
                words = say("Needed: give it like {like}.", like=spec.example)
                raise WrongEntryError(spec.name, words)


def _applies(spec: FieldSpec, entries: Any) -> bool:
    return spec.when is None or str(getattr(entries, spec.when[0])) in spec.when[1]


def _odd(spec: FieldSpec, value: Any, entries: Any, system: UnitSystem) -> tuple[Text, Text] | None:
    dimension: Dimension = quantities.POWER
    if isinstance(value, quantities.Nameplate):
        value = value.watts
    else:
        reads = reads_of(type(entries), spec.name)
        dimension = reads.dimension if isinstance(reads, Reads) else dimension
    if spec.usual is None or value is None or not value:
        return None
    low, high, what = spec.usual.span(entries)
    if low * (1 - SLACK) <= value <= high * (1 + SLACK):
        return None
    shown = quantities.show(value, dimension, system)
    given = {"figure": shown, "what": say(what)}
    odd = say("{figure} is little for {what}.", **given)
    if value >= low:
        odd = say("{figure} is much for {what}.", **given)
    # a prefix or a unit that was forgotten, or one too many
    for step in (1000.0, 0.001) if dimension.base == "watt" else ():
        if low <= value * step <= high:
            meant = quantities.show(value * step, dimension, system)
            return odd, say("Was {figure} meant?", figure=meant)
    return (
        odd,
        say(
            "Usual is {low} to {high}: read it again.",
            low=quantities.show(low, dimension, system),
            high=quantities.show(high, dimension, system),
        ),
    )
