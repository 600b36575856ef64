"""A motor circuit: conductors, short-circuit device and overload, each by its own current."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.systems import Connection, Demand, Piece
from voltaje.core.entries import Current, Name, PowerFactor, Reads, Voltage, WrongEntryError, entry
from voltaje.core.parts.circuit import CONNECTIONS, LINE_LABELS
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.wired import (
    WIRING_GROUPS,
    Feed,
    Sized,
    WiringEntries,
    amperes_of,
    divisor,
    lines_of,
    size,
    volts_of,
)
from voltaje.core.rules.choose import Need
from voltaje.core.rules.drop import drop
from voltaje.core.rules.ladder import Shop
from voltaje.core.rules.motors import larger_percent, largest_fuse, table_current
from voltaje.core.rules.overcurrent import next_standard_device, standard_ratings
from voltaje.core.worksheet import Finding, Line, Result, Rule, Section, Worked, figure, fits, say

Horsepower = Annotated[float, Reads(units.HORSEPOWER, 0.1, 500.0)]
StartTimes = Annotated[float, Reads(units.COUNT, 1.0, 15.0)]
CodeLetter = Literal[
    "", "A", "B", "C", "D", "E", "F", "G", "H", "J", "K", "L", "M", "N", "P", "R", "S", "T", "U",
    "V",
]  # fmt: skip
LETTERS = {"": "not marked"} | {x: x for x in CodeLetter.__args__ if x}  # type: ignore[attr-defined]
ServiceFactor = Annotated[float, Reads(units.COUNT, 1.0, 2.0)]
RunWith = Literal[
    "nontime-delay fuse", "dual-element fuse", "instantaneous breaker", "inverse-time breaker"
]
MOTORS = {
    "single-phase": "single-phase",
    "squirrel cage": "squirrel cage",
    "squirrel cage design B energy-efficient": "squirrel cage, Design B energy-efficient",
    "synchronous": "synchronous",
    "wound rotor": "wound rotor",
    "direct current": "direct current",
}
DUTY = {
    "continuous": "continuous duty", "short-time": "short-time: valves, lifting rolls",
    "intermittent": "intermittent: elevators, tool heads, pumps",
    "periodic": "periodic: rolls, ore handling", "varying": "varying",
}  # fmt: skip
DEVICES = {
    "inverse-time breaker": "inverse-time breaker", "dual-element fuse": "dual-element fuse",
    "nontime-delay fuse": "nontime-delay fuse", "instantaneous breaker": "instantaneous breaker",
}  # fmt: skip
# common practice: the power factor of a motor with its rotor locked, and the drop, percent, above
# which contactors fall out and lamps dim
START_POWER_FACTOR, START_DROP = 0.35, 15.0
# the device of a feeder, as it is chosen here, no code figure
FEEDER_DEVICE = "inverse-time breaker"
# Common practice: volts further off than this deserve a word.
VOLTS_OFF = 0.05
SHOWN_DEVICES = 4  # no code figure: how many the ladder shows


class MotorEntries(WiringEntries):
    """A motor by horsepower, its nameplate for the overload, and how its circuit is run."""

    horsepower: Horsepower | None = entry(
        None, "Horsepower", group="motor", example="7-1/2 hp", needed=True
    )
    motor: Literal[
        "single-phase", "squirrel cage", "squirrel cage design B energy-efficient",
        "synchronous", "wound rotor", "direct current",
    ] = entry("squirrel cage", "Motor", choices=MOTORS, group="motor")  # fmt: skip
    connection: Connection = entry(
        "three-phase", "Connection", choices=CONNECTIONS, group="motor",
        when=("motor", tuple(name for name in MOTORS if name != "direct current")),
    )  # fmt: skip
    dc_volts: Literal["90", "120", "180", "240", "500", "550"] = entry(
        "240", "Armature volts", group="motor", when=("motor", ("direct current",)),
        choices={v: f"{v} V" for v in ("90", "120", "180", "240", "500", "550")},
    )  # fmt: skip
    nameplate: Current | None = entry(
        None, "Nameplate amperes", help="for the overload only", group="motor", example="13.2 A"
    )
    service_factor: ServiceFactor | None = entry(
        None, "Service factor", group="motor", help="nameplate", example="1.15"
    )
    rise: Literal["not marked", "40", "more"] = entry(
        "not marked", "Temperature rise", group="motor",
        choices={"not marked": "not marked", "40": "40 °C or less", "more": "above 40 °C"},
    )  # fmt: skip
    secondary: Current | None = entry(
        None, "Secondary amperes", group="motor", when=("motor", ("wound rotor",)),
        help="nameplate", example="65 A",
    )  # fmt: skip
    duty: Literal["continuous", "short-time", "intermittent", "periodic", "varying"] = entry(
        "continuous", "Duty", choices=DUTY, group="motor"
    )
    rated_time: Literal["5 min", "15 min", "30-60 min", "continuous"] = entry(
        "30-60 min", "Rated time", group="motor",
        choices={"5 min": "5 minutes", "15 min": "15 minutes", "30-60 min": "30 or 60 minutes",
                 "continuous": "continuous"},
        when=("duty", ("short-time", "intermittent", "periodic", "varying")),
    )  # fmt: skip
    protection: RunWith = entry(
        "inverse-time breaker", "Short-circuit device", choices=DEVICES, group="protection"
    )
    starts: Literal["yes", "no"] = entry(
        "yes", "Starts on that device", group="protection",
        choices={"yes": "yes", "no": "no: a larger one is needed"},
    )  # fmt: skip
    power_factor: PowerFactor = entry(
        0.85, "Running power factor", help="for the drop", group="protection"
    )
    code_letter: CodeLetter = entry(
        "", "Code letter", group="protection", choices=LETTERS, help="nameplate, for the start"
    )
    start_times: StartTimes = entry(
        6.0, "Starts with, times its current", group="protection", when=("code_letter", ("",)),
        help="5 to 8 is usual",
    )  # fmt: skip
    actual_volts: Voltage | None = entry(
        None, "Volts at the motor", help="if measured", group="protection", example="216 V"
    )
    line: Literal["auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto", "Line", choices=LINE_LABELS, group="place"
    )
    together: Name = entry(
        "", "Never runs with", help="one name for the group", group="place", example="Dust"
    )


GROUPS = {
    "motor": "The motor", "protection": "Its protection", **WIRING_GROUPS,
    "place": "In its board",
}  # fmt: skip


def work(entries: MotorEntries, context: Context) -> Worked:
    """The motor's worksheet: table current, conductors, device, overload, volts."""
    edition = context.edition
    if entries.horsepower is None:
        raise WrongEntryError("horsepower", "Needed: the horsepower on the nameplate, like 10 hp.")
    direct = entries.motor == "direct current"
    connection: Connection = "two-line" if direct else entries.connection
    if direct:
        volts = float(entries.dc_volts)
    else:
        if (entries.motor == "single-phase") == (connection == "three-phase"):
            raise WrongEntryError(
                "connection",
                "A single-phase motor stands on two lines or on a line and neutral; every other"
                " one here is three-phase.",
            )
        volts = volts_of(context.supply.system, connection, "connection")
    cell = table_current(entries.horsepower, volts, entries.motor, connection == "three-phase",
                         edition)  # fmt: skip
    current = cell.value
    findings: list[Finding] = []
    lines = [
        Line("full_load_current", say("Full-load current, {hp} hp at {volts} V",
                                      hp=entries.horsepower, volts=volts), current, "A", "",
             (cell.rule, edition.rule("motor_table_current")),
             note=say("by the table, not the nameplate"), entries=("horsepower", "motor"),
             kind="sum", flow="load")
    ]  # fmt: skip
    conductor, line = _conductor(entries, current, edition)
    lines.append(line)
    devices, most, device_lines, setting = _devices(entries, current, edition)
    need = Need(
        current, 0.0, conductor, devices, elsewhere=True, device_topic="motor_devices",
        conductor_topic="motor_conductor", ceiling_topic="motor_devices", ceiling=most,
    )  # fmt: skip
    # the largest that is allowed: a smaller one may open while the motor starts
    shop = Shop("maximum", context.shop.prices)
    feed = Feed(
        connection, volts, lines_of(connection), connection == "line-neutral",
        1.0 if direct else entries.power_factor, ground_device=setting,
    )  # fmt: skip
    sized = size(need, feed, entries,
                 replace(context, shop=shop))  # fmt: skip
    findings += sized.findings
    overload_lines, overload = _overload(entries, cell, edition, findings)
    sections = [
        Section("load", say("The motor"), tuple(lines)),
        Section("protection", say("Short-circuit and ground-fault device"), tuple(device_lines)),
        *sized.sections,
        Section("overload", say("Overload"), overload_lines),
    ]
    if entries.actual_volts is not None:
        sections.append(
            Section(
                "volts",
                say("Its actual volts"),
                _volts(entries.actual_volts, volts, current, findings),
            )
        )
    starting, start_results = _start(entries, sized, feed, current, context, findings)
    if starting:
        sections.append(Section("start", say("While it starts"), starting))
    device, wire = sized.pair.device, sized.pair.verdict.ampacity
    if device > wire and not any(f.severity == "fails" for f in findings):
        findings.append(
            Finding(
                "holds", "device_above_ampacity",
                say("The {device} A device stands above the conductor’s {wire} A, and may: the"
                    " overload at {overload} A protects motor and conductor from running too hot,"
                    " the device only clears a short circuit or a fault to ground, and must let"
                    " the motor start.", device=device, wire=wire,
                    overload=figure(overload, 1)),
                "", None, (edition.rule("motor_devices"), edition.rule("protected_elsewhere")),
            )
        )  # fmt: skip
    va = current / amperes_of(1.0, volts, connection)
    results = {
        "full_load_current": Result(current, "A", say("Full-load current")),
        "amperes": Result(current, "A", say("Full-load current")),
        "conductor_amperes": Result(conductor, "A", say("Conductors carry")),
        "load": Result(va, "VA", say("Load")),
        "device_most": Result(most, "A", say("Device, at most")),
        "overload": Result(overload, "A", say("Overload, at most")),
        "volts": Result(volts, "V", say("Volts")),
        **start_results,
        **sized.results,
    }
    answer = [n for n in ("device", "conductor", "overload", "ground_conductor", "raceway",
                          "drop_percent") if n in results]  # fmt: skip
    return Worked(
        "motor", edition.id, tuple(sections), results, tuple(findings), answer=tuple(answer),
        headline=sized.headline, ladder=sized.ladder.rungs, marks=sized.marks, wires=sized.wires,
    )  # fmt: skip


