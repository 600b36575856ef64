"""Circuits that share a neutral on the worksheet: junction by junction and loop by loop as by hand,
the circuit solved, and what happens when a conductor opens."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import combinations

from voltaje.core.codes import Edition
from voltaje.core.kinds.multiwire_circuit.calculate import MultiwireOutcome, Over
from voltaje.core.kinds.multiwire_circuit.circuit import (
    MultiwireRun,
    nominal_currents,
    replace_open,
    strand_of,
)
from voltaje.core.kinds.multiwire_circuit.entries import CIRCUITS, MultiwireEntries, SharedNeutral
from voltaje.core.report import (
    Findings,
    InstrumentPoint,
    PointKey,
    PulledConductor,
    Report,
    Result,
    Section,
    Worksheet,
    figure,
    fits,
    say,
)
from voltaje.core.rules.context import Context
from voltaje.core.sizing import Verdict

# common practice: shares of the rated volts at which equipment suffers, burns, is weak or is dead
HIGH, BURNS, LOW, DEAD = 1.10, 1.25, 0.90, 0.05
RAISED = 0.05  # no code figure: a rise, in percent, that is worth a word
ANSWER = ("neutral_amperes", "lowest_volts", "highest_volts", "losses")
Hand = Mapping[tuple[str, int], complex]


def report(outcome: MultiwireOutcome, entries: SharedNeutral, context: Context) -> Report:
    """The worksheet: junction by junction and loop by loop as by hand, then the solved circuit."""
    layout, edition = outcome.layout, context.edition
    whole = replace_open(layout) if layout.opened else layout
    hand = nominal_currents(whole)
    words = say("Junction by junction, at nominal volts")
    sections = [_junctions(whole, hand).section("junctions", words)]
    if layout.opened and len(layout.legs) == 2 and set(layout.legs.values()) == {"L1", "L2"}:
        sections.append(_series(layout))
    if not layout.opened:
        sections.append(_loops(outcome, hand).section("loops", say("Loop by loop")))
    sections.append(_volts(outcome).section("volts", say("The circuit solved")))
    if not isinstance(entries, MultiwireEntries):
        sections.append(_conductors(outcome, entries, context))
    neutral = figure(outcome.first.get("N", 0.0), 1)
    given = {"amperes": neutral, "percent": figure(outcome.percent, 1)}
    head = say("neutral {amperes} A · {percent} %", **given)
    if not layout.is_long:
        head = say("neutral {amperes} A", **given)
    if layout.opened:
        head = say("opened · neutral {amperes} A · {percent} %", **given)
    return Report(
        "multiwire_circuit",
        edition.id,
        tuple(sections),
        _results(outcome, context),
        tuple(_findings(outcome, entries, context)),
        answer=ANSWER,
        headline=str(head),
        points=_points(outcome),
        wires=tuple(
            PulledConductor(
                wire, context.supply.color(layout.legs.get(wire, "N")), layout.legs.get(wire, "")
            )
            for wire in layout.wires
        ),
    )


def _results(outcome: MultiwireOutcome, context: Context) -> dict[str, Result]:
    loads, volts, answer = outcome.layout.loads, outcome.volts, outcome.solution
    low, high = min(loads, key=outcome.ratio), max(loads, key=outcome.ratio)
    first = outcome.first
    legs = ",".join(context.supply.system.lines)
    va = sum(abs(load.va) for load in loads)
    results = {
        "lowest_volts": Result(volts[low.path], "V", say("Lowest: {name}", name=low.name)),
        "highest_volts": Result(volts[high.path], "V", say("Highest: {name}", name=high.name)),
        "neutral_amperes": Result(first.get("N", 0.0), "A", say("Neutral at the board")),
    }
    if outcome.drop is not None:
        results["drop_percent"] = Result(outcome.drop, "%", say("Largest drop"))
    for wire, value in first.items():
        if wire != "N":
            words = say("Circuit {name}", name=wire)
            results[f"amperes_{wire.lower()}"] = Result(value, "A", words)
    return {
        **results,
        "supply_lines": Result(legs, "", say("Legs")),
        "losses": Result(answer.losses, "W", say("Lost in the conductors")),
        "load": Result(va, "VA", say("Load")),
        "mismatch": Result(answer.mismatch, "", say("Kirchhoff’s sums, relative")),
    }


def _findings(outcome: MultiwireOutcome, entries: SharedNeutral, context: Context) -> Findings:
    findings, edition, layout = Findings(), context.edition, outcome.layout
    _same_leg(outcome, entries, edition, findings)
    if layout.opened:
        _opened(outcome, edition, findings)
    else:
        _drop(outcome, context, findings)
    if outcome.unprotected is not None:
        _unprotected(outcome, outcome.unprotected, entries, context, findings)
    for over in outcome.over:
        if over.size:
            _ampacity(over, entries, context, findings)
        else:
            _device(over, edition, findings)
    if entries.trip == "separate" and len(layout.legs) > 1:
        findings.fail(
            "disconnect",
            say(
                "The circuits of one neutral are switched each by itself: someone who opens"
                " one still finds the neutral live."
            ),
            mend=say("One handle or ties, so that all open together."),
            rules=edition.cites("multiwire"),
            entries="trip",
        )
    return findings


def _junctions(layout: MultiwireRun, hand: Hand) -> Worksheet:
    worksheet = Worksheet()
    for joint in range(len(layout.joints) - 1, 0, -1):
        here = [load for load in layout.loads if load.joint == joint]
        parts = [f"{wire}: {figure(abs(hand[wire, joint]))} A" for wire in layout.legs]
        names = ", ".join(load.name for load in here)
        worksheet.step(
            "junction",
            say("Neutral to joint {joint}: {names}", joint=joint, names=names),
            abs(hand["N", joint]),
            "A",
            _neutral_sum(layout, joint),
            note=say("{parts}", parts=", ".join(parts)),
            entries=[f"{load.path}.nameplate" for load in here],
            flow=f"N:{joint}",
        )
    return worksheet


def _neutral_sum(layout: MultiwireRun, joint: int) -> str:
    """The sum as it is written by hand: a difference, a plain sum, or the three-phase root."""
    behind = [load for load in layout.loads if load.joint >= joint and load.ends[1] == "N"]
    by_leg: dict[str, float] = {}
    for load in behind:
        leg = layout.legs[load.ends[0]]
        by_leg[leg] = by_leg.get(leg, 0.0) + abs(load.va) / load.rated
    plain = all((load.row.power_factor or 1.0) == 1.0 for load in layout.loads)
    values = [figure(value) for value in by_leg.values()]
    if len(values) < 2:
        return " + ".join(figure(abs(load.va) / load.rated) for load in behind)
    if not plain:
        return str(say("phasor sum of {values}", values=", ".join(values)))
    emf = {leg: layout.emf[wire] for wire, leg in layout.legs.items() if leg in by_leg}
    pairs = list(combinations(emf.values(), 2))
    opposite = len(emf) == 2 and abs(sum(emf.values())) < 1e-6
    if not opposite and any(abs(abs(a + b) - abs(a)) > 1e-6 for a, b in pairs):
        return str(
            say("phasor sum of {values}", values=", ".join(values))
        )  # not a third of a turn apart: a high leg
    if opposite:
        one, other = sorted(by_leg.values(), reverse=True)
        return f"{figure(one)} − {figure(other)}"
    squares = " + ".join(f"{v}²" for v in values)
    products = " − ".join(f"{a} × {b}" for i, a in enumerate(values) for b in values[i + 1 :])
    return f"√({squares} − {products})"


def _loops(outcome: MultiwireOutcome, hand: Hand) -> Worksheet:
    """The second step by hand: round each load's loop, adding and subtracting the drops."""
    layout, worksheet = outcome.layout, Worksheet()
    for load in layout.loads:
        across = layout.across(load)
        if not abs(across):
            continue
        along = across / abs(across)
        parts, total = [figure(abs(across))], abs(across)
        for wire, way in zip(load.ends, (1, -1), strict=True):
            lost = sum(
                ((way * layout.ohms(wire, j) * hand[wire, j]) / along).real
                for j in range(1, load.joint + 1)
            )
            parts.append(f"{'−' if lost >= 0 else '+'} {figure(abs(lost))} ({wire})")
            total -= lost
        worksheet.step(
            "loop",
            say("{name}, {circuit}", name=load.name, circuit=say(CIRCUITS[load.row.circuit])),
            total,
            "V",
            " ".join(parts),
            note=say("solved: {volts} V", volts=figure(outcome.volts[load.path])),
            entries=f"{load.path}.circuit",
            flow=load.row.id,
        )
    return worksheet


