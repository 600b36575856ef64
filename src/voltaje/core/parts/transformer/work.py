"""A transformer, worked: kVA, currents, devices and conductors on both sides, bonds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import sqrt
from typing import Any

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import SYSTEMS, Connection, Demand, SupplyPoint, System
from voltaje.core.entries import WrongEntryError
from voltaje.core.parts.far_end import conductors, lost_at_far_end
from voltaje.core.parts.feeder import connection_of
from voltaje.core.parts.kind import Bank, Brings, Context, Kind, Piecewise
from voltaje.core.parts.transformer.entries import (
    GROUPS,
    RUN_TOPICS,
    TransformerEntries,
    check,
)
from voltaje.core.parts.wired import (
    Feed,
    Sized,
    divisor,
    size,
)
from voltaje.core.rules.choose import Need
from voltaje.core.rules.conductors import label
from voltaje.core.rules.feeder_demand import calculate
from voltaje.core.rules.grounding import bonding_size, electrode_size
from voltaje.core.rules.ladder import Pin
from voltaje.core.rules.overcurrent import standard_ratings
from voltaje.core.rules.transformers import (
    Limit,
    Scheme,
    fault_at_secondary,
    lets_pass,
    limit_at,
    protection,
    protection_high,
    rated_current,
    ratings_with_fuses,
    standard_kva,
)
from voltaje.core.units import METRES_PER_FOOT, POUNDS_PER_KG
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

SHOWN_DEVICES = 8  # no code figure: how many the ladder shows
USUAL_AIM = 1.25  # common practice: a primary device of about 125 %


@dataclass(frozen=True, slots=True)
class Winding:
    """One side: its system, its volts and the amperes of the rated kVA."""

    system: System
    volts: float
    three_phase: bool
    current: float

    @property
    def connection(self) -> Connection:
        return connection_of(self.system)


def work(entries: TransformerEntries, context: Context) -> Worked:
    """The transformer's worksheet."""
    edition, primary = context.edition, context.supply.system
    second = check(entries, primary)
    three = entries.connection != "single-phase"
    demand = calculate(context.below.pieces, edition) if context.below.pieces else None
    load = demand.load if demand else 0.0
    if not load and entries.kva is None:
        raise WrongEntryError("kva", "Needed: the size, like 75 kVA, or load below that it can be"
                              " chosen by.")  # fmt: skip
    findings: list[Finding] = []
    lines, kva = _size(entries, load, three, edition, findings)
    one = _winding(primary, kva, three, entries.high)
    two = _winding(second, kva, three)
    lines += [
        Line("primary_current", say("Primary full-load current"), one.current, "A",
             f"{figure(kva * 1000)} ÷ {_divisor(one)}", kind="sum", flow="primary"),
        Line("secondary_current", say("Secondary full-load current"), two.current, "A",
             f"{figure(kva * 1000)} ÷ {_divisor(two)}", kind="sum", flow="secondary"),
    ]  # fmt: skip
    volts = _volts(entries, context.supply, two.volts)
    lines.append(
        Line("secondary_volts", say("Secondary volts on tap {tap} %", tap=entries.tap), volts, "V",
             f"{figure(two.volts)} × {figure(_ratio(context.supply), 3)}"
             f" ÷ {figure(1 + float(entries.tap) / 100, 3)}", entries=("tap",), kind="note",
             note=say("a tap for fewer primary volts raises the secondary"), flow="tap")
    )  # fmt: skip
    if entries.connection == "open delta":
        lines.append(
            Line("open_delta", say("Each of the two units"), kva / sqrt(3), "kVA",
                 f"{figure(kva)} ÷ 1.732", kind="note",
                 note=say("two units carry 57.7 % of what three would, and each is loaded with the"
                          " line current"), flow="load")
        )  # fmt: skip
    guard, limits = (_protection if entries.high is None else _protection_high)(
        entries, one, two, edition
    )
    # conductors above 1,000 V are another article's: they are not sized here
    sized_one = None if entries.high else _primary(entries, one, limits["primary"], context)
    device_one = (
        sized_one.pair.device if sized_one else entries.device or limits["primary"].standard
    )
    sized_two = _secondary(entries, one, two, limits, demand.design if demand else 0.0, device_one,
                           context, findings)  # fmt: skip
    ground, bonds = _grounding(entries, second, sized_two, edition)
    _inrush(entries, one, device_one, findings)
    results: dict[str, Result] = {
        "connection": Result(entries.connection, "", say("Connection")),
        "tap": Result(entries.tap, "%", say("Tap")),
        "kva": Result(kva, "kVA", say("Transformer")),
        "calculated_load": Result(load, "VA", say("Calculated load")),
        "loading": Result(100 * load / (kva * 1000), "%", say("Loading")),
        "primary_current": Result(one.current, "A", say("Primary")),
        "secondary_current": Result(two.current, "A", say("Secondary")),
        "secondary_volts": Result(volts, "V", say("Secondary volts")),
        "primary_volts": Result(one.volts, "V", say("Primary volts")),
        "primary_most": Result(limits["primary"].standard, "A", say("Primary device, at most")),
        **(
            _prefixed(sized_one, "primary", "Primary")
            if sized_one
            else {"primary_device": Result(device_one, "A", say("Primary: device"))}
        ),
        **_prefixed(sized_two, "secondary", "Secondary"),
        **{name: Result(text, "", say(words)) for name, (words, text) in bonds.items()},
    }
    if second.has_neutral:
        results["secondary_to_neutral"] = Result(
            volts * second.to_neutral / (second.line_to_line or second.to_neutral), "V",
            say("Secondary volts to X0"),
        )  # fmt: skip
    if limits.get("secondary"):
        results["secondary_most"] = Result(limits["secondary"].standard, "A",
                                           say("Secondary device, at most"))  # fmt: skip
    if entries.impedance is not None:
        fault = _fault(entries, context.supply, kva, two)
        results["fault"] = Result(fault, "A", say("Available fault current at the secondary"))
        lines.append(
            Line("fault", say("Available fault current at the secondary"), fault, "A",
                 f"{figure(two.current)} ÷ {figure(entries.impedance / 100, 4)}"
                 if not context.supply.fault else
                 "by its impedance and the source’s", (edition.rule("fault_current"),),
                 entries=("impedance",), kind="note", flow="secondary")
        )  # fmt: skip
    findings += [*(sized_one.findings if sized_one else ()), *sized_two.findings]
    if not any(f.severity == "fails" for f in findings):
        findings.append(
            Finding("holds", "loading", say("Loaded to {percent} %.",
                                            percent=figure(100 * load / (kva * 1000), 0)),
                    f"{figure(kva * 1000 - load, 0)} VA")
        )  # fmt: skip
    sections = (
        Section("load", say("The transformer"), tuple(lines)),
        Section("protection", say("Most its devices may be rated"), guard),
        *(_renamed(sized_one, "primary", "Primary") if sized_one else ()),
        *(
            (Section("saved", say("What the smaller device saves"), saved),)
            if sized_one and (saved := _saved(sized_one, context))
            else ()
        ),
        *_renamed(sized_two, "secondary", "Secondary"),
        Section("grounding", say("Grounding and bonding of the secondary"), ground),
    )
    answer = tuple(
        name for name in ("kva", "primary_device", "primary_conductor", "secondary_device",
                          "secondary_conductor", "loading") if name in results
    )  # fmt: skip
    return Worked(
        "transformer", edition.id, sections, results, tuple(findings), answer=answer,
        headline=f"{figure(kva)} kVA · {figure(100 * load / (kva * 1000), 0)} %",
        ladder=(*(_grouped(sized_one, "Primary") if sized_one else ()),
                *_grouped(sized_two, "Secondary")),
        marks=(sized_one or sized_two).marks, wires=sized_two.wires,
    )  # fmt: skip


