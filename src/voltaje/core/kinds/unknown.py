"""An entry that is left to be found: the calculation itself is tried at one value after another.

Typed as ``?``, an entry is the largest value (or the smallest) at which the sheet holds: nothing
fails, no voltage drop is above its limit, and device and conductor are those that stand there
without it. No second formula exists: what is found is put in, and the sheet shown is worked with
it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import ceil, exp, floor, log, log10
from typing import TYPE_CHECKING, Any, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, FieldSpec, Problem, fields, reads_of
from voltaje.core.entries.readers import Reads, ReadsNameplate
from voltaje.core.quantities import Nameplate, UnitSystem
from voltaje.core.report import Change, Finding, Report, Result, Text, Worksheet, say, told

if TYPE_CHECKING:
    from voltaje.core.kinds.interface import Evaluated

UNKNOWN = "?"
Aim = Literal["largest", "smallest"]
# no code figures: how near it is found, of its value; the span of a load in A that is tried
NEAR = 0.0005
BEYOND = 0.02  # no code figure: of a value, where what bounds it is told
AMPERES = (0.05, 4000.0)  # no code figure
KVA = (0.1, 1e5)  # no code figure: the span of a load in kVA that is tried
DIGITS = 3
TENTH = 0.1  # no code figure: of a unit, the least that is tried
TEN = 10.0  # no code figure: decimals
SAME = ("device", "conductor")  # what stays as it stands without the unknown


@dataclass(frozen=True, slots=True)
class FoundEntry:
    """An entry that was found: its name and label, as ``text`` it is typed, how ``value`` and
    ``unit`` say it, and what bounds it, in the words of the finding that comes next."""

    name: str
    label: str
    aim: Aim
    text: str
    value: float
    unit: str
    bound: Text | str


@dataclass(frozen=True, slots=True)
class _Scale:
    """How an entry's values are tried: from ``low`` to ``high`` in the unit that it is shown in."""

    low: float
    high: float
    unit: str
    whole: bool
    value: Callable[[float], Any]

    def nearest(self, x: float) -> float:
        """The nearest value of three digits."""
        step = self._step(x)
        return round(round(x / step) * step, 9)

    def _step(self, x: float) -> float:
        return 1.0 if self.whole else float(TEN ** (floor(log10(x)) - DIGITS + 1))

    def round(self, x: float, aim: Aim) -> float:
        """As it is told: three digits, on the side that holds."""
        step = self._step(x)
        turned = floor(x / step + 1e-9) if aim == "largest" else ceil(x / step - 1e-9)
        return round(turned * step, 9)


def find(
    name: str,
    entries: Entries,
    aim: Aim,
    system: UnitSystem,
    work: Callable[[Any], Evaluated],
) -> tuple[Evaluated, FoundEntry | None]:
    """The sheet worked with the entry of that name at the largest or smallest value that holds, and
    that value; a problem at the entry where there is none. ``work`` works entries."""
    spec = next(one for one in fields(type(entries)) if one.name == name)
    scale = _scale(type(entries), name, system)

    def at(x: float) -> Evaluated:
        return work(entries.model_copy(update={name: scale.value(x)}))

    plain = _sizes(work(entries).report)
    begin, end = (scale.low, scale.high) if aim == "largest" else (scale.high, scale.low)
    first = at(begin)
    plain = plain or _sizes(first.report)
    if stops := _stops(first, plain):
        return _problem(first, name, say("There is none: {why}", why=stops)), None
    if not _stops(at(end), plain):
        return _problem(first, name, _unbounded(spec, first)), None
    good, bad = log(begin), log(end)
    while abs(good - bad) > NEAR:
        middle = (good + bad) / 2
        if _stops(at(exp(middle)), plain):
            bad = middle
        else:
            good = middle
    # a bound that is a round figure, like a device's rating, is told as that
    x = scale.nearest(exp(bad))
    if _stops(at(x), plain):
        x = scale.round(exp(good), aim)
    result = at(x)
    if stops := _stops(result, plain):  # rounding went to the wrong side of a step
        return _problem(first, name, say("There is none: {why}", why=stops)), None
    found = f"{x:g} {scale.unit}".strip()
    beyond = x * (1 + BEYOND if aim == "largest" else 1 - BEYOND)
    if scale.whole:
        beyond = x + (1 if aim == "largest" else -1)
    bound = _stops(at(beyond), plain)
    return result, FoundEntry(name, spec.label, aim, found, x, scale.unit, bound)


