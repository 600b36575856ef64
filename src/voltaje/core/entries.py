"""What a part is told: a typed, validated model, written once for forms, files and programs.

A part's entries are a document of texts as typed (or of numbers, from a program). The model
reads it; :func:`parse` gives either the model or the problems, each at its field and in words
of the trade. :func:`fields` describes the model for a form, :func:`schema` for a program.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from contextvars import ContextVar
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, ClassVar, Literal, get_args, get_origin

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from pydantic.fields import FieldInfo
from pydantic_core import PydanticCustomError, core_schema

from voltaje.core import units
from voltaje.core.report import Text, say, told
from voltaje.core.units import Dimension, UnitSystem

Document = dict[str, Any]
MAX_ROWS = 200
MOST_STRANGE = 50  # no code figure: so many unknown entries are told one by one
NAME_LENGTH = 60
SLACK = 1e-9  # so that a limit in another unit than the base is met as it was typed


def wrong(kind: str, words: Text | str) -> PydanticCustomError:
    """What a reader raises: the words reach the entry as they are."""
    return PydanticCustomError(kind, "{words}", {"words": str(words)})


@dataclass(frozen=True)
class Reads:
    """Marks a field as a quantity: its dimension, limits in the base unit, whether it may be 0."""

    dimension: Dimension
    low: float = 0.0
    high: float = 1e6
    whole: bool = False

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.with_info_plain_validator_function(self._validate)

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        # a bare number is in the unit that a bare text has, by the units asked for
        bare = self.dimension.bare[_SCHEMA_UNITS.get()]
        one = units.factor(bare, self.dimension.base) if bare else 1.0
        unit = units.symbol(self.dimension, _SCHEMA_UNITS.get())
        kind = "integer" if self.whole else "number"
        return {
            "anyOf": [
                {
                    "type": kind,
                    "minimum": round(self.low / one, 6),
                    "maximum": round(self.high / one, 6),
                },
                {"type": "string", "maxLength": 60},
            ],
            "description": f"A bare figure is {'in ' + unit if unit else 'a number'}; or text with"
            f" its unit, like {self.dimension.example}.",
        }

    def _validate(self, typed: Any, info: core_schema.ValidationInfo) -> float:
        if isinstance(typed, bool) or not isinstance(typed, str | int | float):
            raise self._one_figure()
        try:
            value = units.read(typed, self.dimension, _system(info.context))
        except units.UnreadableError as error:
            raise wrong("unreadable", str(error)) from None
        except OverflowError:
            raise self._one_figure() from None
        within = self.within(value, _system(info.context))
        return int(within) if self.whole else within

    def within(self, value: float, system: UnitSystem = "us") -> float:
        """``value``, or a pydantic error that says the limits."""
        if self.whole and not float(value).is_integer():
            like = told(self.dimension.example)
            raise wrong("whole", say("Give a whole number, like {like}.", like=like))
        least, most = self.low - SLACK * abs(self.low), self.high + SLACK * abs(self.high)
        if not least <= value <= most:
            low = units.show(self.low, self.dimension, system)
            high = units.show(self.high, self.dimension, system)
            raise wrong("limits", say("Out of range: give {low} to {high}.", low=low, high=high))
        return value

    def _one_figure(self) -> PydanticCustomError:
        like = told(self.dimension.example)
        return wrong("kind", say("Give one figure, like {like}.", like=like))


@dataclass(frozen=True)
class ReadsNameplate:
    """Marks a field as a nameplate: VA, W, kW, A, A at V, or hp; limits are in VA, A and hp."""

    high_watts: float = 1e6
    high_horsepower: float = 10.0

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_plain_validator_function(self._validate)

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        return {
            "anyOf": [
                {"type": "number", "minimum": 0, "maximum": self.high_watts},
                {"type": "string", "maxLength": 60},
            ],
            "description": f"A number in VA, or text like {units.NAMEPLATE.example}.",
        }

    def _validate(self, typed: Any) -> units.Nameplate:
        if isinstance(typed, bool) or not isinstance(typed, str | int | float):
            raise self._no_plate()
        try:
            plate = units.read_nameplate(typed)
        except units.UnreadableError as error:
            raise wrong("unreadable", str(error)) from None
        except OverflowError:
            raise self._no_plate() from None
        for value, high, unit in (
            (plate.watts, self.high_watts, "VA"),
            (plate.amperes, 4000.0, "A"),
            (plate.horsepower, self.high_horsepower, "hp"),
            (plate.volts, 600.0, "V"),
        ):
            if value is not None and not 0 <= value <= high:
                words = say("Out of range: give 0 to {high} {unit}.", high=high, unit=unit)
                raise wrong("limits", words)
        return plate

    def _no_plate(self) -> PydanticCustomError:
        like = told(units.NAMEPLATE.example)
        return wrong("kind", say("Give a nameplate, like {like}.", like=like))


Area = Annotated[float, Reads(units.AREA, 0.09290304, 9_290.304)]  # 1 to 100,000 ft²
Current = Annotated[float, Reads(units.CURRENT, 1.0, 6000.0)]
Power = Annotated[float, Reads(units.POWER, 0.0, 1e6)]
Nameplate = Annotated[units.Nameplate, ReadsNameplate()]
Length = Annotated[float, Reads(units.LENGTH, 0.0, 9_144.0)]  # to 30,000 ft
Voltage = Annotated[float, Reads(units.VOLTAGE, 50.0, 1000.0)]
Temperature = Annotated[float, Reads(units.TEMPERATURE, -40.0, 85.0)]
PowerFactor = Annotated[float, Reads(units.COUNT, 0.1, 1.0)]
Percent = Annotated[float, Reads(units.COUNT, 0.0, 100.0)]
Few = Annotated[int, Reads(units.COUNT, 0, 100, whole=True)]
BigNameplate = Annotated[units.Nameplate, ReadsNameplate(high_watts=1e7, high_horsepower=500.0)]
Units = Annotated[int, Reads(units.COUNT, 1, 100, whole=True)]
Name = Annotated[str, Field(max_length=NAME_LENGTH)]


class Entries(BaseModel):
    """Base of every part's entries. ``VERSION`` rises when a document must be upgraded."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    VERSION: ClassVar[int] = 1
    UPGRADES: ClassVar[Mapping[int, Callable[[Document], Document]]] = {}

    def problems(self) -> Iterable[Problem]:
        """Problems that no single field can see. Called once all fields read."""
        return ()