def _winding(system: System, kva: float, three: bool, high: float | None = None) -> Winding:
    volts = high or system.line_to_line or system.to_neutral
    return Winding(system, volts, three, rated_current(kva, volts, three))


def _divisor(winding: Winding) -> str:
    return divisor(winding.volts, "three-phase" if winding.three_phase else "two-line")


def _size(
    entries: TransformerEntries, load: float, three: bool, edition: Edition,
    findings: list[Finding],
) -> tuple[list[Line], float]:  # fmt: skip
    needed = load * (1 + entries.spare / 100) / 1000
    lines = [Line("calculated_load", say("Calculated load below"), load, "VA", kind="sum",
                  flow="load")]  # fmt: skip
    if entries.spare:
        lines.append(Line("with_spare", say("With spare"), needed, "kVA",
                          f"{figure(load)} × {figure(1 + entries.spare / 100)}",
                          entries=("spare",), flow="load"))  # fmt: skip
    if entries.kva is None:
        kva = standard_kva(needed, three, edition)
        lines.append(
            Line("kva", say("Next usual size"), kva, "kVA", f"{figure(needed)} → {figure(kva)}",
                 (edition.rule("transformer_sizes"),), entries=("kva",), kind="result",
                 flow="load")
        )  # fmt: skip
        return lines, kva
    kva = entries.kva / 1000
    lines.append(Line("kva", say("Size, by hand"), kva, "kVA", entries=("kva",), kind="result"))
    if not fits(load, entries.kva):
        findings.append(
            Finding("fails", "overloaded", say("{load} kVA of load on {kva} kVA.",
                                               load=figure(load / 1000, 1), kva=kva),
                    f"{figure((load - entries.kva) / 1000, 1)} kVA",
                    say("A size of {next} kVA would carry it.",
                        next=standard_kva(needed, three, edition)), entries=("kva",))
        )  # fmt: skip
    return lines, kva


