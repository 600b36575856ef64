"""A recording at a part, reviewed: the demand of each line against its device, what still fits, how
much of the circuits' peaks fall together, and the circuits to move so that the lines' demand is
more even."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Any

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.recorded import Average, Recording
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.report import fits

WINDOWS = (15.0, 30.0)  # common practice: minutes over which demand is taken
DAYS_ASKED = 30.0  # common practice: a recording shorter than a month is not told from usual
MOST_MOVES = 3  # no code figure
WORTH = 0.01  # no code figure: a move that helps less is none


@dataclass(frozen=True, slots=True)
class ColumnReview:
    """A column in its own unit: its ``peak``, its ``demands`` by :data:`WINDOWS` (``None``: the
    recording is shorter), its ``mean``, its ``share`` of all columns' energy; the ``lines`` that it
    stands on (empty: not known)."""

    name: str
    peak: Average
    demands: tuple[Average | None, ...]
    mean: float
    share: float
    lines: tuple[str, ...] = ()

    @property
    def load_factor(self) -> float:
        """Mean over peak."""
        return self.mean / self.peak.value if self.peak.value else 0.0


@dataclass(frozen=True, slots=True)
class Moved:
    """A circuit put onto another line, and the demand of the heaviest line after it, A."""

    name: str
    part: str
    before: str
    after: str
    demand: float


@dataclass(frozen=True, slots=True)
class Review:
    """The ``columns``; by line the demand over the first of :data:`WINDOWS`, A (``None``: the
    recording is shorter), its ``amperes`` at each instant and at their ``peaks`` (no lines: not
    known where all columns stand); the ``heaviest`` of them. ``margin``: the
    cell of the share of a measured demand that counts (``None``: as it is); ``rating`` A of what is
    ahead (0: not known). ``diversity``: the sum of the columns' demands over the demand of their
    sum (``None``: lines, or one column)."""

    columns: tuple[ColumnReview, ...]
    whole: ColumnReview | None
    by_line: Mapping[str, Average | None]
    amperes: Mapping[str, Any]
    peaks: Mapping[str, float]
    rating: float
    margin: Cell | None
    diversity: float | None
    moves: tuple[Moved, ...]

    @property
    def heaviest(self) -> tuple[str, Average] | None:
        """The line with the largest demand."""
        known = [(line, one) for line, one in self.by_line.items() if one is not None]
        return max(known, key=lambda item: item[1].value, default=None)

    @property
    def counted(self) -> float | None:
        """A that the heaviest line's demand counts."""
        share = self.margin.value / 100 if self.margin else 1.0
        return None if self.heaviest is None else share * self.heaviest[1].value

    @property
    def left(self) -> float | None:
        """A that may still be added on each line; ``None`` where rating or demand is not known."""
        if self.counted is None or not self.rating:
            return None
        return self.rating - self.counted

    @property
    def holds(self) -> bool:
        """Whether the demand with its margin is within the rating."""
        return self.counted is None or not self.rating or fits(self.counted, self.rating)


def review(
    recording: Recording,
    system: System,
    rating: float,
    edition: Edition,
    circuits: Sequence[Piece] = (),
) -> Review:
    """A recording at a part on ``system`` behind a device of ``rating`` A (0: not known), below
    which are the ``circuits``, by whose names columns are known."""
    named = {piece.name.casefold().strip(): piece for piece in circuits}
    lines = recording.lines
    stands: list[tuple[str, ...]] = []
    for index, name in enumerate(recording.names):
        piece = named.get(name.casefold().strip())
        if lines is not None:
            stands.append((lines[index],))
        elif piece is not None and piece.line != "auto":
            stands.append(_lines_of(piece, system))
        else:
            stands.append(system.lines if len(recording.names) == 1 else ())
    total = [recording.mean(values) for values in recording.values]
    energy = sum(total) or 1.0
    columns = tuple(
        _column(recording, name, values, mean / energy, on)
        for name, values, mean, on in zip(
            recording.names, recording.values, total, stands, strict=True
        )
    )
    amperes = _by_line(recording, stands, system)
    whole, diversity = None, None
    if len(columns) > 1 and (lines is None or recording.unit != "A"):
        summed = recording.summed(range(len(columns)))
        whole = _column(recording, "", summed, 1.0, ())
    if whole is not None and lines is None:
        alone, together = [c.demands[0] for c in columns], whole.demands[0]
        if together is not None and together.value:
            diversity = sum(one.value for one in alone if one) / together.value
    margin = edition.limit("measured_margin") if edition.has_limit("measured_margin") else None
    return Review(
        columns=columns,
        whole=whole,
        amperes=amperes,
        by_line={line: recording.demand(v, WINDOWS[0]) for line, v in amperes.items()},
        peaks={line: float(max(values)) for line, values in amperes.items()},
        rating=rating,
        margin=margin,
        diversity=diversity,
        moves=_moves(recording, stands, named, system) if lines is None else (),
    )


