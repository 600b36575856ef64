"""A load on three lines that is really many, like a house: split as its lines were measured."""

from __future__ import annotations

from math import sqrt

from voltaje.core import quantities
from voltaje.core.electrical.systems import System
from voltaje.core.entries import WrongEntryError
from voltaje.core.report import say

LINES = 3


def line_shares(text: str, system: System) -> tuple[float, ...]:
    """The share of L1, L2 and L3, 1 in all, of three figures in A or percent; none where nothing is
    told. Raises :class:`WrongEntryError`."""
    if not text.strip():
        return ()
    if system.phases != LINES or not system.has_neutral or system.high_leg:
        words = say("A load that is split needs three lines and a neutral, like 208Y/120 V.")
        raise WrongEntryError("line_shares", words)
    figures = []
    for part in text.replace(";", ",").replace("/", ",").split(","):
        try:
            figures.append(quantities.read_number(part.strip().rstrip("A%a ").strip()))
        except (ValueError, OverflowError):
            figures = []
            break
    if len(figures) != LINES or min(figures) < 0 or not sum(figures):
        words = say("Give three figures, of L1, L2 and L3: like 42, 31, 18 A.")
        raise WrongEntryError("line_shares", words)
    return tuple(figure / sum(figures) for figure in figures)


def unbalance(shares: tuple[float, ...]) -> float:
    """Share of the load that flows back in the neutral: three currents 120° apart added."""
    a, b, c = shares
    return sqrt(max(0.0, a * a + b * b + c * c - a * b - b * c - c * a))
