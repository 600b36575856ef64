"""A bank on the worksheet: the school of elimination first, then every row by its ratio; the one
taken, its currents, and what a meter reads before the last corner is closed."""

from __future__ import annotations

from math import sqrt

from voltaje.core.codes import practice
from voltaje.core.kinds.bank.calculate import (
    NOTHING,
    BankOption,
    BankOutcome,
    Corner,
    Currents,
    UnitLoads,
)
from voltaje.core.kinds.bank.entries import BankEntries
from voltaje.core.report import (
    Findings,
    LineKind,
    MethodAlternative,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    figure,
    fits,
    say,
    signed,
)
from voltaje.core.rules.common.bases import both_bases
from voltaje.core.rules.common.loading import judge_loading
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.transformers import Limit

FEEBLE = 90  # percent of their volts at which coils run far below what they can (common practice)

ANSWER = ("output", "connection", "bank_kva", "line_out", "line_in", "corner")
NAMES = {
    ("star", "star"): say("star–star"),
    ("star", "delta"): say("star–delta"),
    ("delta", "star"): say("delta–star"),
    ("delta", "delta"): say("delta–delta"),
    ("open delta", "open delta"): say("open delta"),
}


def report(outcome: BankOutcome, entries: BankEntries, context: Context) -> Report:
    """The sheet of a bank."""
    findings, chosen = Findings(), outcome.chosen
    sections = [_elimination(outcome, entries)]
    results = {"required_voltage": Result(entries.required_voltage or 0.0, "V", say("Wanted"))}
    methods: tuple[MethodAlternative, ...] = ()
    answer: tuple[str, ...] = ANSWER
    if chosen is None or outcome.currents is None or outcome.corner is None:
        findings.fail(
            "none",
            say(
                "No connection and no tap gives {volts} V within ± {percent} %.",
                volts=entries.required_voltage,
                percent=entries.tolerance,
            ),
            mend=say("Allow more, or take units of other windings."),
            entries="required_voltage",
        )
        headline = say("no connection fits")
    else:
        sections += [
            _chosen(chosen, entries),
            _currents(outcome.currents, chosen, entries, findings),
            _corner(outcome.corner, chosen, entries, findings),
        ]
        results |= _results(outcome, chosen, outcome.currents, outcome.corner, entries)
        kva = outcome.currents.kva / 1000
        nominal = kva * chosen.rated / chosen.fed
        methods = both_bases(say("The bank carries"), nominal, kva, "kVA", context.shop.basis)
        if methods:
            results["nominal_kva"] = Result(nominal, "kVA", say("The bank carries, nominal"))
            if context.shop.basis == "nominal":
                answer = tuple("nominal_kva" if n == "bank_kva" else n for n in ANSWER)
        if chosen.low == "star":
            findings.check(
                "earth",
                say("The star point of the secondary is earthed, and bonded once."),
                rules=context.edition.cites("derived_system"),
            )
        else:
            findings.check(
                "earth",
                say(
                    "A delta has no star point: one corner of the secondary, or the middle of one"
                    " coil, is earthed, once."
                ),
                rules=context.edition.cites("derived_system"),
            )
        if (chosen.high, chosen.low) == ("star", "delta"):
            findings.check(
                "star_point",
                say(
                    "The star point of the primary floats: it is not joined to the source’s"
                    " neutral."
                ),
                mend=say(
                    "Joined, the delta feeds unbalance back into the lines, and with one line open"
                    " the coils are overloaded."
                ),
                entries="supply",
            )
        if (chosen.high, chosen.low) == ("star", "star"):
            findings.check(
                "star_point",
                say("Star–star needs the source’s neutral on its primary’s star point."),
                mend=say("Without it the star point wanders with the load: take a delta."),
                entries="supply",
            )
        headline = say("{volts} V · {how}", volts=figure(chosen.out, 1), how=_named(chosen))
        if outcome.fuse is not None:
            sections.append(_fuse(outcome.fuse, outcome.currents))
            results["fuse"] = Result(outcome.fuse.standard, "A", say("Largest fuse of the supply"))
        else:
            findings.remark(
                "fuse",
                say("The fuses of the supply follow the maker’s table: no rule for them here."),
            )
        sections.append(_readings(chosen, entries))
        if outcome.units is not None:
            sections.append(_units(outcome.units, chosen, entries, findings))
            kva = outcome.units.lighting / 1000
            results["lighting_unit"] = Result(kva, "kVA", say("Unit with the single-phase load"))
            kva = outcome.units.others / 1000
            results["power_unit"] = Result(kva, "kVA", say("Each other unit"))
    sections.append(_rows(outcome))
    return Report(
        "bank",
        context.edition.id,
        tuple(sections),
        results,
        tuple(findings),
        methods=methods,
        answer=tuple(name for name in answer if name in results) or ("required_voltage",),
        headline=str(headline),
    )


