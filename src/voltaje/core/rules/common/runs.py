"""Runs of several segments: what each loses, by the family's table, by impedance and by the K
factor, and what would mend a drop that is too large.

A segment carries what hangs on all joints behind it. Lengths in m, currents in A as phasors against
the supply's volts, impedances in Ω for each km of one conductor. Which conductors there are, and
what they are, a family says in its :class:`Strand`.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Protocol

from voltaje.core.codes import Cell
from voltaje.core.codes.vocabulary import Size
from voltaje.core.report import Rule, Text

# common practice: nominal volts that a supply may be raised to
STEPS_UP = (120.0, 208.0, 230.0, 240.0, 277.0, 400.0, 480.0, 600.0)


@dataclass(frozen=True, slots=True)
class Ohms:
    """R and X of one conductor, Ω for each km, and where R comes from: the cell's ``figure`` at its
    own temperature, and the ``factor`` to the one that is asked for; ``None``: no cell, somebody
    gave it."""

    r: float
    x: float
    rule: Rule | None
    figure: float = 0.0
    factor: float = 1.0

    @property
    def z(self) -> complex:
        return complex(self.r, self.x)


@dataclass(frozen=True, slots=True)
class Carries:
    """A of all sets as they lie, and the rule; what is said where a size is not rated."""

    amperes: float | None
    rules: tuple[Rule, ...] = ()
    unrated: Text | None = None


class Strand(Protocol):
    """The conductors of a run as a family has them, as they lie: the ``sizes`` that are tried, the
    smallest first; the ``installed`` by which the worksheet names method and column (``None``:
    nothing to say)."""

    @property
    def sizes(self) -> tuple[Size, ...]: ...

    @property
    def installed(self) -> Text | None: ...

    def beside(self, size: Size) -> tuple[Size, ...]:
        """Those that are tried in place of a size."""

    def name(self, size: Size) -> str:
        """A size as people write it."""

    def ohms(self, size: Size) -> Ohms | None:
        """``None`` for a size that is not made."""

    def mv(self, size: Size) -> tuple[float, Rule, str] | None:
        """mV for each A and m by the table, its cell, and how it comes of it where it is not the
        cell itself; ``None`` for a size that is not made."""

    def k_volts(self, size: Size, amperes: float, metres: float) -> float:
        """By the electricians' quick check; 0 where the family has none."""

    def carries(self, size: Size, heaviest: float, sets: int) -> Carries:
        """What a size carries, ``heaviest`` being A of one conductor; 0 where it is not made."""

    def motor(self, horsepower: float, volts: float) -> Cell:
        """A motor's amperes from the code's table. Raises ``NotCoveredError``."""


@dataclass(frozen=True, slots=True)
class Segment:
    """A piece of the run: its length, its conductor, what it carries, its own mV/A/m (0: of the
    table), conductors in parallel; ``given`` Ω of one conductor in place of length and table (0:
    not given), all sets together."""

    name: str
    metres: float
    size: Size
    amperes: complex
    mv: float = 0.0
    sets: int = 1
    given: float = 0.0


@dataclass(frozen=True, slots=True)
class Lost:
    """What a segment loses in V. ``by_table`` takes amperes as they are, whatever their phase;
    ``by_impedance`` R cos φ + X sin φ of the segment's own current; ``by_k`` is 0 for mm²."""

    by_table: float
    by_impedance: float
    by_k: float
    mv: float
    ohms: Ohms
    table_rule: Rule | None
    mv_shown: str = ""


def lost(segment: Segment, strand: Strand, three_phase: bool) -> Lost:
    """The three ways side by side; ohms that were given are all three. Raises ``KeyError`` for a
    size that is not made."""
    if segment.given:
        return _of_given(segment, three_phase)
    ohms = strand.ohms(segment.size)
    if ohms is None:
        raise KeyError(segment.size)
    factor = sqrt(3) if three_phase else 2.0
    amperes = abs(segment.amperes)
    current = segment.amperes / segment.sets
    # the part of the drop that lies along the supply's volts
    along = factor * (ohms.z / 1000 * segment.metres * current).real
    table = strand.mv(segment.size)
    rule: Rule | None
    mv, rule, shown = table or (factor * ohms.r, ohms.rule, "")
    if segment.mv:
        mv, rule, shown = segment.mv, None, ""
    towards = -1.0 if segment.amperes.real < 0 else 1.0
    by_table = towards * mv * amperes / segment.sets * segment.metres / 1000
    by_k = towards * strand.k_volts(segment.size, amperes / segment.sets, segment.metres)
    return Lost(by_table, along, by_k, mv, ohms, rule, shown)


def _of_given(segment: Segment, three_phase: bool) -> Lost:
    factor = sqrt(3) if three_phase else 2.0
    towards = -1.0 if segment.amperes.real < 0 else 1.0
    along = factor * segment.given * segment.amperes.real
    whole = towards * factor * segment.given * abs(segment.amperes)
    return Lost(whole, along, whole, 0.0, Ohms(segment.given, 0.0, None), None)


def smallest(
    sizes: Sequence[Size], percent: Callable[[Size], float | None], limit: float
) -> tuple[Size, float] | None:
    """The first size whose drop, in percent, is within ``limit``; sizes come smallest first and
    ``percent`` gives ``None`` where a size will not do."""
    for size in sizes:
        found = percent(size)
        if found is not None and found <= limit * (1 + 1e-9):
            return size, found
    return None


def volts_for(volts: float, percent: float, limit: float) -> float:
    """Volts at which the same VA lose ``limit`` percent: the share falls with the square."""
    return volts * sqrt(percent / limit)
