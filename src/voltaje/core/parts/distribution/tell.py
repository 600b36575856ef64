"""A distribution circuit on the tape."""

from __future__ import annotations

from voltaje.core.parts.distribution.entries import DistributionEntries
from voltaje.core.parts.distribution.work import DistributionOutcome
from voltaje.core.rules.context import Context
from voltaje.core.worksheet import Findings, Result, Tape, Worked, figure, fits, say

ANSWER = ("device", "conductor", "ground_conductor", "drop_percent", "loop")


def tell(outcome: DistributionOutcome, entries: DistributionEntries, context: Context) -> Worked:
    """The load by line, the design current, device, cable, drop and loop."""
    findings = Findings()
    code, tape = context.code, Tape("load")
    told = code.tell(outcome.sizing, entries, context)
    words = say("All that hangs on it")
    tape.step("load", words, outcome.va, "VA", entries="load")
    for line, amperes in outcome.by_line.items():
        tape.step(f"line_{line.lower()}", say("{line}, all of it on", line=line), amperes, "A")
    shown = f"{figure(max(outcome.by_line.values()))} × {figure(entries.diversity / 100)}"
    words = say("Design current Ib, the heaviest line")
    tape.sum("amperes", words, outcome.design, "A", shown, entries="diversity")
    findings += told.findings
    behind = max((piece.device for piece in outcome.pieces), default=0.0)
    if not fits(behind, outcome.sizing.device):
        findings.look(
            "larger_behind",
            say(
                "A device behind it, {behind} A, is above its own {own} A: this one opens first.",
                behind=behind,
                own=outcome.sizing.device,
            ),
            entries=("device", "diversity"),
        )
    results = {
        "calculated_load": Result(
            outcome.va * entries.diversity / 100, "VA", say("Calculated load")
        ),
        "amperes": Result(outcome.design, "A", say("Design current")),
        "volts": Result(outcome.feed.volts, "V", say("Volts")),
        **told.results,
    }
    return Worked(
        "distribution",
        context.edition.id,
        (tape.section("load", say("Load")), *told.sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        ladder=told.rungs,
        marks=told.marks,
        wires=told.wires,
    )
