"""A circuit on the tape."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.parts.circuit.entries import USES, CircuitEntries
from voltaje.core.parts.circuit.work import CircuitOutcome, Load, under
from voltaje.core.parts.kind import Context
from voltaje.core.parts.wired import divisor, spare
from voltaje.core.parts.wired import tell as tell_sizing
from voltaje.core.worksheet import Findings, Result, Tape, Worked, figure, say

ANSWER = ("device", "conductor", "ground_conductor", "raceway", "drop_percent")


def tell(outcome: CircuitOutcome, entries: CircuitEntries, context: Context) -> Worked:
    """The circuit's worksheet."""
    edition, load = context.edition, outcome.load
    findings, tape = Findings(), Tape("load")
    _load(entries, load, edition, tape)
    if load.unlike:
        _other_volts(load, context.supply.system.volts(entries.connection), findings)
    if outcome.share:
        _design(entries, outcome, edition, tape)
    if outcome.too_much is not None:
        _too_much(outcome, edition, findings)
    if entries.multiwire:
        _multiwire(entries, edition, tape)
    told = tell_sizing(outcome.sizing, entries, under(entries, context))
    findings += told.findings
    _high_leg(entries, context, findings)
    if entries.use != "air conditioning":
        spare(outcome.sizing.pair.device - outcome.design, findings)
    results = {
        "load": Result(load.va, "VA", say("Load")),
        "amperes": Result(load.amperes, "A", say("Full-load amperes")),
        "design_amperes": Result(outcome.design, "A", say("With 125 % of continuous")),
        "volts": Result(outcome.sizing.feed.volts, "V", say("Volts")),
        **told.results,
    }
    return Worked(
        "circuit",
        edition.id,
        (tape.section("load", say("Load")), *told.sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        ladder=told.ladder.rungs,
        marks=told.marks,
        wires=told.wires,
    )


def _load(entries: CircuitEntries, load: Load, edition: Edition, tape: Tape) -> None:
    if entries.use == "air conditioning":
        tape.sum(
            "amperes",
            say("Minimum circuit ampacity"),
            load.amperes,
            "A",
            "",
            edition.rule("air_conditioning"),
            note=say("the quarter more for its motor is in it"),
            entries="minimum_ampacity",
        )
        return
    if entries.use == "receptacles":
        each = edition.limit("receptacle_load")
        words = say("{count} outlets", count=entries.outlets)
        shown = f"{entries.outlets} × {figure(each.value)}"
        tape.step("load", words, load.va, "VA", shown, each.rule, entries="outlets")
    else:
        _entered(entries, load, tape)
        if load.va > load.entered:
            rule = edition.limit("sign_circuit").rule
            tape.step("sign", say("A sign outlet counts at least"), load.va, "VA", "", rule)
    note = None
    if load.rated:
        note = say("at its own {volts} V, where it draws more", volts=load.rated)
    tape.sum(
        "amperes",
        say("Full-load amperes"),
        load.amperes,
        "A",
        f"{figure(load.va)} ÷ {divisor(load.volts, entries.connection)}",
        note=note,
        entries="connection",
    )


def _entered(entries: CircuitEntries, load: Load, tape: Tape) -> None:
    plate = entries.load
    shown, paths = "", ["load"]
    if plate is not None and plate.amperes is not None:
        rated = plate.volts or entries.rated_volts or load.volts
        shown = f"{figure(plate.amperes)} × {divisor(rated, entries.connection)}"
    elif plate is not None and plate.active and entries.power_factor < 1:
        shown = f"{figure(plate.watts)} W ÷ {figure(entries.power_factor)}"
        paths.append("power_factor")
    tape.step("load", say("Load"), load.entered, "VA", shown, entries=paths)


def _design(entries: CircuitEntries, outcome: CircuitOutcome, edition: Edition, tape: Tape) -> None:
    more, share, amperes = edition.limit("continuous"), outcome.share, outcome.load.amperes
    topic = USES[entries.use].topic
    factor = figure(more.value / 100)
    shown = f"{figure(amperes)} × {factor}"
    if share != 1:
        shown = f"{figure(amperes * (1 - share))} + {figure(amperes * share)} × {factor}"
    tape.sum(
        "design_amperes",
        say("With 125 % of what is continuous"),
        outcome.design,
        "A",
        shown,
        (more.rule, edition.rule(topic) if topic else None),
        entries=("use", "continuous"),
    )


def _other_volts(load: Load, volts: float, findings: Findings) -> None:
    """A resistive load on volts other than its own: power goes with the square."""
    rated, ratio = load.unlike, volts / load.unlike
    if rated > volts:
        findings.look(
            "rated_volts",
            say(
                "Rated {rated} V on {volts} V: a heater gives {percent} % of its power, {va} VA.",
                rated=rated,
                volts=volts,
                percent=figure(100 * ratio**2, 0),
                va=figure(load.va * ratio**2, 0),
            ),
            f"{figure(100 * (1 - ratio**2), 0)} %",
            mend=say(
                "Order it for the supply’s volts, or raise the volts with a buck-boost transformer."
            ),
            entries="rated_volts",
        )
        return
    findings.fails(
        "rated_volts",
        say("Rated {rated} V on {volts} V: too high for it.", rated=rated, volts=volts),
        f"{figure(volts - rated)} V",
        mend=say("Connect it to the volts on its nameplate."),
        entries="rated_volts",
    )


def _too_much(outcome: CircuitOutcome, edition: Edition, findings: Findings) -> None:
    over = outcome.too_much
    assert over is not None  # noqa: S101 - asked by the caller
    count = max(2, int(-(-over.design // over.most)))
    findings.fails(
        "too_much",
        say(
            "{design} A is more than the {most} A that such a circuit may have.",
            design=figure(over.design, 1),
            most=over.most,
        ),
        f"{figure(over.design - over.most, 1)} A",
        mend=say("Split it over {count} circuits.", count=count),
        rules=edition.rule(over.topic),
        entries=("load", "outlets"),
    )


def _multiwire(entries: CircuitEntries, edition: Edition, tape: Tape) -> None:
    tape.note(
        "multiwire",
        say("Shares its neutral as “{name}”", name=entries.multiwire),
        rules=edition.rule("multiwire"),
        note=say(
            "its lines open together, by one device or listed handle ties, and must differ:"
            " on one line the neutral would carry the sum"
        ),
        entries="multiwire",
        flow="neutral",
    )


def _high_leg(entries: CircuitEntries, context: Context, findings: Findings) -> None:
    high = context.supply.system.high_leg
    if entries.connection == "line-neutral" and high and entries.line == high:
        findings.fails(
            "high_leg",
            say("{line} is the high leg: about 208 V to neutral.", line=high),
            mend=say("Put it on L1 or L3."),
            rules=context.edition.rule("high_leg"),
            entries="line",
        )
