"""The first question of all: amperes from kVA, kW, hp or W, and back; any one unknown is solved.

A motor's horsepower goes by the code's table; by formula only when that is asked for.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.codes import NotCoveredError
from voltaje.core.electrical.systems import Demand
from voltaje.core.entries import (
    BigNameplate,
    Entries,
    Percent,
    PowerFactor,
    Reads,
    WrongEntryError,
    entry,
)
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.rules.motors import table_current
from voltaje.core.units import Nameplate
from voltaje.core.worksheet import Finding, Line, Result, Rule, Section, Worked, figure, say

Amperes = Annotated[float, Reads(units.CURRENT, 0.001, 100_000.0)]
Volts = Annotated[float, Reads(units.VOLTAGE, 1.0, 765_000.0)]
WATTS_PER_HP = 746.0  # physics: what the trade takes for a horsepower
# common practice: volts of motor nameplates, and the nominal volts of the supply they belong to
NOMINAL = {115.0: 120.0, 230.0: 240.0, 460.0: 480.0, 575.0: 600.0}
GIVEN = "Give two of the three: power, amperes and volts. The third is solved."


class AmperesEntries(Entries):
    """Power, amperes and volts, one of them empty; or all three, for the power factor."""

    phases: Literal["1", "3"] = entry(
        "1", "Phases", group="known", choices={"1": "single-phase", "3": "three-phase"}
    )
    power: BigNameplate | None = entry(
        None,
        "Power",
        group="known",
        example="15 kW, 75 kVA, 10 hp, 1500 W",
        help="empty: solved",
    )
    current: Amperes | None = entry(
        None, "Full-load current", group="known", example="24 A", help="empty: solved"
    )
    volts: Volts | None = entry(None, "Volts", group="known", example="240 V", help="empty: solved")
    power_factor: PowerFactor | None = entry(
        None, "Power factor", group="known", example="0.85", help="empty: 1, or solved"
    )
    efficiency: Percent | None = entry(
        None, "Efficiency, %", group="known", example="88", help="of a motor"
    )
    motor: Literal["table", "formula"] = entry(
        "table",
        "Horsepower goes by",
        group="known",
        choices={"table": "the code’s motor table", "formula": "the formula, 746 W each"},
    )


GROUPS = {"known": "What is known"}


@dataclass(frozen=True, slots=True)
class Solved:
    """All of it: VA, W taken in, W given at a shaft (0 where no horsepower), A, V, what was
    unknown."""

    va: float
    watts: float
    amperes: float
    volts: float
    power_factor: float
    unknown: str


def work(entries: AmperesEntries, context: Context) -> Worked:
    """The sheet: the one unknown, the formula with its figures, the same power in every unit."""
    root = sqrt(3) if entries.phases == "3" else 1.0
    known = {"power": entries.power, "current": entries.current, "volts": entries.volts}
    missing = [name for name, value in known.items() if value is None]
    if len(missing) > 1:
        raise WrongEntryError("" if len(missing) == len(known) else missing[0], GIVEN)
    lines: list[Line] = []
    findings: list[Finding] = []
    solved = _solve(entries, missing[0] if missing else "power_factor", root, lines)
    rules: tuple[Rule, ...] = ()
    plate = entries.power
    table: float | None = None
    if plate is not None and plate.horsepower is not None and solved.unknown == "current":
        table, rules = _by_table(entries, plate.horsepower, solved, context, findings)
    amperes = solved.amperes
    if table is not None:
        lines.append(
            Line(
                "table_current",
                say("Full-load current by the table"),
                table,
                "A",
                "",
                rules,
                note=say(
                    "what conductors and devices go by; the formula gives {amperes} A",
                    amperes=figure(amperes, 1),
                ),
                entries=("motor",),
                kind="result",
                flow="current",
            )
        )
        amperes = table
    shaft = solved.watts * _efficiency(entries) / WATTS_PER_HP
    results = {
        "amperes": Result(amperes, "A", say("Full-load current")),
        "formula_amperes": Result(solved.amperes, "A", say("By the formula")),
        "volts": Result(solved.volts, "V", say("Volts")),
        "phases": Result(entries.phases, "", say("Phases")),
        "kva": Result(solved.va / 1000, "kVA", say("Apparent power")),
        "kw": Result(solved.watts / 1000, "kW", say("Power taken in")),
        "horsepower": Result(shaft, "hp", say("At the shaft")),
        "power_factor": Result(solved.power_factor, "", say("Power factor")),
    }
    words = {
        "current": f"{figure(amperes, 2)} A",
        "volts": f"{figure(solved.volts, 1)} V",
        "power": f"{figure(solved.va / 1000, 2)} kVA",
        "power_factor": f"power factor {figure(solved.power_factor, 3)}",
    }
    every = [
        Line(f"as_{name}", say("The same in {unit}", unit=unit), value, unit, how, kind="note")
        for name, value, unit, how in (
            (
                "kva",
                solved.va / 1000,
                "kVA",
                f"{'1.732 × ' if root > 1 else ''}{figure(solved.volts)} V ×"
                f" {figure(solved.amperes)} A ÷ 1,000",
            ),
            (
                "kw",
                solved.watts / 1000,
                "kW",
                f"{figure(solved.va / 1000, 3)} kVA × {figure(solved.power_factor, 3)}",
            ),
            (
                "horsepower",
                shaft,
                "hp",
                f"{figure(solved.watts / 1000, 3)} kW × {figure(_efficiency(entries))} ÷ 0.746",
            ),
        )
    ]
    main = {"current": "amperes", "volts": "volts", "power": "kva"}.get(
        solved.unknown, solved.unknown
    )
    rest = [n for n in ("amperes", "volts", "kva", "kw", "horsepower") if n != main]
    return Worked(
        "amperes",
        context.edition.id,
        (
            Section("solved", say("Solved"), tuple(lines)),
            Section("units", say("In every unit"), tuple(every)),
        ),
        results,
        tuple(findings),
        answer=(main, *rest[:3]),
        headline=words[solved.unknown],
    )


def _efficiency(entries: AmperesEntries) -> float:
    return (entries.efficiency if entries.efficiency is not None else 100.0) / 100


def _power_in(plate: Nameplate, entries: AmperesEntries) -> tuple[float, bool]:
    """What stands in the power entry, W or VA taken in, and whether it is active power. Raises
    :class:`WrongEntryError`."""
    if plate.amperes is not None:
        raise WrongEntryError(
            "power",
            "Give power here, like 15 kW, 75 kVA or 10 hp; amperes have a field of their own.",
        )
    if plate.horsepower is not None:
        efficiency = _efficiency(entries)
        if efficiency <= 0:
            raise WrongEntryError("efficiency", "Give an efficiency above 0 %, like 88.")
        return plate.horsepower * WATTS_PER_HP / efficiency, True
    return plate.watts or 0.0, plate.active


def _solve(entries: AmperesEntries, unknown: str, root: float, lines: list[Line]) -> Solved:
    """The unknown, and the line of its formula."""
    factor = entries.power_factor if entries.power_factor is not None else 1.0
    root_text = "1.732 × " if root > 1 else ""
    plate, amperes, volts = entries.power, entries.current or 0.0, entries.volts or 0.0
    if unknown == "power":
        va = root * volts * amperes
        lines.append(
            Line(
                "kva",
                say("Apparent power"),
                va / 1000,
                "kVA",
                f"{root_text}{figure(volts)} V × {figure(amperes)} A ÷ 1,000",
                entries=("current", "volts"),
                kind="result",
                flow="power",
            )
        )
        return Solved(va, va * factor, amperes, volts, factor, unknown)
    assert plate is not None  # noqa: S101 - only one of the three may be missing
    given, active = _power_in(plate, entries)
    if plate.horsepower is not None:
        lines.append(
            Line(
                "watts",
                say("Power taken in"),
                given,
                "W",
                f"{figure(plate.horsepower)} hp × 746 ÷ {figure(_efficiency(entries))}",
                entries=("power", "efficiency"),
                flow="power",
            )
        )
    if unknown == "power_factor":
        return _factor(entries, given, active, root, lines)
    va = given / factor if active else given
    if active and factor < 1:
        lines.append(
            Line(
                "va",
                say("Apparent power"),
                va,
                "VA",
                f"{figure(given)} W ÷ {figure(factor)}",
                entries=("power", "power_factor"),
                flow="power",
            )
        )
    if unknown == "current":
        amperes = va / (root * volts)
        lines.append(
            Line(
                "amperes",
                say("Amperes by the formula"),
                amperes,
                "A",
                f"{figure(va)} VA ÷ ({root_text}{figure(volts)} V)"
                if root > 1
                else f"{figure(va)} VA ÷ {figure(volts)} V",
                entries=("power", "volts"),
                kind="result",
                flow="current",
            )
        )
    else:
        if va <= 0:
            raise WrongEntryError("power", "Volts cannot be found from no power: give some.")
        volts = va / (root * amperes)
        lines.append(
            Line(
                "volts",
                say("Volts"),
                volts,
                "V",
                f"{figure(va)} VA ÷ ({root_text}{figure(amperes)} A)",
                entries=("power", "current"),
                kind="result",
                flow="volts",
            )
        )
    return Solved(va, given if active else va * factor, amperes, volts, factor, unknown)


def _factor(
    entries: AmperesEntries, given: float, active: bool, root: float, lines: list[Line]
) -> Solved:
    """The power factor, where power, amperes and volts are all given."""
    amperes, volts = entries.current or 0.0, entries.volts or 0.0
    if entries.power_factor is not None:
        raise WrongEntryError(
            "power_factor",
            "Nothing is left to solve: leave one empty, power, amperes, volts or power factor.",
        )
    if not active:
        raise WrongEntryError(
            "power",
            "For a power factor give the power in kW or hp: kVA, amperes"
            " and volts say the same twice.",
        )
    va = root * volts * amperes
    found = given / va
    if found > 1 + 1e-6:
        most = figure(va / 1000)
        raise WrongEntryError(
            "power",
            f"{figure(given / 1000)} kW is more than the {most} kVA that"
            " these amperes and volts carry.",
        )
    lines.append(
        Line(
            "power_factor",
            say("Power factor"),
            found,
            "",
            f"{figure(given)} W ÷ ({'1.732 × ' if root > 1 else ''}{figure(volts)} V ×"
            f" {figure(amperes)} A)",
            entries=("power", "current", "volts"),
            kind="result",
            flow="factor",
        )
    )
    return Solved(va, given, amperes, volts, min(found, 1.0), "power_factor")


def _by_table(
    entries: AmperesEntries,
    horsepower: float,
    solved: Solved,
    context: Context,
    findings: list[Finding],
) -> tuple[float | None, tuple[Rule, ...]]:
    """A motor's current by the code's table; ``None`` where the formula was asked for or the table
    has none."""
    edition = context.edition
    if entries.motor == "formula":
        findings.append(
            Finding(
                "look",
                "formula",
                say("By the formula: conductors and devices of a motor go by the code’s table."),
                rules=(edition.rule("motor_table_current"),),
                entries=("motor",),
            )
        )
        return None, ()
    volts = NOMINAL.get(solved.volts, solved.volts)
    kind_ = "squirrel cage" if entries.phases == "3" else "single-phase"
    try:
        cell = table_current(horsepower, volts, kind_, entries.phases == "3", edition)
    except NotCoveredError:
        findings.append(
            Finding(
                "look",
                "no_table",
                say(
                    "The code’s table has no {hp} hp motor at {volts} V: only the formula is left.",
                    hp=horsepower,
                    volts=solved.volts,
                ),
                rules=(edition.rule("motor_table_current"),),
                entries=("volts",),
            )
        )
        return None, ()
    return cell.value, (cell.rule, edition.rule("motor_table_current"))


KIND = Kind(
    "amperes",
    "Amperes",
    "kVA, kW, hp or W to amperes, and back",
    AmperesEntries,
    work,
    lambda entries, worked, context: Demand(),
    lambda entries, above: above,
    GROUPS,
    quick_only=True,
)
