"""A firm's defaults read, kept, and put into a new job."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from voltaje.core.codes import edition, editions
from voltaje.core.entries import FieldSpec, fields
from voltaje.core.kinds import kind
from voltaje.core.kinds.usual_below import GROUP
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.settings import PREFERENCES
from voltaje.web.firm.models import FirmDefaults
from voltaje.web.history.patch import as_text
from voltaje.web.http import intake
from voltaje.web.jobs.models import MOST_RESERVE, UNIT_CHOICES
from voltaje.web.jobs.stock import stock_of

ROOT = "supply"  # every job begins with one: what it sets reaches all of the job
FIELDS = ("edition", "units", "preference", "stock", "reserve", "usual")
LONGEST = 60  # no code figure: letters of a value


def of(owner: Any) -> FirmDefaults:
    """The defaults of an account, empty where it has none."""
    return FirmDefaults.objects.filter(owner=owner).first() or FirmDefaults(owner=owner)


def specs(book: str) -> tuple[FieldSpec, ...]:
    """The usual values that can be set under a code."""
    model = kind(ROOT).entries_in(code_of(edition(book).family))
    return tuple(spec for spec in fields(model) if spec.group == GROUP)


def typed(book: str, given: Mapping[str, Any]) -> dict[str, str]:
    """The texts of usual values that were given; what is left open is left out."""
    found = {}
    for spec in specs(book):
        text = intake.one_line(as_text(given.get(spec.name, "")), LONGEST)
        if text:
            found[spec.name] = text
    return found


def problems(book: str, texts: Mapping[str, str]) -> dict[str, str]:
    """What is wrong with usual values, by their names."""
    names = {spec.name for spec in specs(book)}
    read = kind(ROOT).read({"system": "", **texts}, Context(edition(book)))
    return {one.path: one.words for one in read.problems if one.path in names}


def usual_of(owner: Any, book: str) -> dict[str, str]:
    """The usual values that a new job under a code begins with."""
    kept = of(owner).usual.get(edition(book).family, {})
    known = {spec.name for spec in specs(book)}
    found = {name: text for name, text in kept.items() if name in known}
    wrong = problems(book, found)  # a choice of an earlier version
    return {name: text for name, text in found.items() if name not in wrong}


def begins_with(owner: Any) -> dict[str, str]:
    """Code, units and habit that a new job's form begins with."""
    kept = of(owner)
    found = {name: getattr(kept, name) for name in ("edition", "units", "preference")}
    return {name: text for name, text in found.items() if text}


def habits_of(owner: Any) -> dict[str, Any]:
    """Stock and reserve of a new job."""
    kept = of(owner)
    return {"stock": kept.stock, "reserve": kept.reserve}


def _stock(text: str) -> str:
    return stock_of(text)


def _one_of(choices: Any) -> AfterValidator:
    known = ("", *choices)

    def check(text: str) -> str:
        if text not in known:
            raise ValueError(text[:30])
        return text

    return AfterValidator(check)


Texts = dict[
    Annotated[str, Field(max_length=60)],
    Annotated[str, Field(max_length=LONGEST), AfterValidator(intake.text)],
]


class FirmDoc(BaseModel):
    """The defaults as a backup holds them."""

    model_config = ConfigDict(extra="ignore")
    edition: Annotated[str, _one_of(book.id for book in editions())]
    units: Annotated[str, _one_of(key for key, _ in UNIT_CHOICES)]
    preference: Annotated[str, _one_of(PREFERENCES)]
    stock: Annotated[str, AfterValidator(_stock)] = ""
    reserve: Annotated[float, Field(ge=0, le=MOST_RESERVE, allow_inf_nan=False)] = 0.0
    usual: Annotated[dict[Annotated[str, Field(max_length=20)], Texts], Field(max_length=20)]


def out(owner: Any) -> dict[str, Any] | None:
    """The defaults as JSON; ``None`` where there are none."""
    kept = FirmDefaults.objects.filter(owner=owner).first()
    if kept is None:
        return None
    return {name: getattr(kept, name) for name in FIELDS}


def read(document: Any) -> FirmDoc | None:
    """The defaults of a backup. Raises ``ValidationError``."""
    return None if document is None else FirmDoc.model_validate(document)


def bring(owner: Any, found: FirmDoc | None) -> None:
    """Puts them in, where the account has none of its own."""
    if found is not None:
        FirmDefaults.objects.get_or_create(owner=owner, defaults=found.model_dump())
