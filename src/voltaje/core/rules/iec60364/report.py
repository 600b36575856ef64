"""A final circuit on the worksheet: device, cable, drop, disconnection, protective conductor."""

from __future__ import annotations

from dataclasses import replace

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.quantities import LENGTH, show
from voltaje.core.report import (
    AxisMark,
    Change,
    Findings,
    PointKey,
    PulledConductor,
    Result,
    Rule,
    Test,
    Text,
    Worksheet,
    conductor_figures,
    figure,
    fits,
    say,
)
from voltaje.core.rules.common.habit import tell_habit
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364.checks import (
    OPENED_BY,
    CableCandidate,
    named,
)
from voltaje.core.rules.iec60364.disconnection import made_topic
from voltaje.core.rules.iec60364.entries import CableEntries
from voltaje.core.rules.iec60364.protective_conductors import (
    ohms_per_km,
    protective_metal,
)
from voltaje.core.rules.iec60364.rating_factors import Factor
from voltaje.core.rules.iec60364.short_circuit import ShortCircuit
from voltaje.core.rules.iec60364.sizing import (
    CableSizing,
    alternative_of,
    cable_of,
    is_ring,
    size,
)
from voltaje.core.rules.interface import SizingReport


def earth_of(pair: CableCandidate, edition: Edition) -> str:
    """The protective conductor, with its metal."""
    return named(pair.protective, protective_metal(pair.metal, edition))


def report_sizing(sizing: CableSizing, entries: CableEntries, context: Context) -> SizingReport:
    """Words for what is sized."""
    edition, pair, need = context.edition, sizing.pair, sizing.need
    findings = Findings()
    by_hand = entries.device is not None or entries.area != "auto"
    if pair.verdict.check == "voltage_drop" and not by_hand:
        _lost(sizing, edition, findings)
    elif not pair.passes:
        _by_hand(sizing, edition, findings)
    elif not context.shop.is_plain and not by_hand:
        usual = size(need, sizing.feed, entries, replace(context, shop=context.shop.plain)).pair
        taken = (pair.device, cable_of(pair))
        tell_habit(context.shop, (usual.device, cable_of(usual)), taken, findings)
    results = {
        "device": Result(pair.device, "A", say("Device")),
        "conductor": Result(cable_of(pair), "", say("Conductors")),
        **conductor_figures("conductor", pair.size, 1, pair.metal, pair.ampacity),
        "ground_conductor": Result(earth_of(pair, edition), "", say("Protective conductor")),
        **conductor_figures(
            "ground_conductor", pair.protective, 1, protective_metal(pair.metal, edition)
        ),
    }
    device = Worksheet("device")
    sign = "≤" if fits(need.design, pair.device) else ">"
    shown = f"Ib {figure(need.design)} {sign} In {figure(pair.device)} A"
    rules = (edition.rule(made_topic(entries.device_type)), edition.rule("design_current"))
    words = say("Device: {kind}", kind=say(entries.DEVICES[entries.device_type]))
    device.result("device", words, pair.device, "A", shown, rules, entries="device")
    if entries.device_type == "MCCB" and entries.thermal_setting is not None:
        sign = "≤" if fits(need.design, entries.thermal_setting) else ">"
        device.step(
            "setting",
            say("Thermal setting"),
            entries.thermal_setting,
            "A",
            f"Ib {figure(need.design)} {sign} {figure(entries.thermal_setting)} A",
            edition.rule("moulded"),
            entries="thermal_setting",
        )
    beside = Worksheet()
    _protective(pair, entries, edition, beside)
    sections = [
        device.section("device", say("Device")),
        _cable(sizing, entries, edition).section("conductor", say("Cable")),
    ]
    headline = f"{figure(pair.device)} A · {cable_of(pair)}"
    if pair.lost is not None:
        _drop(sizing, entries, context, beside)
        results["drop_percent"] = Result(pair.lost, "%", say("Voltage drop"))
        headline += f" · {figure(pair.lost, 1)} %"
    _loop(sizing, entries, edition, beside, results, findings)
    _residual(sizing, entries, edition, findings)
    sections.append(beside.section("beside", say("With it")))
    found = [alternative_of(one, one is pair) for one in (pair, *sizing.others)]
    found.sort(key=lambda one: (one.mass, one.device))
    return SizingReport(
        tuple(found),
        tuple(sections),
        findings,
        results,
        _marks(sizing),
        headline,
        _wires(sizing, context),
        _tests(sizing, entries, edition),
    )