def _ratio(point: SupplyPoint) -> float:
    nominal = point.system.line_to_line or point.system.to_neutral
    return point.volts / nominal if point.volts else 1.0


def _volts(entries: TransformerEntries, point: SupplyPoint, nominal: float) -> float:
    """Volts of the secondary: the primary's own, by the turns that the tap leaves."""
    return nominal * _ratio(point) / (1 + float(entries.tap) / 100)


def _protection(
    entries: TransformerEntries, one: Winding, two: Winding, edition: Edition
) -> tuple[tuple[Line, ...], Mapping[str, Limit]]:
    """The table's figures for both schemes, and the limits of the chosen one."""
    lines: list[Line] = []
    chosen: dict[str, Limit] = {}
    schemes: tuple[Scheme, ...] = ("primary only", "primary and secondary")
    for scheme in schemes:
        for side, winding in (("primary", one), ("secondary", two)):
            limit = protection(winding.current, scheme, side, edition, entries.control)  # type: ignore[arg-type]
            words = "Primary only" if scheme == "primary only" else "Both sides"
            mine = scheme == entries.scheme
            if limit is None:
                lines.append(
                    Line(f"{scheme}_{side}", say("{scheme}: {side}, none asked", scheme=words,
                                                 side=side),
                         rules=(edition.rule("transformer_protection"),), kind="note")
                )  # fmt: skip
                continue
            how = (
                say("the next standard size up is allowed at 125 %") if limit.next_size
                else say("the largest standard size not above")
            )  # fmt: skip
            lines.append(
                Line(f"{scheme}_{side}", say("{scheme}: {side}, {percent} %", scheme=words,
                                             side=side, percent=limit.percent),
                     limit.standard, "A",
                     f"{figure(winding.current)} × {figure(limit.percent / 100)} ="
                     f" {figure(limit.exact)} → {figure(limit.standard)} A",
                     limit.rules, note=how, entries=("scheme",),
                     kind="sum" if mine else "note", flow=side)
            )  # fmt: skip
            if mine:
                chosen[side] = limit
    return tuple(lines), chosen


