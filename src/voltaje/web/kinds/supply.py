"""A supply's drawing: the source, its bus and what hangs on it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from voltaje.core.report import Report
from voltaje.web.kinds.presentation import Presentation

WIDTH = 388
STEP = 54


@dataclass(frozen=True, slots=True)
class BusItem:
    """A part on the bus."""

    y: float
    name: str
    answer: str
    url: str = ""


@dataclass(frozen=True, slots=True)
class SupplyDrawing:
    """What the template writes."""

    template: str
    width: int
    height: float
    taps: tuple[BusItem, ...]
    bottom: float
    amperes: float
    kva: float


def draw(worked: Report, below: Sequence[Any] = ()) -> SupplyDrawing:
    """``below`` gives name, one-line answer and address of each part on the supply."""
    taps = tuple(
        BusItem(120 + STEP * index, item.name, item.answer, item.url)
        for index, item in enumerate(below)
    )
    bottom = taps[-1].y if taps else 120.0
    return SupplyDrawing(
        "sheets/drawings/supply.svg",
        WIDTH,
        bottom + 50,
        taps,
        bottom,
        worked.value("amperes"),
        worked.value("calculated_load") / 1000,
    )


PRESENTATION = Presentation(
    draw,
    draws_incomplete=True,
    symbol="source",
)