def _tests(sizing: CableSizing, entries: CableEntries, edition: Edition) -> tuple[Test, ...]:
    """What a tester is asked at it: the loop, cold, against the share of its limit that is left for
    the conductors to warm up; R1 + R2 at 20 °C; insulation; the residual-current device."""
    pair, opens, found = sizing.pair, sizing.pair.opening, []
    share, least = edition.limit("cold_share"), edition.limit("insulation_least")
    rule = edition.rule(OPENED_BY[opens.how])
    if pair.loop is not None:
        external = sizing.external or 0.0
        cold = pair.run.real / edition.value(f"hot_factor_{entries.insulation}")
        limit = share.value * opens.own
        if opens.how == "rcd" and (sizing.earthing == "TT" or not fits(pair.loop, opens.own)):
            limit = opens.most
        words = say("Earth-fault loop Zs, cold")
        found.append(Test(PointKey("Zs"), words, "Ω", external + cold, limit, True, rule))
        own = max(limit - external, cold)
        words = say("R1 + R2 of the circuit, cold")
        found.append(Test(PointKey("R1+R2"), words, "Ω", cold, own, True, share.rule))
    words = say("Insulation, lines to earth")
    found.append(Test(PointKey("insulation"), words, "MΩ", 0.0, least.value, False, least.rule))
    if entries.rcd != "none":
        time = edition.limit("rcd_time")
        words = say("Residual-current device at its rating")
        found.append(Test(PointKey("RCD"), words, "ms", 0.0, time.value, True, time.rule))
    return tuple(found)


def _by_hand(sizing: CableSizing, edition: Edition, findings: Findings) -> None:
    verdict = sizing.pair.verdict
    words = say(
        "Chosen by hand: {device} A with {cable} does not hold. {why}.",
        device=sizing.pair.device,
        cable=cable_of(sizing.pair),
        why=str(verdict.why),
    )
    mend = say("No pair passes: shorten, split the load, or run it otherwise.")
    change = None
    if sizing.free:
        use = say("Use {device} A, {cable}", device=sizing.free.device, cable=cable_of(sizing.free))
        change = Change(use, (("device", ""), ("area", "auto")))
        mend = say(
            "{device} A with {cable} would hold.",
            device=sizing.free.device,
            cable=cable_of(sizing.free),
        )
    findings.fail(
        "pin", words, mend=mend, rules=verdict.rule, entries=("device", "area"), offer=change
    )


def _lost(sizing: CableSizing, edition: Edition, findings: Findings) -> None:
    """No cable holds what is left of the drop."""
    findings.fail(
        "drop",
        say(
            "Loses {lost} %: of the {limit} % from the origin {allowed} % are left here.",
            lost=figure(sizing.pair.lost),
            limit=sizing.limit.value,
            allowed=figure(max(0.0, sizing.allowed)),
        ),
        mend=say("Larger cables ahead, a shorter way, or a cable by hand."),
        rules=sizing.limit.rule,
        entries=("length", "area"),
    )


