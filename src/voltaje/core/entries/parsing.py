"""A document read: the model, or the problems, each at its field in words of the trade."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import Any

from pydantic import BaseModel, ValidationError

from voltaje.core import quantities
from voltaje.core.entries.form import names_of, optional_reads, row_model, row_models
from voltaje.core.entries.model import Document, Entries, Parsed, Problem, Row
from voltaje.core.entries.readers import NAME_LENGTH, Reads, ReadsNameplate
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Text, say

MAX_ROWS = 200


MOST_STRANGE = 50  # no code figure: so many unknown entries are told one by one


def parse(
    model: type[Entries],
    document: Mapping[str, Any],
    system: UnitSystem = "us",
    elsewhere: frozenset[str] = frozenset(),
) -> Parsed:
    """Reads a document. Empty texts count as not given; rows in which nothing is given at all are
    passed over, and so is what is read ``elsewhere``. A row that says what is usual counts.

    Never raises for bad input: every problem comes back at its field.
    """
    if not isinstance(document, Mapping):
        return Parsed(None, (Problem("", str(say("The entries must be one JSON object."))),))
    too_many = [
        Problem(
            name, str(say("{many} rows: at most {most} are taken.", many=len(value), most=MAX_ROWS))
        )
        for name, value in document.items()
        if isinstance(value, list) and len(value) > MAX_ROWS
    ]
    if too_many:
        return Parsed(None, tuple(too_many))
    try:
        upgraded = _own(upgrade(model, document), elsewhere)
        strange = _strange(model, upgraded)
        if len(strange) > MOST_STRANGE:
            return Parsed(None, (_too_strange(strange),))
        cleaned = _clean(model, upgraded)
        entries = model.model_validate(cleaned, context={"system": system})
    except ValidationError as error:
        problems = tuple(_problem(model, item, cleaned) for item in error.errors())
        return Parsed(None, problems)
    except ValueError as error:
        return Parsed(None, (Problem("version", str(error)),))
    problems = tuple(entries.problems())
    return Parsed(None if problems else entries, problems)


def _strange(model: type[Entries], document: Document) -> list[str]:
    """The entries that are known neither to the model nor to its rows."""
    known = names_of(model)
    found = [name for name in document if name not in known]
    for name, row in row_models(model).items():
        rows, known = document.get(name), names_of(row)
        for index, item in enumerate(rows if isinstance(rows, list) else ()):
            if isinstance(item, Mapping):
                found += [f"{name}.{index}.{k}" for k in item if k not in known]
    return found


@cache
def _ticks(model: type[BaseModel]) -> frozenset[str]:
    """The entries that are ticked or not."""
    return frozenset(n for n, info in model.model_fields.items() if info.annotation is bool)


def _too_strange(names: Sequence[str]) -> Problem:
    """One problem for all of them: a list of thousands helps nobody."""
    words = say(
        "{many} entries are not known here, such as {first}.",
        many=len(names),
        first=", ".join(name[:NAME_LENGTH] for name in names[:3]),
    )
    return Problem("", str(words))


def _own(document: Document, elsewhere: frozenset[str]) -> Document:
    """The document without what is read elsewhere, in its rows too."""
    found = {name: value for name, value in document.items() if name not in elsewhere}
    for name in {entry.partition(".")[0] for entry in elsewhere if "." in entry}:
        rows = found.get(name)
        if isinstance(rows, list):
            found[name] = [
                {k: v for k, v in row.items() if f"{name}.{k}" not in elsewhere}
                if isinstance(row, Mapping)
                else row
                for row in rows
            ]
    return found


def upgrade(model: type[Entries], document: Mapping[str, Any]) -> Document:
    """The document in the model's present version. Raises ``ValueError`` for a later one."""
    found = dict(document)
    version = found.pop("version", model.VERSION)
    if version not in range(1, model.VERSION + 1):
        raise ValueError(
            str(say("Entries of version {version} are not known here.", version=version))
        )
    for step in range(int(version), model.VERSION):
        found = model.UPGRADES[step](found)
    return found