def _series(layout: MultiwireRun) -> Section:
    """What an open neutral does with two legs, as by hand: two groups in series across 240 V."""
    worksheet = Worksheet()
    openings = [int(name.split(":")[1]) for name in layout.opened if name.startswith("N:")]
    cut = min(openings, default=0)
    side = dict.fromkeys(("L1", "L2"), 0.0)
    for load in layout.loads:
        if cut and load.joint >= cut and load.ends[1] == "N":
            side[layout.legs[load.ends[0]]] += abs(load.va) / load.rated**2
    if cut and all(side.values()):
        total = abs(layout.emf["A"] - layout.emf["B"])
        ohms = {leg: 1 / s for leg, s in side.items()}
        both = sum(ohms.values())
        for leg, value in ohms.items():
            words = say("All on {leg} behind the opening: {ohms} Ω", leg=leg, ohms=figure(value))
            shown = f"{figure(total)} × {figure(value)} ÷ {figure(both)}"
            worksheet.step("series", words, total * value / both, "V", shown, flow=f"N:{cut}")
        worksheet.note("series_note", say("In series across both legs; drops left out"))
    else:
        words = say("Behind the opening only what is fed from the board’s side keeps its volts")
        worksheet.note("series_note", words)
    return worksheet.section("series", say("With the conductor open"))


