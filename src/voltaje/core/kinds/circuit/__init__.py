"""A branch circuit for one load, or for outlets of one kind."""

from voltaje.core.kinds.circuit import calculate, report
from voltaje.core.kinds.circuit.calculate import hand_up
from voltaje.core.kinds.circuit.entries import GROUPS, compose, counterpart
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "circuit",
    "Circuit",
    "Any load: device, conductors, raceway",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    uses_loop=True,
    order=70,
    families=None,
    compose=compose,
    counterpart=counterpart,
    unknowns={
        "load": "largest",
        "length": "largest",
        "outlets": "largest",
        "others": "largest",
        "grouped_circuits": "largest",
    },
    tasks=(
        say(
            "A circuit of {length} on {system} ({connection}) for {load} ({use}): size its device "
            "and conductors."
        ),
        say(
            "A circuit on {system} ({connection}) for {load} ({use}): size its device and "
            "conductors."
        ),
        say("A circuit on {system} for the outlets below ({use}): size its device and conductors."),
    ),
    nameplate=(
        "use",
        "load",
        "required_sign",
        "minimum_ampacity",
        "maximum_device",
        "connection",
        "rated_volts",
        "power_factor",
        "continuous",
        "neutral",
        "nonlinear",
    ),
)

__all__ = ["KIND"]