def _cable(sizing: CableSizing, entries: CableEntries, edition: Edition) -> Worksheet:
    """It × Ca × Cg = Iz, and Iz ≥ In."""
    pair, rated, worksheet = sizing.pair, sizing.rated, Worksheet("conductor")
    words = say(
        "{cable}, {made}; {method}",
        cable=cable_of(pair),
        made=say(entries.CABLES[entries.cable]),
        method=say(entries.method.label),
    )
    shown = f"It ≥ {figure(pair.asked, 1)} ÷ {figure(rated.factor, 3)}"
    shown += f" = {figure(pair.asked / rated.factor, 1)} A"
    paths = ("cable", entries.METHOD)
    it = pair.tabulated
    worksheet.step("tabulated", words, it.value, "A", shown, it.rule, entries=paths)
    after = it.value
    for one in rated.factors:
        shown = f"{figure(after)} × {figure(one.value, 3)}"
        after *= one.value
        words, path = _factor(one, entries)
        rules = tuple(cell.rule for cell in one.cells)
        worksheet.step(one.name, words, after, "A", shown, rules, entries=path)
    sign = "≤" if fits(pair.asked, pair.ampacity) else ">"
    shown = f"In {figure(pair.device)} {sign} Iz {figure(pair.ampacity)} A"
    held: tuple[Rule, ...] = (edition.rule("design_current"),)
    note = None
    if is_ring(entries):
        shown = f"{figure(pair.asked, 1)} {sign} Iz {figure(pair.ampacity)} A"
        held, note = (edition.rule("ring"),), say("each leg of a ring, whatever its device")
    elif pair.opening.times == 0 and edition.has_limit("fuse_carries"):
        share = edition.limit("fuse_carries")
        shown = f"{figure(pair.device)} ÷ {figure(share.value)} {sign} Iz {figure(pair.ampacity)} A"
        held = (*held, share.rule)
    elif pair.asked != pair.device:  # a breaker's setting
        shown = f"{figure(pair.asked, 1)} {sign} Iz {figure(pair.ampacity)} A"
    words = say("Carries as it lies, Iz")
    worksheet.result("ampacity", words, pair.ampacity, "A", shown, held, note=note, entries="area")
    return worksheet


def _factor(one: Factor, entries: CableEntries) -> tuple[Text, str]:
    """What a factor is for, and the entry that it comes from."""
    if one.name == "ambient":
        return say("At {degrees} °C ambient, Ca", degrees=entries.ambient), "ambient"
    if one.name == "ground":
        return say("At {degrees} °C in the ground, Ca", degrees=entries.ground), "ground"
    if one.name == "grouping":
        return say(
            "{count} circuits together, Cg", count=entries.grouped_circuits + 1
        ), "grouped_circuits"
    if one.name == "insulation":
        return say(
            "{length} mm in insulation, Ci", length=entries.in_insulation
        ), "thermal_insulation"
    if one.name == "soil":
        return say("Soil of {value} K·m/W, Cs", value=entries.soil), "soil"
    if one.name == "depth":
        return say("{depth} m deep, Cd", depth=entries.depth), "depth"
    if one.name == "rewirable":
        return say("Rewirable fuse, Cf"), "device_type"
    return say("Third harmonic of {percent} %", percent=entries.third_harmonic), "third_harmonic"


def _protective(
    pair: CableCandidate, entries: CableEntries, edition: Edition, worksheet: Worksheet
) -> None:
    text = earth_of(pair, edition)
    by_table = entries.protective_conductor == "auto"
    worksheet.step(
        "ground_conductor",
        say("Protective conductor: {size}", size=text),
        shown=say(
            "line {line} → {protective}", line=named(pair.size), protective=named(pair.protective)
        )
        if by_table
        else "",
        rules=pair.protective_rule if by_table else None,
        note=None if by_table else say("by hand: judged by its loop and by the heat of a fault"),
        entries="protective_conductor",
        flow="ground",
    )


