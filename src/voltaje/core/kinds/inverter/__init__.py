"""An inverter that feeds a board: its amperes, the breaker in its enclosure, the cable, the rise of
the volts to it, and whether the bus of the board holds it."""

from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.inverter import calculate, report
from voltaje.core.kinds.inverter.calculate import hand_up
from voltaje.core.kinds.inverter.entries import GROUPS, compose
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "inverter",
    "Inverter",
    "Breaker in the heat, cable, rise, bus",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    uses_loop=True,
    order=90,
    families=None,
    compose=compose,
    unknowns={"length": "largest"},
    tasks=(
        say(
            "An inverter of {power} ({connection}) feeds {system} over {length}: size its device "
            "and conductors and check the bus."
        ),
        say(
            "An inverter of {power} ({connection}) feeds {system}: size its device and conductors "
            "and check the bus."
        ),
    ),
    nameplate=("power", "maximum_current", "connection", "power_factor"),
)

__all__ = ["KIND"]
