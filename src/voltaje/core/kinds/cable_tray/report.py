"""A cable tray on the worksheet."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.kinds.cable_tray.calculate import CableTrayOutcome, Limit, Lying
from voltaje.core.kinds.cable_tray.entries import SINGLES, CableTrayEntries
from voltaje.core.report import Findings, Report, Result, Text, Worksheet, figure, say
from voltaje.core.rules.context import Context


@dataclass(frozen=True, slots=True)
class TrayDrawn:
    """What the drawing needs: the ``width``, in, and each cable's diameter."""

    width: float
    cables: tuple[float, ...]


def report(outcome: CableTrayOutcome, entries: CableTrayEntries, context: Context) -> Report:
    """The sheet of a tray."""
    worksheet, findings, results = Worksheet(), Findings(), {}
    across = sum(one.count * one.diameter for one in outcome.lies if one.layer)
    for index, one in enumerate(outcome.lies):
        value = one.count * (one.diameter if one.layer else one.area)
        each = figure(one.diameter if one.layer else one.area, 4)
        if one.layer and one.each is not None:
            each = f"2√({figure(one.each.value, 4)} ÷ π)"
        worksheet.step(
            f"lies_{index}",
            _words(one, entries),
            value,
            "in" if one.layer else "in²",
            f"{one.count} × {each}",
            one.each.rule if one.each else None,
            entries=one.path,
        )
    for limit in outcome.limits:
        name = "layer" if limit.layer else "area"
        unit = "in" if limit.layer else "in²"
        words = say("In one layer") if limit.layer else say("By area")
        worksheet.sum(name, words, limit.taken, unit)
        words = say("The width has room for") if limit.layer else say("Area that they may take")
        rules = [limit.rule, *(cell.rule for cell in (limit.table, limit.share) if cell)]
        worksheet.step(
            f"{name}_allowed", words, limit.allowed, unit, _shown(limit, outcome, across), rules
        )
        findings.judged(
            limit.holds,
            name,
            say(
                "{taken} {unit} lie in the tray, {allowed} {unit} may.",
                taken=figure(limit.taken, 2),
                allowed=figure(max(0.0, limit.allowed), 2),
                unit=unit,
            ),
            mend=say("A wider tray, or a second one."),
            rules=rules,
            entries="width",
        )
        label = say("In one layer") if limit.layer else say("By area")
        results[name] = Result(limit.taken, unit, label)
        allowed = say("Room in one layer") if limit.layer else say("Area allowed")
        results[f"{name}_allowed"] = Result(limit.allowed, unit, allowed)
    width = say("{width} in tray", width=figure(outcome.width))
    worksheet.result("width", say("Inside width"), outcome.width, "in")
    results = {"width": Result(outcome.width, "in", say("Inside width")), **results}
    findings.remark(
        "ampacity",
        say("Ampacity in a tray follows 392.80, by the spacing and the cover."),
    )
    shares = [100 * one.taken / one.allowed for one in outcome.limits if one.allowed > 0]
    percent = figure(max(shares, default=100.0), 0)
    return Report(
        "cable_tray",
        context.edition.id,
        (worksheet.section("fill", say("Fill")),),
        results,
        tuple(findings),
        answer=tuple(results),
        headline=str(say("{width} · {percent} %", width=width, percent=percent)),
        drawn=TrayDrawn(
            outcome.width, tuple(one.diameter for one in outcome.lies for _ in range(one.count))
        ),
    )


def _words(one: Lying, entries: CableTrayEntries) -> Text:
    row = one.path.partition(".")[2]
    for single in entries.singles if entries.what == "singles" else ():
        if single.id == row:
            return say(
                "{count} × {size} {insulation}",
                count=one.count,
                size=SINGLES[single.size],
                insulation=single.insulation,
            )
    if one.layer:
        return say("{count} cables of 4/0 AWG and larger", count=one.count)
    return say("{count} cables of less than 4/0 AWG", count=one.count)


def _shown(limit: Limit, outcome: CableTrayOutcome, across: float) -> str:
    """The arithmetic of what is allowed."""
    if limit.layer:
        if limit.share is None:
            return ""
        return f"{figure(outcome.width)} × {figure(limit.share.value)} %"
    if limit.share is None or limit.table is None:
        return ""
    return f"{figure(limit.table.value)} − {figure(limit.share.value)} × {figure(across, 2)}"