def _protection_high(
    entries: TransformerEntries, one: Winding, two: Winding, edition: Edition
) -> tuple[tuple[Line, ...], Mapping[str, Limit]]:
    """450.3(A), for a primary above 1,000 V; its figures depend on the impedance."""
    if entries.impedance is None:
        raise WrongEntryError("impedance", "Needed above 1,000 V: the impedance on the nameplate,"
                              " like 5.75.")  # fmt: skip
    both = entries.scheme == "primary and secondary"
    limit, percent, next_size = protection_high(
        one.current, entries.impedance, entries.supervised, entries.high_device == "fuse", both,
        edition,
    )  # fmt: skip
    lines = [
        Line("high_primary", say("Primary {device}, {percent} %", device=entries.high_device,
                                 percent=limit.percent), limit.standard, "A",
             f"{figure(one.current)} × {figure(limit.percent / 100)} = {figure(limit.exact)}"
             f" → {figure(limit.standard)} A", limit.rules, entries=("high", "supervised"),
             note=say("conductors above 1,000 V are not sized here"), kind="sum", flow="primary")
    ]  # fmt: skip
    chosen = {"primary": limit}
    if percent is not None:
        # 450.3(A) asks 250 % only in supervised locations; the conductors still want their own
        second = limit_at(two.current, percent, next_size, edition)
        chosen["secondary"] = second
        lines.append(
            Line("high_secondary", say("Secondary, {percent} %", percent=percent.value),
                 second.standard, "A", f"{figure(two.current)} × {figure(percent.value / 100)}"
                 f" = {figure(second.exact)}"
                 f" → {figure(second.standard)} A", second.rules, kind="sum", flow="secondary")
        )  # fmt: skip
    return tuple(lines), chosen


def _devices(least: float, most: float, edition: Edition) -> tuple[float, ...]:
    found = [r for r in ratings_with_fuses(edition) if fits(least, r) and fits(r, most)]
    if len(found) > SHOWN_DEVICES:
        found = [*found[: SHOWN_DEVICES - 1], found[-1]]
    return tuple(found)


def _primary(entries: TransformerEntries, one: Winding, limit: Limit, context: Context) -> Sized:
    edition = context.edition
    devices = _devices(one.current, limit.standard, edition) or (limit.standard,)
    need = Need(
        one.current, one.current, one.current, devices, device_topic="transformer_protection",
        conductor_topic="primary_conductors", ceiling_topic="transformer_protection",
        ceiling=limit.standard,
    )  # fmt: skip
    aim = devices[-1]
    if entries.aim == "usual":
        # the smallest that is not below about 125 % and lets the inrush pass
        each = lets_pass(1.0, entries.holds, entries.inrush_time)
        wanted = max(USUAL_AIM * one.current, entries.inrush * one.current / each)
        aim = next((d for d in devices if fits(wanted, d)), devices[-1])
    return _sized(need, one, entries, context, entries.device or aim, entries.pin())


def _sized(
    need: Need, winding: Winding, entries: TransformerEntries, context: Context, device: float,
    pin: Pin,
) -> Sized:  # fmt: skip
    """One side sized, its device fixed by the user or by the transformer's own reasons."""
    system = winding.system
    count = len(system.lines) if winding.three_phase else (2 if system.line_to_line else 1)
    # the primary's neutral is run only where the connection has an H0
    own = winding.system.has_neutral and need.conductor_topic != "primary_conductors"
    neutral = own or entries.connection == "wye-wye"
    feed = Feed(
        "three-phase" if winding.three_phase else winding.connection, winding.volts, count,
        neutral, drop_topic="drop_total", passes_on=True,
    )  # fmt: skip
    pinned = entries.model_copy(
        update={"device": device, "size": pin.size or "auto", "sets": pin.sets}
    )
    point = replace(context.supply, system=system)
    return size(need, feed, pinned, replace(context, supply=point))


