"""What the solved job says on a part's worksheet: volts, amperes by line, the drop from the
supply."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

from voltaje.core.codes import Edition, practice
from voltaje.core.electrical.lines import phasors
from voltaje.core.electrical.systems import Missing, System
from voltaje.core.kinds.incomplete import named
from voltaje.core.kinds.interface import Outcome, Volts
from voltaje.core.report import (
    Brief,
    Finding,
    Findings,
    InstrumentPoint,
    PointKey,
    Report,
    Result,
    Worksheet,
    figure,
    figure_beside,
    fits,
    say,
)
from voltaje.core.rules.settings import Limits

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

SHOWN_FROM = 1e-6


@dataclass(frozen=True, slots=True)
class Across:
    """Volts between two conductors, as a phasor too, and without load."""

    one: str
    other: str
    volts: float
    phasor: complex
    bare: float


def told_apart(inside: float, limits: Limits) -> float:
    """Of the percent that transformers lose in themselves, what is told apart: where the job goes
    by the code's advice, which is for feeders and branch circuits."""
    return inside if inside > SHOWN_FROM and limits.scheme in ("code", "own") else 0.0


@dataclass(frozen=True, slots=True)
class Found:
    """What every part has of it: the job's limits, the percent ``lost`` from the supply and what of
    it transformers lose in themselves; ``left``, for a sheet with a network of its own, what share
    of the nominal volts it begins with, by the circuits that its points name."""

    limits: Limits
    edition: Edition
    lost: float
    inside: float
    left: Mapping[str, float] | None

    @property
    def told_inside(self) -> float:
        """Percent that is told apart."""
        return told_apart(self.inside, self.limits)

    @property
    def drop_total(self) -> float | None:
        """Percent lost from the supply; ``None`` where nothing is."""
        if not self.counts or abs(self.lost) < SHOWN_FROM:
            return None
        return max(0.0, self.lost - self.told_inside) if self.told_inside else self.lost

    @property
    def counts(self) -> bool:
        """Whether the drop is this part's to tell."""
        return True

    def on_site(self, points: Sequence[InstrumentPoint]) -> tuple[InstrumentPoint, ...]:
        """The points of a sheet that begins with nominal volts, each with what the rest of the job
        leaves of them; its amperes hardly change."""
        left = self.left or {}
        return tuple(
            replace(point, on_site=point.value * left[_circuits(point, left)])
            if point.unit == "V"
            and point.role in ("volts", "joint")
            and _circuits(point, left) in left
            else point
            for point in points
        )

    def judged(self, worked: Report, outcome: Outcome) -> Report:
        """The drop from the supply beside the run's own, against the job's limit. The code's advice
        is for feeders and branch circuits: what transformers lose in themselves is told apart
        there."""
        lost = self.drop_total
        if lost is None:
            return worked
        results = dict(worked.results)
        if self.told_inside:
            words = say("Lost in transformers, besides")
            results["drop_in_installation"] = Result(self.inside, "%", words)
        results["drop_total"] = Result(lost, "%", say("Drop from the supply"))
        finding = self.drop_finding(outcome)
        findings = worked.findings if finding is None else (*worked.findings, finding)
        answer = tuple(
            name
            for own in worked.answer
            for name in ((own, "drop_total") if own == "drop_percent" else (own,))
        )
        return replace(worked, results=results, findings=findings, answer=answer)

    def drop_finding(self, outcome: Outcome) -> Finding | None:
        """The drop from the supply above the job's limit, or that of its use."""
        lost = self.drop_total
        limit = outcome.drop_limit or self.limits.total(self.edition)
        if lost is None or outcome.drop is None or fits(lost, limit.value):
            return None
        given = {"percent": figure_beside(lost, limit.value, 1), "limit": limit.value}
        words = say(
            "From the supply on the drop is {percent} %, above the {limit} % that is advised.",
            **given,
        )
        binds = self.limits.binds(self.edition)
        if binds:
            words = say(
                "From the supply on the drop is {percent} %, above the {limit} % that it may be.",
                **given,
            )
        return Finding(
            "fail" if binds else "check",
            "drop_total",
            words,
            f"{figure_beside(lost - limit.value, 0.0, 1)} %",
            say("Enlarge the feeder or the circuit, whichever loses more."),
            (limit.rule,),
            ("length",),
        )

    def within_band(self, worked: Report, volts: float, nominal: float) -> Report:
        """Where the job goes by the supply's tolerance: the volts themselves against its band."""
        finding = self.band_finding(volts, nominal)
        if finding is None:
            return worked
        return replace(worked, findings=(*worked.findings, finding))

    def band_finding(self, volts: float, nominal: float) -> Finding | None:
        """The volts against the supply's band, where the job goes by it."""
        if self.limits.scheme != "tolerance" or not nominal:
            return None
        high, low = self.limits.rise(self.edition), self.limits.total(self.edition)
        percent = 100 * (volts - nominal) / nominal
        given = {
            "volts": figure(volts, 1),
            "percent": figure_beside(abs(percent), high.value if percent > 0 else low.value, 1),
            "nominal": figure(nominal),
        }
        words = say("{volts} V here, {percent} % below the nominal {nominal} V.", **given)
        over = -percent - low.value
        if percent > 0:
            words = say("{volts} V here, {percent} % above the nominal {nominal} V.", **given)
            over = percent - high.value
        findings = Findings()
        findings.judged(
            fits(percent, high.value) and fits(-percent, low.value),
            "band",
            words,
            f"{figure(abs(over), 1)} %",
            mend=say(
                "Equipment is built for +{high} % to −{low} %.",
                high=figure(high.value),
                low=figure(low.value),
            ),
            rules=high.rule,
        )
        return next(iter(findings))


