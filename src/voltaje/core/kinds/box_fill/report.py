"""A box on the worksheet: each thing with its volume, or the walls of a pull box."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.kinds.box_fill.calculate import BoxFillOutcome, Taken
from voltaje.core.kinds.box_fill.entries import LABELS, BoxEntries
from voltaje.core.report import Findings, Report, Result, Text, Worksheet, figure, say
from voltaje.core.rules.context import Context

WALLS = {"left": say("left"), "right": say("right"), "top": say("top"), "bottom": say("bottom")}
RULES = {
    "clamps": "box_clamps",
    "supports": "box_supports",
    "grounds": "box_grounds",
    "connectors": "box_connectors",
}


@dataclass(frozen=True, slots=True)
class BoxDrawn:
    """What the drawing needs: the share that is ``filled`` (1: full) where the box is ``known``,
    its ``parts`` by words with their share; of a pull box its ``width`` and ``height`` with
    the raceways of each wall."""

    parts: tuple[tuple[str, float], ...] = ()
    filled: float = 0.0
    known: bool = True
    width: float = 0.0
    height: float = 0.0
    raceways: tuple[tuple[str, float, str], ...] = ()


def report(outcome: BoxFillOutcome, entries: BoxEntries, context: Context) -> Report:
    """The sheet of a box or a pull box."""
    if entries.purpose == "pull":
        return _pull(outcome, entries, context)
    edition, worksheet, findings = context.edition, Worksheet(), Findings()
    for index, one in enumerate(outcome.taken):
        rules = [one.each.rule]
        rules += [cell.rule for cell in (one.share, one.free) if cell is not None]
        if len(rules) == 1 and one.what in RULES:
            rules.append(edition.rule(RULES[one.what]))
        shown = f"{figure(one.allowances, 2)} × {figure(one.each.value, 2)}"
        if one.share is not None:
            each = f"{figure(one.share.value, 2)} × {figure(one.each.value, 2)}"
            shown = f"{one.count} × {each}"
        name = f"volume_{index}"
        worksheet.step(
            name, _words(one, entries), one.volume, "in³", shown, rules, entries=one.path
        )
    worksheet.sum("volume", say("All that is in it"), outcome.volume, "in³")
    results = {"volume": Result(outcome.volume, "in³", say("Volume needed"))}
    if outcome.given is not None:
        worksheet.step("given", say("The box has"), outcome.given, "in³", entries="volume")
        findings.judged(
            outcome.holds,
            "box",
            say(
                "{volume} in³ are needed, the box has {given} in³.",
                volume=figure(outcome.volume, 2),
                given=figure(outcome.given, 2),
            ),
            mend=say("A larger box, an extension ring, or less in it."),
            rules=edition.rule("box_volume"),
            entries="volume",
        )
        results["box_volume"] = Result(outcome.given, "in³", say("Volume of the box"))
        headline = say(
            "{volume} of {given} in³",
            volume=figure(outcome.volume, 2),
            given=figure(outcome.given, 2),
        )
    elif outcome.box_cell is None:
        findings.fail(
            "box",
            say("No standard metal box has {volume} in³.", volume=figure(outcome.volume, 2)),
            mend=say("An extension ring, two boxes, or a box whose volume is marked."),
            rules=edition.rule("boxes"),
            entries="volume",
        )
        headline = say("{volume} in³", volume=figure(outcome.volume, 2))
    else:
        cell = outcome.box_cell
        words = say("Smallest metal box, in: {box}", box=outcome.box)
        worksheet.result("box_volume", words, cell.value, "in³", rules=cell.rule)
        results["box"] = Result(outcome.box, "", say("Smallest metal box, in"))
        results["box_volume"] = Result(cell.value, "in³", say("Volume of the box"))
        headline = say("{volume} in³ · {box}", volume=figure(outcome.volume, 2), box=outcome.box)
    if entries.devices and edition.cites("box_deep"):
        findings.check(
            "deep",
            say("Devices deeper than 1 in behind the strap take more than counted here."),
            mend=say("Take what the rule asks for their depth."),
            rules=edition.rule("box_deep"),
            entries="devices",
        )
    has = outcome.volume
    if "box_volume" in results:
        has = float(results["box_volume"].value)
        results["filled"] = Result(100 * outcome.volume / has, "%", say("Filled"))
    parts = tuple((str(_words(one, entries)), one.volume / has) for one in outcome.taken)
    return Report(
        "box_fill",
        edition.id,
        (worksheet.section("fill", say("What takes volume")),),
        results,
        tuple(findings),
        answer=tuple(name for name in ("volume", "box", "box_volume", "filled") if name in results),
        headline=str(headline),
        drawn=BoxDrawn(parts, outcome.volume / has, "box_volume" in results),
    )


def _words(one: Taken, entries: BoxEntries) -> Text:
    """What takes the volume."""
    row = one.path.partition(".")[2]
    sizes = {r.id: r.size for r in entries.conductors} | {r.id: r.size for r in entries.devices}
    if one.what == "conductors":
        return say("Conductors: {count} × {size}", count=one.count, size=LABELS[sizes[row]])
    if one.what == "devices":
        return say("Devices on a yoke, {size}", size=LABELS[sizes[row]])
    return {
        "clamps": say("Internal clamps, as the largest conductor"),
        "connectors": say("Wire connectors with caps: {count} pairs", count=one.count),
        "supports": say("Support fittings, as the largest conductor"),
        "grounds": say("Equipment grounds, as the largest"),
        "grounds_more": say("Further equipment grounds: {count}", count=one.count),
    }[one.what]


def _pull(outcome: BoxFillOutcome, entries: BoxEntries, context: Context) -> Report:
    worksheet = Worksheet()
    for index, wall in enumerate(outcome.walls):
        straight = wall.pull == "straight"
        shown = f"{figure(wall.times.value)} × {figure(wall.largest, 2)}"
        if wall.others:
            shown += f" + {figure(wall.others, 2)}"
        words = (
            say("From the {wall} wall to the opposite one, straight", wall=WALLS[wall.wall])
            if straight
            else say("From the {wall} wall to the opposite one, angle", wall=WALLS[wall.wall])
        )
        worksheet.step(
            f"distance_{index}",
            words,
            wall.distance,
            "in",
            shown,
            wall.times.rule,
            entries="raceways",
        )
        if not straight:
            worksheet.step(
                f"between_{index}",
                say("Between raceways of the same conductors, at least"),
                wall.between,
                "in",
                f"{figure(wall.times.value)} × {figure(wall.largest, 2)}",
                wall.times.rule,
                entries="raceways",
            )
    results = {}
    for name, value, label in (
        ("width", outcome.width, say("Width, at least")),
        ("height", outcome.height, say("Height, at least")),
    ):
        if value:
            worksheet.result(name, label, value, "in")
            results[name] = Result(value, "in", label)
    spans = " × ".join(figure(r.value, 1) for r in results.values())
    raceways = tuple((row.wall, row.trade or 0.0, row.pull) for row in entries.raceways)
    findings = Findings()
    if len(results) == 1:
        findings.remark(
            "one_way",
            say("The other side is as the raceways, locknuts and bushings need it."),
        )
    return Report(
        "box_fill",
        context.edition.id,
        (worksheet.section("fill", say("Sizes of the box")),),
        results,
        tuple(findings),
        answer=tuple(results),
        headline=str(say("{spans} in at least", spans=spans)),
        drawn=BoxDrawn(width=outcome.width, height=outcome.height, raceways=raceways),
    )