def _secondary(
    entries: TransformerEntries, one: Winding, two: Winding, limits: Mapping[str, Limit],
    design_va: float, primary_device: float, context: Context, findings: list[Finding],
) -> Sized:  # fmt: skip
    edition, by_hand = context.edition, entries.secondary_device
    design = two.system.line_current(design_va) if design_va else two.current
    if by_hand and not design_va and not fits(design, by_hand):
        # with no load known the device by hand says how much may be taken
        design = by_hand
        findings.append(_below_rated(by_hand, two))
    limit = limits.get("secondary")
    ratings = standard_ratings(edition)
    usual = next(r for r in ratings if fits(two.current, r))
    most = limit.standard if limit else usual
    below = [r for r in ratings if r < two.current and fits(design, r)][-1:]
    devices = (*below, *_devices(two.current, most, edition)) or (most,)
    need = Need(
        design, design, design, devices, next_size=False, device_topic="transformer_protection",
        conductor_topic=RUN_TOPICS[entries.secondary_run], no_next_topic="secondary_no_next",
        ceiling_topic="transformer_protection", ceiling=max(most, *devices),
    )  # fmt: skip
    aim = usual if fits(usual, most) else devices[-1]
    pin = Pin(
        None, None if entries.secondary_size == "auto" else entries.secondary_size,
        entries.secondary_sets,
    )  # fmt: skip
    run = entries.model_copy(update={"length": entries.secondary_length})
    sized = _sized(need, two, run, context, by_hand or aim, pin)
    _run_rules(entries, one, two, sized, primary_device, edition, findings)
    return sized


def _below_rated(device: float, two: Winding) -> Finding:
    volt_amperes = device * two.volts * (sqrt(3) if two.three_phase else 1.0)
    return Finding(
        "look", "secondary_below",
        say("{device} A is below the full-load current of {current} A, and no load is known below:"
            " it leaves {kva} kVA.", device=device, current=figure(two.current, 1),
            kva=figure(volt_amperes / 1000, 1)),
        f"{figure(two.current - device, 1)} A",
        say("Put the load below it, or take the next size up."), entries=("secondary_device",),
    )  # fmt: skip


def _run_rules(
    entries: TransformerEntries, one: Winding, two: Winding, sized: Sized, primary_device: float,
    edition: Edition, findings: list[Finding],
) -> None:  # fmt: skip
    """240.21(C): length, and the ratio to the primary device."""
    topic = RUN_TOPICS[entries.secondary_run]
    limited = edition.has_limit(f"{topic}_feet")
    feet = edition.value(f"{topic}_feet") if limited else float("inf")
    rules = (edition.rule(topic),)
    if entries.secondary_length is not None and not fits(entries.secondary_length, feet):
        findings.append(
            Finding("fails", "secondary_length",
                    say("The secondary conductors are {length} ft long, at most {feet} ft by this"
                        " rule.", length=figure(entries.secondary_length, 1), feet=feet),
                    f"{figure(entries.secondary_length - feet, 1)} ft",
                    say("Shorten them, or choose another rule."), rules, ("secondary_length",))
        )  # fmt: skip
    # the conductors carry one so-manieth part of the primary device, as the secondary sees it
    part = edition.value(f"{topic}_part") if limited else float("inf")
    needed = primary_device * one.volts / two.volts / part
    ampacity = sized.pair.verdict.ampacity
    if not fits(needed, ampacity):
        findings.append(
            Finding("fails", "secondary_ratio",
                    say("The secondary conductors carry {ampacity} A; against the primary device"
                        " they need {needed} A.", ampacity=figure(ampacity, 1),
                        needed=figure(needed, 1)),
                    f"{figure(needed - ampacity, 1)} A",
                    say("A smaller primary device, or larger secondary conductors."), rules,
                    ("secondary_size",))
        )  # fmt: skip
    by_primary = (
        entries.connection in ("delta-delta", "open delta") and not two.system.has_neutral
    ) or (entries.connection == "single-phase" and not two.system.line_to_line)
    if not by_primary:
        findings.append(
            Finding("holds", "secondary_protection",
                    say("The primary device does not protect these secondary conductors: they end"
                        " in one of their own, and its rating is carried in full."),
                    "", None, (edition.rule("secondary_by_primary"),
                               edition.rule("secondary_no_next")))
        )  # fmt: skip


