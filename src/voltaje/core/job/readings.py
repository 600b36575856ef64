"""What was measured on site, beside what was calculated: how far apart, and what may be behind it.

A reading agrees when it lies within the instrument's own accuracy and, for amperes, within the
swing that loads have; volts beyond that may still be the supply's, within its tolerance. The causes
are ranked by how much of the pattern they explain (common practice of fault finding).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations
from typing import Literal

from voltaje.core.electrical.meter import meter_for
from voltaje.core.report import InstrumentPoint, Test, Text, figure, fits, say

Verdict = Literal["agrees", "check", "differs", "unknown"]
LOADS_SWING = 10.0  # percent; loads are seldom at their nameplate
APART = 0.03
# a cable tested cold, its joints and the tester's own leads: a fifth and some hundredths
TEST_SHARE, TEST_OHMS = 0.2, 0.05
ALIKE = 0.015
# what line and neutral of one circuit are calculated apart at most, a share of it
LIKE = 0.01
MATCH = 0.15


@dataclass(frozen=True, slots=True)
class Compared:
    """A reading beside its calculated value; ``allowed`` is how far they may differ. Of a test the
    ``limit`` that it is judged by (0: none), at ``most`` or at least."""

    point: str
    label: str
    unit: str
    value: float
    expected: float | None
    allowed: float
    verdict: Verdict
    line: str = ""
    to_neutral: bool = False
    limit: float = 0.0
    most: bool = True

    @property
    def difference(self) -> float:
        """Measured less calculated; 0 where nothing was calculated."""
        return 0.0 if self.expected is None else self.value - self.expected

    @property
    def ratio(self) -> float:
        """Measured over calculated."""
        return self.value / self.expected if self.expected else 1.0


@dataclass(frozen=True, slots=True)
class Cause:
    """A likely cause: ``score`` 0 to 1 ranks it, ``look`` says where to look."""

    name: str
    score: float
    words: Text
    look: Text


@dataclass(frozen=True, slots=True)
class LoadHere:
    """A load of the part: its name, its line, its amperes."""

    name: str
    line: str
    amperes: float


def find(points: Sequence[InstrumentPoint], address: str) -> InstrumentPoint | None:
    """The point of that address, or of that label where only one bears it in that unit's role."""
    wanted = address.strip().casefold()
    for point in points:
        if point.name.casefold() == wanted:
            return point
    named = [p for p in points if str(p.label).casefold() == wanted]
    return named[0] if named else None


def compare(
    address: str,
    unit: str,
    value: float,
    points: Sequence[InstrumentPoint],
    band: tuple[float, float],
) -> Compared:
    """One reading beside the calculated value of its point; ``band`` is the percent of the nominal
    volts, lowest and highest, that the job's supply may have."""
    point = find([p for p in points if p.unit == unit], address)
    meter = meter_for(unit)
    if point is None:
        return Compared(address, address, unit, value, None, meter.within(value), "unknown")
    expected = point.on_site or point.value
    allowed = meter.within(value)
    if unit == "A":
        allowed += LOADS_SWING / 100 * expected
    off = abs(value - expected)
    verdict: Verdict = "agrees" if off <= allowed else "differs"
    if verdict == "differs" and unit == "V":
        nominal = point.nominal or expected
        within = band[0] <= 100 * value / nominal <= band[1]
        verdict = "check" if within else "differs"
    pair = point.name.endswith("-N") or (
        point.role == "volts" and len(point.line) == 1 and "-" not in point.name
    )
    return Compared(
        address,
        str(point.label),
        unit,
        value,
        expected,
        allowed,
        verdict,
        point.line,
        unit == "V" and pair,
    )


def compare_test(test: Test, value: float) -> Compared:
    """A test beside its limit, which decides; within it, one well above what is calculated is a
    look."""
    holds = fits(value, test.limit) if test.most else fits(test.limit, value)
    allowed = TEST_SHARE * test.value + TEST_OHMS if test.value else 0.0
    verdict: Verdict = "agrees" if holds else "differs"
    if holds and test.value and value > test.value + allowed:
        verdict = "check"
    return Compared(
        test.name,
        str(test.label),
        test.unit,
        value,
        test.value or None,
        allowed,
        verdict,
        limit=test.limit,
        most=test.most,
    )