def _circuits(point: InstrumentPoint, left: Mapping[str, float]) -> str:
    return "" if "" in left else "-".join(sorted(point.line.split("-")))


@dataclass(frozen=True, slots=True)
class Exported:
    """With all that feeds in and no load: percent that the volts rise, A that flow back."""

    rise: float
    amperes: float


@dataclass(frozen=True, slots=True)
class HolderVolts(Found):
    """The volts at the end of a part that holds others, between each pair of its conductors, and
    the amperes that flow on in each wire; ``judged_here`` is false for the supply itself, which
    holds the ``whole`` network's solution."""

    system: System
    across: tuple[Across, ...]
    amperes: tuple[tuple[str, complex], ...]
    judged_here: bool
    export: Exported | None = None
    whole: Solution | None = None
    # percent lost from the supply that is judged, between each pair of its conductors
    lost_between: Mapping[str, float] = field(default_factory=dict)

    @property
    def counts(self) -> bool:
        return self.judged_here

    @property
    def losses(self) -> float:
        """W lost in all conductors of the supply; 0 at other parts."""
        return self.whole.losses if self.whole is not None else 0.0

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The part with the volts at its end."""
        if self.left is not None:
            worked = replace(worked, points=self.on_site(worked.points))
        worksheet, results, points = Worksheet(), dict(worked.results), list(worked.points)
        for pair in self.across:
            self._volts(pair, worksheet, results, points)
        for wire, current in self.amperes:
            words = say("Neutral") if wire == "N" else say("Line {line}", line=wire)
            points.append(InstrumentPoint(PointKey(wire), words, abs(current), "A", current, wire))
            name = f"flow_{wire.lower()}"
            results[name] = Result(abs(current), "A", words)
            worksheet.note(name, words, abs(current), "A", flow=wire)
        if self.export is not None:
            back, rise = self.export.amperes, self.export.rise
            words = say("Fed back, no load on")
            worksheet.note("export_amperes", words, back, "A", flow="L1")
            results["export_amperes"] = Result(back, "A", words)
            words = say("Its volts rise then")
            worksheet.note("export_rise", words, rise, "%", flow="L1")
            results["export_rise"] = Result(rise, "%", words)
        title = say("Volts here, the job solved with its calculated load")
        worked = replace(
            worked,
            sections=(*worked.sections, worksheet.section("solved", title)),
            results=results,
            points=tuple(points),
        )
        volts, nominal = self._lowest()
        worked = replace(worked, headline=_headed(worked.headline, volts))
        if not self.judged_here:
            return worked
        if outcome.drop is not None:
            worked = self.within_band(worked, volts, nominal)
        return self.judged(worked, outcome)

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """The part with the lowest volts at its end."""
        volts, nominal = self._lowest()
        told = replace(own, headline=_headed(own.headline, volts))
        if not self.judged_here:
            return told
        band = self.band_finding(volts, nominal) if outcome.drop is not None else None
        return told.adding(band, self.drop_finding(outcome))

    def _lowest(self) -> tuple[float, float]:
        """The volts that have fallen most, to neutral where there is one, and their nominal."""
        read = [a for a in self.across if (a.other == "N") == self.system.has_neutral]
        lowest = min(read, key=lambda a: a.volts / (a.bare or 1.0))
        nominal = self.system.line_to_line
        if lowest.other == "N":
            nominal = abs(phasors(self.system)[lowest.one])
        return lowest.volts, nominal

    def _volts(
        self,
        pair: Across,
        worksheet: Worksheet,
        results: dict[str, Result],
        points: list[InstrumentPoint],
    ) -> None:
        words = say("{one} to {other}", one=pair.one, other=pair.other)
        if pair.other == "N":
            words = say("{one} to neutral", one=pair.one)
        key, one = f"{pair.one}-{pair.other}", pair.one
        points.append(
            InstrumentPoint(
                PointKey(key), words, pair.volts, "V", pair.phasor, one, 0, 0.0, pair.bare, "volts"
            )
        )
        percent = 100 * (pair.bare - pair.volts) / pair.bare if pair.bare else 0.0
        shown = say(
            "{percent} % below {volts} V without load",
            percent=figure(percent, 1),
            volts=figure(pair.bare, 1),
        )
        name = f"volts_{pair.one}_{pair.other}".lower()
        results[name] = Result(pair.volts, "V", words)
        worksheet.step(name, words, pair.volts, "V", shown, flow=one)


def lost_between(volts: Volts | None, pair: str) -> float | None:
    """Percent lost from the supply up to a part, between a pair of conductors (``L1-N``) where the
    part knows it, else as it is judged there; ``None`` where nothing is known."""
    if isinstance(volts, HolderVolts):
        found = volts.lost_between.get(pair)
        return volts.drop_total if found is None else found
    return volts.drop_total if volts is not None else None


def pair_of(volts: Volts | None) -> str:
    """The conductors that a circuit's load stands between; ``""`` where that is not known."""
    return f"{volts.one}-{volts.other}" if isinstance(volts, LeafVolts) else ""


