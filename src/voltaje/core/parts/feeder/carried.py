"""What a calculated load puts on the lines and the neutral, and how the tape shows it."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.lines import currents, place, plain
from voltaje.core.electrical.systems import Connection, Piece, System
from voltaje.core.rules.awg.feeder_demand import Calculated
from voltaje.core.rules.awg.neutral import reduced
from voltaje.core.rules.awg.wired import divisor
from voltaje.core.worksheet import Tape, figure, fits, say

# no code figure: a heavier line is named from here on; below it the figures print alike
HEAVIER = 1.001
TERMS = 8  # no code figure: how many terms a line holds


@dataclass(frozen=True, slots=True)
class Carried:
    """A load on its lines: each piece ``placed``, what was ``calculated`` of them, amperes of the
    ``lines`` with motors added as figures and as ``phasors`` with all of it added so; ``balanced``
    amperes, ``load`` of the heaviest line, ``design`` with the quarter of what is continuous;
    the largest ``unbalanced`` load to neutral and what of it is ``nonlinear``."""

    placed: tuple[Piece, ...]
    calculated: Calculated
    lines: dict[str, float]
    phasors: dict[str, float]
    balanced: float
    load: float
    design: float
    unbalanced: float = 0.0
    nonlinear: float = 0.0

    def neutral(self, system: System, edition: Edition, nonlinear: bool = False) -> float:
        """Amperes that the neutral is sized for; ``nonlinear`` takes all of it for nonlinear."""
        part = self.unbalanced if nonlinear else self.nonlinear
        return reduced(self.unbalanced, part, system, edition)


def connection_of(system: System) -> Connection:
    """How a load that takes all lines of a system is connected."""
    if system.phases == 3:
        return "three-phase"
    return "two-line" if system.line_to_line else "line-neutral"


def carry(pieces: tuple[Piece, ...], found: Calculated, system: System) -> Carried:
    """Amperes on each line and on the neutral; a dwelling brings its own neutral along."""
    placed = place(pieces, system)
    shares = list(zip(placed, found.shares, strict=True))
    if found.largest_index >= 0:
        index = found.largest_index
        shares[index] = (placed[index], shares[index][1] + found.largest_motor)
    turning = [(piece, va) for piece, va in shares if piece.motor]
    still = [(piece, va) for piece, va in shares if not piece.motor]
    lines, motors = currents(still, system)[0], plain(turning, system)
    lines = {name: amperes + motors[name] for name, amperes in lines.items()}
    together, _ = currents(shares, system)
    # every subset may run: the neutral is sized for the heaviest line's load to neutral
    by_line = dict.fromkeys(system.lines, 0.0)
    distorted = dict.fromkeys(system.lines, 0.0)
    for piece, va in shares:
        for name, amperes in _on_neutral(piece, va, system).items():
            by_line[name] += amperes
            distorted[name] += amperes if piece.nonlinear else 0.0
    balanced = system.line_current(found.load)
    load = max([balanced, *lines.values()])
    design = load * found.design / found.load if found.load else load
    carried = Carried(placed, found, lines, together, balanced, load, design)
    if not system.has_neutral:
        return carried
    heaviest, bent = max(by_line.values()), max(distorted.values())
    return Carried(placed, found, lines, together, balanced, load, design, heaviest, bent)


def _on_neutral(piece: Piece, va: float, system: System) -> dict[str, float]:
    """Amperes that a load may put between each line and the neutral."""
    if piece.isolated:
        return {}
    if piece.connection == "line-neutral" and piece.line in system.lines:
        return {piece.line: va / (system.to_neutral or 1.0)}
    to_neutral = piece.category in ("lighting", "receptacles")
    if piece.connection == "three-phase" and to_neutral and system.has_neutral:
        return dict.fromkeys(system.lines, system.line_current(va))
    found = 0.0
    if piece.neutral and piece.calculated:
        found = piece.neutral * va / piece.calculated
    if system.phases == 1 and piece.connection == "two-line" and to_neutral:
        found += va / (system.line_to_line or 1.0)
    return dict.fromkeys(system.lines, found) if found else {}


def tell_amperes(carried: Carried, system: System, edition: Edition, tape: Tape) -> None:
    """From VA to amperes: of motors as 430.24 adds them, of all else by the volts."""
    found, balanced = carried.calculated, carried.balanced
    across = divisor(system.line_to_line or system.to_neutral, connection_of(system))
    shown = f"{figure(found.load)} ÷ {across}"
    terms = _motor_terms(carried, system, edition)
    if terms:
        words = say("Amperes: the largest motor, the others, other load")
        shown = " + ".join(terms) if len(terms) <= TERMS else shown
        rule = edition.rule("motor_several")
        tape.sum("amperes", words, balanced, "A", shown, rule, flow="load")
    else:
        tape.sum("amperes", say("Amperes, balanced"), balanced, "A", shown, flow="load")
    if not fits(carried.load, balanced * HEAVIER):
        words = say("The heaviest line governs")
        each = _each(carried.lines)
        tape.sum("heaviest_line", words, carried.load, "A", each, flow="load")
    less = max(carried.phasors.values(), default=0.0)
    if not fits(max(carried.lines.values(), default=0.0), less * HEAVIER):
        tape.note(
            "phasor_sum",
            say("Added as phasors it would be"),
            less,
            "A",
            _each(carried.phasors),
            note=say("the code adds the motors as figures"),
            flow="load",
        )


def _each(lines: dict[str, float]) -> str:
    return ", ".join(f"{name} {figure(value, 1)}" for name, value in lines.items())


def _motor_terms(carried: Carried, system: System, edition: Edition) -> list[str]:
    """The terms of the motors' sum and of the other load; none where there is no motor, or one on
    fewer lines, which has its amperes on those alone: the heaviest line shows them."""
    found, connection = carried.calculated, connection_of(system)
    motors = [
        (piece, system.line_current(va), index == found.largest_index)
        for index, (piece, va) in enumerate(zip(carried.placed, found.shares, strict=True))
        if va and (piece.category == "motor" or index == found.largest_index)
    ]
    if not motors or any(piece.connection != connection for piece, _, _ in motors):
        return []
    factor = figure(1 + edition.value("largest_motor") / 100)
    terms = [f"{factor} × {figure(a)}" if first else figure(a) for _, a, first in motors]
    rest = carried.balanced - system.line_current(found.largest_motor)
    rest -= sum(amperes for _, amperes, _ in motors)
    if rest > 1e-6 * carried.balanced:
        terms.append(str(say("{amperes} of other load", amperes=rest)))
    return terms