def find_test(tests: Sequence[Test], address: str, unit: str) -> Test | None:
    """The test of that address or that label, in that unit."""
    wanted = address.strip().casefold()
    named = (t for t in tests if t.unit == unit)
    return next((t for t in named if wanted in (t.name.casefold(), str(t.label).casefold())), None)


def causes(found: Sequence[Compared], loads: Sequence[LoadHere] = ()) -> list[Cause]:
    """Likely causes of what does not agree, the likeliest first. ``found`` are the readings of one
    visit at one part."""
    off = [c for c in found if c.verdict in ("check", "differs")]
    apart = _unequal(found)  # each for itself may agree with what was calculated
    if not off:
        return apart
    listed = [
        *apart,
        *_neutral(found),
        *_supply(found),
        *_same_leg(found),
        *_wrong_line(found, loads),
        *_missing(found, loads),
        *_joint(found),
        *_overload(found),
        *_harmonics(found),
        *_loop(found),
        *_insulation(found),
        *_residual(found),
    ]
    return sorted(listed, key=lambda cause: -cause.score)


def _volts(found: Sequence[Compared]) -> list[Compared]:
    return [c for c in found if c.unit == "V" and c.expected]


def _line_amperes(found: Sequence[Compared]) -> list[Compared]:
    return [c for c in found if c.unit == "A" and c.expected is not None and c.line != "N"]


def _neutral(found: Sequence[Compared]) -> list[Cause]:
    ends = [c for c in _volts(found) if c.to_neutral]
    high = max(ends, key=lambda c: c.ratio, default=None)
    low = min(ends, key=lambda c: c.ratio, default=None)
    if high is None or low is None or high.line == low.line:
        return []
    if high.ratio < 1 + APART or low.ratio > 1 - APART:
        return []
    between = [c for c in _volts(found) if not c.to_neutral]
    sound = [c for c in between if abs(c.ratio - 1) < APART]
    if between and not sound:
        return []
    given = {
        "high": high.label,
        "up": figure(high.difference, 1),
        "low": low.label,
        "down": figure(-low.difference, 1),
    }
    words = say("Loose or open neutral: {high} is {up} V high and {low} is {down} V low.", **given)
    if sound:
        words = say(
            "Loose or open neutral: {high} is {up} V high and {low} is {down} V low,"
            " while the lines between one another are as calculated.",
            **given,
        )
    return [
        Cause(
            "loose_neutral",
            0.95 if sound else 0.85,
            words,
            say(
                "Every joint of the neutral from here towards the supply, de-energized. Until"
                " then what stands on the high side can burn."
            ),
        )
    ]


def _supply(found: Sequence[Compared]) -> list[Cause]:
    volts = _volts(found)
    ratios = [c.ratio for c in volts]
    if not ratios or max(ratios) - min(ratios) > 2 * ALIKE:
        return []
    mean = sum(ratios) / len(ratios)
    if all(c.verdict == "agrees" for c in volts):
        return []
    score = 0.8 if len(ratios) > 2 else 0.6 if len(ratios) == 2 else 0.35
    return [
        Cause(
            "supply",
            score,
            say(
                "The supply stands {percent} % {way} than entered: all volts are off alike.",
                percent=figure(100 * abs(mean - 1), 1),
                way="higher" if mean > 1 else "lower",
            ),
            say("Measure at the service; enter the volts found there as the supply’s."),
        )
    ]


def _same_leg(found: Sequence[Compared]) -> list[Cause]:
    lines = _line_amperes(found)
    neutral = next(
        (c for c in found if c.unit == "A" and c.line == "N" and c.expected is not None), None
    )
    if neutral is None or len(lines) < 2 or neutral.verdict == "agrees":
        return []
    total = sum(c.value for c in lines)
    if total <= 0 or abs(neutral.value - total) > 0.1 * total or neutral.ratio < 1.2:
        return []
    return [
        Cause(
            "same_leg",
            0.9,
            say(
                "The neutral carries the sum of the lines, {amperes} A: both circuits stand on one"
                " leg.",
                amperes=figure(neutral.value, 1),
            ),
            say(
                "In the board: each circuit of a shared neutral on a leg of its own. No device sees"
                " this current."
            ),
        )
    ]