def _drop(
    sizing: CableSizing, entries: CableEntries, context: Context, worksheet: Worksheet
) -> None:
    pair, need, feed = sizing.pair, sizing.need, sizing.feed
    if sizing.way is None:
        return
    way, dropped, edition = sizing.way, pair.dropped, context.edition
    given = {
        "mv": figure(pair.mv.value, 3),
        "design": feed.drop_amperes or need.design,
        "metres": figure(way.beside, 1),
        "lost": dropped.volts,
        "volts": feed.volts,
        "most": max(0.0, sizing.allowed),
    }
    own: tuple[Rule, ...] = (pair.mv.rule,)
    if dropped.degrees:
        ohms = ohms_per_km(pair.size, edition, pair.metal)
        shown = say(
            "{mv} × {taken} (R = {ohms} Ω/km at 20 °C)",
            mv=figure(pair.mv.value, 3),
            taken=figure(dropped.taken, 3),
            ohms=figure(ohms.value, 4),
        )
        worksheet.step(
            "drop_finer",
            say(
                "At {degrees} °C and power factor {factor}",
                degrees=figure(dropped.degrees, 0),
                factor=feed.power_factor,
            ),
            pair.mv.value * dropped.taken,
            "mV",
            shown,
            (edition.rule("drop_finer"), pair.mv.rule, ohms.rule),
            entries="drop_method",
            flow="drop",
        )
        own = ()  # cited in the line before
        given["mv"] = figure(pair.mv.value * dropped.taken, 3)
    shown_ = say(
        "{mv} mV × {design} A × {metres} m ÷ 1,000 = {lost} V of {volts} V, at most {most} %",
        **given,
    )
    if way.spur:
        shown_ = say(
            "{mv} mV × ({design} A × {metres} m + {end} A × {spur} m) ÷ 1,000 = {lost} V of"
            " {volts} V, at most {most} %",
            end=min(need.design, edition.value("spur_load")),
            spur=figure(way.spur, 1),
            **given,
        )
    rules: tuple[Rule, ...] = (*own, sizing.limit.rule)
    note = None
    if way.other:
        note = say(
            "both legs of a ring beside each other: {one} m × {other} m ÷ {sum} m",
            one=figure(way.one, 1),
            other=figure(way.other, 1),
            sum=figure(way.one + way.other, 1),
        )
        rules = (*rules, edition.rule("spur")) if way.spur else rules
    worksheet.step(
        "drop",
        say(
            "Voltage drop over {length}",
            length=show(way.one, LENGTH, context.units),
        ),
        pair.lost,
        "%",
        shown_,
        rules,
        note=note,
        entries="length",
        flow="drop",
    )
    _other_drop(sizing, context, worksheet)


def _other_drop(sizing: CableSizing, context: Context, worksheet: Worksheet) -> None:
    """The drop by the method that is not the one in force: as tabulated, or for the conductor's own
    temperature and the load's power factor."""
    pair, volts, sizer = sizing.pair, sizing.feed.volts, sizing.sizer
    lost = sizer.drop(pair.size, pair.tabulated.value, finer=not sizer.finer)
    label, name, rule = say("As tabulated"), "drop_tabulated", pair.mv.rule
    if lost.degrees:
        label = say(
            "At {degrees} °C and power factor {factor}",
            degrees=figure(lost.degrees, 0),
            factor=sizing.feed.power_factor,
        )
        name, rule = "drop_otherwise", context.edition.rule("drop_finer")
    worksheet.note(
        name,
        label,
        100 * lost.volts / volts,
        "%",
        say(
            "{mv} mV for each A and m: {volts} V of {nominal} V",
            mv=figure(pair.mv.value * lost.taken, 3),
            volts=figure(lost.volts),
            nominal=figure(volts),
        ),
        rule,
        entries="drop_method",
    )