def _conductor(entries: MotorEntries, current: float, edition: Edition) -> tuple[float, Line]:
    """What the conductors must carry, A."""
    if entries.duty != "continuous":
        plate = entries.nameplate
        if plate is None:
            raise WrongEntryError("nameplate", "Needed for this duty: the amperes on the"
                                  " nameplate, like 13.2 A.")  # fmt: skip
        share = edition.table("motor_duty").rows[entries.duty][entries.rated_time]
        if not share:
            raise WrongEntryError("rated_time", "This duty has no figure for a continuous rated"
                                  " time: choose another.")  # fmt: skip
        duty = edition.cell("motor_duty", entries.duty, entries.rated_time)
        found = plate * duty.value / 100
        return found, Line(
            "conductor_amperes", say("Conductors, {duty} duty", duty=entries.duty), found, "A",
            f"{figure(plate)} × {figure(duty.value / 100)}", (duty.rule,),
            entries=("duty", "rated_time", "nameplate"), kind="sum", flow="load",
        )  # fmt: skip
    more = edition.limit("motor_conductor")
    found = current * more.value / 100
    return found, Line(
        "conductor_amperes", say("Conductors, 125 %"), found, "A",
        f"{figure(current)} × {figure(more.value / 100)}", (more.rule,), kind="sum", flow="load",
    )  # fmt: skip


