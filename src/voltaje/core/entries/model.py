"""The base of every entries model and of its rows, and the problems that a document may have."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, ConfigDict, Field

from voltaje.core.report import Text

Document = dict[str, Any]


class Row(BaseModel):
    """Base of a row in a part's entries. ``id`` names the row for as long as it lives."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    FORMERLY: ClassVar[Mapping[str, str]] = {}
    # whether a row with nothing but its usual values says something, like one point of light
    COMPLETE: ClassVar[bool] = False
    id: Annotated[str, Field(pattern=r"^[a-z0-9]{1,16}$")] = ""


class AcceptedCheck(Row):
    """A check that somebody has accepted: the finding's name and what it ``said`` (so that other
    figures are to be looked at anew), why, and who."""

    finding: Annotated[str, Field(max_length=80, title="Finding")] = ""
    said: Annotated[str, Field(max_length=600, title="What it said")] = ""
    reason: Annotated[str, Field(max_length=200, title="Reason")] = ""
    by: Annotated[str, Field(max_length=80, title="Accepted by")] = ""


class Entries(BaseModel):
    """Base of every part's entries. ``VERSION`` rises when a document must be upgraded;
    ``FORMERLY`` are ids of earlier versions, still read, each with the one of today."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    FORMERLY: ClassVar[Mapping[str, str]] = {}
    VERSION: ClassVar[int] = 1
    UPGRADES: ClassVar[Mapping[int, Callable[[Document], Document]]] = {}
    accepted: tuple[AcceptedCheck, ...] = Field((), title="Accepted checks")

    def problems(self) -> Iterable[Problem]:
        """Problems that no single field can see. Called once all fields read."""
        return ()


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
    """``entries`` when everything reads, else ``None`` and at least one problem; the name of an
    entry that is left to be found (``unknown``)."""

    entries: Any
    problems: tuple[Problem, ...]
    unknown: str = ""


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


# what a help says where the edition has no figure of its own
AS_COUNTED = "as the code counts each"


def entry(default: Any, label: str, **extra: Any) -> Any:
    """A field: its label and what a form needs (``help``, ``group``, ``choices``, ``when`` …).
    A figure of the code in a help is told as ``counts``: the limit's topic and the help with its
    ``{figure}``. ``seldom``: it is usually left as it is, and ``at_rest`` is what it says then."""
    return Field(
        default,
        title=label,
        description=extra.pop("help", None),
        json_schema_extra={"form": extra} if extra else None,
    )