def _loop(
    sizing: CableSizing,
    entries: CableEntries,
    edition: Edition,
    worksheet: Worksheet,
    results: dict[str, Result],
    findings: Findings,
) -> None:
    """Zs = Ze + R1 + R2 against what lets the device open."""
    pair, opens = sizing.pair, sizing.pair.opening
    rule = edition.rule(OPENED_BY[opens.how])
    results["maximum_loop_impedance"] = Result(
        pair.most_loop, "Ω", say("Earth-fault loop, at most")
    )
    if sizing.earthing == "TT" and entries.rcd == "none":
        findings.fail(
            "tt",
            say("Earthed by an electrode of its own: a residual-current device clears its faults."),
            mend=say("Put in one of 30 mA, or 100 mA and more upstream."),
            rules=edition.rule("tt"),
            entries="rcd",
        )
    if opens.how == "rcd":
        results["own_loop_impedance"] = Result(
            opens.own, "Ω", say("By its overcurrent device, at most")
        )
    if pair.loop is None:
        _heat(sizing, edition, worksheet, findings)
        findings.check(
            "loop_impedance",
            say(
                "Whether the device opens in time is not known: its loop may be {most} Ω at most.",
                most=figure(pair.most_loop),
            ),
            mend=say("Enter the length and the external loop Ze."),
            rules=rule,
            entries=("external_loop", "length"),
        )
        return
    results["loop_impedance"] = Result(pair.loop, "Ω", say("Earth-fault loop Zs"))
    external = sizing.external or 0.0
    run = pair.loop - external
    ohms = figure(run, 3)
    if abs(pair.run.imag) > 1e-9:
        ohms = f"√({figure(pair.run.real, 4)}² + {figure(pair.run.imag, 4)}²)"
    given = {"external": figure(external, 3), "run": ohms, "degrees": entries.insulation}
    shown = say("{external} + {run} (R1 + R2 at {degrees} °C)", **given)
    if is_ring(entries):
        shown = say("{external} + {run} (R1 + R2 of both legs at {degrees} °C)", **given)
    _run_ohms(sizing, entries, edition, worksheet)
    worksheet.step(
        "loop_impedance",
        say("Earth-fault loop Zs"),
        pair.loop,
        "Ω",
        shown,
        rule,
        entries=("external_loop", "protective_conductor"),
        flow="ground",
    )
    _at_most(sizing, entries, edition, worksheet)
    _heat(sizing, edition, worksheet, findings)
    if not pair.passes or (sizing.earthing == "TT" and opens.how != "rcd"):
        return
    spare = figure(pair.most_loop - pair.loop, 3)
    words = say("The loop leaves {spare} Ω to spare: the device opens at once.", spare=spare)
    if opens.how == "fuse":
        words = say(
            "The loop leaves {spare} Ω to spare: the fuse opens within {seconds} s.",
            spare=spare,
            seconds=opens.seconds,
        )
    if opens.how == "rcd":
        words = say(
            "The residual-current device clears a fault to earth: {loop} Ω of {most} Ω at most.",
            loop=figure(pair.loop, 2),
            most=figure(pair.most_loop, 0),
        )
    findings.passes("loop_impedance", words, f"{spare} Ω", rules=rule)
    cold = external + pair.run.real / edition.value(f"hot_factor_{entries.insulation}")
    share = edition.limit("cold_share")
    if opens.how != "rcd" and not fits(cold, share.value * opens.own):
        findings.remark(
            "cold",
            say(
                "Cold, a tester shows some {cold} Ω, above {limit} Ω, {share} of its limit: judge"
                " it by the temperature of its conductors.",
                cold=figure(cold, 2),
                limit=figure(share.value * opens.own, 2),
                share=share.value,
            ),
            rules=share.rule,
            entries=("external_loop", "length"),
        )
    if opens.how == "rcd" and not fits(pair.loop, opens.own) and sizing.earthing == "TN":
        findings.check(
            "own_loop_impedance",
            say(
                "Only the residual-current device clears a fault to earth: the loop is above the"
                " {own} Ω of the overcurrent device.",
                own=figure(opens.own),
            ),
            rules=edition.rule("rcd_loop"),
            entries="rcd",
        )


