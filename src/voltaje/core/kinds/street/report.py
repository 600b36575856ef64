"""A street on the worksheet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from voltaje.core.codes import practice
from voltaje.core.kinds.street.along import At
from voltaje.core.kinds.street.calculate import StreetOutcome
from voltaje.core.kinds.street.entries import StreetEntries
from voltaje.core.quantities import feet
from voltaje.core.report import (
    Findings,
    InstrumentPoint,
    PointKey,
    Report,
    Result,
    Text,
    Worksheet,
    figure,
    fits,
    say,
)
from voltaje.core.rules.common.fuses import when
from voltaje.core.rules.context import Context

ANSWER = ("lowest_volts", "lowest_at", "conductor", "neutral_amperes")
SHOWN = 4  # no code figure: names that are told before they are counted
HIGH_SHARE = 1.2  # no code figure: volts above so much of nominal burn equipment out soon


def report(outcome: StreetOutcome, entries: StreetEntries, context: Context) -> Report:
    """The street's worksheet: who stands where, amperes of each line, the volts at every consumer,
    fuses, what is open."""
    findings = Findings()
    _tolerance(outcome, findings)
    _opened(outcome, entries, findings)
    _fuses(outcome, findings)
    _ampacity(outcome, findings)
    _behind_fuse(outcome, entries, findings)
    _at_the_end(outcome, findings)
    sections = (
        _moments(outcome, context).section("spread", say("Who stands on which line")),
        _head(outcome).section("head", say("At the head of the street")),
        _volts(outcome).section("volts", say("Volts at every consumer, solved")),
    )
    return Report(
        "street",
        context.edition.id,
        sections,
        _results(outcome),
        tuple(findings),
        answer=ANSWER,
        headline=str(
            say(
                "{lowest} V at {name} · {size}",
                lowest=figure(outcome.lowest.lowest, 1),
                name=outcome.lowest.house.name,
                size=outcome.strand.name(outcome.size),
            )
        ),
        points=_points(outcome),
        drawn=StreetDrawn(outcome, {w: context.supply.color(w) for w in (*outcome.head,)}),
    )


@dataclass(frozen=True, slots=True)
class StreetDrawn:
    """What a street's drawing needs: its outcome, and the color of each wire."""

    outcome: StreetOutcome
    colors: Mapping[str, str]


def _results(outcome: StreetOutcome) -> dict[str, Result]:
    lowest, highest = outcome.lowest, outcome.highest
    results = {
        "lowest_volts": Result(lowest.lowest, "V", say("Lowest volts")),
        "lowest_at": Result(lowest.house.name, "", say("There")),
        "highest_volts": Result(highest.highest, "V", say("Highest volts")),
        "conductor": Result(outcome.strand.name(outcome.size), "", say("Conductor")),
        "neutral_amperes": Result(outcome.head["N"], "A", say("Neutral")),
        "amperes": Result(outcome.amperes or 0.0, "A", say("Most loaded line")),
        "losses": Result(outcome.losses, "W", say("Lost in the line")),
        "load": Result(sum(h.va for h in outcome.street.houses), "VA", say("Load")),
    }
    for line in outcome.street.system.lines:
        results[f"current_{line.lower()}"] = Result(outcome.head[line], "A", say(line))
    return results


def _moments(outcome: StreetOutcome, context: Context) -> Worksheet:
    worksheet = Worksheet()
    unit = "ft" if context.units == "us" else "m"
    for house in outcome.street.houses:
        far = feet(house.at) if unit == "ft" else house.at
        note = None if house.told or house.three else say("put there by VA × distance")
        worksheet.step(
            "consumer",
            say("{name}", name=house.name),
            house.va,
            "VA",
            say(
                "{line}, {far} {unit} from the head",
                line=_line(house.line),
                far=figure(far, 0),
                unit=unit,
            ),
            note=note,
            entries=(f"{house.path}.nameplate", f"{house.path}.line"),
            flow=house.line,
        )
    total = sum(house.va for house in outcome.street.houses)
    worksheet.sum("load", say("All consumers"), total, "VA")
    return worksheet


def _head(outcome: StreetOutcome) -> Worksheet:
    worksheet, system = Worksheet(), outcome.street.system
    for line in system.lines:
        fuse = outcome.fuses.get(line)
        worksheet.step(
            f"head_{line.lower()}",
            say("{line}", line=line),
            outcome.head[line],
            "A",
            note=when(fuse) if fuse is not None else None,
            rules=fuse.rules if fuse is not None else None,
            entries="fuse",
            flow=line,
        )
    worksheet.step("head_n", say("Neutral"), outcome.head["N"], "A", flow="N")
    worksheet.note("losses", say("Lost in all conductors"), outcome.losses, "W")
    return worksheet


