"""The heat of a short circuit, apart from a fault to earth: at the far end by the time in which the
device opens for the smallest current, at the origin by what it lets through of the largest."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

from voltaje.core.codes import Edition, practice
from voltaje.core.report import fits
from voltaje.core.rules.common.fuses import opening as band
from voltaje.core.rules.iec60364.entries import BREAKERS

# physics: s of 50 Hz; a breaker that limits nothing opens with the next zero of the current
HALF_CYCLE = 0.01
# IEC 60269-1: s of the shortest gate of a fuse-link
SHORTEST_GATE = 0.1


@dataclass(frozen=True, slots=True)
class ShortCircuit:
    """A conductor at a short: the smallest current at its far ``end`` in A with the ``seconds`` in
    which the device opens (``None``: not within those that it is known for), the largest at its
    ``origin`` with what the device lets through, A²s; 0 where a current is not known. ``least`` is
    the area in mm² that both ask for. ``known`` says that the far end could be judged."""

    end: float
    seconds: float | None
    origin: float
    energy: float
    least: float
    known: bool = True

    @property
    def opens(self) -> bool:
        """Whether the device is sure to open for the smallest."""
        return not self.known or self.seconds is not None

    def holds(self, area: float) -> bool:
        """Whether a conductor of that area, mm², stands it."""
        return self.opens and fits(self.least, area)


def short_of(
    end: float,
    origin: float,
    k: float,
    kind: str,
    device: float,
    times: float,
    edition: Edition,
    known: bool = True,
) -> ShortCircuit:
    """A conductor of that ``k`` behind a device: ``end`` and ``origin`` in A, ``times`` the
    multiple of its rating at which a breaker is sure to open at once (0: a fuse)."""
    seconds = seconds_at(kind, device, end, times, edition) if end else None
    by_time = end * sqrt(seconds) / k if end and seconds else 0.0
    energy = lets_through(kind, device, origin, bool(times)) if origin else 0.0
    return ShortCircuit(
        end, seconds, origin, energy, max(by_time, sqrt(energy) / k), known and end > 0
    )


@lru_cache(maxsize=1024)
def seconds_at(
    kind: str, device: float, amperes: float, times: float, edition: Edition
) -> float | None:
    """s within which a device opens at a current; ``None`` where it need not within the longest
    time that it is tabulated for, or a breaker only by its thermal part."""
    if times:
        return edition.value("instant") if fits(times * device, amperes) else None
    found = _tabulated(kind, device, amperes, edition)
    if kind == "gG":  # its band says it finer
        latest = band(device, amperes).latest
        if found is not None and latest is not None:
            return min(found, latest)
    return found


def _tabulated(kind: str, device: float, amperes: float, edition: Edition) -> float | None:
    topic, row = "fuse_loops", f"{device:g}"
    volts = edition.value("loop_volts") * edition.value("loop_least")
    for column in sorted(edition.columns(topic), key=lambda name: float(name.split(" | ")[1])):
        fuse, seconds = column.split(" | ")
        loop = edition.cell_or_none(topic, row, column) if fuse == kind else None
        if loop is not None and fits(volts / loop.value, amperes):
            return float(seconds)
    return None


@lru_cache(maxsize=1024)
def lets_through(kind: str, device: float, amperes: float, breaker: bool) -> float:
    """A²s that a device lets through at most at a prospective current. A fuse-link no more than
    at its latest 0.1 s; a breaker of the limiting class as tabulated, above that a half cycle."""
    book = practice()
    if not breaker:
        rows = book.rows("fuse_gates")
        row = next((r for r in rows if fits(device, float(r))), rows[-1])
        most = book.cell("fuse_gates", row, "most at 0.1 s").value * max(1.0, device / float(row))
        seconds = band(device, amperes).latest
        # slower than that it is judged by its time
        return min(most**2, amperes**2) * SHORTEST_GATE if seconds is not None else 0.0
    topic = "breaker_energy"
    row = next((r for r in book.rows(topic) if fits(device, float(r))), "")
    column = next((c for c in book.columns(topic) if fits(amperes, float(c))), "")
    if kind in BREAKERS[:2] and row and column:
        return min(book.cell(topic, row, column).value, amperes**2 * HALF_CYCLE)
    return amperes**2 * HALF_CYCLE
