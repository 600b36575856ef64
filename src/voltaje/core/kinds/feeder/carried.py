"""What a calculated load puts on the lines and the neutral, and how the worksheet shows it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from voltaje.core.codes import Edition
from voltaje.core.electrical.connection import current_divisor
from voltaje.core.electrical.lines import currents, place, plain
from voltaje.core.electrical.systems import Connection, Piece, System
from voltaje.core.report import Worksheet, figure, fits, say
from voltaje.core.rules.north_america.feeder_demand import Calculated
from voltaje.core.rules.north_america.neutral import reduced

# no code figure: a heavier line is named from here on; below it the figures print alike
HEAVIER = 1.001
TURNING = ("motor", "cooling")
TERMS = 8  # no code figure: how many terms a line holds


@dataclass(frozen=True, slots=True)
class Carried:
    """A load on its lines: each piece ``placed``, what was ``calculated`` of them, amperes of the
    ``lines`` with motors added as figures and as ``phasors`` with all of it added so; ``balanced``
    amperes, ``load`` of the heaviest line, ``design`` of the heaviest with the quarter of what is
    continuous on each, which the ``design_lines`` have; the largest ``unbalanced`` load to neutral
    and what of it is ``nonlinear``."""

    placed: tuple[Piece, ...]
    calculated: Calculated
    lines: dict[str, float]
    phasors: dict[str, float]
    balanced: float
    load: float
    design: float
    unbalanced: float = 0.0
    nonlinear: float = 0.0
    design_lines: Mapping[str, float] = field(default_factory=dict)

    @property
    def by_line(self) -> bool:
        """Whether one line, and not the balanced load, asks for the design amperes."""
        heaviest = max(self.design_lines.values(), default=0.0)
        return fits(self.design, heaviest) and not fits(heaviest, self.balanced_design * HEAVIER)

    @property
    def balanced_design(self) -> float:
        """Balanced amperes with the quarter of what is continuous."""
        found = self.calculated
        return self.balanced * found.design / found.load if found.load else self.balanced

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
    lines = _on_lines(shares, found, system)
    # 215.2(A)(1), 215.3: the quarter of what is continuous stands on that load's own lines
    rated = [(p, va * (1 + found.quarter * p.continuous)) for p, va in shares]
    design_lines = _on_lines(rated, found, system)
    for other in _alternatives(placed, found):
        more = _on_lines(other, found, system)
        lines = {name: max(amperes, more[name]) for name, amperes in lines.items()}
        more = _on_lines(
            [(p, va * (1 + found.quarter * p.continuous)) for p, va in other], found, system
        )
        design_lines = {name: max(a, more[name]) for name, a in design_lines.items()}
    if found.largest_index >= 0:
        index = found.largest_index
        shares[index] = (placed[index], shares[index][1] + found.largest_motor)
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
    design = max([system.line_current(found.design), *design_lines.values()])
    heaviest = bent = 0.0
    if system.has_neutral:
        heaviest, bent = max(by_line.values()), max(distorted.values())
    return Carried(
        placed, found, lines, together, balanced, load, design, heaviest, bent, design_lines
    )


Shares = Sequence[tuple[Piece, float]]


def _on_lines(shares: Shares, found: Calculated, system: System) -> dict[str, float]:
    """Amperes of each line: motors added as figures, the rest as phasors; on each line the quarter
    of the largest motor that stands on it (430.24), so that none is sized by a motor elsewhere."""
    turning = [(piece, va) for piece, va in shares if piece.motor]
    still = [(piece, va) for piece, va in shares if not piece.motor]
    lines, motors = currents(still, system)[0], plain(turning, system)
    if found.largest_index < 0:
        return {name: amperes + motors[name] for name, amperes in lines.items()}
    each = [
        (p.motor, plain([(p, va)], system)) for p, va in turning if va and p.category in TURNING
    ]
    factor = found.largest_motor / (found.shares[found.largest_index] or 1.0)
    return {
        name: amperes
        + motors[name]
        + factor
        * max(((full, own[name]) for full, own in each if own[name]), default=(0.0, 0.0))[1]
        for name, amperes in lines.items()
    }


def _alternatives(placed: Sequence[Piece], found: Calculated) -> Iterator[Shares]:
    """Where loads never run together: each alternative that was left out in place of the one that
    counts. On its own line a smaller load may be the larger."""
    for apart in found.apart:
        name = apart.name
        for left in {(placed[i].part, placed[i].choice or i): i for i in apart.left}.values():
            way = placed[left].part, placed[left].choice
            shares = []
            for index, (piece, va) in enumerate(zip(placed, found.shares, strict=True)):
                mine = piece.group == name
                is_way = index == left or (way[1] and (piece.part, piece.choice) == way)
                shares.append((piece, piece.calculated if mine and is_way else 0.0 if mine else va))
            yield shares


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


def report_amperes(
    carried: Carried, system: System, edition: Edition, worksheet: Worksheet
) -> None:
    """From VA to amperes: of motors as 430.24 adds them, of all else by the volts."""
    found, balanced = carried.calculated, carried.balanced
    across = current_divisor(system.line_to_line or system.to_neutral, connection_of(system))
    shown = f"{figure(found.load)} ÷ {across}"
    terms = _motor_terms(carried, system, edition)
    if terms:
        words = say("Amperes: the largest motor, the others, other load")
        shown = " + ".join(terms) if len(terms) <= TERMS else shown
        rule = edition.rule("motor_several")
        worksheet.sum("amperes", words, balanced, "A", shown, rule, flow="load")
    else:
        worksheet.sum("amperes", say("Amperes, balanced"), balanced, "A", shown, flow="load")
    if not fits(carried.load, balanced * HEAVIER):
        words = say("The heaviest line governs")
        each = _each(carried.lines)
        worksheet.sum("heaviest_line", words, carried.load, "A", each, flow="load")
    less = max(carried.phasors.values(), default=0.0)
    if not fits(max(carried.lines.values(), default=0.0), less * HEAVIER):
        worksheet.note(
            "phasor_sum",
            say("Added as phasors it would be"),
            less,
            "A",
            _each(carried.phasors),
            note=say("the code adds the motors as figures"),
            flow="load",
        )


def report_design(carried: Carried, system: System, edition: Edition, worksheet: Worksheet) -> None:
    """The design amperes: the heaviest line, each with the quarter of what is continuous on it."""
    across = current_divisor(system.line_to_line or system.to_neutral, connection_of(system))
    shown, note = f"{figure(carried.calculated.design)} ÷ {across}", None
    if carried.by_line:
        shown = _each(carried.design_lines)
        note = say(
            "the quarter of each continuous load on its own lines; the heaviest line governs"
        )
    words = say("With 125 % of what is continuous")
    rule = edition.rule("feeder_device")
    worksheet.sum("design_amperes", words, carried.design, "A", shown, rule, note=note, flow="load")


def _each(lines: Mapping[str, float]) -> str:
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