class Row(BaseModel):
    """Base of a row in a part's entries. ``id`` names the row for as long as it lives."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    # whether a row with nothing but its usual values says something, like one point of light
    COMPLETE: ClassVar[bool] = False
    id: Annotated[str, Field(pattern=r"^[a-z0-9]{1,16}$")] = ""


@dataclass(frozen=True, slots=True)
class Problem:
    """An entry that cannot be used, at its path, in words that say what would be accepted."""

    path: str
    words: str


class WrongEntryError(ValueError):
    """An entry that only its surroundings show to be wrong: raised by a part's work."""

    def __init__(self, path: str, words: Text | str) -> None:
        super().__init__(str(words))
        self.problem = Problem(path, str(words))


class NothingBelowError(WrongEntryError):
    """Nothing hangs on a part that is worked from what does; its own entry would do, too."""


@dataclass(frozen=True, slots=True)
class Parsed:
    """``entries`` when everything reads, else ``None`` and at least one problem."""

    entries: Any
    problems: tuple[Problem, ...]


@dataclass(frozen=True, slots=True)
class Usual:
    """What an entry usually is, in its base unit (a nameplate's VA), and what it is usual for;
    where ``by`` names a choice beside it, spans of single values of that choice. Common practice:
    outside it the sheet still works, and asks."""

    low: float
    high: float
    what: str
    by: str = ""
    of: tuple[tuple[str, float, float, str], ...] = ()

    def span(self, beside: Any) -> tuple[float, float, str]:
        """The span that holds beside the other entries."""
        chosen = getattr(beside, self.by, "") if self.by else ""
        for value, low, high, what in self.of:
            if value == chosen:
                return low, high, what
        return self.low, self.high, self.what


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


# what a help says where the edition has no figure of its own
AS_COUNTED = "as the code counts each"


def entry(default: Any, label: str, **extra: Any) -> Any:
    """A field: its label and what a form needs (``help``, ``group``, ``choices``, ``when`` …).
    A figure of the code in a help is told as ``counts``: the limit's topic and the help with its
    ``{figure}``."""
    return Field(
        default,
        title=label,
        description=extra.pop("help", None),
        json_schema_extra={"form": extra} if extra else None,
    )


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
    row = _row_model(info.annotation)
    kind: Literal["quantity", "choice", "check", "text", "rows"] = "text"
    example = ""
    if row is not None:
        kind = "rows"
    elif reads is not None or _optional_reads(info.annotation):
        kind = "quantity"
        found = reads or _optional_reads(info.annotation)
        example = found.dimension.example if isinstance(found, Reads) else units.NAMEPLATE.example
    elif info.annotation is bool:
        kind = "check"
    elif get_origin(info.annotation) is Literal:
        kind = "choice"
    values = get_args(info.annotation) if kind == "choice" else ()
    labels: Mapping[str, str] = form.get("choices", {})
    default = "" if info.default is None or kind in ("rows", "check") else str(info.default)
    found_reads = reads or _optional_reads(info.annotation)
    if info.is_required():
        default = ""
    elif default and isinstance(found_reads, Reads):
        default = units.show(float(info.default), found_reads.dimension)
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
    )


