"""A motor by its kW or its nameplate, under the codes that think as IEC 60364 does: how it starts,
the relay that guards its cable, the device that lets it start."""

from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.machine import calculate, report
from voltaje.core.kinds.machine.calculate import hand_up
from voltaje.core.kinds.machine.entries import GROUPS, compose
from voltaje.core.report import say
from voltaje.core.rules.iec60364 import METRIC
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "machine",
    "Motor by kW",
    "Starting, relay, device, cable",
    compose(code_of("bs7671")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    uses_loop=True,
    order=85,
    families=METRIC,
    compose=compose,
    unknowns={"length": "largest"},
    tasks=(
        say(
            "A motor of {power} ({connection}) on {system}, {length} from its board, started "
            "{starting}: size its cable and its protective device."
        ),
        say(
            "A motor of {power} ({connection}) on {system}, started {starting}: size its cable "
            "and its protective device."
        ),
    ),
    nameplate=(
        "power",
        "nameplate",
        "connection",
        "efficiency",
        "power_factor",
        "starting_current",
    ),
)

__all__ = ["KIND"]
