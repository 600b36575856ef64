"""A bench on the worksheet: points, lines, coils, the group, and what keeps it from being one."""

from __future__ import annotations

from cmath import phase
from math import degrees

from voltaje.core.codes import practice
from voltaje.core.electrical.windings import VectorGroup
from voltaje.core.kinds.winding_connections.calculate import (
    NOTHING,
    Mend,
    WindingConnectionsOutcome,
    mend_of,
    net_of,
    open_ends,
    over,
    overfluxed,
)
from voltaje.core.kinds.winding_connections.entries import WindingConnectionsEntries
from voltaje.core.report import (
    Findings,
    PulledConductor,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    figure,
    fits,
    say,
)
from voltaje.core.rules.context import Context

ANSWER = ("group", "line_1", "line_2", "line_3", "hour", "reading")
HOURS_TURN = 30  # no code figure: degrees of an hour
HALF, WHOLE = 180.0, 360.0  # no code figures: degrees
ALIKE = 0.99  # no code figure: within 1 %


def angle(phasor: complex) -> str:
    """Its angle as it is written: ``∠ −30°``."""
    found = round(degrees(phase(phasor)), 1)
    found = HALF if found == -HALF else found + 0.0
    return f"∠ {figure(found, 1).replace('-', '−')}°"


def report(
    outcome: WindingConnectionsOutcome, entries: WindingConnectionsEntries, context: Context
) -> Report:
    """The sheet of a bench."""
    findings = Findings()
    sections: list[Section] = []
    results: dict[str, Result] = {}
    if outcome.short is not None:
        _short(outcome, entries, findings)
        sections.append(_joints(outcome))
        results["group"] = Result(str(say("none")), "", say("Group"))
        headline = say("a joint is closed on volts")
    else:
        sections = [
            _group(outcome, findings, results),
            _lines(outcome, results),
            _meter(outcome, results),
            _coils(outcome),
            _points(outcome),
            _joints(outcome),
        ]
        sections = [section for section in sections if section.lines]
        _findings(outcome, entries, findings)
        headline = _headline(outcome)
    return Report(
        "winding_connections",
        context.edition.id,
        tuple(sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=str(headline),
        wires=tuple(
            PulledConductor(line, context.supply.color(line), "")
            for line in ("L1", "L2", "L3", "N")
        ),
        drawn=outcome,
    )


def _headline(outcome: WindingConnectionsOutcome) -> Text:
    group = outcome.group
    if group is None or not outcome.lines_brought:
        return say("no three lines taken")
    volts = figure(_between(outcome, outcome.taken[0], outcome.taken[1]), 1)
    if group.name:
        return say("{group} · {volts} V", group=group.name, volts=volts)
    return say("no standard group · {volts} V", volts=volts)


def _between(outcome: WindingConnectionsOutcome, one: str, other: str) -> float:
    return abs(outcome.at[one] - outcome.at[other])


def _short(
    outcome: WindingConnectionsOutcome, entries: WindingConnectionsEntries, findings: Findings
) -> None:
    short = outcome.short
    assert short is not None  # noqa: S101 - asked by the caller
    if short.volts is None:
        words = say("The windings close a loop upon themselves with volts in it.")
    else:
        words = say(
            "Joint {joint}: {volts} V stand across it while it is open. Closed, nothing but the"
            " windings’ own impedance would limit the current.",
            joint=short.joint,
            volts=figure(short.volts, 1),
        )
    mend = say("Open that joint and read across it; give size and impedance to see the current.")
    change = mend_of(outcome)
    if change is not None:
        mend = _mended(change)
    findings.fail("short", words, mend=mend, entries="joints")


def _mended(mend: Mend) -> Text:
    """The change in words."""
    name = mend.group.name
    if mend.how == "lines":
        one, other = mend.what
        return say(
            "{one} and {other} changed over make it {group}.", one=one, other=other, group=name
        )
    return say("Coil {coil} turned round would make it {group}.", coil=mend.what[0], group=name)


def _group(
    outcome: WindingConnectionsOutcome, findings: Findings, results: dict[str, Result]
) -> Section:
    worksheet, group = Worksheet("group"), outcome.group
    title = say("Group")
    results["group"] = Result("–", "", title)
    if group is None or not outcome.lines_brought:
        missing = [line for line in outcome.taken if line not in outcome.at]
        words = say("Three lines fed and three taken make a group.")
        if missing:
            words = say(
                "No joint brings {lines} out: a group needs three lines taken.",
                lines=", ".join(missing),
            )
        findings.check("lines", words, entries=("load_lines", "joints"))
        return worksheet.section("group", title)
    results["group"] = Result(group.name or str(say("none")), "", title)
    if outcome.turned:
        worksheet.note("side", say("The lines taken are the high-voltage side"))
    high, low = group.high[0], group.low[0]
    words = say("High side’s first line, from its middle")
    worksheet.step("high", words, abs(high), "V", angle(high), flow="high")
    words = say("Low side’s first line")
    worksheet.step("low", words, abs(low), "V", angle(low), flow="low")
    if group.hour is not None:
        behind = (degrees(phase(high)) - degrees(phase(low))) % WHOLE
        shown = f"{figure(behind, 0)}° ÷ {HOURS_TURN}°"
        words = say("Low stands behind high by")
        worksheet.step("hour", words, group.hour, "h", shown)
        results["hour"] = Result(group.hour, "", say("Hour"))
    letters = say("How both sides are joined: {letters}", letters=group.letters)
    worksheet.note("letters", letters, rules=practice().rule("connection_groups"))
    if group.name:
        findings.passes(
            "group",
            say("A standard group: {group}, its lines in the supply’s sequence.", group=group.name),
        )
        return worksheet.section("group", title)
    findings.check("group", _why(group), mend=_way_out(outcome, group), entries="joints")
    return worksheet.section("group", title)


def _way_out(outcome: WindingConnectionsOutcome, group: VectorGroup) -> Text | None:
    """The change that mends it, where there can be one."""
    if group.letters == "??":
        return None
    fed = group.low if outcome.turned else group.high
    if not _alike(fed):
        return say("The lines fed are not alike: no coil mends that.")
    change = mend_of(outcome)
    if change is not None:
        return _mended(change)
    if open_ := open_ends(outcome):
        return say("Ends are open: {ends}.", ends=", ".join(open_))
    return say("No single change makes it one.")


def _why(group: VectorGroup) -> Text:
    """What keeps it from being a standard group."""
    if not _alike(group.low) or not _alike(group.high):
        return say("No standard group: the three lines are not alike.")
    if not group.same_sequence:
        return say("No standard group: the low side’s lines follow the other way round.")
    if group.hour is None:
        return say("No standard group: its lines stand between two hours.")
    if group.letters == "??":
        return say("Even lines at hour {hour}: an open delta has no group.", hour=group.hour)
    if "?" in group.letters:
        return say("No standard group: no star, delta or zigzag is found on one side.")
    return say(
        "No usual group: {letters} with hour {hour}.", letters=group.letters, hour=group.hour
    )


def _alike(phasors: tuple[complex, ...]) -> bool:
    size = max(map(abs, phasors))
    return size > 0 and all(abs(p) > ALIKE * size for p in phasors)


def _lines(outcome: WindingConnectionsOutcome, results: dict[str, Result]) -> Section:
    """Line to line, on both sides."""
    worksheet = Worksheet("low")
    for lines, first in ((outcome.fed, False), (outcome.taken, True)):
        if len(lines) != 3 or any(line not in outcome.at for line in lines):
            continue
        for index in range(3):
            one, other = lines[index], lines[(index + 1) % 3]
            phasor = outcome.at[one] - outcome.at[other]
            words = say("Line {pair}", pair=f"{one}–{other}")
            worksheet.step(f"line_{one}{other}", words, abs(phasor), "V", angle(phasor))
            if first:
                results[f"line_{index + 1}"] = Result(abs(phasor), "V", words)
    return worksheet.section("lines", say("Line volts"))


def _meter(outcome: WindingConnectionsOutcome, results: dict[str, Result]) -> Section:
    worksheet, reading = Worksheet(), outcome.reading
    if reading is not None:
        words = say("Meter from {one} to {other}", one=reading.one, other=reading.other)
        if reading.volts is None:
            worksheet.note("meter", words, note=say("nothing ties the two together: no reading"))
        else:
            shown = angle(reading.volts) if abs(reading.volts) > NOTHING else ""
            worksheet.result("meter", words, abs(reading.volts), "V", shown, entries="meter")
            results["reading"] = Result(abs(reading.volts), "V", words)
    return worksheet.section("meter", say("The meter"))


def _coils(outcome: WindingConnectionsOutcome) -> Section:
    """Each coil's phasor: those of one unit are parallel."""
    worksheet = Worksheet()
    for coil in outcome.coils:
        phasor = outcome.across[coil.name]
        nets = [net_of(outcome, end) for end in coil.ends]
        ends = [net.label if net else str(say("open")) for net in nets]
        shown = f"{ends[0]} → {ends[1]}"
        if abs(phasor) > NOTHING * coil.volts:
            shown += f", {angle(phasor)}"
        note = None
        amperes, rated = abs(outcome.currents[coil.name]), outcome.rated.get(coil.name)
        if rated and amperes > 2 * MAGNETIZING_SHOWN * rated:
            note = say("{amperes} A of its {rated} A", amperes=figure(amperes), rated=figure(rated))
        words = say("Coil {name}, {volts} V", name=coil.name, volts=coil.volts)
        worksheet.step(
            f"coil_{coil.name}", words, abs(phasor), "V", shown, note=note, flow=coil.name
        )
    return worksheet.section("coils", say("Coils, from the dot to the other end"))


MAGNETIZING_SHOWN = 0.05  # no code figure: what magnetizes a unit is not told


def _points(outcome: WindingConnectionsOutcome) -> Section:
    worksheet = Worksheet()
    for name in sorted(
        {token for token in outcome.at if token[-1] not in "+-"},
        key=lambda name: (name.islower(), name),
    ):
        phasor = outcome.at[name]
        note = say("counted from the middle of what floats with it")
        worksheet.step(
            f"point_{name}",
            say("Point {name}", name=name),
            abs(phasor),
            "V",
            angle(phasor) if abs(phasor) > NOTHING else "",
            note=note if name in outcome.floating else None,
        )
    return worksheet.section("points", say("Points, from the neutral"))


def _joints(outcome: WindingConnectionsOutcome) -> Section:
    worksheet = Worksheet()
    for index, net in enumerate(outcome.nets):
        words = say("{ends}", ends=net.text)
        first = outcome.at.get(net.members[0])
        shown = ""
        if first is not None:
            shown = f"{figure(abs(first), 1)} V"
            shown += f" {angle(first)}" if abs(first) > NOTHING else ""
        worksheet.note(f"joint_{index}", words, shown=shown, entries="joints")
    for end in open_ends(outcome):
        worksheet.note(f"open_{end}", say("{end}: open", end=end))
    return worksheet.section("joints", say("Joints, as they stand"))


def _findings(
    outcome: WindingConnectionsOutcome, entries: WindingConnectionsEntries, findings: Findings
) -> None:
    for coil in overfluxed(outcome):
        percent = over(outcome, coil)
        findings.fail(
            f"flux_{coil.name}",
            say(
                "Coil {name} stands at {percent} % of its {volts} V: its core saturates.",
                name=coil.name,
                percent=figure(percent, 0),
                volts=coil.volts,
            ),
            rules=practice().rule("overflux"),
            entries=("units", "supply"),
        )
    idle = [
        coil.unit
        for coil in outcome.coils
        if abs(outcome.across[coil.name]) <= NOTHING * coil.volts and coil.number == 1
    ]
    if idle:
        findings.check(
            "idle",
            say("No volts stand on {units}: nothing feeds it.", units=", ".join(idle)),
            entries="joints",
        )
    _circulating(outcome, findings)


def _circulating(outcome: WindingConnectionsOutcome, findings: Findings) -> None:
    """What flows around in the coils with nothing connected."""
    if not outcome.rated:
        return
    shares = {name: abs(outcome.currents[name]) / rated for name, rated in outcome.rated.items()}
    worst = max(shares, key=lambda name: shares[name])
    if fits(shares[worst], MAGNETIZING_SHOWN):
        return
    words = say(
        "{amperes} A flow around in coil {name} with nothing connected: {times} times its rated.",
        amperes=figure(abs(outcome.currents[worst])),
        name=worst,
        times=figure(shares[worst], 1),
    )
    change = mend_of(outcome)
    mend = _mended(change) if change else say("Open the loop and read across it.")
    findings.fail("circulating", words, mend=mend, entries="joints")