@dataclass(frozen=True, slots=True)
class FedVolts:
    """A source at its terminals: percent that its ``own`` cable and the lines ``ahead`` add to the
    volts of the supply; the volts with all load on and nothing fed in, and with all that feeds in
    and no load."""

    edition: Edition
    own: float
    ahead: float
    importing: float
    exporting: float
    one: str
    other: str
    drop_total: float | None = None

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The source with both cases, and the rise from the point of supply against its limit."""
        limit, worksheet = practice().limit("rise"), Worksheet()
        pair = say("{one} to {other}", one=self.one, other=self.other)
        if self.other == "N":
            pair = say("{one} to neutral", one=self.one)
        words = say("Import: all load on, nothing fed in")
        worksheet.step("import_volts", words, self.importing, "V", str(pair))
        words = say("Export: all that feeds in, no load")
        worksheet.step("export_volts", words, self.exporting, "V", str(pair))
        total = self.own + self.ahead
        shown = f"{figure(self.ahead, 2)} + {figure(self.own, 2)}"
        words = say("Rise from the point of supply")
        worksheet.result("rise_total", words, total, "%", shown, limit.rule)
        results = {
            **worked.results,
            "rise_total": Result(total, "%", words),
            "import_volts": Result(self.importing, "V", say("Volts on import")),
            "export_volts": Result(self.exporting, "V", say("Volts on export")),
        }
        section = worksheet.section("export", say("Import and export, the job solved"))
        return replace(
            worked,
            sections=(*worked.sections, section),
            results=results,
            findings=(*worked.findings, self._rise()),
            answer=(*worked.answer, "rise_total"),
        )

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """The source with its rise, where that is above the limit."""
        return own.adding(self._rise())

    def _rise(self) -> Finding:
        limit, total = practice().limit("rise"), self.own + self.ahead
        findings = Findings()
        said = say(
            "From the point of supply its volts rise {total} %; {most} % is usual at most.",
            total=figure(total, 2),
            most=limit.value,
        )
        over = f"{figure(abs(limit.value - total), 2)} %"
        if fits(total, limit.value):
            findings.passes("rise_total", said, over, rules=limit.rule)
        else:
            mend = say("Enlarge the lines ahead, or its cable, whichever raises more.")
            findings.check("rise_total", said, over, mend=mend, rules=limit.rule, entries="length")
        return next(iter(findings))


@dataclass(frozen=True, slots=True)
class LeafVolts(Found):
    """The volts at a circuit's load, between ``one`` and ``other``, and what they would be without
    loss."""

    one: str
    other: str
    volts: float
    phasor: complex
    nominal: float

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The circuit with the volts at its load; of a sheet with a network of its own, its points
        as they are on site."""
        if self.left is None:
            worked = self._at_load(worked, outcome)
        else:
            worked = replace(worked, points=self.on_site(worked.points))
        # what is open or burning is a finding of its own
        if outcome.opened:
            return worked
        worked = replace(worked, headline=_headed(worked.headline, self.volts))
        return self.judged(self.within_band(worked, self.volts, self.nominal), outcome)

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """The circuit with the volts at its load."""
        if outcome.opened:
            return own
        told = replace(own, headline=_headed(own.headline, self.volts))
        band = self.band_finding(self.volts, self.nominal)
        return told.adding(band, self.drop_finding(outcome))

    def _at_load(self, worked: Report, outcome: Outcome) -> Report:
        words = say("At the load, {pair}", pair=f"{self.one}-{self.other}")
        if self.other == "N":
            words = say("At the load, {one} to neutral", one=self.one)
        phasor, nominal, at = self.phasor, self.nominal, (self.one, 0, 0.0)
        points = [
            InstrumentPoint(PointKey("load"), words, self.volts, "V", phasor, *at, nominal, "volts")
        ]
        if outcome.amperes is not None:
            each = outcome.amperes
            for wire in outcome.wires or (self.one,):
                words = say("Neutral") if wire == "N" else say("Line {line}", line=wire)
                points.append(
                    InstrumentPoint(PointKey(wire), words, each, "A", complex(each), wire)
                )
        volts = Result(self.volts, "V", say("Volts at the load"))
        return replace(
            worked,
            results={**worked.results, "volts_at_load": volts},
            points=(*worked.points, *points),
        )


