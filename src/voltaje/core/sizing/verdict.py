"""The verdict on one pair of device and conductor, and the checks that lead to it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

from voltaje.core.codes import Edition
from voltaje.core.report import Rule, Text

Case = TypeVar("Case")


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether a pair passes, the stable name of the ``check`` that decided it, and why.

    The rule is looked up when it is asked for: a search judges many pairs and shows few.
    ``address`` is its topic, and its row and column where a cell decides.
    """

    passes: bool
    check: str
    edition: Edition
    why: Text
    address: tuple[str, ...]

    @property
    def rule(self) -> Rule:
        return self.edition.rule(*self.address)


def decide(checks: Sequence[Callable[[Case], Verdict | None]], case: Case) -> Verdict:
    """The verdict of the first check that decides: a check is one rule, which answers ``None``
    where the next one is to be asked.

    Raises ``LookupError`` where none decides: the last of a list always must.
    """
    for check in checks:
        found = check(case)
        if found is not None:
            return found
    raise LookupError("no check has decided")
