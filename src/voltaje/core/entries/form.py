"""A model described for a form: its fields in their order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from voltaje.core import quantities
from voltaje.core.entries.model import Row, Usual
from voltaje.core.entries.readers import Reads, ReadsNameplate


@dataclass(frozen=True, slots=True)
class FieldSpec:
    """One field, for a form."""

    name: str
    label: str
    help: str
    kind: Literal["quantity", "choice", "check", "text", "rows"]
    required: bool
    default: str
    example: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    suggestions: tuple[Mapping[str, str], ...] = ()
    group: str = ""
    when: tuple[str, tuple[str, ...]] | None = None
    columns: tuple[FieldSpec, ...] = ()
    add: str = ""
    usual: Usual | None = None
    complete: bool = False
    # a limit of the edition and the help that tells it, with its ``{figure}``
    counts: tuple[str, str] | None = None
    # whether it is usually left as it is (``None``: as its group), and what it says then, in a line
    # with others; without it the choice or the figure itself is told
    seldom: bool | None = None
    at_rest: str | None = None
    # the units that it may be given in, as they are written on a key
    units: tuple[str, ...] = ()


@cache
def fields(model: type[BaseModel]) -> tuple[FieldSpec, ...]:
    """The model's fields in their order, rows with their columns."""
    return tuple(
        _spec(name, info) for name, info in model.model_fields.items() if name not in ("id",)
    )


def _spec(name: str, info: FieldInfo) -> FieldSpec:
    extra = info.json_schema_extra
    form: dict[str, Any] = dict(extra.get("form", {})) if isinstance(extra, dict) else {}  # type: ignore[arg-type]
    reads = next((m for m in info.metadata if isinstance(m, Reads | ReadsNameplate)), None)
    row = row_model(info.annotation)
    kind: Literal["quantity", "choice", "check", "text", "rows"] = "text"
    example = ""
    if row is not None:
        kind = "rows"
    elif reads is not None or optional_reads(info.annotation):
        kind = "quantity"
        found = reads or optional_reads(info.annotation)
        example = (
            found.dimension.example if isinstance(found, Reads) else quantities.NAMEPLATE.example
        )
    elif info.annotation is bool:
        kind = "check"
    elif get_origin(info.annotation) is Literal:
        kind = "choice"
    values = get_args(info.annotation) if kind == "choice" else ()
    labels: Mapping[str, str] = form.get("choices", {})
    default = "" if info.default is None or kind in ("rows", "check") else str(info.default)
    found_reads = reads or optional_reads(info.annotation)
    if info.is_required():
        default = ""
    elif default and isinstance(found_reads, Reads):
        default = quantities.show(float(info.default), found_reads.dimension)
    return FieldSpec(
        name,
        info.title or name,
        info.description or "",
        kind,
        info.is_required() or bool(form.get("needed")),
        default,
        form.get("example", example),
        tuple((value, labels.get(value, value)) for value in values),
        tuple(form.get("suggestions", ())),
        form.get("group", ""),
        form.get("when"),
        fields(row) if row else (),
        form.get("add", ""),
        form.get("usual"),
        row is not None and row.COMPLETE,
        form.get("counts"),
        form.get("seldom"),
        form.get("at_rest"),
        _units(found_reads),
    )


def _units(reads: Reads | ReadsNameplate | None) -> tuple[str, ...]:
    if reads is None:
        return ()
    dimension = reads.dimension if isinstance(reads, Reads) else quantities.NAMEPLATE
    return quantities.KEYS.get(dimension.name, ())


def row_model(annotation: Any) -> type[Row] | None:
    if get_origin(annotation) is tuple:
        inner = get_args(annotation)[0]
        if isinstance(inner, type) and issubclass(inner, Row):
            return inner
    return None


def optional_reads(annotation: Any) -> Reads | ReadsNameplate | None:
    for inner in get_args(annotation):
        for mark in getattr(inner, "__metadata__", ()):
            if isinstance(mark, Reads | ReadsNameplate):
                return mark
    return None


@cache
def row_models(model: type[BaseModel]) -> Mapping[str, type[Row]]:
    """The rows that a model has, by the name of their list."""
    found = ((name, row_model(info.annotation)) for name, info in model.model_fields.items())
    return {name: row for name, row in found if row is not None}


@cache
def names_of(model: type[BaseModel]) -> frozenset[str]:
    """The names of all entries of a model."""
    return frozenset(model.model_fields)


def reads_of(model: type[BaseModel], name: str) -> Reads | ReadsNameplate | None:
    info = model.model_fields[name]
    own = next((m for m in info.metadata if isinstance(m, Reads | ReadsNameplate)), None)
    return own or optional_reads(info.annotation)
