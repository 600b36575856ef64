"""The neutral and the amperes in each line, from the standard calculation."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import CountedLoad, split_lines
from voltaje.core.electrical.systems import System
from voltaje.core.kinds.dwelling.nec.climate import largest_motor, motor_share
from voltaje.core.kinds.dwelling.nec.loads import Loads
from voltaje.core.kinds.dwelling.nec.standard import Standard
from voltaje.core.report import Rule, Section, Text, Worksheet, figure, say
from voltaje.core.rules.north_america import dwelling_demand as demand
from voltaje.core.rules.north_america.neutral import cooking_factor, paired, reduced
from voltaje.core.rules.north_america.overcurrent import rounding_note, whole_amperes

WRITTEN_OUT = 6  # no code figure: how many names a line holds
SIDES = ("L1", "L2")
Shares = Sequence[tuple[CountedLoad, float]]


@dataclass(frozen=True, slots=True)
class Neutral:
    """Neutral load in VA and A: lighting after demand, the ``loads`` to neutral with their share,
    cooking and dryers at a ``factor`` by its rule, a quarter of the largest ``motor``.
    ``unbalanced`` amperes are those before the reduction of what exceeds 200 A."""

    lighting: float
    loads: Shares
    cooking: float
    dryers: float
    cooked: tuple[CountedLoad, ...]
    dried: tuple[CountedLoad, ...]
    factor: float
    reduction: Rule
    motor: CountedLoad | None
    quarter: float
    divisor: float
    unbalanced: float
    amperes: float

    @property
    def adder(self) -> float:
        """The quarter of the largest motor, VA."""
        return self.motor.va * self.quarter if self.motor else 0.0

    @property
    def appliances(self) -> float:
        return sum(load.total * share for load, share in self.loads)

    @property
    def base(self) -> float:
        """What no line can be chosen for, VA."""
        return self.lighting + self.factor * (self.cooking + self.dryers)

    @property
    def load(self) -> float:
        """The neutral load, VA."""
        return self.base + self.appliances + self.adder


@dataclass(frozen=True, slots=True)
class LineLoad:
    """One line, A: what is ``balanced`` on both, loads at two lines, those ``single`` ones to
    neutral that stand on it, and the quarter of its largest ``motor``."""

    balanced: float
    both: float
    single: float
    motor: float

    @property
    def amperes(self) -> float:
        return self.balanced + self.both + self.single + self.motor


@dataclass(frozen=True, slots=True)
class PerLine:
    """Amperes on L1, L2 and the neutral with every 120 V load on a line; ``assigned`` says
    whether the user chose any line; ``placed`` gives each entry its line. The neutral is a
    ``base``, the ``shared`` loads pair by pair and a quarter of the largest motor."""

    lines: Mapping[str, LineLoad]
    base: float
    shared: float
    adder: float
    neutral: float
    assigned: bool
    placed: Mapping[str, str]
    single: tuple[CountedLoad, ...]

    @property
    def l1(self) -> float:
        return self.lines["L1"].amperes

    @property
    def l2(self) -> float:
        return self.lines["L2"].amperes

    @property
    def heaviest(self) -> float:
        return max(self.l1, self.l2)


def _shares(
    loads: Loads, standard: Standard, edition: Edition
) -> Iterable[tuple[CountedLoad, float]]:
    """Each appliance and climate load in the calculation with the factor it is taken at."""
    for load in loads.fixed:
        eligible = demand.counts_for_fixed(load, edition)
        yield load, standard.fixed.factor if eligible else 1.0
    for load in (*loads.own, *standard.side.loads):
        yield load, 1.0
    least = edition.value("charger_least") if loads.chargers else 0.0
    for load in loads.chargers:
        yield load, max(1.0, least / load.va) if load.va else 1.0


def calculate(
    loads: Loads, standard: Standard, system: System, edition: Edition
) -> tuple[Neutral, PerLine]:
    """Neutral by 220.61 in VA, and the amperes of each line as annex D1(b) adds them."""
    factor, reduction = cooking_factor(system, edition)
    shares = [(load, share) for load, share in _shares(loads, standard, edition) if load.count]
    on_neutral = _on_neutral(shares, standard)
    quarter = motor_share(edition)
    motor = largest_motor([load for load, _ in on_neutral])
    divisor = 2 * system.to_neutral
    base = standard.lighting.demand + factor * (standard.cooking + standard.dryers.demand)
    adder = motor.va * quarter if motor else 0.0
    unbalanced = (base + sum(load.total * share for load, share in on_neutral) + adder) / divisor
    neutral = Neutral(
        standard.lighting.demand,
        on_neutral,
        standard.cooking,
        standard.dryers.demand,
        loads.cooking,
        loads.dryers,
        factor,
        reduction,
        motor,
        quarter,
        divisor,
        unbalanced,
        min(unbalanced, reduced(unbalanced, 0.0, system, edition)),
    )
    return neutral, _per_line(shares, neutral, standard, system, edition)


def _on_neutral(shares: Shares, standard: Standard) -> Shares:
    """The loads to neutral. The other season's 120 V equipment may be the larger on the neutral
    even where the lines see the other side."""
    found = [(load, share) for load, share in shares if load.on_neutral]
    other = [load for load in standard.dropped.loads if load.on_neutral]
    mine = [load for load in standard.side.loads if load.on_neutral]
    if sum(load.total for load in other) > sum(load.total for load in mine):
        gone = [load for load in mine if load not in other]
        found = [(load, share) for load, share in found if load not in gone]
        found += [(load, 1.0) for load in other if load not in mine]
    return found


def _per_line(
    shares: Shares, neutral: Neutral, standard: Standard, system: System, edition: Edition
) -> PerLine:
    single = [(load, share) for load, share in shares if load.on_neutral]
    double = [(load, share) for load, share in shares if not load.on_neutral]
    balanced = (
        standard.lighting.demand / (2 * system.to_neutral)
        + (standard.cooking + standard.dryers.demand) / system.line_to_line
    )
    both = sum(load.amperes * load.count * share for load, share in double)
    placed = _placed(single)
    on, motors = _each_side(single, placed)
    quarter = motor_share(edition)
    pairs = [load for load, _ in double]
    lines = {
        side: LineLoad(balanced, both, sum(on[side]), _largest([*motors[side], *pairs]) * quarter)
        for side in SIDES
    }
    adder = _largest([load for load, _ in neutral.loads]) * quarter
    shared = paired(on["L1"], on["L2"])
    base = neutral.base / (2 * system.to_neutral)
    return PerLine(
        lines,
        base,
        shared,
        adder,
        reduced(base + shared + adder, 0.0, system, edition),
        any(load.line != "auto" for load, _ in single),
        placed,
        tuple(load for load, _ in single),
    )


def _placed(single: Shares) -> dict[str, str]:
    """The line of each entry to neutral: its own, or where the lines then differ least."""
    weights = []
    for load, share in single:
        # an even number of like loads halves itself; only the odd one must be placed
        odd = load.count if load.line != "auto" else load.count % 2
        weights.append((load.path, load.amperes * share * odd, load.line))
    return {path: f"L{int(line)}" for path, line in split_lines(weights).lines}


def _each_side(
    single: Shares, placed: Mapping[str, str]
) -> tuple[dict[str, list[float]], dict[str, list[CountedLoad]]]:
    """Amperes of each load on each line, and the loads that stand there."""
    on: dict[str, list[float]] = {side: [] for side in SIDES}
    here: dict[str, list[CountedLoad]] = {side: [] for side in SIDES}
    for load, share in single:
        each, rest = load.amperes * share, load.count
        if load.line == "auto":
            for side in SIDES:
                on[side] += [each] * (load.count // 2)
                if load.count > 1:
                    here[side].append(load)
            rest = load.count % 2
        on[placed[load.path]] += [each] * rest
        if rest:
            here[placed[load.path]].append(load)
    return on, here


def _largest(loads: Sequence[CountedLoad]) -> float:
    """Amperes of the largest motor."""
    return max((load.amperes for load in loads if load.motor), default=0.0)


def report(found: Neutral, edition: Edition) -> Section:
    """The neutral load line by line."""
    worksheet, rule = Worksheet(), edition.rule("neutral")
    words = say("General lighting, after demand")
    worksheet.step("neutral_lighting", words, found.lighting, "VA", "", rule, entries="area")
    if found.loads:
        terms = [
            figure(load.total) + (f" × {figure(share)}" if share != 1 else "")
            for load, share in found.loads[:8]
        ]
        paths, shown = [load.path for load, _ in found.loads], " + ".join(terms)
        words = say("Loads at 120 V")
        worksheet.step("neutral_appliances", words, found.appliances, "VA", shown, entries=paths)
    for name, words, value, group in (
        ("neutral_cooking", say("Cooking"), found.cooking, found.cooked),
        ("neutral_dryers", say("Dryers"), found.dryers, found.dried),
    ):
        if group:
            shown, paths = f"{figure(value)} × {figure(found.factor)}", [x.path for x in group]
            left = value * found.factor
            worksheet.step(name, words, left, "VA", shown, found.reduction, entries=paths)
    if found.motor:
        worksheet.step(
            "neutral_motor",
            say("Largest motor at 120 V: {name}", name=found.motor.name),
            found.adder,
            "VA",
            f"{figure(found.motor.va)} × {figure(found.quarter)}",
            edition.limit("largest_motor").rule,
            entries=found.motor.path,
        )
    shown = " + ".join(figure(line.value) for line in worksheet)
    worksheet.sum("neutral_load", say("Neutral load"), found.load, "VA", shown)
    words = say("÷ {volts} V", volts=found.divisor)
    shown = f"{figure(found.load)} ÷ {figure(found.divisor)}"
    worksheet.step("neutral_unbalanced", words, found.unbalanced, "A", shown, rule)
    if found.amperes < found.unbalanced:
        full, excess = edition.limit("neutral_full"), edition.limit("neutral_excess")
        over = found.unbalanced - full.value
        words = say("{full} A whole, the rest at {share} %", full=full.value, share=excess.value)
        shown = f"{figure(full.value)} + {figure(over)} × {figure(excess.value / 100, 4)}"
        rules = (full.rule, excess.rule)
        worksheet.step("neutral_above_200", words, found.amperes, "A", shown, rules)
    worksheet.result(
        "neutral_amperes",
        say("Neutral"),
        whole_amperes(found.amperes),
        "A",
        rules=edition.rule("rounding"),
        rounding=rounding_note(found.amperes),
    )
    return worksheet.section("neutral", say("Neutral"))


def report_lines(found: PerLine, edition: Edition) -> Section:
    """The amperes of both lines and of the neutral between them."""
    worksheet = Worksheet()
    for side, line in found.lines.items():
        terms = (
            (line.balanced, say("lighting, cooking, drying")),
            (line.both, say("at two lines")),
            (line.single, say("at 120 V")),
            (line.motor, say("motor")),
        )
        worksheet.sum(
            f"{side.lower()}_amperes",
            say("{side}", side=side),
            line.amperes,
            "A",
            " + ".join(f"{figure(value)} {what}" for value, what in terms if value),
            edition.rule("largest_motor") if line.motor else None,
            note=_names_on(side, found),
            entries=[path for path, at in found.placed.items() if at == side],
        )
    shown = say(
        "{base} + {shared} + {adder} motor",
        base=found.base,
        shared=found.shared,
        adder=found.adder,
    )
    worksheet.sum(
        "neutral_line_amperes",
        say("Neutral, pair by pair"),
        found.neutral,
        "A",
        shown,
        edition.rule("neutral"),
        rounding=say("of each pair of 120 V loads the larger counts"),
    )
    title = say("Lines with 120 V loads spread, standard method")
    if found.assigned:
        title = say("Lines as chosen, standard method")
    return worksheet.section("lines", title)


def _names_on(side: str, found: PerLine) -> Text | None:
    here = [load.name for load in found.single if found.placed[load.path] == side]
    if not here:
        return None
    names, rest = ", ".join(here[:WRITTEN_OUT]), len(here) - WRITTEN_OUT
    if rest > 0:
        return say("120 V here: {names} and {rest} more", names=names, rest=rest)
    return say("120 V here: {names}", names=names)