def _headed(headline: str, volts: float) -> str:
    return f"{headline} · {figure(volts, 0)} V"


@dataclass(frozen=True, slots=True)
class ByBand:
    """A part of a supply of which no length is known: its points stand at the supply's own volts,
    to be read against its band, and nothing is said of a drop."""

    volts: Volts
    drop_total: float | None = None

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The worksheet with its points alone."""
        return replace(worked, points=self.volts.report(worked, outcome).points)

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """As it is without them."""
        return own


@dataclass(frozen=True, slots=True)
class Collapse:
    """A job whose conductors carry only that share of its load: its volts collapse."""

    share: float
    drop_total: float | None = None

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The supply's worksheet with that finding."""
        return replace(worked, findings=(*worked.findings, self._finding()))

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """The supply with that finding."""
        return own.adding(self._finding())

    def _finding(self) -> Finding:
        words = say(
            "The conductors of this job cannot carry its load: the volts collapse. At most"
            " {share} % of it can be carried.",
            share=figure(100 * self.share, 0),
        )
        mend = say("Look for a run that is far too long or too thin.")
        return Finding("fail", "collapse", words, "", mend)


@dataclass(frozen=True, slots=True)
class Unsolved:
    """A job whose network could not be solved, with what stands in the way."""

    words: str
    drop_total: float | None = None

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The supply's worksheet with that finding."""
        return replace(worked, findings=(*worked.findings, self._finding()))

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """The supply with that finding."""
        return own.adding(self._finding())

    def _finding(self) -> Finding:
        words = say("The volts of this job could not be solved: {words}.", words=self.words)
        return Finding("check", "unsolved", words, "")


@dataclass(frozen=True, slots=True)
class NotSolved:
    """A supply whose volts are not worked, since results of its parts are missing."""

    missing: tuple[Missing, ...]
    drop_total: float | None = None

    def report(self, worked: Report, outcome: Outcome) -> Report:
        """The worksheet with what is not judged. Volts without all loads would be too high."""
        words = say(
            "Not judged without {names}: the volts here and the drop from the supply.",
            names=named(self.missing),
        )
        finding = Finding("remark", "not_judged", words, "")
        return replace(worked, findings=(*worked.findings, finding))

    def brief(self, own: Brief, outcome: Outcome) -> Brief:
        """As it is: a remark asks nothing."""
        return own