def _volts(outcome: StreetOutcome) -> Worksheet:
    worksheet, nominal = Worksheet(), outcome.volts
    for at in outcome.there:
        for line, volts in at.volts.items():
            words = say("{name}", name=at.house.name)
            if len(at.volts) > 1:
                words = say("{name}, {line}", name=at.house.name, line=line)
            soft = outcome.street.opened and at.house.at > _cut_at(outcome)
            note = say("its load taken as an impedance") if soft else None
            note = say("dark") if line == at.cut else note
            share = figure(100 * volts / nominal, 1)
            shown = say("{percent} % of {nominal} V", percent=share, nominal=figure(nominal, 0))
            worksheet.step("volts", words, volts, "V", shown, note=note, flow=line)
    return worksheet


def _cut_at(outcome: StreetOutcome) -> float:
    """How far from the head the opening is, m."""
    street = outcome.street
    return street.houses[street.behind - 1].at if street.behind else 0.0


def _line(line: str) -> str:
    return str(say("all lines")) if line == "all" else line


def _tolerance(outcome: StreetOutcome, findings: Findings) -> None:
    """The supply's band at every consumer."""
    nominal, low, high = outcome.volts, outcome.low, outcome.high
    floor, top = nominal * (1 - low.value / 100), nominal * (1 + high.value / 100)
    dim = [at for at in outcome.there if not at.dark and not fits(floor, at.lowest)]
    bright = [at for at in outcome.there if not at.dark and not fits(at.highest, top)]
    if dim:
        worst = min(dim, key=lambda at: at.lowest)
        findings.fail(
            "low_volts",
            say(
                "{names}: below {limit} V, at the lowest {volts} V at {name}.",
                **_beyond(dim, floor, worst.lowest, worst),
            ),
            f"{figure(floor - worst.lowest, 1)} V",
            mend=say("Another line for some of them, a larger conductor, or a shorter street."),
            rules=low.rule,
        )
    if bright:
        worst = max(bright, key=lambda at: at.highest)
        findings.fail(
            "high_volts",
            say(
                "{names}: above {limit} V, at the highest {volts} V at {name}.",
                **_beyond(bright, top, worst.highest, worst),
            ),
            f"{figure(worst.highest - top, 1)} V",
            mend=say("Spread the load more evenly; see that the neutral is sound."),
            rules=high.rule,
        )
    if not dim and not bright:
        findings.passes(
            "tolerance",
            say(
                "Every consumer stands within {floor} to {top} V.",
                floor=figure(floor, 1),
                top=figure(top, 1),
            ),
            rules=low.rule,
        )


def _beyond(ats: Sequence[At], limit: float, volts: float, worst: At) -> dict[str, str]:
    """Who stands beyond a limit, and the worst of them, to be put into a sentence."""
    return {
        "names": _names([at.house.name for at in ats]),
        "limit": figure(limit, 1),
        "volts": figure(volts, 1),
        "name": worst.house.name,
    }


def _names(names: list[str]) -> str:
    if len(names) <= SHOWN:
        return ", ".join(names)
    first, more = ", ".join(names[:SHOWN]), len(names) - SHOWN
    return str(say("{names} and {more} more", names=first, more=more))


def _opened(outcome: StreetOutcome, entries: StreetEntries, findings: Findings) -> None:
    """Who goes dark behind an opening, or what an open neutral does."""
    if entries.opened == "none":
        return
    dark = [at.house.name for at in outcome.there if at.dark]
    if entries.opened == "N":
        worst = outcome.highest
        nominal = outcome.volts
        words = say(
            "The neutral is open: the lines pull its far end about, {volts} V at {name}.",
            volts=figure(worst.highest, 0),
            name=worst.house.name,
        )
        report = findings.fail if worst.highest > HIGH_SHARE * nominal else findings.check
        report("open_neutral", words, mend=say("Switch the street off and mend it at once."))
        return
    three = [at.house.name for at in outcome.there if at.on_two]
    words = say(
        "{line} is open: dark are {names}.",
        line=entries.opened,
        names=", ".join(dark) or str(say("none")),
    )
    findings.check("opened", words, entries="opened")
    if three:
        words = say(
            "{names}: three-phase with one line open. Motors run hot on two lines: switch them"
            " off.",
            names=_names(three),
        )
        findings.fail("two_lines", words)


