"""An autotransformer: every way to stack a unit, or a tapped winding in both directions."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from math import sqrt

from voltaje.core import quantities
from voltaje.core.codes import NotCoveredError, practice
from voltaje.core.electrical.windings import Stacked, TwoWindingUnit, ways
from voltaje.core.entries import WrongEntryError, ask_needed
from voltaje.core.kinds.autotransformer.entries import AutotransformerEntries
from voltaje.core.kinds.autotransformer.faults import Faulted, faulted, impedance
from voltaje.core.kinds.interface import Outcome
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.autotransformers import InputDevice, autotransformer_device

MOST_POINTS = 12  # no code figure: what stands legibly on a drawing
MOST_TURNS = 1e6  # no code figure


@dataclass(frozen=True, slots=True)
class Hookup:
    """One way to stack it at these volts: V ``out``, percent off the volts wanted (``None``: none
    are), ``flux`` in percent of rated, VA that it delivers, A from the ``source``, to the ``load``,
    in the series and the common winding at that VA or at the load given; percent ``loaded``."""

    stacked: Stacked
    out: float
    error: float | None
    flux: float
    delivers: float
    source: float
    load: float
    in_series: float
    in_common: float
    loaded: float | None

    @property
    def fits(self) -> bool:
        """Whether its windings may stand at these volts."""
        return fits(self.flux, practice().limit("overflux").value)


@dataclass(frozen=True, slots=True)
class Tapped:
    """A tapped winding: its ``points`` in turns, V ``each`` turn, which points the source and the
    load are on, V ``out``, the point ``found`` for the volts wanted (``None``: not asked); A from
    the source, to the load, and in each piece between neighbouring points."""

    points: tuple[float, ...]
    each: float
    source_on: tuple[float, float]
    load_on: tuple[float, float]
    out: float
    found: float | None
    source: float | None
    load: float | None
    pieces: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class AutotransformerOutcome(Outcome):
    """All ways with the one taken, or the tapped winding; the device ahead; what the fault that is
    tried does to one unit."""

    ways: tuple[Hookup, ...] = ()
    chosen: Hookup | None = None
    units: int = 1
    tapped: Tapped | None = None
    device: InputDevice | None = None
    faulted: Faulted | None = None


def calculate(entries: AutotransformerEntries, context: Context) -> AutotransformerOutcome:
    """Raises :class:`WrongEntryError` at what is missing."""
    ask_needed(entries)
    if entries.construction == "tapped":
        tapped = _tapped(entries)
        volts, source = (entries.source_voltage or 0.0, tapped.out), tapped.source
        device = None if source is None else _device(source, source, volts, context)
        return AutotransformerOutcome(
            amperes=tapped.source,
            units={"1": 1, "wye": 3, "open delta": 2}[entries.phases],
            tapped=tapped,
            device=device,
        )
    unit = TwoWindingUnit(entries.winding or 1.0, entries.other_winding or 1.0, entries.kva or 1.0)
    found = [_way(stacked, entries) for stacked in ways(unit)]
    if entries.required_voltage is not None:
        found.sort(key=lambda way: (not way.fits, abs(way.error or 0.0)))
    else:
        found.sort(key=lambda way: (not way.fits, abs(way.flux - 100)))
    chosen = found[0] if found and found[0].fits else None
    device, sick = None, None
    if chosen is not None:
        fed = entries.source_voltage or 1.0
        full = chosen.delivers / (fed * entries.root)
        device = _device(full, chosen.source, (fed, chosen.out), context)
        if entries.fault != "none":
            sick = _faulted(chosen, device, entries)
    return AutotransformerOutcome(
        amperes=chosen.source if chosen else None,
        ways=tuple(found),
        chosen=chosen,
        units={"1": 1, "wye": 3, "open delta": 2}[entries.phases],
        device=device,
        faulted=sick,
    )


def _faulted(way: Hookup, device: InputDevice | None, entries: AutotransformerEntries) -> Faulted:
    """One unit of the bank with its share of the load."""
    fed = at_unit(entries, entries.source_voltage or 1.0)
    asked = entries.load_va(way.out)
    va = (way.delivers if asked is None else asked) / entries.root
    va *= fed / (entries.source_voltage or 1.0)
    percent = impedance(entries.impedance)
    return faulted(entries.fault, way.stacked, fed, va, percent, device)


def at_unit(entries: AutotransformerEntries, volts: float) -> float:
    """V on a unit where the lines have ``volts``; three in wye stand between line and star."""
    return volts / sqrt(3) if entries.phases == "wye" else volts


def _device(
    full: float, load: float, volts: tuple[float, float], context: Context
) -> InputDevice | None:
    """For line ``volts`` in and out; ``None`` where the rule or the standard sizes end."""
    if not context.edition.has_limit("autotransformer_volts"):
        return None  # another family has no such rule
    if not fits(max(volts), context.edition.limit("autotransformer_volts").value):
        return None
    try:
        return autotransformer_device(full, load, context.edition)
    except NotCoveredError:
        return None


def _way(stacked: Stacked, entries: AutotransformerEntries) -> Hookup:
    fed, root = entries.source_voltage or 1.0, entries.root
    out = stacked.out(fed)
    # what the series winding may carry, at the volts of the side that it stands in
    most = stacked.series_amperes * root * (out if stacked.in_load_side else fed)
    asked = entries.load_va(out)
    va = most if asked is None else asked
    source, load, in_series, in_common = stacked.amperes(va / root, fed)
    return Hookup(
        stacked,
        out,
        None if entries.required_voltage is None else 100 * (out / entries.required_voltage - 1),
        100 * stacked.over(at_unit(entries, fed)),
        most,
        source,
        load,
        in_series,
        in_common,
        None if asked is None else 100 * asked / most,
    )


def _numbers(text: str, path: str, least: int, most: int) -> tuple[float, ...]:
    """Points as typed. Raises :class:`WrongEntryError`."""
    found = []
    for part in text.replace(";", ",").split(","):
        if not part.strip():
            continue
        try:
            value = quantities.read_number(part.strip().rstrip("%V").strip())
        except (ValueError, OverflowError):
            value = float("nan")
        if not 0 <= value <= MOST_TURNS:
            words = say("Give points from 0 on, like 0, 208, 240.")
            raise WrongEntryError(path, words)
        found.append(value)
    if not least <= len(found) <= most:
        words = say("Give {least} to {most} points, like 0, 208, 240.", least=least, most=most)
        if least == most:
            words = say("Give two points, like 0, 240.")
        raise WrongEntryError(path, words)
    return tuple(found)


def _tapped(entries: AutotransformerEntries) -> Tapped:
    points = tuple(sorted(set(_numbers(entries.taps, "taps", 2, MOST_POINTS))))
    if len(points) < 2:
        raise WrongEntryError("taps", say("A winding has two ends: give two points at least."))
    fed = entries.source_voltage or 1.0
    source_on = _pair(entries.source_on, "source_on", points)
    each = at_unit(entries, fed) / abs(source_on[1] - source_on[0])
    found = None
    if entries.load_on.strip():
        load_on = _pair(entries.load_on, "load_on", points)
    elif entries.required_voltage is None:
        words = say("Give the points of the load, or the volts wanted to find them.")
        raise WrongEntryError("load_on", words)
    else:  # from the source's lower point up: how many turns give the volts wanted
        low = min(source_on)
        found = low + at_unit(entries, entries.required_voltage) / each
        if not fits(found, points[-1]):
            words = say(
                "The whole winding gives {most} V from there: fewer are wanted.",
                most=(points[-1] - low) * each * (fed / at_unit(entries, fed)),
            )
            raise WrongEntryError("required_voltage", words)
        load_on = (low, found)
        points = tuple(sorted({*points, found}))
    out = each * abs(load_on[1] - load_on[0]) * (fed / at_unit(entries, fed))
    source = load = None
    pieces: tuple[float, ...] = ()
    asked = entries.load_va(out)
    if asked is not None:
        root = entries.root
        source, load = asked / (fed * root), asked / (out * root)
        pieces = tuple(
            abs(source * _within(pair, source_on) - load * _within(pair, load_on))
            for pair in pairwise(points)
        )
    return Tapped(points, each, source_on, load_on, out, found, source, load, pieces)


def _pair(text: str, path: str, points: tuple[float, ...]) -> tuple[float, float]:
    one, other = _numbers(text, path, 2, 2)
    for value in (one, other):
        if value not in points:
            words = say("{value} is none of the ends and taps: add it there.", value=value)
            raise WrongEntryError(path, words)
    if one == other:
        raise WrongEntryError(path, say("Both stand on one point: give two."))
    return one, other


def _within(piece: tuple[float, float], span: tuple[float, float]) -> float:
    """1 where a piece of the winding lies within the span, else 0."""
    return 1.0 if min(span) <= piece[0] and piece[1] <= max(span) else 0.0