def _named(row: BankOption) -> Text:
    how = NAMES[row.high, row.low]
    if not row.tap:
        return how
    return say("{how}, tap {tap} %", how=how, tap=f"{row.tap:+g}")


def _results(
    outcome: BankOutcome, row: BankOption, currents: Currents, corner: Corner, entries: BankEntries
) -> dict[str, Result]:
    found = {
        "output": Result(row.out, "V", say("Line to line")),
        "connection": Result(str(_named(row)), "", say("Connection")),
        "high": Result(row.high, "", say("High side")),
        "low": Result(row.low, "", say("Low side")),
        "reversed_secondary": Result(entries.reversed_secondary, "", say("Turned round")),
        "supply": Result(entries.supply or 0.0, "V", say("Supply")),
        "bank_kva": Result(currents.kva / 1000, "kVA", say("The bank carries")),
        "line_in": Result(currents.line_in, "A", say("Lines of the supply")),
        "line_out": Result(currents.line_out, "A", say("Lines of the load")),
        "joints": Result(", ".join(f"{a}–{b}" for a, b in outcome.joints), "", say("Joints")),
        "group": Result(corner.group or "–", "", say("Group")),
    }
    if corner.open_volts is not None:
        found["corner"] = Result(corner.open_volts, "V", say("Across the open corner"))
        closes = "yes" if corner.may_close else "no"
        found["may_close"] = Result(closes, "", say("The corner may be closed"))
    return found


def _elimination(outcome: BankOutcome, entries: BankEntries) -> Section:
    """What the volts alone leave over, before anything is calculated."""
    worksheet, supply, primary = Worksheet(), entries.supply or 0.0, entries.primary or 0.0
    if entries.count == "3":
        words = say("The supply is within the coil’s volts: star or delta there")
        if not fits(supply, primary * practice().limit("overflux").value / 100):
            words = say("The supply is above the coil’s volts: star there, or the coil burns")
        shown = f"{figure(supply)} V : {figure(primary)} V"
        worksheet.step("high_side", words, shown=shown, entries=("supply", "primary"))
        wanted, secondary = entries.required_voltage or 0.0, entries.secondary or 0.0
        words = say("The volts wanted are near the coil’s: delta suggests itself")
        if abs(wanted / secondary - sqrt(3)) < abs(wanted / secondary - 1):
            words = say("The volts wanted are near 1.732 times the coil’s: star suggests itself")
        shown = f"{figure(wanted)} V : {figure(secondary)} V"
        worksheet.step("low_side", words, shown=shown, entries=("required_voltage", "secondary"))
    if entries.tap_side != "none":
        words = say("More turns on the primary lower the secondary’s volts")
        if entries.tap_side == "secondary":
            words = say("More turns on the secondary raise its volts")
        worksheet.note("tap_side", words, entries="taps")
    out = sum(bool(row.fault) for row in outcome.rows)
    words = say(
        "Of {count} connections and taps {left} are left",
        count=len(outcome.rows),
        left=len(outcome.rows) - out,
    )
    worksheet.sum("left", words)
    return worksheet.section("elimination", say("By elimination"))