def _devices(
    entries: MotorEntries, current: float, edition: Edition
) -> tuple[tuple[float, ...], float, list[Line], float]:
    """The ratings to choose from, the most allowed, the lines, and for an instantaneous breaker
    the rating that the equipment ground goes by (a dual-element fuse's, 250.122(D)(2))."""
    percent = edition.cell("motor_devices", entries.motor, entries.protection)
    exact = current * percent.value / 100
    lines = [
        Line("device_percent", say("{device}, {percent} %",
                                   device=entries.protection.capitalize(),
                                   percent=percent.value), exact, "A",
             f"{figure(current)} × {figure(percent.value / 100)}", (percent.rule,),
             entries=("protection",), flow="device")
    ]  # fmt: skip
    if entries.protection == "instantaneous breaker":
        fuse = edition.cell("motor_devices", entries.motor, "dual-element fuse").value
        ground = next_standard_device(current * fuse / 100, edition).value
        most = exact
        setting: tuple[Rule, ...] = (edition.rule("motor_instantaneous"),)
        if entries.starts == "no":
            larger = larger_percent(entries.protection, entries.motor, current, edition)
            most, setting = current * larger.value / 100, (*setting, larger.rule)
        lines.append(
            Line("device_most", say("Its setting, at most"), most, "A",
                 f"{figure(current)} × {figure(most / current)}",
                 setting, entries=("starts",), kind="result",
                 note=say("adjustable, in a listed combination controller"), flow="device")
        )  # fmt: skip
        return (most,), most, lines, ground
    most = next_standard_device(exact, edition).value
    rules = (edition.rule("motor_next_size"),) if most > exact * (1 + 1e-9) else ()
    if entries.starts == "no":
        most, larger_lines = _larger(entries, current, most, edition)
        rules = (edition.rule("motor_larger"),)
        lines += larger_lines
    lines.append(
        Line("device_most", say("Device, at most"), most, "A",
             f"{figure(exact)} → {figure(most)} A", (*rules, edition.rule("standard_devices")),
             kind="result", flow="device")
    )  # fmt: skip
    found = tuple(r for r in standard_ratings(edition) if fits(current, r) and fits(r, most))
    return found[-SHOWN_DEVICES:] or (most,), most, lines, 0.0


