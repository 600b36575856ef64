"""What a fault in an autotransformer does: volts at the load, amperes, whether the device ahead
opens. Solved as a network of its two coils, with the impedance of the unit."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal, get_args

from voltaje.core.codes import practice
from voltaje.core.electrical.network import (
    EARTH,
    Coil,
    Conductor,
    Network,
    NetworkLoad,
    Source,
    solved,
)
from voltaje.core.electrical.windings import Stacked, small_unit
from voltaje.core.report import fits
from voltaje.core.rules.north_america.autotransformers import InputDevice

Fault = Literal[
    "none",
    "series shorted",
    "series open",
    "common shorted",
    "common open",
    "load shorted",
    "load earthed",
    "source earthed",
]
FAULTS: tuple[Fault, ...] = get_args(Fault)
Opens = Literal["holds", "late", "opens", "unknown"]
# common practice: an inverse-time device opens without delay from about six times its rating on
AT_ONCE = 6.0
# no code figure: the A that a supply gives into a bolted short where nobody has told it
STIFF = 10_000.0
# a core holds off little more than its rated volts: beyond, it saturates (common practice)
KNEE = 1.2


@dataclass(frozen=True, slots=True)
class Faulted:
    """With that ``fault``: V at the ``load``, before it ``healthy``; A from the ``source``, in the
    ``series`` and the ``common`` winding and ``times`` their rated; whether the device ahead opens;
    of a shorted load the A that an ``isolating`` unit of the size would pass."""

    fault: Fault
    load: float
    healthy: float
    source: float
    series: float
    common: float
    series_times: float
    common_times: float
    opens: Opens
    isolating: float | None


def faulted(
    fault: Fault, way: Stacked, fed: float, va: float, percent: float, device: InputDevice | None
) -> Faulted:
    """One unit, fed with ``fed`` V and loaded with ``va`` VA, its impedance in percent as two
    windings."""
    healthy = solved(_network("none", way, fed, va, percent))
    sick = solved(_network(fault, way, fed, va, percent))
    source = sick.amperes("line")
    series, common = sick.amperes("series"), sick.amperes("common")
    load = sick.load_volts("load")
    if fault == "common open":
        load, source = _choked(way, fed, va)
        series = source
    rating = device.size if device else None
    opens: Opens = "unknown"
    if rating is not None:
        opens = "opens" if source > AT_ONCE * rating else "late"
        if fits(source, rating):
            opens = "holds"
    isolating = None
    if fault in ("load shorted", "load earthed"):
        isolating = way.unit.va / way.out(fed) / (percent / 100)
    return Faulted(
        fault,
        load,
        healthy.load_volts("load"),
        source,
        series,
        common,
        series / way.series_amperes,
        common / way.common_amperes,
        opens,
        isolating,
    )


def _choked(way: Stacked, fed: float, va: float) -> tuple[float, float]:
    """V at the load and A through the series winding where the common one is open: no other winding
    holds the flux down, so the series one is a choke that saturates, and the load gets nearly all
    that is fed."""
    held = min(KNEE * way.series, fed)
    volts = sqrt(max(fed**2 - held**2, 0.0))
    return volts, volts * va / way.out(fed) ** 2


def impedance(given: float | None) -> float:
    """Percent of the nameplate, or the usual ones."""
    return given if given is not None else practice().value("unit_impedance")


def _network(fault: Fault, way: Stacked, fed: float, va: float, percent: float) -> Network:
    """The return goes straight through, earthed; the joint is where both coils meet."""
    at_joint = (way.way == "up") == way.aiding
    entry, exit_ = ("joint", "far") if at_joint else ("far", "joint")

    series_ends = ("far top", "joint") if way.aiding else ("joint", "far top")
    coils = (
        Coil("common", "joint", "common foot", way.common),
        Coil("series", *series_ends, way.series),
    )
    core = small_unit("unit", coils, way.unit.va, percent)
    links = [
        Conductor("supply", "source", entry),
        Conductor("common link", "common foot", "return", open=fault == "common open"),
        Conductor("series link", "far", "far top", open=fault == "series open"),
        Conductor("earth", "return", EARTH),
    ]
    across = {
        "series shorted": ("far", "joint"),
        "common shorted": ("joint", "return"),
        "load shorted": (exit_, "return"),
        "load earthed": (exit_, EARTH),
        "source earthed": ("source", EARTH),
    }
    if fault in across:
        links.append(Conductor("fault", *across[fault]))
    out = way.out(fed)
    return Network(
        (Source("line", "source", "return", fed, complex(0, fed / STIFF)),),
        tuple(links),
        (NetworkLoad("load", exit_, "return", va, out, 0, 0, 1),),
        (core,),
    )