def _inrush(
    entries: TransformerEntries, one: Winding, device: float, findings: list[Finding]
) -> None:
    inrush = entries.inrush * one.current
    let = lets_pass(device, entries.holds, entries.inrush_time)
    if not fits(inrush, let):
        findings.append(
            Finding("look", "inrush",
                    say("Inrush of {inrush} A, {times} times rated; the device lets {let} A pass"
                        " for that instant.", inrush=figure(inrush, 0), times=entries.inrush,
                        let=figure(let, 0)),
                    f"{figure(inrush - let, 0)} A",
                    say("Take a larger device or one with a higher instantaneous setting."),
                    entries=("inrush", "inrush_time", "holds"))
        )  # fmt: skip


def _grounding(
    entries: TransformerEntries, second: System, sized: Sized, edition: Edition
) -> tuple[tuple[Line, ...], dict[str, tuple[str, str]]]:
    """The bonds of a separately derived system, copper (250.30)."""
    pair = sized.pair
    mils = pair.option.mils * pair.sets
    jumper = bonding_size(mils, pair.option.material, edition)
    steel = electrode_size(mils, pair.option.material, "structural steel", edition)
    rod = electrode_size(mils, pair.option.material, "rod", edition)
    derived = edition.rule("derived_system")
    lines = [
        Line("system_bonding_jumper", say("System bonding jumper: {size}",
                                          size=label(jumper.size, pair.option.material)),
             expression=f"{figure(mils)} circular mils", rules=(derived, *jumper.rules),
             note=say("at one point: here or at the first disconnect"), flow="bond"),
        Line("supply_side_jumper", say("Supply-side bonding jumper: {size}",
                                       size=label(jumper.size, pair.option.material)),
             rules=(edition.rule("supply_side_jumper"), *jumper.rules), flow="bond"),
        Line("electrode_conductor", say("Grounding electrode conductor to steel or water pipe:"
                                        " {size}", size=label(steel.size, pair.option.material)),
             rules=(derived, *steel.rules), flow="electrode"),
        Line("electrode_rod", say("To a rod: {size} is enough",
                                  size=label(rod.size, pair.option.material)),
             rules=rod.rules, kind="note", flow="electrode"),
    ]  # fmt: skip
    bonds = {
        "system_bonding_jumper": (
            "System bonding jumper",
            label(jumper.size, pair.option.material),
        ),
        "electrode_conductor": (
            "Grounding electrode conductor",
            label(steel.size, pair.option.material),
        ),
    }
    if not second.has_neutral:
        lines = lines[1:]
        bonds.pop("system_bonding_jumper")
    return tuple(lines), bonds


def _fault(entries: TransformerEntries, point: SupplyPoint, kva: float, two: Winding) -> float:
    volts = point.system.line_to_line or point.system.to_neutral
    source = point.fault * volts * (sqrt(3) if point.system.phases == 3 else 1.0)
    return fault_at_secondary(kva, two.volts, two.three_phase, entries.impedance or 0.0, source)


def _prefixed(sized: Sized, side: str, title: str) -> dict[str, Result]:
    return {
        f"{side}_{name}": Result(r.value, r.unit, say("{side}: {what}", side=title,
                                                      what=str(r.label).lower()))
        for name, r in sized.results.items()
    }  # fmt: skip