def _larger(
    entries: MotorEntries, current: float, usual: float, edition: Edition
) -> tuple[float, list[Line]]:
    """The most that the exception allows where the motor does not start on the usual device: a
    ceiling, not a next size up; and the lines that show it."""
    cell = larger_percent(entries.protection, entries.motor, current, edition)
    limit = current * cell.value / 100
    rule = edition.rule("motor_larger")
    lines = [
        Line(
            "device_larger",
            say("It does not start: up to {percent} %", percent=cell.value),
            limit,
            "A",
            f"{figure(current)} × {figure(cell.value / 100)}",
            (rule, cell.rule),
            entries=("starts",),
            flow="device",
        )
    ]
    ends, above = largest_fuse(entries.protection, current, edition)
    ratings = standard_ratings(edition)
    allowed = [r for r in ratings if fits(r, limit) and (not ends or fits(r, ends))]
    if above is not None and not fits(limit, ends):
        higher = current * above.value / 100
        allowed += [r for r in ratings if fits(r, higher)]
        lines.append(
            Line(
                "device_larger_class",
                say("Fuses above {ends} A: up to {percent} %", ends=ends, percent=above.value),
                higher,
                "A",
                f"{figure(current)} × {figure(above.value / 100)}",
                (rule, above.rule),
                flow="device",
            )
        )
    return max([*allowed, usual]), lines


def _overload(
    entries: MotorEntries, cell: Cell, edition: Edition, findings: list[Finding]
) -> tuple[tuple[Line, ...], float]:
    plate = entries.nameplate
    if plate is None:
        plate = cell.value
        findings.append(
            Finding("look", "nameplate",
                    say("Without the nameplate’s amperes the overload is taken from the table."),
                    "", say("Read the nameplate: the overload goes by it and nothing else does."),
                    (edition.rule("motor_table_current"),), ("nameplate",))
        )  # fmt: skip
    factor = entries.service_factor or 0.0
    marked = fits(edition.value("service_factor_mark"), factor) or entries.rise == "40"
    name = "overload_marked" if marked else "overload_others"
    share, most = edition.limit(name), edition.limit(f"{name}_most")
    value = plate * share.value / 100
    lines = [
        Line("overload", say("Overload, {percent} % of the nameplate", percent=share.value), value,
             "A", f"{figure(plate)} × {figure(share.value / 100)}", (share.rule,),
             entries=("nameplate", "service_factor", "rise"), kind="result", flow="overload"),
        Line("overload_most", say("At most, where it will not start"), plate * most.value / 100,
             "A", f"{figure(plate)} × {figure(most.value / 100)}", (most.rule,), kind="note",
             flow="overload"),
    ]  # fmt: skip
    if entries.motor == "wound rotor" and entries.secondary is not None:
        more = edition.limit("motor_conductor")
        lines.append(
            Line("secondary", say("Secondary conductors, 125 %"),
                 entries.secondary * more.value / 100, "A",
                 f"{figure(entries.secondary)} × {figure(more.value / 100)}",
                 (edition.rule("wound_rotor_secondary"),), entries=("secondary",), flow="load")
        )  # fmt: skip
    return tuple(lines), value