def _unequal(found: Sequence[Compared]) -> list[Cause]:
    """Line and neutral of a circuit of one line: what flows out comes back, within the accuracy of
    both readings, or it comes back another way."""
    lines = _line_amperes(found)
    neutrals = [c for c in found if c.unit == "A" and c.line == "N" and c.expected is not None]
    if len(lines) != 1 or len(neutrals) != 1:
        return []
    line, neutral = lines[0], neutrals[0]
    if abs((line.expected or 0.0) - (neutral.expected or 0.0)) > LIKE * (line.expected or 0.0):
        return []  # its other lines were not read
    meter = meter_for("A")
    more = line.value - neutral.value
    if abs(more) <= meter.within(line.value) + meter.within(neutral.value):
        return []
    given = {
        "line": figure(line.value, 1),
        "neutral": figure(neutral.value, 1),
        "amperes": figure(abs(more), 1),
    }
    words = say(
        "{amperes} A do not come back through the neutral: {line} A flow out, {neutral} A return."
        " Leakage to earth, a neutral joined to earth behind this point, or a load that returns"
        " through another circuit’s neutral.",
        **given,
    )
    look = say(
        "Clamp line and neutral together; disconnect its loads one by one, de-energized test"
        " neutral to earth."
    )
    if more < 0:
        words = say(
            "The neutral carries {amperes} A more than its line: {line} A flow out, {neutral} A"
            " return. A load of another circuit returns through this neutral.",
            **given,
        )
        look = say(
            "Open this circuit’s device: what still flows in the neutral is another circuit’s."
            " Until then the neutral is live with the device open."
        )
    return [Cause("unequal", 0.9, words, look)]


def _named(loads: Sequence[LoadHere], line: str, amperes: float) -> str:
    """The load of that line that comes next to those amperes."""
    near = [
        load
        for load in loads
        if line in load.line.split("-") and abs(load.amperes - amperes) <= MATCH * amperes + 0.3
    ]
    return min(near, key=lambda load: abs(load.amperes - amperes)).name if near else ""


def _wrong_line(found: Sequence[Compared], loads: Sequence[LoadHere]) -> list[Cause]:
    listed = []
    off = [c for c in _line_amperes(found) if c.verdict != "agrees"]
    for less, more in permutations(off, 2):
        gone, come = -less.difference, more.difference
        if gone <= 0 or come <= 0 or abs(gone - come) > MATCH * max(gone, come):
            continue
        name = _named(loads, less.line, gone)
        listed.append(
            Cause(
                "wrong_line",
                0.88 if name else 0.75,
                say(
                    "{what} stands on {more} instead of {less}: {gone} A less there, {come} A more"
                    " here.",
                    what=name or "A load",
                    more=more.label,
                    less=less.label,
                    gone=figure(gone, 1),
                    come=figure(come, 1),
                ),
                say("Trace the circuit in the board, or move it in the job."),
            )
        )
    return listed


def _missing(found: Sequence[Compared], loads: Sequence[LoadHere]) -> list[Cause]:
    listed = []
    for c in _line_amperes(found):
        if c.verdict == "agrees" or c.difference >= 0:
            continue
        name = _named(loads, c.line, -c.difference)
        listed.append(
            Cause(
                "missing",
                0.7 if name else 0.45,
                say(
                    "{what} was off or is not connected: {line} carries {amperes} A less.",
                    what=name or "A load",
                    line=c.label,
                    amperes=figure(-c.difference, 1),
                ),
                say("Switch it on and clamp again."),
            )
        )
    return listed


def _overload(found: Sequence[Compared]) -> list[Cause]:
    listed = []
    for c in _line_amperes(found):
        if c.verdict == "agrees" or c.difference <= 0:
            continue
        sags = any(v.line == c.line and v.ratio < 1 - ALIKE for v in _volts(found))
        listed.append(
            Cause(
                "more_load",
                0.72 if sags else 0.5,
                say(
                    "More load than in the job: {line} carries {amperes} A more{more}.",
                    line=c.label,
                    amperes=figure(c.difference, 1),
                    more=" and its volts sag" if sags else "",
                ),
                say("Look for what hangs on it and is not entered."),
            )
        )
    return listed