def _renamed(sized: Sized, side: str, title: str) -> list[Section]:
    return [
        Section(f"{side}_{s.name}", say("{side}: {what}", side=title, what=str(s.title).lower()),
                s.lines)
        for s in sized.sections
    ]  # fmt: skip


def _saved(sized: Sized, context: Context) -> tuple[Line, ...]:
    """The metal that the chosen pair saves against the largest device that is allowed."""
    own = next((r for r in sized.ladder.rungs if r.chosen), None)
    rivals = [
        r
        for r in sized.ladder.rungs
        if r.passes and own and r.material == own.material and r.device > own.device
    ]
    if own is None or not rivals:
        return ()
    most = max(rivals, key=lambda r: (r.device, -r.mass))
    saved = (most.mass - own.mass) * 100
    unit, factor = (
        ("kg", 1.0) if context.units == "metric" else ("lb", POUNDS_PER_KG * METRES_PER_FOOT)
    )
    length = "100 m" if context.units == "metric" else "100 ft"
    return (
        Line("metal_saved", say("Metal saved on {length} against {device} A with {conductor}",
                                length=length, device=most.device, conductor=most.conductor),
             saved * factor, unit, kind="note", flow="primary"),
    )  # fmt: skip


def _grouped(sized: Sized, group: str) -> list[Any]:
    return [replace(rung, group=group) for rung in sized.ladder.rungs]


def hand_up(entries: TransformerEntries, worked: Worked, context: Context) -> Demand:
    """The loads behind it, as they weigh on the lines of the primary. A delta or a single-phase
    winding takes no neutral along; the lines of a three-phase one are taken as balanced."""
    connection: Connection = "three-phase" if entries.connection != "single-phase" else (
        "two-line" if context.supply.system.line_to_line else "line-neutral")  # fmt: skip
    line = "all" if connection == "three-phase" else "auto"
    ratio = worked.value("secondary_volts") / worked.value("primary_volts")
    # amperes behind the transformer are fewer, or more, on its primary: the motor's device too
    return Demand.of(
        replace(
            p, connection=connection, line=line, multiwire="", neutral=0.0,
            motor=p.motor * ratio, device=p.device * ratio, amperes=p.amperes * ratio,
            isolated=entries.connection != "wye-wye",
        )
        for p in context.below.pieces
    )  # fmt: skip


def hand_down(entries: TransformerEntries, above: SupplyPoint) -> SupplyPoint:
    """The secondary: its system, its volts where the primary's or the tap change them, its fault
    current where kVA and impedance are known."""
    system = SYSTEMS[entries.secondary]
    nominal = system.line_to_line or system.to_neutral
    volts = _volts(entries, above, nominal)
    fault = 0.0
    if entries.kva is not None and entries.impedance is not None:
        two = _winding(system, entries.kva / 1000, entries.connection != "single-phase")
        fault = _fault(entries, above, entries.kva / 1000, two)
    own = volts if abs(volts - nominal) > 1e-9 else 0.0
    return SupplyPoint(system, own, above.hertz, fault)


def _brings(entries: TransformerEntries, worked: Worked, context: Context) -> Brings:
    """The bank with the conductors on both its sides."""
    none = Piecewise(0j, 0j)
    ahead = conductors(worked, "Primary", entries.length, entries, context)
    behind = conductors(worked, "Secondary", entries.secondary_length, entries, context)
    bank = Bank(worked.value("kva"), entries.impedance or 0.0, entries.connection,
                worked.value("secondary_volts"), behind or none)  # fmt: skip
    return Brings((ahead,) if ahead else (), bank)


KIND = Kind(
    "transformer",
    "Transformer",
    "Size, protection, conductors on both sides",
    TransformerEntries,
    work,
    hand_up,
    hand_down,
    GROUPS,
    holds_parts=True,
    fault_out=lambda entries, worked, context: (
        worked.value("fault") if "fault" in worked.results else 0.0
    ),
    uses_fault=True,
    lost_out=lost_at_far_end,
    brings=_brings,
)
