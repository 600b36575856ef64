"""Power, amperes and volts in numbers: the one unknown, and a motor's current by the table."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from voltaje.core.codes import Cell, NotCoveredError
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.amperes.entries import AmperesEntries
from voltaje.core.kinds.interface import Outcome
from voltaje.core.quantities import Nameplate
from voltaje.core.report import figure, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.motors import table_current

WATTS_PER_HP = 746.0  # physics: what the trade takes for a horsepower
# common practice: volts of motor nameplates, and the nominal volts of the supply they belong to
NOMINAL = {115.0: 120.0, 230.0: 240.0, 460.0: 480.0, 575.0: 600.0}
GIVEN = say("Give two of the three: power, amperes and volts. The third is solved.")
Unknown = Literal["power", "current", "voltage", "power_factor"]


@dataclass(frozen=True, slots=True, kw_only=True)
class AmperesOutcome(Outcome):
    """All of it: VA, W taken in and ``shaft`` horsepower, A by the ``formula``, V, what was
    ``unknown``; ``given`` is what stands in the power entry, W where it is ``active``, else VA. Of
    a motor its current by the ``table``, or why there is none."""

    unknown: Unknown
    given: float
    active: bool
    va: float
    watts: float
    formula: float
    volts: float
    power_factor: float
    shaft: float
    table: Cell | None = None
    no_table: Literal["", "formula", "not there"] = ""


def root_of(entries: AmperesEntries) -> float:
    """√3 of three phases, 1 of one."""
    return sqrt(3) if entries.phases == "3" else 1.0


def efficiency_of(entries: AmperesEntries) -> float:
    """Of a motor, as a factor."""
    return (entries.efficiency if entries.efficiency is not None else 100.0) / 100


def calculate(entries: AmperesEntries, context: Context) -> AmperesOutcome:
    """The one unknown of power, amperes and volts; the power factor where all three are given."""
    known: dict[Unknown, object] = {
        "power": entries.power,
        "current": entries.current,
        "voltage": entries.voltage,
    }
    missing = [name for name, value in known.items() if value is None]
    if len(missing) > 1:
        raise WrongEntryError("" if len(missing) == len(known) else missing[0], GIVEN)
    unknown: Unknown = missing[0] if missing else "power_factor"
    if unknown == "power":
        return _power(entries)
    assert entries.power is not None  # noqa: S101 - only one of the three may be missing
    given, active = _power_in(entries.power, entries)
    if unknown == "power_factor":
        return _factor(entries, given, active)
    return _solved(entries, unknown, given, active, context)


def _outcome(
    entries: AmperesEntries,
    unknown: Unknown,
    given: float,
    active: bool,
    va: float,
    watts: float,
    amperes: float,
    volts: float,
    factor: float,
    table: Cell | None = None,
    no_table: Literal["", "formula", "not there"] = "",
) -> AmperesOutcome:
    return AmperesOutcome(
        amperes=table.value if table else amperes,
        unknown=unknown,
        given=given,
        active=active,
        va=va,
        watts=watts,
        formula=amperes,
        volts=volts,
        power_factor=factor,
        shaft=watts * efficiency_of(entries) / WATTS_PER_HP,
        table=table,
        no_table=no_table,
    )


def _power(entries: AmperesEntries) -> AmperesOutcome:
    factor = entries.power_factor if entries.power_factor is not None else 1.0
    amperes, volts = entries.current or 0.0, entries.voltage or 0.0
    va = root_of(entries) * volts * amperes
    return _outcome(entries, "power", 0.0, False, va, va * factor, amperes, volts, factor)


def _power_in(plate: Nameplate, entries: AmperesEntries) -> tuple[float, bool]:
    """What stands in the power entry, W or VA taken in, and whether it is active power. Raises
    :class:`WrongEntryError`."""
    if plate.amperes is not None:
        raise WrongEntryError(
            "power",
            say("Give power here, like 15 kW, 75 kVA or 10 hp; amperes have a field of their own."),
        )
    if plate.horsepower is not None:
        efficiency = efficiency_of(entries)
        if efficiency <= 0:
            raise WrongEntryError("efficiency", say("Give an efficiency above 0 %, like 88."))
        return plate.horsepower * WATTS_PER_HP / efficiency, True
    return plate.watts or 0.0, plate.active


def _solved(
    entries: AmperesEntries, unknown: Unknown, given: float, active: bool, context: Context
) -> AmperesOutcome:
    """Amperes or volts from the power."""
    factor, root = (
        entries.power_factor if entries.power_factor is not None else 1.0,
        root_of(entries),
    )
    va = given / factor if active else given
    watts = given if active else va * factor
    amperes, volts = entries.current or 0.0, entries.voltage or 0.0
    if unknown == "voltage":
        if va <= 0:
            raise WrongEntryError("power", say("Volts cannot be found from no power: give some."))
        volts = va / (root * amperes)
        return _outcome(entries, unknown, given, active, va, watts, amperes, volts, factor)
    amperes = va / (root * volts)
    horsepower = entries.power.horsepower if entries.power else None
    if horsepower is None:
        return _outcome(entries, unknown, given, active, va, watts, amperes, volts, factor)
    table, why = _by_table(entries, horsepower, volts, context)
    return _outcome(entries, unknown, given, active, va, watts, amperes, volts, factor, table, why)


def _by_table(
    entries: AmperesEntries, horsepower: float, volts: float, context: Context
) -> tuple[Cell | None, Literal["", "formula", "not there"]]:
    """A motor's current by the code's table; ``None`` where the formula was asked for or the table
    has none."""
    if entries.motor == "formula":
        return None, "formula"
    three = entries.phases == "3"
    motor = "squirrel cage" if three else "single-phase"
    nominal = NOMINAL.get(volts, volts)
    try:
        return table_current(horsepower, nominal, motor, three, context.edition), ""
    except NotCoveredError:
        return None, "not there"


def _factor(entries: AmperesEntries, given: float, active: bool) -> AmperesOutcome:
    """The power factor, where power, amperes and volts are all given."""
    amperes, volts = entries.current or 0.0, entries.voltage or 0.0
    if entries.power_factor is not None:
        raise WrongEntryError(
            "power_factor",
            say(
                "Nothing is left to solve: leave one empty, power, amperes, volts or power factor."
            ),
        )
    if not active:
        raise WrongEntryError(
            "power",
            say(
                "For a power factor give the power in kW or hp: kVA, amperes"
                " and volts say the same twice."
            ),
        )
    va = root_of(entries) * volts * amperes
    found = given / va
    if found > 1 + 1e-6:
        most = figure(va / 1000)
        raise WrongEntryError(
            "power",
            say(
                "{given} kW is more than the {most} kVA that these amperes and volts carry.",
                given=given / 1000,
                most=most,
            ),
        )
    factor = min(found, 1.0)
    return _outcome(entries, "power_factor", given, active, va, given, amperes, volts, factor)