def _volts(outcome: MultiwireOutcome) -> Worksheet:
    layout, answer, worksheet = outcome.layout, outcome.solution, Worksheet()
    for load in layout.loads:
        volts = outcome.volts[load.path]
        percent, amperes = figure(100 * volts / load.rated, 1), figure(answer.amperes(load.path), 2)
        worksheet.step(
            "load_volts",
            say("{name}", name=load.name),
            volts,
            "V",
            say(
                "{percent} % of {volts} V, {amperes} A",
                percent=percent,
                volts=load.rated,
                amperes=amperes,
            ),
            entries=f"{load.path}.nameplate",
            flow=load.row.id,
        )
    for wire, amperes_ in outcome.first.items():
        if wire == "N":
            words = say("Neutral at the board")
            worksheet.sum("first_amperes", words, amperes_, "A", flow=f"{wire}:1")
        else:
            words = say("Circuit {name} at the board", name=wire)
            worksheet.step("first_amperes", words, amperes_, "A", flow=f"{wire}:1")
    worksheet.note("lost", say("Lost in the conductors"), answer.losses, "W")
    return worksheet


def _conductors(outcome: MultiwireOutcome, entries: SharedNeutral, context: Context) -> Section:
    """What the conductors carry as they lie, by the family's tables."""
    worksheet, strand = Worksheet(), strand_of(entries, context)
    most = max(outcome.first.values())
    carries = strand.carries(outcome.size, most, 1)
    words = say("{size} carries", size=strand.name(outcome.size))
    worksheet.step(
        "carries",
        words,
        carries.amperes,
        "A",
        rules=carries.rules,
        note=carries.unrated or strand.installed,
        entries="size",
    )
    return worksheet.section("conductors", say("Conductors"))


def _same_leg(
    outcome: MultiwireOutcome, entries: SharedNeutral, edition: Edition, findings: Findings
) -> None:
    layout = outcome.layout
    legs = list(layout.legs.values())
    if len(set(legs)) == len(legs):
        return
    twice = next(leg for leg in legs if legs.count(leg) > 1)
    circuits = [name for name, leg in layout.legs.items() if leg == twice]
    amperes = figure(outcome.solution.amperes("N:1"), 1)
    findings.fail(
        "same_leg",
        say(
            "Circuits {names} stand on {leg} together: the neutral carries their sum,"
            " {amperes} A, and no device sees it. Up to {most} A can flow in it before any"
            " device opens: a fire hazard.",
            names=", ".join(circuits),
            leg=twice,
            amperes=amperes,
            most=figure(entries.device * len(circuits)),
        ),
        f"{amperes} A",
        mend=say("Put each circuit on a leg of its own."),
        rules=edition.cites("multiwire"),
        entries="phase_b",
    )


def _opened(outcome: MultiwireOutcome, edition: Edition, findings: Findings) -> None:
    layout = outcome.layout
    where = ", ".join(sorted(layout.opened))
    words = say(
        "Open at {where}: what hangs behind it is dead or fed backwards through other loads.",
        where=where,
    )
    if any(name.startswith("N:") for name in layout.opened):
        words = say(
            "Open at {where}: the loads behind it stand in series across the lines.", where=where
        )
    mend = say("De-energize before the joint is touched; close it, then measure again.")
    rule = edition.cites("multiwire")
    findings.fail("opened", words, mend=mend, rules=rule, entries="opened_at")
    for load in layout.loads:
        volts, ratio = outcome.volts[load.path], outcome.ratio(load)
        given = {"name": load.name, "volts": figure(volts, 1), "rated": figure(load.rated)}
        path = f"{load.path}.name"
        if ratio > HIGH + 1e-9:
            words = say("{name} gets {volts} V on its {rated} V: it can burn.", **given)
            if ratio > BURNS:
                words = say("{name} gets {volts} V on its {rated} V: it burns.", **given)
            findings.fail("over", words, f"{figure(volts - load.rated, 1)} V", entries=path)
        elif ratio < LOW:
            words = say(
                "{name} gets {volts} V on its {rated} V: weak; a motor may stall and overheat.",
                **given,
            )
            if ratio < DEAD:
                words = say("{name} gets {volts} V on its {rated} V: it is dead.", **given)
            findings.check("under", words, f"{figure(load.rated - volts, 1)} V", entries=path)


