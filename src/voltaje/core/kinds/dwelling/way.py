"""How a family of codes calculates a dwelling: the face that each way has."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from voltaje.core.electrical.systems import Demand
from voltaje.core.entries import Entries
from voltaje.core.report import Report
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import Code


@dataclass(frozen=True, slots=True)
class DwellingMethod:
    """A dwelling under a family: its entries, its work, its telling, what it hands up, the
    titles of its groups of entries, and the systems that it stands on."""

    entries: Callable[[Code], type[Entries]]
    calculate: Callable[[Any, Context], Any]
    report: Callable[[Any, Any, Context], Report]
    hand_up: Callable[[Any, Any, Context], Demand]
    groups: Mapping[str, str]
    systems: tuple[str, ...] = ()
