"""A conduit or a trunking on the worksheet."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.kinds.trunking.calculate import TrunkingOutcome
from voltaje.core.kinds.trunking.entries import AREAS, TrunkingEntries
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, say
from voltaje.core.rules.context import Context


@dataclass(frozen=True, slots=True)
class EnclosureDrawn:
    """What the drawing needs: ``round`` or not, its ``width`` and ``height``, mm, what is filled of
    what may be (1: full), and the cables by mm² with their number."""

    round: bool
    width: float
    height: float
    filled: float
    cables: tuple[tuple[float, int], ...]


def report(outcome: TrunkingOutcome, entries: TrunkingEntries, context: Context) -> Report:
    """The sheet of a conduit or a trunking."""
    worksheet, findings, room = Worksheet(), Findings(), outcome.room
    for index, one in enumerate(outcome.rows):
        row = one.row
        words = say(
            "{count} × {size} {strands} {insulation}",
            count=row.count,
            size=AREAS[row.size],
            strands=row.strands,
            insulation=row.insulation,
        )
        shown = f"{row.count} × {figure(one.each.value, 1)}"
        rules = [one.each.rule]
        if outcome.short and outcome.straight is not None:
            rules.append(outcome.straight.rule)
        path = f"cables.{row.id}.count"
        worksheet.step(f"term_{index}", words, one.term, "", shown, rules, entries=path)
    worksheet.sum("term", say("Terms of all cables"), outcome.term, "")
    rules, shown = [room.cell.rule], ""
    if room.times is not None:
        rules.append(room.times.rule)
        shown = f"{figure(room.cell.value)} × {figure(room.times.value, 1)}"
    conduit = entries.what == "conduit"
    name = say("{size} mm conduit", size=room.size)
    if not conduit:
        name = say("{size} mm trunking", size=room.size)
    worksheet.step("room", say("Term of {name}", name=name), room.term, "", shown, rules)
    percent = 100 * outcome.term / room.term
    shown = f"{figure(outcome.term, 1)} ÷ {figure(room.term, 1)}"
    worksheet.result("used", say("Taken of what it may hold"), percent, "%", shown)
    worksheet.note("more", say("More of the last kind go in"), float(outcome.more), "")
    findings.judged(
        outcome.holds,
        "fill",
        say(
            "The terms of the cables are {term}, the enclosure’s is {room}.",
            term=figure(outcome.term, 1),
            room=figure(room.term, 1),
        ),
        mend=say("A larger enclosure, fewer cables, or a draw-in box between."),
        rules=room.cell.rule,
        entries="conduit" if conduit else "trunking",
    )
    circuits = sum(one.row.count for one in outcome.rows if one.row.carries == "yes") // 2
    if circuits > 1:
        words = say("Up to {count} circuits are grouped here.", count=circuits)
        findings.remark("grouped", words, mend=say("Enter them as grouped on their circuits."))
    results = {
        "enclosure": Result(f"{room.size} mm", "", say("Conduit") if conduit else say("Trunking")),
        "used": Result(percent, "%", say("Taken of what it may hold")),
        "term": Result(outcome.term, "", say("Terms of all cables")),
        "room": Result(room.term, "", say("Term of the enclosure")),
        "more": Result(float(outcome.more), "", say("More of the last kind go in")),
    }
    width, _, height = room.size.partition(" × ")
    return Report(
        "trunking",
        context.edition.id,
        (worksheet.section("fill", say("Capacity")),),
        results,
        tuple(findings),
        answer=("enclosure", "used", "more"),
        headline=str(say("{name} · {percent} %", name=name, percent=figure(percent, 0))),
        drawn=EnclosureDrawn(
            conduit,
            float(width),
            float(height or width),
            outcome.term / room.term,
            tuple((float(one.row.size), one.row.count) for one in outcome.rows),
        ),
    )
