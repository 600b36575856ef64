"""A motor circuit: conductors, short-circuit device and overload, each by its own current."""

from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.motor import calculate, report
from voltaje.core.kinds.motor.calculate import hand_up
from voltaje.core.kinds.motor.entries import GROUPS, compose
from voltaje.core.kinds.motor.slips import usual_slips
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.north_america import AWG

KIND = Kind(
    "motor",
    "Motor circuit",
    "Horsepower to conductors, device, overload",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    order=100,
    families=AWG,
    compose=compose,
    unknowns={"length": "largest"},
    slips=usual_slips,
    tasks=(
        say(
            "A {horsepower} motor ({motor}, {connection}) on {system}, {length} from its board: "
            "size its conductors, its short-circuit device and its overload."
        ),
        say(
            "A {horsepower} motor ({motor}, {connection}) on {system}: size its conductors, its "
            "short-circuit device and its overload."
        ),
    ),
    nameplate=(
        "horsepower",
        "motor",
        "connection",
        "dc_volts",
        "nameplate",
        "service_factor",
        "temperature_rise",
        "secondary",
        "duty",
        "rated_time",
        "code_letter",
        "starting_current",
        "power_factor",
    ),
)

__all__ = ["KIND"]