def _fuses(outcome: StreetOutcome, findings: Findings) -> None:
    """Load beyond a line's fuse: about when it opens, and who goes dark."""
    for line, fuse in outcome.fuses.items():
        if fuse.carries:
            continue
        names = [at.house.name for at in outcome.there if at.house.line in (line, "all")]
        findings.fail(
            f"fuse_{line.lower()}",
            say(
                "{line} carries {amperes} A on a {rating} A fuse: it {when}. Dark are then"
                " {names}.",
                line=line,
                amperes=figure(fuse.amperes, 0),
                rating=figure(fuse.rating, 0),
                when=when(fuse),
                names=_names(names),
            ),
            f"{figure(fuse.amperes - fuse.rating, 0)} A",
            mend=say("Move a consumer to a lighter line."),
            rules=practice().limit("fuse_opens").rule,
            entries="fuse",
        )


def _ampacity(outcome: StreetOutcome, findings: Findings) -> None:
    most, heaviest = outcome.carries.amperes, outcome.amperes or 0.0
    if most is None:
        if outcome.carries.unrated is not None:
            findings.check("ampacity", outcome.carries.unrated)
        return
    words = say(
        "{size} carries {most} A; the most loaded line has {amperes} A.",
        size=outcome.strand.name(outcome.size),
        most=figure(most, 0),
        amperes=figure(heaviest, 1),
    )
    mend: Text = say("A larger conductor, or sets in parallel.")
    rules = outcome.carries.rules
    holds = fits(heaviest, most)
    findings.judged(holds, "ampacity", words, mend=mend, rules=rules, entries="size")


def _behind_fuse(outcome: StreetOutcome, entries: StreetEntries, findings: Findings) -> None:
    """The conductor carries what its fuse lets through for good (433.1.1; 240.4)."""
    most = outcome.carries.amperes
    if not entries.fuse or most is None:
        return
    findings.judged(
        fits(entries.fuse, most),
        "fuse_conductor",
        say(
            "{size} carries {most} A behind a fuse of {fuse} A.",
            size=outcome.strand.name(outcome.size),
            most=figure(most, 0),
            fuse=figure(entries.fuse, 0),
        ),
        f"{figure(abs(most - entries.fuse), 0)} A",
        mend=say("A larger conductor, or a smaller fuse."),
        rules=outcome.carries.rules,
        entries=("fuse", "size"),
    )


def _at_the_end(outcome: StreetOutcome, findings: Findings) -> None:
    """Whether the fuse at the head opens for a fault at the last consumer, and when."""
    found = outcome.end_fault
    if found is None:
        return
    given = {
        "name": outcome.there[-1].house.name,
        "loop": figure(abs(found.loop), 3),
        "amperes": figure(found.amperes, 0),
        "fuse": figure(found.opens.rating, 0),
        "when": when(found.opens),
    }
    words = say(
        "A fault from line to neutral at {name}: {loop} Ω, {amperes} A; the {fuse} A fuse {when}.",
        **given,
    )
    rules = practice().limit("fuse_opens").rule
    mend = say("A larger conductor, a smaller fuse, or a fuse farther along.")
    if found.opens.latest is None:
        findings.fail("end_fault", words, mend=mend, rules=rules, entries=("fuse", "size"))
    elif found.within is not None:
        rule = found.within.rule
        findings.judged(found.holds, "end_fault", words, mend=mend, rules=rule, entries="fuse")
    else:
        findings.remark("end_fault", words, rules=rules, entries="fuse")
    if not found.source:
        words = say(
            "The source’s own impedance is not told: the fault current is at most that, and the"
            " fuse opens later."
        )
        findings.check("end_fault_source", words)


def _points(outcome: StreetOutcome) -> tuple[InstrumentPoint, ...]:
    """Where a voltmeter is put: each consumer's lines to the neutral."""
    found = []
    for wire, amperes in outcome.head.items():
        label = say("{wire} at the head", wire=wire if wire != "N" else str(say("Neutral")))
        key, current = PointKey(f"{wire}:1"), outcome.solution.current(f"{wire}:1")
        found.append(InstrumentPoint(key, label, amperes, "A", current, wire, 1))
    for number, at in enumerate(outcome.there, 1):
        for line, volts in at.volts.items():
            key = PointKey(f"house:{number}:{line}")
            label = say("{name}, {line} to neutral", name=at.house.name, line=line)
            phasor = outcome.solution.phasor(f"{line}.{number}", f"N.{number}")
            place = (line, number, at.house.at, outcome.volts)
            found.append(InstrumentPoint(key, label, volts, "V", phasor, *place, "joint"))
    return tuple(found)