def _chosen(row: BankOption, entries: BankEntries) -> Section:
    worksheet = Worksheet("unit")
    shown = f"{figure(entries.supply)} ÷ 1.732" if row.high == "star" else ""
    words = say("Across each primary coil")
    worksheet.step("fed", words, row.fed, "V", shown, entries="supply", flow="high")
    words = say("Of its rated volts")
    shown = f"{figure(row.fed, 1)} ÷ {figure(row.rated, 1)}"
    worksheet.step("flux", words, row.flux, "%", shown, practice().rule("overflux"), flow="high")
    words = say("Across each secondary coil")
    shown = f"{figure(row.fed, 1)} × {figure(row.coil / row.fed, 4)}"
    worksheet.step("coil", words, row.coil, "V", shown, flow="low")
    shown = f"{figure(row.coil, 1)} × 1.732" if row.low == "star" else ""
    worksheet.result("output", say("Line to line"), row.out, "V", shown, flow="low")
    shown = f"{figure(row.out, 1)} ÷ {figure(entries.required_voltage)} − 1"
    worksheet.step(
        "deviation", say("Off the volts wanted"), row.error, "%", shown, entries="tolerance"
    )
    return worksheet.section("chosen", _named(row))


def _currents(
    found: Currents, row: BankOption, entries: BankEntries, findings: Findings
) -> Section:
    worksheet, each = Worksheet("currents"), (entries.kva or 0.0) / 1000
    shown = f"{figure(each)} kVA ÷ {figure(row.rated, 1)} V"
    worksheet.step("coil_in", say("Primary coils"), found.coil_in, "A", shown, entries="kva")
    shown = f"{figure(found.coil_in)} × 1.732" if row.high == "delta" else ""
    worksheet.step("line_in", say("Lines of the supply"), found.line_in, "A", shown)
    worksheet.step("coil_out", say("Secondary coils"), found.coil_out, "A")
    shown = f"{figure(found.coil_out)} × 1.732" if row.low == "delta" else ""
    worksheet.step("line_out", say("Lines of the load"), found.line_out, "A", shown)
    note = None
    if row.high == "open delta":
        note = say("57.7 % of what three would carry, 86.6 % of the two")
    shown = f"1.732 × {figure(row.out, 1)} V × {figure(found.line_out)} A"
    words = say("The bank carries")
    worksheet.result("bank_kva", words, found.kva / 1000, "kVA", shown, note=note)
    if found.loading is not None:
        judge_loading(findings, found.loading, mend=say("Larger units, or less load."))
    return worksheet.section("currents", say("Amperes and kVA of the bank"))


def _fuse(found: Limit, currents: Currents) -> Section:
    """The largest fuse in each line of the supply."""
    worksheet = Worksheet("currents")
    shown = f"{figure(currents.line_in)} × {figure(found.percent)} %"
    note = say("the next standard rating") if found.next_size else None
    worksheet.step("fuse_exact", say("At most"), found.exact, "A", shown, found.rules, note=note)
    worksheet.result("fuse", say("Largest fuse in each line"), found.standard, "A")
    return worksheet.section("fuse", say("Fuses of the supply"))


def _units(found: UnitLoads, row: BankOption, entries: BankEntries, findings: Findings) -> Section:
    """What each unit carries of the three-phase and the single-phase load."""
    worksheet, each = Worksheet("currents"), entries.kva or 1.0
    three, single = (entries.load_va or 0.0) / 1000, (entries.lighting_va or 0.0) / 1000
    if row.low == "open delta":
        line = f"({figure(three)} ÷ 1.732)"
        shown = f"√({figure(single)}² + {line}² + {figure(single)} × {figure(three)})"
        other = f"{figure(three)} ÷ 1.732"
    else:
        shown = f"({figure(three)} + 2 × {figure(single)}) ÷ 3"
        other = f"√({figure(three)}² + {figure(three)} × {figure(single)} + {figure(single)}²) ÷ 3"
    words = say("Unit with the single-phase load")
    entries_of = ("lighting", "load")
    worksheet.sum("lighting_unit", words, found.lighting / 1000, "kVA", shown, entries=entries_of)
    worksheet.sum("power_unit", say("Each other unit"), found.others / 1000, "kVA", other)
    for name, va, mend in (
        ("lighting_unit", found.lighting, say("A larger unit for the single-phase load.")),
        ("power_unit", found.others, say("Larger units, or less load.")),
    ):
        judge_loading(findings, 100 * va / each, name, mend=mend, entries="lighting")
    return worksheet.section("unit_loads", say("What each unit carries"))