def _heat(sizing: CableSizing, edition: Edition, worksheet: Worksheet, findings: Findings) -> None:
    """The heat of a fault in a protective conductor below its table, and of a short in a line that
    its device does not guard against overload; what of it cannot be judged is said."""
    pair = sizing.pair
    if pair.heat is not None:
        words = say("Protective conductor by the heat of a fault")
        entries = ("protective_conductor", "length", "external_loop")
        _heated("heat", pair.heat, pair.protective, words, entries, edition, worksheet)
        if not pair.heat.known:
            words = say(
                "Its protective conductor, {size}, is below the table, and whether it stands the"
                " heat of a fault at its far end is not judged.",
                size=named(pair.protective),
            )
            _unknown("heat_unknown", words, entries, edition, findings)
    if pair.short is not None:
        words, paths = say("Line by the heat of a short"), ("area", "length")
        _heated("short", pair.short, pair.size, words, paths, edition, worksheet)
        if not pair.short.known:
            words = say(
                "Whether the line of {size} stands a short at its far end is not judged: its"
                " device is above what it carries.",
                size=named(pair.size),
            )
            _unknown("short_unknown", words, paths, edition, findings)


def _heated(
    name: str,
    found: ShortCircuit,
    area: Size,
    words: Text,
    entries: tuple[str, ...],
    edition: Edition,
    worksheet: Worksheet,
) -> None:
    if not found.known or found.seconds is None:
        return
    shown = say(
        "√(I²t) ÷ k: {end} A for {seconds} s at its end, {energy} A²s let through at its beginning;"
        " {least} {sign} {area} mm²",
        end=figure(found.end, 0),
        seconds=figure(found.seconds),
        energy=figure(found.energy, 0),
        least=figure(found.least),
        sign="≤" if fits(found.least, float(area)) else ">",
        area=area,
    )
    rule = edition.rule("adiabatic")
    worksheet.step(name, words, found.least, "mm²", shown, rule, entries=entries, flow="ground")


def _unknown(
    name: str, words: Text, entries: tuple[str, ...], edition: Edition, findings: Findings
) -> None:
    mend = say("Enter the length, the external loop and the fault current of the supply.")
    findings.check(name, words, mend=mend, rules=edition.rule("adiabatic"), entries=entries)


def _run_ohms(
    sizing: CableSizing, entries: CableEntries, edition: Edition, worksheet: Worksheet
) -> None:
    """R1 + R2 of the run, from the cells of both conductors."""
    pair, way = sizing.pair, sizing.way
    if way is None:
        return
    line = ohms_per_km(pair.size, edition, pair.metal)
    earth = ohms_per_km(pair.protective, edition, protective_metal(pair.metal, edition))
    hot = edition.limit(f"hot_factor_{entries.insulation}")
    worksheet.step(
        "loop_run",
        say("R1 + R2 at {degrees} °C", degrees=entries.insulation),
        pair.run.real,
        "Ω",
        say(
            "({line} + {earth}) Ω × {hot} × {metres} m ÷ 1,000",
            line=figure(line.value, 4),
            earth=figure(earth.value, 4),
            hot=figure(hot.value, 3),
            metres=figure(way.beside + way.spur, 1),
        ),
        tuple(dict.fromkeys((line.rule, earth.rule, hot.rule))),
        flow="ground",
    )


def _at_most(
    sizing: CableSizing, entries: CableEntries, edition: Edition, worksheet: Worksheet
) -> None:
    """The most that the loop may be, and where it comes from."""
    pair, opens = sizing.pair, sizing.pair.opening
    rule, volts = edition.rule(OPENED_BY[opens.how]), figure(sizing.earth_volts)
    if opens.how == "rcd":
        words = say("At most, {rcd} mA residual current", rcd=entries.rcd)
        shown = f"{figure(opens.cells[0].value)} V ÷ {figure(float(entries.rcd) / 1000, 3)} A"
    elif opens.how == "fuse":
        words = say(
            "At most, {kind}, {seconds} s",
            kind=say(entries.DEVICES[entries.device_type]),
            seconds=opens.seconds,
        )
        shown = f"{figure(opens.cells[0].value)} Ω × {volts} ÷ "
        shown += figure(edition.value("loop_volts"))
    else:
        least = opens.cells[0]
        words = say("At most, {kind}", kind=say(entries.DEVICES[entries.device_type]))
        shown = f"{volts} × {figure(least.value)} ÷ ({figure(opens.times)} × {figure(pair.device)})"
    rules = (rule, *(cell.rule for cell in opens.cells), edition.rule("time_final"))
    worksheet.sum("maximum_loop_impedance", words, pair.most_loop, "Ω", shown, rules, flow="ground")


