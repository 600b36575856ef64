"""The neutral of a service or feeder, 220.61."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import System
from voltaje.core.report import Rule, fits


def cooking_factor(system: System, edition: Edition) -> tuple[float, Rule]:
    """What of household cooking and dryers counts on the neutral, and the rule that says so: 70 %
    (220.61(B)(1)), all of it on two lines and neutral of a wye (220.61(C)(1))."""
    if two_of_wye(system):
        return 1.0, edition.rule("neutral_wye")
    cell = edition.limit("neutral_cooking")
    return cell.value / 100, cell.rule


def two_of_wye(system: System) -> bool:
    """Whether a neutral is that of two lines taken from a four-wire wye: it carries about as much
    as they do, and is never reduced (220.61(C)(1))."""
    return system.is_wye and len(system.lines) == 2


def reduced(amperes: float, nonlinear: float, system: System, edition: Edition) -> float:
    """Amperes of unbalanced load after the 70 % on what exceeds 200 A (220.61(B)(2)).

    ``nonlinear`` is the part of ``amperes`` that nonlinear loads bring: from a four-wire wye it is
    taken whole and the rest is reduced by itself (220.61(C)(2)), which never gives the smaller
    neutral of the readings that the rule bears. No reduction at all on two lines of a wye.
    """
    if two_of_wye(system):
        return amperes
    whole = min(nonlinear, amperes) if system.is_wye else 0.0
    full, excess = edition.limit("neutral_full"), edition.limit("neutral_excess")
    rest = amperes - whole
    if fits(rest, full.value):
        return amperes
    return whole + full.value + excess.value / 100 * (rest - full.value)


def paired(on_l1: Sequence[float], on_l2: Sequence[float]) -> float:
    """Neutral amperes of 120 V loads on two lines: the largest on one line is set against the
    largest on the other, and of each pair the larger counts, as annex D1(b) does it. Never less
    than the heavier line, whichever loads happen to run."""
    one, two = sorted(on_l1, reverse=True), sorted(on_l2, reverse=True)
    length = max(len(one), len(two))
    one += [0.0] * (length - len(one))
    two += [0.0] * (length - len(two))
    return sum(max(a, b) for a, b in zip(one, two, strict=True))
