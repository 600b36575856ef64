"""A final circuit on the tape: device, cable, drop, disconnection, protective conductor."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.rules.code import Told
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec.entries import METHODS, CableEntries
from voltaje.core.rules.iec.work import CableSizing, Pair
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


def named(size: Size, metal: bool = False) -> str:
    """``"2.5 mm²"``, ``"2.5 mm² Cu"``."""
    return f"{size} mm² Cu" if metal else f"{size} mm²"


def tell(sizing: CableSizing, entries: CableEntries, context: Context) -> Told:
    """Words for what is sized."""
    edition, pair, need = context.edition, sizing.pair, sizing.need
    findings = Findings()
    if not pair.passes:
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
    rules = (edition.rule("standard_devices"), edition.rule("design_current"))
    device.result("device", say("Type B breaker"), pair.device, "A", shown, rules, entries="device")
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
        return words, edition.rule("loop")
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


def _cable(sizing: CableSizing, entries: CableEntries, edition: Edition) -> Tape:
    """It × Ca × Cg = Iz, and Iz ≥ In."""
    pair, laid, tape = sizing.pair, sizing.laid, Tape("conductor")
    words = say(
        "{cable}, method {method}",
        cable=named(pair.size, True),
        method=say(METHODS[entries.reference_method]),
    )
    shown = f"It ≥ {figure(pair.device)} ÷ {figure(laid.factor, 3)}"
    shown += f" = {figure(pair.device / laid.factor, 1)} A"
    paths = ("cable", "reference_method")
    it = pair.tabulated
    tape.step("tabulated", words, it.value, "A", shown, it.rule, entries=paths)
    after = it.value * laid.ambient.value
    if laid.ambient.value != 1:
        words = say("At {degrees} °C ambient, Ca", degrees=entries.ambient)
        shown = f"{figure(it.value)} × {figure(laid.ambient.value)}"
        tape.step("ambient", words, after, "A", shown, laid.ambient.rule, entries="ambient")
    if laid.grouping.value != 1:
        words = say("{count} circuits together, Cg", count=entries.grouped + 1)
        shown = f"{figure(after)} × {figure(laid.grouping.value)}"
        rule = laid.grouping.rule
        tape.step("grouping", words, pair.carries, "A", shown, rule, entries="grouped")
    sign = "≤" if fits(pair.device, pair.carries) else ">"
    shown = f"In {figure(pair.device)} {sign} Iz {figure(pair.carries)} A"
    rule = edition.rule("design_current")
    words = say("Carries as it lies, Iz")
    tape.result("ampacity", words, pair.carries, "A", shown, rule, entries="area")
    return tape


def _protective(pair: Pair, entries: CableEntries, edition: Edition, tape: Tape) -> None:
    text = named(pair.protective, True)
    by_table = entries.protective == "auto"
    tape.step(
        "ground_conductor",
        say("Protective conductor: {size}", size=text),
        shown=say(
            "line {line} → {protective}", line=named(pair.size), protective=named(pair.protective)
        )
        if by_table
        else "",
        rules=edition.rule("cpc") if by_table else None,
        note=None if by_table else say("by hand: its loop is judged, its heat is not"),
        entries="protective",
        flow="ground",
    )


def _drop(sizing: CableSizing, entries: CableEntries, context: Context, tape: Tape) -> None:
    pair, need, feed = sizing.pair, sizing.need, sizing.feed
    metres = sizing.metres or 0.0
    lost = pair.mv.value * need.design * metres / 1000
    units = context.units
    tape.step(
        "drop",
        say(
            "Voltage drop over {length}",
            length=show(metres / METRES_PER_FOOT, LENGTH, units),
        ),
        pair.lost,
        "%",
        say(
            "{mv} mV × {design} A × {metres} m ÷ 1,000 = {lost} V of {volts} V, at most {most} %",
            mv=pair.mv.value,
            design=need.design,
            metres=figure(metres, 1),
            lost=lost,
            volts=feed.volts,
            most=sizing.limit.value,
        ),
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
    pair, rule = sizing.pair, edition.rule("loop")
    results["loop_most"] = Result(pair.most_loop, "Ω", say("Earth-fault loop, at most"))
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
    external = entries.external_loop or 0.0
    run = pair.loop - external
    volts, least = sizing.earth_volts, edition.value("loop_least")
    times = edition.value("loop_times_b")
    tape.step(
        "loop",
        say("Earth-fault loop Zs"),
        pair.loop,
        "Ω",
        say(
            "{external} + {run} (R1 + R2 at 70 °C)",
            external=figure(external, 3),
            run=figure(run, 3),
        ),
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
    tape.sum(
        "loop_most",
        say("At most, type B"),
        pair.most_loop,
        "Ω",
        f"{figure(volts)} × {figure(least)} ÷ ({figure(times)} × {figure(pair.device)})",
        rule,
        flow="ground",
    )
    if pair.passes:
        spare = figure(pair.most_loop - pair.loop, 3)
        words = say("The loop leaves {spare} Ω to spare: the device opens at once.", spare=spare)
        findings.holds("loop", words, f"{spare} Ω", rules=rule)


def _marks(sizing: CableSizing) -> tuple[Mark, ...]:
    pair, laid = sizing.pair, sizing.laid
    found = [
        Mark("load", say("Load"), sizing.need.design, "load"),
        Mark("device", say("Device"), pair.device, "device"),
        Mark("own", say("As tabulated"), pair.tabulated.value, "conductor"),
    ]
    if laid.ambient.value != 1:
        after = pair.tabulated.value * laid.ambient.value
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