def _residual(
    sizing: CableSizing, entries: CableEntries, edition: Edition, findings: Findings
) -> None:
    """Where a residual-current device of 30 mA is asked for."""
    use, device = sizing.need.use, sizing.pair.device
    if entries.rcd == "30" or use == "distribution":
        return
    if edition.has_limit("rcd_final_to") and fits(device, edition.value("rcd_final_to")):
        findings.remark(
            "rcd_final",
            say(
                "A final circuit to {most} A has a residual-current device of 30 mA, unless it is"
                " fixed equipment outside a dwelling.",
                most=edition.value("rcd_final_to"),
            ),
            rules=edition.rule("rcd_final"),
            entries="rcd",
        )
    if use == "vehicle charging" and (rule := edition.cites("rcd_vehicle")):
        findings.check(
            "rcd_vehicle",
            say("A charging point has a residual-current device of 30 mA of its own."),
            rules=rule,
            entries="rcd",
        )
    if use == "shower" and (rule := edition.cites("rcd_bath")):
        findings.check(
            "rcd_bath",
            say("A circuit of a bathroom has a residual-current device of 30 mA."),
            rules=rule,
            entries="rcd",
        )
    if use == "lighting" and (rule := edition.cites("rcd_lighting")):
        words = say("In a dwelling a lighting circuit has a residual-current device of 30 mA.")
        findings.remark("rcd_lighting", words, rules=rule, entries="rcd")
    sockets_to = edition.value("rcd_sockets_to") if edition.has_limit("rcd_sockets_to") else 0.0
    if use in ("general", "sockets") and fits(device, sockets_to):
        words = say("If it feeds sockets, a residual-current device of 30 mA is asked for.")
        findings.remark("rcd_sockets", words, rules=edition.rule("rcd_sockets"), entries="rcd")
    if entries.method_id in ("A", "102", "103") and (rule := edition.cites("rcd_walls")):
        findings.check(
            "rcd_walls",
            say("In a wall less than 50 mm deep it has a residual-current device of 30 mA."),
            rules=rule,
            entries=("rcd", entries.METHOD),
        )


def _marks(sizing: CableSizing) -> tuple[AxisMark, ...]:
    pair, rated = sizing.pair, sizing.rated
    found = [
        AxisMark("load", say("Load"), sizing.need.design, "load"),
        AxisMark("device", say("Device"), pair.device, "device"),
        AxisMark("own", say("As tabulated"), pair.tabulated.value, "conductor"),
    ]
    warm = [one for one in rated.factors if one.name in ("ambient", "ground")]
    if warm and len(rated.factors) > 1:
        after = pair.tabulated.value * warm[0].value
        found.append(AxisMark("ambient", say("After ambient"), after, "conductor"))
    if rated.factor != 1:
        found.append(AxisMark("adjusted", say("As it lies"), pair.ampacity, "conductor", True))
    return tuple(found)


def _wires(sizing: CableSizing, context: Context) -> tuple[PulledConductor, ...]:
    point, pair, feed = context.supply, sizing.pair, sizing.feed
    text = named(pair.size)
    lines = point.system.lines[: feed.lines]
    found = [PulledConductor(name, point.color(name), text) for name in lines]
    if feed.has_neutral:
        found.append(PulledConductor("N", point.color("N"), text))
    return (*found, PulledConductor("G", "green-yellow", named(pair.protective)))