def _clean(model: type[BaseModel], document: Mapping[str, Any]) -> Document:
    found: Document = {}
    rows, ticks = row_models(model), _ticks(model)
    for name, value in document.items():
        row = rows.get(name)
        if row and isinstance(value, list):
            found[name] = [
                cleaned
                for index, item in enumerate(value)
                if (cleaned := _clean_row(row, item, index)) is not None
            ]
        elif isinstance(value, str):
            text = value.strip()
            if not text.isascii():  # half of a surrogate pair is no text
                text = text.encode("utf-8", "replace").decode("utf-8")
            if name in ticks and text.lower() in SAID:
                found[name] = SAID[text.lower()]
            elif text:
                found[name] = text
        elif value is not None:
            found[name] = value
    return found


# what a box may say; another word is a problem, for it might have been meant as yes
SAID = {
    **dict.fromkeys(("yes", "true", "on", "1"), True),
    **dict.fromkeys(("no", "false", "off", "0", ""), False),
}


def _clean_row(row: type[Row], item: Any, index: int) -> Any:
    if not isinstance(item, Mapping):
        return item
    found = _clean(row, item)
    # an unticked box says nothing; every other text does, be it the usual one
    if all(name == "id" or value is False for name, value in found.items()):
        return None
    found.setdefault("id", f"r{index}")
    return found


WRONG = {
    "missing": say("Needed: nothing is given yet."),
    "extra_forbidden": say("This entry is not known here."),
    "string_too_long": say("Too long: at most {most} characters."),
    "string_type": say("Give a text."),
    "string_pattern_mismatch": say("A row's id has 1 to 16 small letters and digits."),
    "literal_error": say("Choose one of: {expected}."),
    "bool_parsing": say("Give yes or no."),
    "bool_type": say("Give yes or no."),
    "tuple_type": say("Give a list of rows."),
    "model_type": say("Give a row: an object with its fields."),
    "model_attributes_type": say("Give a row: an object with its fields."),
    "value_error": Text("{error}"),
}


def _problem(model: type[Entries], error: Any, document: Document) -> Problem:
    path: list[str] = []
    at: Any = document
    for step in error["loc"]:
        if isinstance(step, int) and isinstance(at, list) and isinstance(at[step], Mapping):
            path.append(str(at[step].get("id", step)))
            at = at[step]
        else:
            path.append(str(step))
            at = at.get(step) if isinstance(at, Mapping) else None
    context = {name: str(value) for name, value in error.get("ctx", {}).items()}
    if "expected" in context:  # a choice may be left as well; that is not said
        context["expected"] = context["expected"].removeprefix("'', ")
    words = WRONG.get(error["type"])
    # a reader's own error has been told already
    given = {"most": NAME_LENGTH, **context}
    found = str(Text(words.template, given)) if words else error["msg"]
    return Problem(".".join(path), found)


def name_units(model: type[BaseModel], document: Document, system: UnitSystem) -> Document:
    """The document with its bare figures given their unit, so that they keep their meaning
    when the preference changes: ``"1480"`` → ``"1480 ft²"``. What does not read stays as typed.
    """
    found = dict(document)
    for name, info in model.model_fields.items():
        row = row_model(info.annotation)
        value = found.get(name)
        if row and isinstance(value, list):
            found[name] = [
                name_units(row, item, system) if isinstance(item, dict) else item for item in value
            ]
            continue
        reads = next((m for m in info.metadata if isinstance(m, Reads | ReadsNameplate)), None)
        reads = reads or optional_reads(info.annotation)
        if reads is None or not isinstance(value, str):
            continue
        dimension = reads.dimension if isinstance(reads, Reads) else reads.bare
        symbol = quantities.symbol(dimension, system)
        try:
            quantities.read_number(value)
        except (ValueError, OverflowError):
            continue
        if symbol:
            found[name] = f"{value.strip()} {symbol}"
    return found


def walk(document: Mapping[str, Any]) -> Iterator[tuple[str, Any]]:
    """Every entry of a document with its path: ``("appliances.r0.nameplate", "4.5 kW")``."""
    for name, value in document.items():
        if isinstance(value, list):
            for index, item in enumerate(value):
                row = item.get("id") or f"r{index}"
                for column, cell in item.items():
                    if column != "id":
                        yield f"{name}.{row}.{column}", cell
        else:
            yield name, value