def _joint(found: Sequence[Compared]) -> list[Cause]:
    """Volts missing on one conductor whose amperes are as they should be: a joint of some Ω."""
    listed = []
    volts = _volts(found)
    for c in volts:
        others = [v for v in volts if v is not c and v.line != c.line]
        if c.verdict == "agrees" or c.ratio > 1 - ALIKE:
            continue
        if any(v.ratio > 1 + APART for v in others):
            continue  # a neighbour that rises points at the neutral
        amperes = next((a for a in _line_amperes(found) if a.line == c.line), None)
        if amperes is not None and amperes.verdict != "agrees":
            continue
        words = say(
            "A poor joint or too thin a conductor on the way: {volts} V are missing at {label}.",
            volts=figure(-c.difference, 1),
            label=c.label,
        )
        if amperes is not None and amperes.value > 0.5:
            ohms = -c.difference / amperes.value
            words = say(
                "A poor joint or too thin a conductor on the way: {volts} V are missing at"
                " {label} at {amperes} A, {ohms} Ω, which makes {watts} W of heat.",
                volts=figure(-c.difference, 1),
                label=c.label,
                amperes=figure(amperes.value, 1),
                ohms=figure(ohms),
                watts=figure(-c.difference * amperes.value, 0),
            )
        listed.append(
            Cause(
                "joint",
                0.65 if amperes else 0.5,
                words,
                say(
                    "Terminals and splices from here towards the board, de-energized;"
                    " check length and size against the job."
                ),
            )
        )
    return listed


def _harmonics(found: Sequence[Compared]) -> list[Cause]:
    neutral = next(
        (c for c in found if c.unit == "A" and c.line == "N" and c.expected is not None), None
    )
    lines = _line_amperes(found)
    if neutral is None or neutral.verdict == "agrees" or neutral.difference <= 0:
        return []
    if not lines or any(c.verdict != "agrees" for c in lines):
        return []
    return [
        Cause(
            "harmonics",
            0.6,
            say(
                "Third harmonics of electronic loads: the neutral carries {amperes} A more while"
                " the lines are as calculated.",
                amperes=figure(neutral.difference, 1),
            ),
            say("Give the loads their third harmonic; judge the neutral’s size."),
        )
    ]


def _test(found: Sequence[Compared], name: str) -> Compared | None:
    return next((c for c in found if c.point == name and c.unit in ("Ω", "MΩ", "ms")), None)


def _loop(found: Sequence[Compared]) -> list[Cause]:
    """Where a loop is too high: in the circuit's own conductors, or ahead of it."""
    loop, own = _test(found, "Zs"), _test(found, "R1+R2")
    worst = loop if loop and loop.verdict != "agrees" else own
    if worst is None or worst.verdict == "agrees" or worst.expected is None:
        return []
    more = worst.difference
    if own is not None and own.expected and own.difference > own.allowed:
        return [
            Cause(
                "protective_joint",
                0.9,
                say(
                    "A poor joint in its line or its protective conductor, or one too thin:"
                    " {ohms} Ω more than calculated.",
                    ohms=figure(own.difference),
                ),
                say("Every terminal of the protective conductor from here to the board."),
            )
        ]
    if loop is None:
        return []
    ahead = own is not None
    words = say("The loop is {ohms} Ω more than calculated.", ohms=figure(more))
    where = say("Measure R1 + R2 to tell whether it is in the circuit or ahead of it.")
    if ahead:
        words = say(
            "The loop is {ohms} Ω more than calculated, and the circuit’s own conductors are sound:"
            " it is ahead of the board.",
            ohms=figure(more),
        )
        where = say("Zs at the board and Ze at the origin; the main earthing conductor.")
    return [Cause("loop_ahead", 0.8 if ahead else 0.5, words, where)]


def _insulation(found: Sequence[Compared]) -> list[Cause]:
    test = _test(found, "insulation")
    if test is None or test.verdict == "agrees":
        return []
    words = say(
        "Insulation of {value} MΩ: water, a damaged cable, or equipment left connected.",
        value=figure(test.value),
    )
    return [Cause("insulation", 0.75, words, say("Disconnect equipment and test each core again."))]


def _residual(found: Sequence[Compared]) -> list[Cause]:
    test = _test(found, "RCD")
    if test is None or test.verdict == "agrees":
        return []
    words = say("The residual-current device opens late, at {value} ms.", value=figure(test.value))
    return [Cause("residual", 0.85, words, say("Replace it; until then it protects nobody."))]
