"""Whether a device and a cable go together, and by which rule they do not: one rule a function, in
the order in which they are asked.

The numbers are those of BS 7671, which SANS 10142-1 shares in the main; AS/NZS 3000 asks the same
under its own numbers, which its tables give.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.report import Rounded, Rule, Text, fits, say
from voltaje.core.rules.iec60364.disconnection import Disconnection
from voltaje.core.rules.iec60364.short_circuit import ShortCircuit
from voltaje.core.sizing import Verdict, decide

OPENED_BY = {"breaker": "loop", "moulded": "moulded", "fuse": "loop_fuse", "rcd": "rcd_loop"}
SIGNS: dict[Metal, str] = {"copper": "Cu", "aluminum": "Al"}


def named(size: Size, metal: Metal | None = None) -> str:
    """``"2.5 mm²"``, ``"2.5 mm² Cu"``."""
    return f"{size} mm² {SIGNS[metal]}" if metal else f"{size} mm²"


@dataclass(frozen=True, slots=True)
class CableRequest:
    """What a circuit asks for: its design current, A, the topic of the drop that it may have, and
    its use; the setting of a motor's relay that guards its cable (0: the device does); the least
    device that lets a motor start, or carries its load in a warm place, A."""

    design: float
    drop_topic: str
    use: str
    relay: float = 0.0
    least: float = 0.0

    @property
    def least_device(self) -> float:
        return max(self.design, self.least)


@dataclass(frozen=True, slots=True)
class Dropped:
    """What a run loses: the tabulated mV/A/m cell, what of it is ``taken`` (1: all), the ``volts``
    and how warm its conductor is, °C (0: not asked)."""

    mv: Cell
    taken: float
    volts: float
    degrees: float = 0.0


@dataclass(frozen=True)
class CableCandidate:
    """A device and a cable: the device in A and what it lets through for good, A (its ``setting``);
    ``tabulated`` A, its ``ampacity`` as it lies and what is ``asked`` of it, A; percent ``lost``
    and what it may lose, the loop in Ω (``None``: not known) with R1 + R2 of its own ``run``, and
    what lets it open; ``heat`` of a fault in the protective conductor, ``short`` of the line where
    a relay guards it against overload (``None``: not asked); kg and price for each metre."""

    edition: Edition
    need: CableRequest
    device: float
    setting: float
    size: Size
    protective: Size
    protective_rule: Rule
    metal: Metal
    tabulated: Cell
    ampacity: float
    asked: float
    dropped: Dropped
    lost: float | None
    allowed: float
    loop: float | None
    run: complex
    earthing: Literal["TN", "TT"]
    opening: Disconnection
    heat: ShortCircuit | None
    short: ShortCircuit | None
    mass: float
    price: float | None

    @property
    def option(self) -> Size:
        return self.size

    @property
    def sets(self) -> int:
        return 1

    @property
    def mv(self) -> Cell:
        """mV for each A and m."""
        return self.dropped.mv

    @property
    def most_loop(self) -> float:
        return self.opening.most

    @cached_property
    def verdict(self) -> Verdict:
        """The first rule that fails decides."""
        return decide(CHECKS, self)

    @property
    def passes(self) -> bool:
        return self.verdict.passes

    def fails(self, check: str, why: Text, *address: str) -> Verdict:
        """That it does not pass, by which check, why, under which rule."""
        return Verdict(False, check, self.edition, why, address)


def device_carries_load(pair: CableCandidate) -> Verdict | None:
    """433.1.1: the design current is within what the device lets through, Ib ≤ In."""
    if fits(pair.need.design, pair.setting):
        return None
    why = say("The device is below the design current")
    return pair.fails("device_below_load", why, "design_current")


def least_device(pair: CableCandidate) -> Verdict | None:
    """552.1.1, and 433.1.1 in a warm place: the least device that lets a motor start, or carries
    its load where it stands."""
    need = pair.need
    if fits(need.least, pair.device):
        return None
    if need.relay or need.use == "motor":
        why = say("The device may open while the motor starts")
        return pair.fails("least_device", why, "motor_start")
    why = say("The device carries less than its load where it stands")
    return pair.fails("least_device", why, "design_current")


def cable_carries_device(pair: CableCandidate) -> Verdict | None:
    """433.1.1 and Appendix 4: the cable carries what the device lets through, In ≤ Iz."""
    if fits(pair.asked, pair.ampacity):
        return None
    why = say(
        "Carries {carries} A as it lies: less than the {asked} A asked of it",
        carries=Rounded(pair.ampacity, 1, pair.asked),
        asked=Rounded(pair.asked, 1),
    )
    rule = pair.tabulated.rule
    return pair.fails("ampacity", why, rule.topic, rule.row, rule.column)


def voltage_drop(pair: CableCandidate) -> Verdict | None:
    """525 and Appendix 4, 6.4: the drop from the origin on."""
    if pair.lost is None or fits(pair.lost, pair.allowed):
        return None
    rule = pair.mv.rule
    why = say("Loses {percent} %: more than it may", percent=pair.lost)
    return pair.fails("voltage_drop", why, rule.topic, rule.row, rule.column)


def earth_fault_loop(pair: CableCandidate) -> Verdict | None:
    """411.4.4, 411.5.3: the loop lets the device open in time; with an electrode of its own only a
    residual-current device does."""
    cleared = pair.earthing == "TN" or pair.opening.how == "rcd"
    if pair.loop is None or not cleared or fits(pair.loop, pair.opening.most):
        return None
    why = say(
        "The loop of {ohms} Ω is above {most} Ω: the device may not open in time",
        ohms=Rounded(pair.loop, 3),
        most=pair.most_loop,
    )
    return pair.fails("earth_fault_loop", why, OPENED_BY[pair.opening.how])


def protective_conductor_heat(pair: CableCandidate) -> Verdict | None:
    """543.1.3: a protective conductor below its table bears the heat of a fault."""
    heat = pair.heat
    if heat is None or heat.holds(float(pair.protective)):
        return None
    why = say(
        "The protective conductor of {size} wants {least} mm² by the heat of a fault",
        size=named(pair.protective),
        least=heat.least,
    )
    if not heat.opens:
        why = say(
            "{end} A at a fault do not open the device in a time that it is known for",
            end=Rounded(heat.end, 0),
        )
    return pair.fails("protective_conductor_heat", why, "adiabatic")


def line_short_circuit(pair: CableCandidate) -> Verdict | None:
    """434.5.2: a line whose device guards it against a short alone bears its heat."""
    short = pair.short
    if short is None or short.holds(float(pair.size)):
        return None
    why = say(
        "The line of {size} wants {least} mm² by the heat of a short",
        size=named(pair.size),
        least=short.least,
    )
    if not short.opens:
        why = say(
            "{end} A at a short at the far end do not open the device in a time that it is known"
            " for",
            end=Rounded(short.end, 0),
        )
    return pair.fails("line_short_circuit", why, "adiabatic")


def all_hold(pair: CableCandidate) -> Verdict:
    """433.1.1: nothing keeps the pair from passing."""
    why = say("Carries {carries} A as it lies", carries=Rounded(pair.ampacity, 1))
    return Verdict(True, "ampacity", pair.edition, why, ("design_current",))


CHECKS: tuple[Callable[[CableCandidate], Verdict | None], ...] = (
    device_carries_load,
    least_device,
    cable_carries_device,
    voltage_drop,
    earth_fault_loop,
    protective_conductor_heat,
    line_short_circuit,
    all_hold,
)
# what may be wrong with a cable behind a device by hand, the least first; one that carries too
# little is no answer
LEAST_WRONG = (
    "line_short_circuit",
    "protective_conductor_heat",
    "earth_fault_loop",
    "voltage_drop",
    "least_device",
    "device_below_load",
)