def _row_model(annotation: Any) -> type[Row] | None:
    if get_origin(annotation) is tuple:
        inner = get_args(annotation)[0]
        if isinstance(inner, type) and issubclass(inner, Row):
            return inner
    return None


def _optional_reads(annotation: Any) -> Reads | ReadsNameplate | None:
    for inner in get_args(annotation):
        for mark in getattr(inner, "__metadata__", ()):
            if isinstance(mark, Reads | ReadsNameplate):
                return mark
    return None


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


@cache
def names_of(model: type[BaseModel]) -> frozenset[str]:
    """The names of all entries of a model."""
    return frozenset(model.model_fields)


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


@cache
def row_models(model: type[BaseModel]) -> Mapping[str, type[Row]]:
    """The rows that a model has, by the name of their list."""
    found = ((name, _row_model(info.annotation)) for name, info in model.model_fields.items())
    return {name: row for name, row in found if row is not None}


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
            if name in ticks:
                found[name] = text.lower() in ("yes", "true", "on", "1")
            elif text:
                found[name] = text
        elif value is not None:
            found[name] = value
    return found


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
        row = _row_model(info.annotation)
        value = found.get(name)
        if row and isinstance(value, list):
            found[name] = [
                name_units(row, item, system) if isinstance(item, dict) else item for item in value
            ]
            continue
        reads = next((m for m in info.metadata if isinstance(m, Reads | ReadsNameplate)), None)
        reads = reads or _optional_reads(info.annotation)
        if reads is None or not isinstance(value, str):
            continue
        dimension = reads.dimension if isinstance(reads, Reads) else units.POWER
        symbol = units.symbol(dimension, system)
        try:
            units.read_number(value)
        except (ValueError, OverflowError):
            continue
        if symbol:
            found[name] = f"{value.strip()} {symbol}"
    return found


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
    dimension: Dimension = units.POWER
    if isinstance(value, units.Nameplate):
        value = value.watts
    else:
        reads = _reads_of(type(entries), spec.name)
        dimension = reads.dimension if isinstance(reads, Reads) else dimension
    if spec.usual is None or value is None or not value:
        return None
    low, high, what = spec.usual.span(entries)
    if low * (1 - SLACK) <= value <= high * (1 + SLACK):
        return None
    shown = units.show(value, dimension, system)
    given = {"figure": shown, "what": say(what)}
    odd = say("{figure} is little for {what}.", **given)
    if value >= low:
        odd = say("{figure} is much for {what}.", **given)
    # a prefix or a unit that was forgotten, or one too many
    for step in (1000.0, 0.001) if dimension.base == "watt" else ():
        if low <= value * step <= high:
            meant = units.show(value * step, dimension, system)
            return odd, say("Was {figure} meant?", figure=meant)
    return (
        odd,
        say(
            "Usual is {low} to {high}: read it again.",
            low=units.show(low, dimension, system),
            high=units.show(high, dimension, system),
        ),
    )


def _reads_of(model: type[BaseModel], name: str) -> Reads | ReadsNameplate | None:
    info = model.model_fields[name]
    own = next((m for m in info.metadata if isinstance(m, Reads | ReadsNameplate)), None)
    return own or _optional_reads(info.annotation)


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


_SCHEMA_UNITS: ContextVar[UnitSystem] = ContextVar("schema_units", default="us")


def schema(model: type[Entries], system: UnitSystem = "us") -> dict[str, Any]:
    """The JSON schema of a document that :func:`parse` accepts, bare figures in the units of
    ``system``."""
    asked = _SCHEMA_UNITS.set(system)
    try:
        found = model.model_json_schema()
    finally:
        _SCHEMA_UNITS.reset(asked)
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
        for value in node.values():
            _strip_form(value)
    elif isinstance(node, list):
        for value in node:
            _strip_form(value)


def _system(context: Any) -> UnitSystem:
    return "metric" if context and context.get("system") == "metric" else "us"
