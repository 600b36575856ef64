"""What a run leaves to be found by its own solution: the impedance that loses what was measured,
and the voltage at its beginning that its lowest load needs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.cable_run.along import RunSolution, across
from voltaje.core.report import say
from voltaje.core.rules.common.runs import Segment

# no code figures: how many times its impedance a run may be found to have, and how near
MOST_TIMES, NEAR = 200.0, 1e-9
MOST_RAISE = 1.5  # no code figure: of nominal volts, the highest beginning that is tried


@dataclass(frozen=True, slots=True)
class MeasuredDrop:
    """Volts measured at both ends, V; the impedance that gives them, ``times`` the calculated one,
    as the sum of one conductor of all segments, Ω, beside the ``calculated`` one."""

    start: float
    end: float
    times: float
    ohms: float
    calculated: float


def measured_drop(
    along: RunSolution, segments: Sequence[Segment], start: float | None, end: float | None
) -> MeasuredDrop | None:
    """The impedance behind a measured drop: the run is solved with its own one times a factor until
    its end has the volts measured. ``None`` without a reading at the end. Raises
    :class:`WrongEntryError` where no impedance gives it."""
    if end is None:
        return None
    begin = along.start if start is None else start
    last = len(segments)
    if any(along.joints[index].va < 0 for index in range(last)):
        words = say(
            "With a source on the run its drop says nothing of its impedance: switch it off."
        )
        raise WrongEntryError("measured_end", words)
    if end >= begin:
        words = say(
            "The end has no more volts than the beginning, {start} V: give less.", start=begin
        )
        raise WrongEntryError("measured_end", words)

    def beyond(times: float) -> float:
        """V that the end has more than was measured; a run that collapses has none."""
        try:
            answer = along.solve(segments, start=begin, times=times)
        except WrongEntryError:
            return -end
        return across(answer, last, along.three) - end

    if beyond(0.0) < 0 or beyond(MOST_TIMES) > 0:
        words = say("No impedance gives this with these loads: give all loads that were on.")
        raise WrongEntryError("measured_end", words)
    times = _root(beyond, 0.0, MOST_TIMES)
    if abs(beyond(times)) > end / 1000:  # it collapses before it falls so low
        words = say("The volts collapse before they fall so low: give less load or more volts.")
        raise WrongEntryError("measured_end", words)
    calculated = abs(sum(along.ohms(segments)))
    return MeasuredDrop(begin, end, times, times * calculated, calculated)


def source_for(along: RunSolution, segments: Sequence[Segment]) -> float | None:
    """V at the beginning at which the lowest joint has nominal volts; ``None`` where it has them,
    or where half as much again is not enough."""
    ends = range(1, len(segments) + 1)

    def above(start: float) -> float:
        answer = along.solve(segments, start=start)
        return min(across(answer, index, along.three) for index in ends) - along.volts

    if above(along.volts) >= -NEAR or above(along.volts * MOST_RAISE) < 0:
        return None
    return _root(above, along.volts, along.volts * MOST_RAISE)


def _root(of: Callable[[float], float], low: float, high: float) -> float:
    """Where a function of opposite signs at both ends is 0."""
    from scipy.optimize import brentq  # slow to import, seldom asked

    return float(brentq(of, low, high, xtol=NEAR))