def _lines_of(piece: Piece, system: System) -> tuple[str, ...]:
    return system.lines if piece.connection == "three-phase" else tuple(piece.line.split("-"))


def _column(
    recording: Recording, name: str, values: Sequence[float], share: float, lines: tuple[str, ...]
) -> ColumnReview:
    demands = tuple(recording.demand(values, minutes) for minutes in WINDOWS)
    mean = recording.mean(values)
    return ColumnReview(name, recording.peak(values), demands, mean, share, lines)


def _per_line(unit: str, lines: tuple[str, ...], system: System) -> float:
    """A in each of its lines of one unit of a column."""
    if unit == "A":
        return 1.0
    if len(lines) == 1:
        return 1000 / (system.to_neutral or system.line_to_line)
    if len(lines) == len(system.lines) and system.phases == 3:
        return 1000 / (sqrt(3) * system.line_to_line)
    return 1000 / system.line_to_line


def _by_line(
    recording: Recording, stands: Sequence[tuple[str, ...]], system: System
) -> dict[str, Any]:
    """A of each line at each instant, columns added as figures; nothing where one of several
    columns is on no known line, since a sum without it would be too small."""
    if not all(stands):
        return {}
    found: dict[str, Any] = {}
    for index, lines in enumerate(stands):
        amperes = _amperes(recording, index, lines, system)
        for line in lines:
            found[line] = found[line] + amperes if line in found else amperes
    return {line: found[line] for line in system.lines if line in found}


def _amperes(recording: Recording, index: int, lines: tuple[str, ...], system: System) -> Any:
    """A of a column in each of its lines."""
    import numpy as np

    return np.asarray(recording.values[index]) * _per_line(recording.unit, lines, system)


def _moves(
    recording: Recording,
    stands: Sequence[tuple[str, ...]],
    named: Mapping[str, Piece],
    system: System,
) -> tuple[Moved, ...]:
    """One circuit after the other off the heaviest line onto the one where that lowers the largest
    demand most, as they were recorded together; those on one line that nothing holds there."""
    if not all(stands) or len(system.lines) < 2:
        return ()
    now, found, totals = list(stands), [], _by_line(recording, stands, system)
    totals |= {line: _none(recording) for line in system.lines if line not in totals}
    demands = {line: _demand(recording, values) for line, values in totals.items()}
    for _ in range(MOST_MOVES):
        heavy = max(demands, key=demands.__getitem__)
        best: tuple[float, int, str] | None = None
        for index, lines in enumerate(now):
            piece = named.get(recording.names[index].casefold().strip())
            if piece is None or lines != (heavy,) or piece.multiwire:
                continue
            own = _amperes(recording, index, lines, system)
            less = _demand(recording, totals[heavy] - own)
            for line in system.lines:
                if line in (heavy, system.high_leg):
                    continue
                rest = [v for other, v in demands.items() if other not in (heavy, line)]
                tried = max([less, _demand(recording, totals[line] + own), *rest])
                if best is None or tried < best[0]:
                    best = (tried, index, line)
        if best is None or best[0] > demands[heavy] * (1 - WORTH):
            break
        worst, index, line = best
        own = _amperes(recording, index, (heavy,), system)
        totals |= {heavy: totals[heavy] - own, line: totals[line] + own}
        demands |= {one: _demand(recording, totals[one]) for one in (heavy, line)}
        name = recording.names[index]
        found.append(Moved(name, named[name.casefold().strip()].part, heavy, line, worst))
        now[index] = (line,)
    return tuple(found)


def _demand(recording: Recording, values: Any) -> float:
    """A over the first of :data:`WINDOWS`; 0 where the recording is shorter."""
    found = recording.demand(values, WINDOWS[0])
    return found.value if found else 0.0


def _none(recording: Recording) -> Any:
    """A line on which nothing stands."""
    import numpy as np

    return np.zeros(len(recording.seconds))
