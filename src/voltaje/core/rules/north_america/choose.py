"""Whether a device and a conductor go together, and by which rule they do not."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import NO_SIZE, Size
from voltaje.core.report import Rule, Text, fits, say
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.drop import Holds
from voltaje.core.rules.north_america.overcurrent import previous_standard_device
from voltaje.core.rules.north_america.wiring import (
    Installation,
    SizeAmpacity,
    limit_value,
    terminal_column,
)

NO_NEXT = {
    "multi_receptacle": say(
        "{ampacity} A is below the rating, and the next size up is not for circuits of several"
        " receptacles"
    ),
    "secondary_no_next": say(
        "{ampacity} A is below the rating, and the next size up is not for a transformer’s"
        " secondary"
    ),
}
DROP = say("Loses {percent} %: more than the {limit} % it may")


@dataclass(frozen=True, slots=True)
class SizingRequest:
    """What a circuit asks for, A. ``load`` is the load itself, ``design`` with 125 % of what is
    continuous, ``conductor`` what the conductor must carry at its terminals, ``corrected`` what it
    must carry under its conditions of use too, whatever the load and the device.

    ``drop`` is what its conductors must hold besides, where they are sized for it.
    ``devices`` are the ratings that may protect it. ``elsewhere`` says that another article lets
    the device exceed the conductor (motors, air conditioning); ``next_size`` that the next
    standard rating above the ampacity may be used. Topics name the rules that are cited.
    """

    load: float
    design: float
    conductor: float
    devices: tuple[float, ...]
    elsewhere: bool = False
    next_size: bool = True
    least_size: Size = NO_SIZE
    device_topic: str = "branch_device"
    conductor_topic: str = "branch_conductor"
    ceiling_topic: str = "standard_devices"
    ceiling: float = field(default=float("inf"))
    no_next_topic: str = "multi_receptacle"
    corrected: float = 0.0
    drop: Holds | None = None


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether a pair passes, the deciding rule and why. ``ampacity`` is of all sets, A.

    Words and rule are made when they are asked for: a ladder judges many pairs and shows few.
    """

    passes: bool
    ampacity: float
    column: int
    edition: Edition
    template: str
    params: dict[str, object]
    address: tuple[str, ...]

    @property
    def why(self) -> Text:
        return say(self.template, **self.params)

    @property
    def rule(self) -> Rule:
        return self.edition.rule(*self.address)


def judge(
    device: float,
    option: SizeAmpacity,
    sets: int,
    need: SizingRequest,
    installation: Installation,
    edition: Edition,
    rank: Mapping[str, int],
) -> Verdict:
    """The pair's verdict. The first rule that fails decides; else the rule that lets it pass."""
    found = _by_ampacity(device, option, sets, need, installation, edition, rank)
    if need.drop is None or not found.passes:
        return found
    percent = need.drop.percent(option.size, option.material, sets, edition)
    if fits(percent, need.drop.limit):
        return found
    return replace(
        found,
        passes=False,
        template=DROP.template,
        params={"percent": percent, "limit": need.drop.limit},
        address=("impedance",),
    )


def _by_ampacity(
    device: float,
    option: SizeAmpacity,
    sets: int,
    need: SizingRequest,
    installation: Installation,
    edition: Edition,
    rank: Mapping[str, int],
) -> Verdict:
    """The verdict of the rules of ampacity and protection, the drop left aside."""
    # a device that may stand above the conductor says nothing of the terminals at its other end:
    # there the circuit is taken for what its conductors carry
    basis = need.conductor if need.elsewhere else device
    column = terminal_column(basis, installation.listed_75, edition)
    terminal = option.terminal(column) * sets
    corrected = option.corrected * sets
    final = min(terminal, corrected)

    def verdict(passes: bool, template: str, *address: str, **params: object) -> Verdict:
        return Verdict(passes, final, column, edition, template, params, address)

    if not fits(need.design, device) and not need.elsewhere:
        return verdict(
            False,
            "The device is below the {design} A needed",
            need.device_topic,
            design=need.design,
        )
    if not fits(device, need.ceiling):
        return verdict(
            False, "The device is above the {most} A allowed", need.ceiling_topic, most=need.ceiling
        )
    place = rank[option.size]
    if sets > 1 and place < rank[edition.limit_size("parallel")]:
        return verdict(
            False,
            "Sets in parallel start at {least} AWG",
            "parallel",
            least=edition.limit_size("parallel"),
        )
    if need.least_size and place < rank[need.least_size]:
        return verdict(
            False, "Not below {least}", need.conductor_topic, least=label(need.least_size)
        )
    if option.corrected <= 0:
        return verdict(False, "This insulation may not be used at this ambient", "ambient")
    needed = max(need.conductor, need.corrected)
    if not fits(needed, terminal):
        by_terminals = fits(needed, option.base * sets)
        return verdict(
            False,
            "Reads {ampacity} A at {column} °C: less than {needed} A",
            "terminations" if by_terminals else need.conductor_topic,
            ampacity=terminal,
            column=column,
            needed=needed,
        )
    # a motor's or a nameplate's 125 % is asked of the conductor under its conditions of use too
    after = max(need.conductor if need.elsewhere else need.load, need.corrected)
    if not fits(after, corrected):
        return verdict(
            False,
            "Carries {ampacity} A once corrected: less than {load} A",
            "ambient" if option.ambient < 1 else "adjustment",
            ampacity=corrected,
            load=after,
        )
    if need.elsewhere:
        return verdict(
            True,
            "Carries {needed} A; the device may be larger here",
            "protected_elsewhere",
            needed=need.conductor,
        )
    if option.small and not fits(device, option.small):
        return verdict(
            False,
            "Reads {ampacity} A, yet may not sit behind more than {limit} A",
            "small_conductors",
            option.size,
            option.material,
            ampacity=terminal,
            limit=option.small,
        )
    if fits(device, final):
        return verdict(
            True,
            "{ampacity} A at {column} °C carries the device’s rating",
            need.conductor_topic,
            ampacity=final,
            column=column,
        )
    most = limit_value("next_size_up", edition)
    if not fits(device, most):
        return verdict(
            False, "Above {most} A the conductor must carry the rating", "over_800", most=most
        )
    below = previous_standard_device(device, edition)
    if abs(below - final) <= 1e-9 * final:
        return verdict(
            False,
            "{ampacity} A is a standard rating: no next size up",
            "next_size_up",
            ampacity=final,
        )
    if below > final:
        return verdict(
            False,
            "{ampacity} A is more than one size below the device",
            "next_size_up",
            ampacity=final,
        )
    if not need.next_size:
        return verdict(
            False, NO_NEXT[need.no_next_topic].template, need.no_next_topic, ampacity=final
        )
    return verdict(True, "Next size up from {ampacity} A", "next_size_up", ampacity=final)
