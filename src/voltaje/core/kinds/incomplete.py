"""A part that needs a result which is missing: what is known of it is a lower bound, and no device
and no conductor is an answer. A missing result is never zero."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import floor

from voltaje.core.electrical.systems import Missing
from voltaje.core.report import Finding, Report, Result, Text, figure, say

NAMED = 3  # so many are named, the rest is counted
TENTHS = 10  # no code figure


@dataclass(frozen=True, slots=True)
class Known:
    """What of a kind's worksheet stands without the loads that are missing: its ``results`` are
    lower bounds then, its ``sections`` show their working. All else depends on what is chosen."""

    results: tuple[str, ...] = ("connected_load", "calculated_load", "amperes", "design_amperes")
    sections: tuple[str, ...] = ("entered", "load")


USUAL = Known()
NOTHING = Known((), ())


def named(missing: Sequence[Missing]) -> Text:
    """``Kiln 2``; of many the first few, and how many more."""
    names = list(dict.fromkeys(one.name or one.part for one in missing))
    shown = ", ".join(names[:NAMED])
    if len(names) <= NAMED:
        return say("{names}", names=shown)
    return say("{names} and {count} more", names=shown, count=len(names) - NAMED)


def without(missing: Sequence[Missing]) -> Text:
    """Says that nothing is known for want of these."""
    return say("Incomplete without {names}: its result is missing.", names=named(missing))


def incomplete(worked: Report, missing: Sequence[Missing], known: Known) -> Report:
    """The worksheet without what cannot be said: bounds instead of results, the lines that lead to
    them, what fails even so, and the names of what is missing first of all findings."""
    results = {
        name: replace(r, label=say("{label}, at least", label=r.label), at_least=True)
        for name, r in worked.results.items()
        if name in known.results and not isinstance(r.value, str)
    }
    bound, names = _bound(results), named(missing)
    words, headline = without(missing), say("incomplete without {names}", names=names)
    if bound:
        words = say("Incomplete: at least {bound} without {names}.", bound=bound, names=names)
        headline = say("at least {bound} without {names}", bound=bound, names=names)
    first = Finding(
        "incomplete",
        "incomplete",
        words,
        "",
        say("Put the entries of what is named right: nothing is chosen here until then."),
    )
    fails = tuple(one for one in worked.findings if one.severity == "fail")
    return replace(
        worked,
        sections=tuple(s for s in worked.sections if s.name in known.sections),
        results=results,
        findings=(first, *fails),
        methods=(),
        flows={},
        answer=tuple(name for name in known.results if name in results),
        headline=str(headline),
        alternatives=(),
        marks=(),
        wires=(),
        points=(),
        tests=(),
        missing=tuple(one.name or one.part for one in missing),
    )


def bounded(worked: Report, missing: Sequence[Missing]) -> Report:
    """The worksheet with the remark that what arrives from above is a bound, not yet known."""
    words = say(
        "Fault current and earth-fault loop here are at most what is shown, and not final without"
        " {names}.",
        names=named(missing),
    )
    return replace(worked, findings=(*worked.findings, Finding("remark", "bounded", words)))


def _bound(results: dict[str, Result]) -> str:
    for name in ("amperes_exact", "amperes", "load_amperes", "calculated_load", "connected_load"):
        found = results.get(name)
        if found is None or isinstance(found.value, str):
            continue
        # a bound is never rounded up
        if found.unit == "A" and (least := floor(found.value)) > 0:
            return f"{figure(least)} A"
        if found.unit == "VA" and (least := floor(found.value * TENTHS / 1000)) > 0:
            return f"{figure(least / TENTHS)} kVA"
    return ""