def _start(
    entries: MotorEntries, sized: Sized, feed: Feed, current: float, context: Context,
    findings: list[Finding],
) -> tuple[tuple[Line, ...], dict[str, Result]]:  # fmt: skip
    """The drop with the rotor locked: its amperes by code letter, or a multiple of the table's."""
    if entries.motor == "direct current":  # started through a controller: nothing to say here
        return (), {}
    edition, horsepower = context.edition, entries.horsepower or 0.0
    if entries.code_letter:
        cell = edition.cell("locked_rotor", entries.code_letter, "kVA/hp")
        locked = amperes_of(horsepower * cell.value * 1000, feed.volts, feed.connection)
        how = f"{figure(horsepower)} hp × {figure(cell.value)} kVA ÷"
        how += f" {divisor(feed.volts, feed.connection)}"
        rules: tuple[Rule, ...] = (cell.rule,)
    else:
        locked, rules = current * entries.start_times, ()
        how = f"{figure(current)} × {figure(entries.start_times)}"
    lines = [
        Line("locked_rotor", say("Locked-rotor amperes"), locked, "A", how, rules,
             entries=("code_letter", "start_times"), flow="load")
    ]  # fmt: skip
    results = {"locked_rotor": Result(locked, "A", say("Locked-rotor amperes"))}
    if not entries.length:
        return tuple(lines), results
    pair = sized.pair
    lost = drop(locked, feed.volts, entries.length, pair.option.size, pair.option.material,
                entries.method, edition, feed.connection == "three-phase", START_POWER_FACTOR,
                pair.sets)  # fmt: skip
    lines.append(
        Line("start_drop", say("Voltage drop while it starts"), lost.percent, "%",
             f"{figure(locked)} A × {figure(lost.ohms, 4)} Ω × {figure(entries.length)} ft:"
             f" {figure(lost.volts_lost, 1)} V, {figure(feed.volts - lost.volts_lost, 1)} V there",
             (lost.rule,), note=say("at a power factor of {pf}", pf=START_POWER_FACTOR),
             kind="sum", flow="drop")
    )  # fmt: skip
    results["start_drop"] = Result(lost.percent, "%", say("Voltage drop while it starts"))
    if not fits(lost.percent, START_DROP):
        findings.append(
            Finding("look", "start_drop",
                    say("While it starts {percent} % is lost: above {most} % contactors fall out"
                        " and lamps dim.", percent=figure(lost.percent, 1), most=START_DROP),
                    f"{figure(lost.percent - START_DROP, 1)} %",
                    say("A larger conductor, or a starter that takes less."), (), ("length",))
        )  # fmt: skip
    return tuple(lines), results


def _volts(
    actual: float, nominal: float, current: float, findings: list[Finding]
) -> tuple[Line, ...]:
    """A loaded motor draws about its power at any volts: current goes up as the volts go down,
    heat with its square, torque with the square of the volts. Common practice."""
    ratio = actual / nominal
    amperes, heat, torque = current / ratio, (1 / ratio**2 - 1) * 100, ratio**2 * 100
    if abs(ratio - 1) > VOLTS_OFF:
        findings.append(
            Finding(
                "look", "actual_volts",
                say("{volts} V is {percent} % off: about {amperes} A, {heat} % in temperature"
                    " rise, {torque} % of its torque.",
                    volts=actual, percent=figure((ratio - 1) * 100, 1),
                    amperes=figure(amperes, 1), heat=f"{heat:+.0f}", torque=figure(torque, 0)),
                f"{figure((ratio - 1) * 100, 1)} %",
                say("Mend the drop, or change the transformer’s taps."),
                entries=("actual_volts",),
            )
        )  # fmt: skip
    return (
        Line("current_at_volts", say("Current, about"), amperes, "A",
             f"{figure(current)} ÷ {figure(ratio, 3)}", entries=("actual_volts",)),
        Line("heat_at_volts", say("Temperature rise, more by about"), heat, "%",
             f"1 ÷ {figure(ratio, 3)}² − 1", entries=("actual_volts",)),
        Line("torque_at_volts", say("Torque, of its rated"), torque, "%",
             f"{figure(ratio, 3)}²", entries=("actual_volts",)),
    )  # fmt: skip


def hand_up(entries: MotorEntries, worked: Worked, context: Context) -> Demand:
    """The motor as one piece, with its table current and its device for the feeder."""
    va = worked.value("load")
    connection: Connection = "two-line" if entries.motor == "direct current" else entries.connection
    device, current = worked.value("device"), worked.value("full_load_current")
    instantaneous = entries.protection == "instantaneous breaker"
    if instantaneous:
        # 430.62(A) Exception 1: not the setting, but the percentage of the feeder's own device
        percent = context.edition.cell("motor_devices", entries.motor, FEEDER_DEVICE)
        device = current * percent.value / 100
    return Demand.of(
        [Piece("", "motor", va, va, worked.value("amperes"), connection, entries.line,
               motor=current, device=device, group=entries.together,
               power_factor=entries.power_factor, instantaneous=instantaneous)]
    )  # fmt: skip


KIND = Kind(
    "motor",
    "Motor circuit",
    "Horsepower to conductors, device, overload",
    MotorEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
)