def _readings(row: BankOption, entries: BankEntries) -> Section:
    """What a meter is to read before a load is put on."""
    worksheet = Worksheet("low")
    worksheet.step("read_lines", say("Each line to each other line"), row.out, "V")
    if row.low == "star":
        words = say("Each line to the earthed star point")
        worksheet.step("read_star", words, row.coil, "V", f"{figure(row.out, 1)} ÷ 1.732")
    else:
        words = say("Middle of one coil earthed: its two ends to earth")
        worksheet.step("read_middle", words, row.coil / 2, "V", f"{figure(row.coil, 1)} ÷ 2")
        words = say("and the third line to earth, the high leg")
        shown = f"{figure(row.coil, 1)} × 0.866"
        worksheet.step("read_high_leg", words, row.coil * sqrt(3) / 2, "V", shown)
        words = say("One corner earthed: both other lines to earth")
        worksheet.step("read_corner", words, row.out, "V")
    return worksheet.section("readings", say("To be read before the load is put on"))


def _corner(found: Corner, row: BankOption, entries: BankEntries, findings: Findings) -> Section:
    """What a meter reads as the coils stand."""
    worksheet = Worksheet("low")
    for pair, volts in zip(("a–b", "b–c", "c–a"), found.lines, strict=True):
        if volts is not None:
            worksheet.step("line_volts", say("Line {pair}", pair=pair), volts, "V")
    if found.group:
        words = say("Its group is {group}", group=found.group)
        worksheet.note("group", words, rules=practice().rule("connection_groups"))
    uneven = [v for v in found.lines if v is not None and abs(v / row.out - 1) > NOTHING]
    if found.open_volts is None:
        if uneven:
            findings.fail(
                "turned",
                say("One coil stands the other way round: the lines are uneven."),
                mend=say("Turn it round: change over its two ends."),
                entries="reversed_secondary",
            )
        return worksheet.section("corner", say("What a meter reads"))
    worksheet.result("corner", say("Across the last corner, open"), found.open_volts, "V")
    if found.may_close:
        findings.passes("corner", say("About nothing across the last corner: it may be closed."))
    elif found.closed_amperes is None:
        findings.fail(
            "corner",
            say(
                "{volts} V across the last corner: closed, nothing but the windings’ own impedance"
                " would limit the current.",
                volts=figure(found.open_volts, 0),
            ),
            mend=say("Turn the coil round; give the impedance to see that current."),
            entries="reversed_secondary",
        )
    else:
        findings.fail(
            "corner",
            say(
                "{volts} V across the last corner: closed, {amperes} A would flow around in the"
                " coils, {times} times their rated.",
                volts=figure(found.open_volts, 0),
                amperes=figure(found.closed_amperes, 0),
                times=figure(found.closed_amperes * row.coil_rated / (entries.kva or 1.0), 0),
            ),
            mend=say("Turn the coil round: change over its two ends."),
            entries="reversed_secondary",
        )
    return worksheet.section("corner", say("Before the last corner is closed"))


def _rows(outcome: BankOutcome) -> Section:
    worksheet = Worksheet()
    for index, row in enumerate(outcome.rows):
        kind: LineKind = "sum" if row is outcome.chosen else "step"
        shown = say(
            "coils at {fed} V of {rated} V",
            fed=figure(row.fed, 1),
            rated=figure(row.rated, 1),
        )
        worksheet.step(
            f"row_{index}", _named(row), row.out, "V", shown, note=_verdict(row), kind=kind
        )
    return worksheet.section("rows", say("By ratio: every connection and tap"))


def _verdict(row: BankOption) -> Text:
    if row.fault == "flux":
        over = figure(row.flux - 100, 0)
        return say("the coils would stand {percent} % above their volts", percent=over)
    if row.fault == "volts":
        off = signed(row.error)
        return say("{percent} % off the volts wanted", percent=off)
    if row.flux < FEEBLE:
        return say("would do, its coils at {percent} % of their volts", percent=figure(row.flux, 0))
    return say("would do")
