"""The neutral and the amperes in each line, from the standard calculation."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import Load, split_lines
from voltaje.core.electrical.systems import System
from voltaje.core.parts.dwelling.climate import largest_motor, motor_share
from voltaje.core.parts.dwelling.loads import Loads
from voltaje.core.parts.dwelling.standard import Standard
from voltaje.core.rules import dwelling_demand as demand
from voltaje.core.rules.neutral import cooking_factor, paired, reduced
from voltaje.core.rules.overcurrent import rounding_note, whole_amperes
from voltaje.core.worksheet import Line, Section, Text, figure, say

WRITTEN_OUT = 6  # no code figure: how many names a line holds


@dataclass(frozen=True, slots=True)
class Neutral:
    """Neutral load in VA and A, with the lines that show it."""

    load: float
    amperes: float
    section: Section


@dataclass(frozen=True, slots=True)
class PerLine:
    """Amperes on L1, L2 and the neutral with every 120 V load on a line; ``assigned`` says
    whether the user chose any line; ``placed`` gives each entry its line."""

    l1: float
    l2: float
    neutral: float
    assigned: bool
    placed: dict[str, str]
    section: Section

    @property
    def heaviest(self) -> float:
        return max(self.l1, self.l2)


def _shares(loads: Loads, standard: Standard, edition: Edition) -> Iterable[tuple[Load, float]]:
    """Each appliance and climate load in the calculation with the factor it is taken at."""
    for load in loads.fixed:
        eligible = demand.counts_for_fixed(load, edition)
        yield load, standard.fixed_factor if eligible else 1.0
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
    on_neutral = [(load, share) for load, share in shares if load.on_neutral]
    cooling_120 = [load for load in standard.dropped.loads if load.on_neutral]
    side_120 = [load for load in standard.side.loads if load.on_neutral]
    motors = [load for load, _ in on_neutral]
    # the other season's 120 V equipment may be the larger on the neutral even where the lines
    # see the other side
    if sum(load.total for load in cooling_120) > sum(load.total for load in side_120):
        swapped = [load for load in cooling_120 if load not in side_120]
        gone = [load for load in side_120 if load not in cooling_120]
        on_neutral = [(load, s) for load, s in on_neutral if load not in gone]
        on_neutral += [(load, 1.0) for load in swapped]
        motors = [load for load, _ in on_neutral]
    motor = largest_motor(motors)
    quarter = motor_share(edition)
    adder = motor.va * quarter if motor else 0.0

    lines = [
        Line("neutral_lighting", say("General lighting, after demand"), standard.lighting, "VA",
             rules=(edition.rule("neutral"),), entries=("area",)),
    ]  # fmt: skip
    appliances = sum(load.total * share for load, share in on_neutral)
    if on_neutral:
        lines.append(
            Line(
                "neutral_appliances",
                say("Loads at 120 V"),
                appliances,
                "VA",
                " + ".join(
                    figure(load.total) + (f" × {figure(share)}" if share != 1 else "")
                    for load, share in on_neutral[:8]
                ),
                entries=tuple(load.path for load, _ in on_neutral),
            )
        )
    for name, label, value, group in (
        ("neutral_cooking", say("Cooking"), standard.cooking, loads.cooking),
        ("neutral_dryers", say("Dryers"), standard.dryers, loads.dryers),
    ):
        if group:
            lines.append(
                Line(name, label, value * factor, "VA",
                     f"{figure(value)} × {figure(factor)}", (reduction,),
                     entries=tuple(load.path for load in group))
            )  # fmt: skip
    if motor:
        lines.append(
            Line("neutral_motor", say("Largest motor at 120 V: {name}", name=motor.name), adder,
                 "VA", f"{figure(motor.va)} × {figure(quarter)}",
                 (edition.limit("largest_motor").rule,),
                 entries=(motor.path,))
        )  # fmt: skip
    base = standard.lighting + factor * (standard.cooking + standard.dryers)
    load = base + appliances + adder
    divisor = 2 * system.to_neutral
    amperes = load / divisor
    lines.append(
        Line("neutral_load", say("Neutral load"), load, "VA", kind="sum",
             expression=" + ".join(figure(line.value) for line in lines))
    )  # fmt: skip
    lines.append(
        Line("neutral_unbalanced", say("÷ {volts} V", volts=divisor), amperes, "A",
             f"{figure(load)} ÷ {figure(divisor)}", (edition.rule("neutral"),))
    )  # fmt: skip
    less = reduced(amperes, 0.0, system, edition)
    if less < amperes:
        full, excess = edition.limit("neutral_full"), edition.limit("neutral_excess")
        lines.append(
            Line(
                "neutral_above_200",
                say("{full} A whole, the rest at {share} %", full=full.value, share=excess.value),
                less,
                "A",
                f"{figure(full.value)} + {figure(amperes - full.value)}"
                f" × {figure(excess.value / 100)}",
                (full.rule, excess.rule),
            )
        )
        amperes = less
    lines.append(
        Line("neutral_amperes", say("Neutral"), whole_amperes(amperes), "A", kind="result",
             rules=(edition.rule("rounding"),),
             rounding=rounding_note(amperes))
    )  # fmt: skip
    neutral = Neutral(load, amperes, Section("neutral", say("Neutral"), tuple(lines)))
    per_line = _per_line(shares, on_neutral, standard, base, system, edition)
    return neutral, per_line


def _per_line(
    shares: list[tuple[Load, float]],
    on_neutral: list[tuple[Load, float]],
    standard: Standard,
    neutral_base: float,
    system: System,
    edition: Edition,
) -> PerLine:
    single = [(load, share) for load, share in shares if load.on_neutral]
    double = [(load, share) for load, share in shares if not load.on_neutral]
    balanced = (
        standard.lighting / (2 * system.to_neutral)
        + (standard.cooking + standard.dryers) / system.line_to_line
    )
    both = sum(load.amperes * load.count * share for load, share in double)
    weights = []
    for load, share in single:
        # an even number of like loads halves itself; only the odd one must be placed
        odd = load.count if load.line != "auto" else load.count % 2
        weights.append((load.path, load.amperes * share * odd, load.line))
    split = split_lines(weights)
    placed = {path: f"L{int(line)}" for path, line in split.lines}
    on: dict[str, list[float]] = {"L1": [], "L2": []}
    motors: dict[str, list[Load]] = {"L1": [], "L2": []}
    for load, share in single:
        each = load.amperes * share
        if load.line == "auto":
            for side in ("L1", "L2"):
                on[side] += [each] * (load.count // 2)
                if load.count > 1:
                    motors[side].append(load)
            rest = load.count % 2
        else:
            rest = load.count
        on[placed[load.path]] += [each] * rest
        if rest:
            motors[placed[load.path]].append(load)
    pairs = [load for load, _ in double]
    rows: list[Line] = []
    amperes: dict[str, float] = {}
    for side in ("L1", "L2"):
        largest = _largest_by_current([*motors[side], *pairs])
        adder = largest * motor_share(edition)
        amperes[side] = balanced + both + sum(on[side]) + adder
        rows.append(
            Line(
                f"{side.lower()}_amperes",
                say("{side}", side=side),
                amperes[side],
                "A",
                " + ".join(
                    f"{figure(value)} {what}"
                    for value, what in (
                        (balanced, "lighting, cooking, drying"),
                        (both, "at two lines"),
                        (sum(on[side]), "at 120 V"),
                        (adder, "motor"),
                    )
                    if value
                ),
                (edition.rule("largest_motor"),) if adder else (),
                note=_names_on(side, single, placed),
                entries=tuple(path for path, at in placed.items() if at == side),
                kind="sum",
            )
        )
    adder = _largest_by_current([load for load, _ in on_neutral]) * motor_share(edition)
    shared = paired(on["L1"], on["L2"])
    base = neutral_base / (2 * system.to_neutral)
    neutral = reduced(base + shared + adder, 0.0, system, edition)
    rows.append(
        Line(
            "neutral_line_amperes",
            say("Neutral, pair by pair"),
            neutral,
            "A",
            f"{figure(base)} + {figure(shared)} + {figure(adder)} motor",
            (edition.rule("neutral"),),
            say("of each pair of 120 V loads the larger counts"),
            kind="sum",
        )
    )
    assigned = any(load.line != "auto" for load, _ in single)
    title = (
        say("Lines as chosen, standard method")
        if assigned
        else say("Lines with 120 V loads spread, standard method")
    )
    return PerLine(
        amperes["L1"], amperes["L2"], neutral, assigned, placed,
        Section("lines", title, tuple(rows)),
    )  # fmt: skip


def _names_on(side: str, single: list[tuple[Load, float]], placed: dict[str, str]) -> Text | None:
    here = [load.name for load, _ in single if placed[load.path] == side]
    if not here:
        return None
    rest = len(here) - WRITTEN_OUT
    more = f" and {rest} more" if rest > 0 else ""
    return say("120 V here: {names}", names=", ".join(here[:WRITTEN_OUT]) + more)


def _largest_by_current(loads: list[Load]) -> float:
    return max((load.amperes for load in loads if load.motor), default=0.0)
