"""A final circuit on the tape: device, cable, drop, disconnection, protective conductor."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.rules.code import Told
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec.entries import BREAKERS, CABLES, DEVICES, METHODS, CableEntries
from voltaje.core.rules.iec.work import CableSizing, Factor, Pair, is_ring
from voltaje.core.units import LENGTH, METRES_PER_FOOT, show
from voltaje.core.worksheet import (
    Findings,
    Mark,
    Result,
    Rule,
    Rung,
    Tape,
    Text,
    Wire,
    conductor_figures,
    figure,
    fits,
    say,
)

COPPER = "copper"
OPENED_BY = {"breaker": "loop", "fuse": "loop_fuse", "rcd": "rcd_loop"}


def named(size: Size, metal: bool = False) -> str:
    """``"2.5 mm²"``, ``"2.5 mm² Cu"``."""
    return f"{size} mm² Cu" if metal else f"{size} mm²"


def tell(sizing: CableSizing, entries: CableEntries, context: Context) -> Told:
    """Words for what is sized."""
    edition, pair, need = context.edition, sizing.pair, sizing.need
    findings = Findings()
    by_hand = entries.device is not None or entries.area != "auto"
    if pair.fault == "drop" and not by_hand:
        _lost(sizing, edition, findings)
    elif not pair.passes:
        _by_hand(sizing, edition, findings)
    results = {
        "device": Result(pair.device, "A", say("Device")),
        "conductor": Result(named(pair.size, True), "", say("Conductors")),
        **conductor_figures("conductor", pair.size, 1, COPPER, pair.carries),
        "ground_conductor": Result(named(pair.protective, True), "", say("Protective conductor")),
        **conductor_figures("ground_conductor", pair.protective, 1, COPPER),
    }
    device = Tape("device")
    sign = "≤" if fits(need.design, pair.device) else ">"
    shown = f"Ib {figure(need.design)} {sign} In {figure(pair.device)} A"
    made = "standard_devices" if entries.device_type in BREAKERS else "fuse_loops"
    rules = (edition.rule(made), edition.rule("design_current"))
    words = say("Device: {kind}", kind=say(DEVICES[entries.device_type]))
    device.result("device", words, pair.device, "A", shown, rules, entries="device")
    beside = Tape()
    _protective(pair, entries, edition, beside)
    sections = [
        device.section("device", say("Device")),
        _cable(sizing, entries, edition).section("conductor", say("Cable")),
    ]
    headline = f"{figure(pair.device)} A · {named(pair.size, True)}"
    if pair.lost is not None:
        _drop(sizing, entries, context, beside)
        results["drop_percent"] = Result(pair.lost, "%", say("Voltage drop"))
        headline += f" · {figure(pair.lost, 1)} %"
    _loop(sizing, entries, edition, beside, results, findings)
    _residual(sizing, entries, edition, findings)
    sections.append(beside.section("beside", say("With it")))
    rungs = [_rung(one, edition, one is pair) for one in (pair, *sizing.others)]
    rungs.sort(key=lambda rung: (rung.mass, rung.device))
    return Told(
        tuple(rungs),
        tuple(sections),
        findings,
        results,
        _marks(sizing),
        headline,
        _wires(sizing, context),
    )


def _why(pair: Pair, edition: Edition) -> tuple[Text, Rule]:
    """Why a pair passes, or what keeps it from passing, with the rule."""
    carries = figure(pair.carries, 1)
    if pair.fault == "device":
        words = say("The device is below the design current")
        return words, edition.rule("design_current")
    if pair.fault == "carries":
        words = say(
            "Carries {carries} A as it lies: less than the {device} A device",
            carries=carries,
            device=pair.device,
        )
        return words, pair.tabulated.rule
    if pair.fault == "drop":
        words = say("Loses {percent} %: more than it may", percent=figure(pair.lost))
        return words, pair.mv.rule
    if pair.fault == "loop":
        words = say(
            "The loop of {ohms} Ω is above {most} Ω: the device may not open in time",
            ohms=figure(pair.loop, 3),
            most=figure(pair.most_loop),
        )
        return words, edition.rule(OPENED_BY[pair.opening.how])
    if pair.fault == "heat":
        words = say(
            "The protective conductor of {size} wants {least} mm² by the heat of a fault",
            size=named(pair.protective),
            least=figure(pair.heat),
        )
        return words, edition.rule("adiabatic")
    words = say("Carries {carries} A as it lies", carries=carries)
    return words, edition.rule("design_current")


def _rung(pair: Pair, edition: Edition, chosen: bool) -> Rung:
    why, rule = _why(pair, edition)
    return Rung(
        pair.device,
        named(pair.size, True),
        pair.size,
        1,
        COPPER,
        pair.carries,
        pair.passes,
        chosen,
        why,
        (rule,),
        pair.mass,
    )


def _by_hand(sizing: CableSizing, edition: Edition, findings: Findings) -> None:
    why, rule = _why(sizing.pair, edition)
    words = say(
        "Chosen by hand: {device} A with {cable} does not hold. {why}.",
        device=sizing.pair.device,
        cable=named(sizing.pair.size, True),
        why=str(why),
    )
    mend = say("No pair passes: shorten, split the load, or run it otherwise.")
    if sizing.free:
        mend = say(
            "{device} A with {cable} would hold.",
            device=sizing.free.device,
            cable=named(sizing.free.size, True),
        )
    findings.fails("pin", words, mend=mend, rules=rule, entries=("device", "area"))


def _lost(sizing: CableSizing, edition: Edition, findings: Findings) -> None:
    """No cable holds what is left of the drop."""
    findings.fails(
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


def _cable(sizing: CableSizing, entries: CableEntries, edition: Edition) -> Tape:
    """It × Ca × Cg = Iz, and Iz ≥ In."""
    pair, laid, tape = sizing.pair, sizing.laid, Tape("conductor")
    words = say(
        "{cable}, {made}, method {method}",
        cable=named(pair.size, True),
        made=say(CABLES[entries.cable]),
        method=say(METHODS[entries.reference_method]),
    )
    shown = f"It ≥ {figure(pair.device)} ÷ {figure(laid.factor, 3)}"
    shown += f" = {figure(pair.device / laid.factor, 1)} A"
    paths = ("cable", "reference_method")
    it = pair.tabulated
    tape.step("tabulated", words, it.value, "A", shown, it.rule, entries=paths)
    after = it.value
    for one in laid.factors:
        shown = f"{figure(after)} × {figure(one.value, 3)}"
        after *= one.value
        words, path = _factor(one, entries)
        rules = tuple(cell.rule for cell in one.cells)
        tape.step(one.name, words, after, "A", shown, rules, entries=path)
    asked, ring = pair.device, is_ring(entries)
    if ring:
        asked = edition.value("ring_leg")
    sign = "≤" if fits(asked, pair.carries) else ">"
    shown = f"In {figure(pair.device)} {sign} Iz {figure(pair.carries)} A"
    rule, note = edition.rule("design_current"), None
    if ring:
        shown = f"{figure(asked)} {sign} Iz {figure(pair.carries)} A"
        rule, note = edition.rule("ring"), say("each leg of a ring, whatever its device")
    words = say("Carries as it lies, Iz")
    tape.result("ampacity", words, pair.carries, "A", shown, rule, note=note, entries="area")
    return tape


def _factor(one: Factor, entries: CableEntries) -> tuple[Text, str]:
    """What a factor is for, and the entry that it comes from."""
    if one.name == "ambient":
        return say("At {degrees} °C ambient, Ca", degrees=entries.ambient), "ambient"
    if one.name == "ground":
        return say("At {degrees} °C in the ground, Ca", degrees=entries.ground), "ground"
    if one.name == "grouping":
        return say("{count} circuits together, Cg", count=entries.grouped + 1), "grouped"
    if one.name == "insulation":
        return say("{length} mm in insulation, Ci", length=entries.insulated), "insulated"
    if one.name == "soil":
        return say("Soil of {value} K·m/W, Cs", value=entries.soil), "soil"
    if one.name == "depth":
        return say("{depth} m deep, Cd", depth=entries.depth), "depth"
    if one.name == "rewirable":
        return say("Rewirable fuse, Cf"), "device_type"
    return say("Third harmonic of {percent} %", percent=entries.third), "third"


def _protective(pair: Pair, entries: CableEntries, edition: Edition, tape: Tape) -> None:
    text = named(pair.protective, True)
    by_table, flat = entries.protective == "auto", entries.cable == "flat"
    rule = edition.rule("cpc")
    if flat:
        rule = edition.rule("flat_protective", pair.size, "mm²")
    tape.step(
        "ground_conductor",
        say("Protective conductor: {size}", size=text),
        shown=say(
            "line {line} → {protective}", line=named(pair.size), protective=named(pair.protective)
        )
        if by_table
        else "",
        rules=rule if by_table else None,
        note=None if by_table else say("by hand: judged by its loop and by the heat of a fault"),
        entries="protective",
        flow="ground",
    )


def _drop(sizing: CableSizing, entries: CableEntries, context: Context, tape: Tape) -> None:
    pair, need, feed = sizing.pair, sizing.need, sizing.feed
    metres = sizing.metres or 0.0
    lost = pair.mv.value * need.design * metres / 1000 / (2 if is_ring(entries) else 1)
    units = context.units
    given = {
        "mv": pair.mv.value,
        "design": need.design,
        "metres": figure(metres, 1),
        "lost": lost,
        "volts": feed.volts,
        "most": max(0.0, sizing.allowed),
    }
    shown = say(
        "{mv} mV × {design} A × {metres} m ÷ 1,000 = {lost} V of {volts} V, at most {most} %",
        **given,
    )
    if is_ring(entries):
        shown = say(
            "{mv} mV × {design} A ÷ 2 × {metres} m ÷ 1,000 = {lost} V of {volts} V, at most"
            " {most} %",
            **given,
        )
    tape.step(
        "drop",
        say(
            "Voltage drop over {length}",
            length=show(metres / METRES_PER_FOOT, LENGTH, units),
        ),
        pair.lost,
        "%",
        shown,
        (pair.mv.rule, sizing.limit.rule),
        entries="length",
        flow="drop",
    )


def _loop(
    sizing: CableSizing,
    entries: CableEntries,
    edition: Edition,
    tape: Tape,
    results: dict[str, Result],
    findings: Findings,
) -> None:
    """Zs = Ze + R1 + R2 against what lets the device open."""
    pair, opens = sizing.pair, sizing.pair.opening
    rule = edition.rule(OPENED_BY[opens.how])
    results["loop_most"] = Result(pair.most_loop, "Ω", say("Earth-fault loop, at most"))
    if sizing.earthing == "TT" and entries.rcd == "none":
        findings.fails(
            "tt",
            say("Earthed by an electrode of its own: a residual-current device clears its faults."),
            mend=say("Put in one of 30 mA, or 100 mA and more upstream."),
            rules=edition.rule("tt"),
            entries="rcd",
        )
    if pair.loop is None:
        findings.look(
            "loop",
            say(
                "Whether the device opens in time is not known: its loop may be {most} Ω at most.",
                most=figure(pair.most_loop),
            ),
            mend=say("Enter the length and the external loop Ze."),
            rules=rule,
            entries=("external_loop", "length"),
        )
        return
    results["loop"] = Result(pair.loop, "Ω", say("Earth-fault loop Zs"))
    external = sizing.external or 0.0
    run = pair.loop - external
    given = {
        "external": figure(external, 3),
        "run": figure(run, 3),
        "degrees": entries.insulation,
    }
    shown = say("{external} + {run} (R1 + R2 at {degrees} °C)", **given)
    if is_ring(entries):
        shown = say("{external} + {run} (half of a leg’s R1 + R2 at {degrees} °C)", **given)
    tape.step(
        "loop",
        say("Earth-fault loop Zs"),
        pair.loop,
        "Ω",
        shown,
        (
            rule,
            *(
                edition.rule("resistance", size, "R20")
                for size in dict.fromkeys((pair.size, pair.protective))
            ),
        ),
        entries=("external_loop", "protective"),
        flow="ground",
    )
    _at_most(sizing, entries, edition, tape)
    if pair.heat is not None:
        sign = "≤" if fits(pair.heat, float(pair.protective)) else ">"
        tape.step(
            "heat",
            say("Protective conductor by the heat of a fault"),
            pair.heat,
            "mm²",
            f"√(I²t) ÷ k, {figure(pair.heat)} {sign} {pair.protective} mm²",
            edition.rule("adiabatic"),
            entries="protective",
            flow="ground",
        )
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
    findings.holds("loop", words, f"{spare} Ω", rules=rule)
    if opens.how == "rcd" and not fits(pair.loop, opens.own) and sizing.earthing == "TN":
        findings.look(
            "loop_own",
            say(
                "Only the residual-current device clears a fault to earth: the loop is above the"
                " {own} Ω of the overcurrent device.",
                own=figure(opens.own),
            ),
            rules=edition.rule("rcd_loop"),
            entries="rcd",
        )


def _at_most(sizing: CableSizing, entries: CableEntries, edition: Edition, tape: Tape) -> None:
    """The most that the loop may be, and where it comes from."""
    pair, opens = sizing.pair, sizing.pair.opening
    rule, volts = edition.rule(OPENED_BY[opens.how]), figure(sizing.earth_volts)
    if opens.how == "rcd":
        words = say("At most, {rcd} mA residual current", rcd=entries.rcd)
        shown = f"{figure(opens.cells[0].value)} V ÷ {figure(float(entries.rcd) / 1000, 3)} A"
    elif opens.how == "fuse":
        words = say(
            "At most, {kind}, {seconds} s",
            kind=say(DEVICES[entries.device_type]),
            seconds=opens.seconds,
        )
        shown = f"{figure(opens.cells[0].value)} Ω × {volts} ÷ "
        shown += figure(edition.value("loop_volts"))
    else:
        least, times = opens.cells
        words = say("At most, {kind}", kind=say(DEVICES[entries.device_type]))
        shown = f"{volts} × {figure(least.value)} ÷ ({figure(times.value)} × {figure(pair.device)})"
    rules = (rule, *(cell.rule for cell in opens.cells), edition.rule("time_final"))
    tape.sum("loop_most", words, pair.most_loop, "Ω", shown, rules, flow="ground")


def _residual(
    sizing: CableSizing, entries: CableEntries, edition: Edition, findings: Findings
) -> None:
    """Where a residual-current device of 30 mA is asked for."""
    if entries.rcd == "30":
        return
    if sizing.need.use == "vehicle charging":
        findings.look(
            "rcd_vehicle",
            say("A charging point has a residual-current device of 30 mA of its own."),
            rules=edition.rule("rcd_vehicle"),
            entries="rcd",
        )
    if sizing.need.use == "general" and fits(sizing.pair.device, edition.value("final_fixed")):
        findings.remark(
            "rcd_sockets",
            say("If it feeds sockets, a residual-current device of 30 mA is asked for."),
            rules=edition.rule("rcd_sockets"),
            entries="rcd",
        )
    if entries.reference_method in ("A", "102", "103"):
        findings.look(
            "rcd_walls",
            say("In a wall less than 50 mm deep it has a residual-current device of 30 mA."),
            rules=edition.rule("rcd_walls"),
            entries=("rcd", "reference_method"),
        )


def _marks(sizing: CableSizing) -> tuple[Mark, ...]:
    pair, laid = sizing.pair, sizing.laid
    found = [
        Mark("load", say("Load"), sizing.need.design, "load"),
        Mark("device", say("Device"), pair.device, "device"),
        Mark("own", say("As tabulated"), pair.tabulated.value, "conductor"),
    ]
    warm = [one for one in laid.factors if one.name in ("ambient", "ground")]
    if warm and len(laid.factors) > 1:
        after = pair.tabulated.value * warm[0].value
        found.append(Mark("ambient", say("After ambient"), after, "conductor"))
    if laid.factor != 1:
        found.append(Mark("adjusted", say("As it lies"), pair.carries, "conductor", True))
    return tuple(found)


def _wires(sizing: CableSizing, context: Context) -> tuple[Wire, ...]:
    point, pair, feed = context.supply, sizing.pair, sizing.feed
    text = named(pair.size)
    lines = point.system.lines[: feed.lines]
    found = [Wire(name, point.color(name), text) for name in lines]
    if feed.has_neutral:
        found.append(Wire("N", point.color("N"), text))
    return (*found, Wire("G", "green-yellow", named(pair.protective)))