def _drop(outcome: MultiwireOutcome, context: Context, findings: Findings) -> None:
    layout, volts = outcome.layout, outcome.volts
    if not layout.is_long:
        words = say("No length is told: the drop is not judged, everything else is.")
        findings.remark("drop", words, entries="loads")
        return
    limit = context.limits.branch(context.edition)
    worst = max(layout.loads, key=lambda load: 1 - outcome.ratio(load))
    percent = 100 * (1 - outcome.ratio(worst))
    holds = fits(percent, limit.value)
    mend = say("Larger conductors, or the loads spread over both legs.")
    findings.add(
        "pass" if holds else "check",
        "drop",
        say(
            "{name} gets {volts} V, {percent} % below its {rated} V.",
            name=worst.name,
            volts=figure(volts[worst.path], 1),
            percent=figure(percent, 1),
            rated=figure(worst.rated),
        ),
        f"{figure(abs(limit.value - percent), 1)} %",
        mend=None if holds else mend,
        rules=limit.rule,
        entries="size",
    )
    top = max(layout.loads, key=outcome.ratio)
    across = abs(layout.across(top))
    above = 100 * (volts[top.path] / across - 1) if across else 0
    if above > RAISED:
        shown = figure(above, 1)
        words = say(
            "{name} stands {percent} % above the board’s volts: the neutral’s drop lifts the"
            " lighter side.",
            name=top.name,
            percent=shown,
        )
        findings.passes("raised", words, f"{shown} %")


def _unprotected(
    outcome: MultiwireOutcome,
    why: Verdict,
    entries: SharedNeutral,
    context: Context,
    findings: Findings,
) -> None:
    findings.fail(
        "protection",
        say(
            "{size} may not stand behind a {device} A device. {why}.",
            size=strand_of(entries, context).name(outcome.size),
            device=figure(entries.device),
            why=why.why,
        ),
        mend=say("A smaller device, or larger conductors."),
        rules=why.rule,
        entries=("device", "size"),
    )


def _device(over: Over, edition: Edition, findings: Findings) -> None:
    findings.fail(
        "device",
        say(
            "Circuit {name} draws {amperes} A on its {device} A device.",
            name=over.wire,
            amperes=figure(over.most, 1),
            device=figure(over.carries),
        ),
        f"{figure(over.most - over.carries, 1)} A",
        mend=say("Less load on it, or another circuit."),
        rules=edition.cites("standard_devices"),
        entries="device",
    )


def _ampacity(over: Over, entries: SharedNeutral, context: Context, findings: Findings) -> None:
    given = {
        "amperes": figure(over.most, 1),
        "size": strand_of(entries, context).name(over.size),
        "carries": figure(over.carries, 1),
    }
    amount = f"{figure(over.most - over.carries, 1)} A"
    rule = over.rules or context.edition.cites("ampacity")
    if over.wire == "N":
        words = say(
            "The neutral carries {amperes} A on {size}, good for {carries} A: no device sees it.",
            **given,
        )
        mend = say("A larger neutral, a neutral for each circuit, or legs of their own.")
        findings.fail("ampacity", words, amount, mend=mend, rules=rule, entries="neutral_size")
        return
    words = say(
        "Circuit {name} carries {amperes} A on {size}, good for {carries} A.",
        name=over.wire,
        **given,
    )
    mend = say("Larger conductors.")
    findings.fail("ampacity", words, amount, mend=mend, rules=rule, entries="size")


def _points(outcome: MultiwireOutcome) -> tuple[InstrumentPoint, ...]:
    layout, answer, found = outcome.layout, outcome.solution, []
    for joint in range(1, len(layout.joints)):
        for wire in layout.wires:
            name = f"{wire}:{joint}"
            words = say("Circuit {wire}, piece {joint}", wire=wire, joint=joint)
            if wire == "N":
                words = say("Neutral, piece {joint}", joint=joint)
            waves = tuple((order, wave.amperes[name]) for order, wave in answer.waves.items())
            found.append(
                InstrumentPoint(
                    PointKey(name),
                    words,
                    answer.amperes(name),
                    "A",
                    answer.current(name),
                    wire,
                    joint,
                    layout.joints[joint],
                    open=name in layout.opened,
                    waves=waves,
                )
            )
    for load in layout.loads:
        one, other = (f"{end}.{load.joint}" for end in load.ends)
        at = (load.row.circuit, load.joint, layout.joints[load.joint])
        words, row = say("{name}", name=load.name), load.row.id
        phasor, volts = answer.phasor(one, other), outcome.volts[load.path]
        found.append(
            InstrumentPoint(PointKey(row), words, volts, "V", phasor, *at, load.rated, "volts")
        )
        amperes, current = answer.amperes(load.path), answer.current(load.path)
        usual = abs(load.va) / load.rated
        found.append(
            InstrumentPoint(PointKey(f"{row}:A"), words, amperes, "A", current, *at, usual, "load")
        )
    return tuple(found)
