"""Single-phase or three-phase? The two questions that decide, with the reasons."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt

from voltaje.core.effort import Effort
from voltaje.core.electrical.balance import BalanceTask, Measure, Movable, measure, solve
from voltaje.core.electrical.lines import pairs, to_neutral
from voltaje.core.electrical.systems import SYSTEMS, Connection, System
from voltaje.core.quantities import Nameplate
from voltaje.core.report import Text, fits, say

# Common practice: what a utility gives on one phase, and where 208 V feeders become too heavy.
SECONDS = 0.4  # no code figure: s of effort of one spread
USUAL_LIMIT_AMPERES = 400.0
LARGE_KVA = 300.0


@dataclass(frozen=True, slots=True)
class SupplyAdvice:
    """The system to ask for, and why."""

    system: System
    why: tuple[Text, ...]


def advise(
    three_phase_only: bool, load_kva: float, limit: float = USUAL_LIMIT_AMPERES
) -> SupplyAdvice:
    """``three_phase_only``: some equipment runs on three-phase alone. ``load_kva``: the sum of all
    load. ``limit``: the amperes at 240 V that the utility gives on single-phase."""
    amperes = load_kva * 1000 / 240
    large = not fits(load_kva, LARGE_KVA)
    why: list[Text] = []
    if three_phase_only:
        why.append(
            say(
                "Some equipment runs on three-phase alone, so the supply is three-phase,"
                " however small that equipment is."
            )
        )
    elif fits(amperes, limit):
        return SupplyAdvice(
            SYSTEMS["1ph-120/240"],
            (
                say(
                    "Nothing needs three-phase, and {amperes} A at 240 V is within the {limit} A"
                    " that single-phase gives.",
                    amperes=round(amperes),
                    limit=limit,
                ),
            ),
        )
    else:
        why.append(
            say(
                "{amperes} A at 240 V is more than the {limit} A that single-phase gives:"
                " a three-phase, four-wire supply, with the single-phase loads spread over"
                " its lines.",
                amperes=round(amperes),
                limit=limit,
            )
        )
    if large:
        why.append(
            say(
                "{kva} kVA is heavy at 208 V: 480Y/277 V, with a transformer for what needs 120 V.",
                kva=load_kva,
            )
        )
        return SupplyAdvice(SYSTEMS["3ph-480Y/277"], tuple(why))
    why.append(
        say(
            "208Y/120 V serves 120 V loads without a transformer; heaters and kilns are"
            " ordered for 208 V."
        )
    )
    return SupplyAdvice(SYSTEMS["3ph-208Y/120"], tuple(why))


@dataclass(frozen=True, slots=True)
class Wanted:
    """A load of a list: its name, VA, how it is connected; ``three-phase`` needs three lines."""

    name: str
    va: float
    connection: Connection

    @classmethod
    def of(
        cls, name: str, plate: Nameplate, connection: Connection, single: System, three: System
    ) -> Wanted | None:
        """From a nameplate in W, VA or A, amperes at its own volts or those of the supply that it
        would stand on; ``None`` for one that says neither, or nothing."""
        va = plate.watts or 0.0
        if plate.amperes is not None:
            volts = single.to_neutral if connection == "line-neutral" else three.volts(connection)
            va = plate.amperes * (plate.volts or volts)
            va *= sqrt(3) if connection == "three-phase" else 1.0
        return cls(name, va, connection) if va > 0 else None


@dataclass(frozen=True, slots=True)
class ListAdvice:
    """What a list of loads asks for: the system and why; who needs three lines; A that one line
    (or 120/240 V) would carry, and all VA; on three lines the line of each load by its number, how
    even that is, and whether it is proven."""

    system: System
    why: tuple[Text, ...]
    need_three: tuple[str, ...]
    single_amperes: float
    va: float
    lines: Mapping[int, str]
    measured: Measure | None
    proven: bool


def advise_list(loads: Sequence[Wanted], limit: float, single: System, three: System) -> ListAdvice:
    """The supply for a list of loads: single-phase where nothing needs three lines and its amperes
    are within the utility's ``limit``, else three-phase, four-wire, with the loads spread."""
    va = sum(load.va for load in loads)
    amperes = _heaviest(loads, single)
    needing = tuple(load.name for load in loads if load.connection == "three-phase")
    told = {"amperes": round(amperes), "limit": round(limit), "label": single.label}
    if not needing and fits(amperes, limit):
        words = say(
            "Nothing needs three lines, and {amperes} A on {label} is within the {limit} A that the"
            " utility gives.",
            **told,
        )
        return ListAdvice(single, (words,), (), amperes, va, {}, None, True)
    why = []
    if needing:
        why.append(
            say(
                "{names}: runs on three lines alone, so the supply is three-phase, however small"
                " that is.",
                names=", ".join(needing),
            )
        )
    if not fits(amperes, limit):
        why.append(
            say(
                "{amperes} A on {label} is more than the {limit} A that the utility gives: three"
                " lines, with the single-phase loads spread over them.",
                **told,
            )
        )
    task = BalanceTask(three, tuple(_movable(i, load, three) for i, load in enumerate(loads)))
    best = solve(task, "deviation", Effort(SECONDS))
    lines = {index: best.lines[str(index)] for index in range(len(loads))}
    even = measure(task, best.lines, task.cases[0])
    for load in loads:
        each = load.va / (three.volts(load.connection) or three.to_neutral)
        if load.connection != "three-phase" and not fits(each, limit):
            why.append(
                say(
                    "{name} by itself draws {amperes} A on its line: order it for three lines, or"
                    " enter the single loads that it stands for.",
                    name=load.name,
                    amperes=round(each),
                )
            )
    return ListAdvice(three, tuple(why), needing, amperes, va, lines, even, best.proven)


def _heaviest(loads: Sequence[Wanted], single: System) -> float:
    """A of the heaviest line on single-phase, every load whole on a line of its own, spread as
    evenly as can be; three-phase loads, which do not stand there, as if split over all lines."""
    split = sum(load.va for load in loads if load.connection == "three-phase")
    whole = [load for load in loads if load.connection != "three-phase"]
    if not single.line_to_line or not whole:
        return single.line_current(sum(load.va for load in loads))
    task = BalanceTask(single, tuple(_movable(i, load, single) for i, load in enumerate(whole)))
    best = solve(task, "heaviest", Effort(SECONDS))
    found = measure(task, best.lines, task.cases[0])
    return max(found.amperes.values()) + single.line_current(split)


def _movable(index: int, load: Wanted, system: System) -> Movable:
    options: tuple[str, ...] = ("all",)
    if load.connection == "line-neutral":
        options = to_neutral(system)
    elif load.connection == "two-line":
        options = tuple(pairs(system))
    return Movable(str(index), load.name, load.va, load.connection, options[0], options)