def _scale(model: type[Entries], name: str, system: UnitSystem) -> _Scale:
    reads = reads_of(model, name)
    if isinstance(reads, ReadsNameplate) and reads.bare is not quantities.POWER:
        low, high = KVA
        return _Scale(low, high, reads.unit, False, lambda x: Nameplate(watts=x * 1000))
    if isinstance(reads, ReadsNameplate):
        return _Scale(*AMPERES, "A", False, lambda x: Nameplate(amperes=x))
    if not isinstance(reads, Reads):
        raise TypeError(f"{name} is no figure")
    unit = quantities.symbol(reads.dimension, system)
    bare = reads.dimension.bare[system]
    by = quantities.factor(bare, reads.dimension.base) if bare != reads.dimension.base else 1.0
    low = max(reads.low / by, 1.0 if reads.whole else TENTH)
    whole = reads.whole
    return _Scale(low, reads.high / by, unit, whole, lambda x: round(x) if whole else x * by)


def _sizes(report: Report | None) -> dict[str, object]:
    """Device and conductor of a sheet."""
    if report is None:
        return {}
    return {name: report.results[name].value for name in SAME if name in report.results}


def _stops(found: Evaluated, plain: dict[str, object]) -> Text | str:
    """Why a sheet does not hold, or that other sizes are taken; empty where it holds."""
    report = found.report
    if report is None:
        return found.problems[0].words if found.problems else say("it has no result")
    for finding in report.findings:
        if finding.severity == "fail" or (
            finding.severity == "check" and finding.name.startswith("drop")
        ):
            return finding.words
    sizes = _sizes(report)
    for name in SAME:
        if name in plain and sizes.get(name) != plain[name]:
            words = say("another size is taken from there on: {size}")
            return Text(words.template, {"size": str(sizes.get(name))})
    return ""


def _unbounded(spec: FieldSpec, found: Evaluated) -> Text:
    return say("Nothing bounds it here: fix the device or the conductor by hand, or give a limit.")


def _problem(found: Evaluated, name: str, words: Text) -> Evaluated:
    """No result, with the reason at the entry."""
    return replace(
        found, outcome=None, problems=(Problem(name, str(words)),), of=found.of, volts=None
    )


def with_found(report: Report, found: FoundEntry) -> Report:
    """The worksheet with what was found ahead of it, and the offer to enter it."""
    worksheet = Worksheet()
    words = say("{entry}: the largest at which this holds", entry=told(found.label))
    if found.aim == "smallest":
        words = say("{entry}: the smallest at which this holds", entry=told(found.label))
    worksheet.result("found", words, found.value, found.unit, entries=found.name)
    if found.bound:
        worksheet.note("found_bound", say("Beyond it: {why}", why=str(found.bound)))
    section = worksheet.section("found", say("Found"))
    change = Change(say("Enter {value}", value=found.text), ((found.name, found.text),))
    remark = Finding(
        "remark",
        "found",
        say("{entry} was found: {value}.", entry=told(found.label), value=found.text),
        entries=(found.name,),
        change=change,
    )
    results = {"found": Result(found.value, found.unit, say(found.label)), **report.results}
    return replace(
        report,
        sections=(section, *report.sections),
        results=results,
        findings=(*report.findings, remark),
        answer=("found", *report.answer),
    )


__all__ = ["UNKNOWN", "Aim", "FoundEntry", "find", "with_found"]
