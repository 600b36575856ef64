"""Whether a device and a conductor go together, and by which rule they do not: one rule a function,
in the order in which they are asked.

The articles are the NEC's; the Canadian code answers by the same rules under its own numbers, and a
rule that it does not have is a limit that its tables do not give.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import NO_SIZE, Size
from voltaje.core.report import Text, fits, say
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.drop import Holds
from voltaje.core.rules.north_america.overcurrent import previous_standard_device
from voltaje.core.rules.north_america.wiring import (
    Installation,
    SizeAmpacity,
    limit_value,
    terminal_column,
)
from voltaje.core.sizing import Verdict, decide

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


class Case:
    """A pair of device and conductor put to the checks: the device in A, the conductor in so many
    sets, what is needed of them, where they lie, and each size's ``rank``.

    ``column`` is that of the terminals, °C; ``terminal`` and ``corrected`` the ampacity of all sets
    there and under the conditions of use, ``final`` the lower of both, A. ``needed`` is what the
    conductor must carry at its terminals.
    """

    __slots__ = (
        "column",
        "corrected",
        "device",
        "edition",
        "final",
        "need",
        "needed",
        "option",
        "rank",
        "sets",
        "terminal",
    )

    def __init__(
        self,
        device: float,
        option: SizeAmpacity,
        sets: int,
        need: SizingRequest,
        installation: Installation,
        edition: Edition,
        rank: Mapping[str, int],
    ) -> None:
        self.device, self.option, self.sets, self.need = device, option, sets, need
        self.edition, self.rank = edition, rank
        # a device that may stand above the conductor says nothing of the terminals at its other
        # end: there the circuit is taken for what its conductors carry
        basis = need.conductor if need.elsewhere else device
        self.column = terminal_column(basis, installation.listed_75, edition)
        self.terminal = option.terminal(self.column) * sets
        self.corrected = option.corrected * sets
        self.final = min(self.terminal, self.corrected)
        self.needed = max(need.conductor, need.corrected)

    @property
    def place(self) -> int:
        """The place of the conductor's size among all sizes."""
        return self.rank[self.option.size]

    def fails(self, check: str, why: Text, *address: str) -> Verdict:
        """That it does not pass, by which check, why, under which rule."""
        return Verdict(False, check, self.edition, why, address)

    def passes(self, check: str, why: Text, *address: str) -> Verdict:
        """That it passes by that check, unless the drop is more than it may be."""
        return voltage_drop(self) or Verdict(True, check, self.edition, why, address)


def device_carries_load(case: Case) -> Verdict | None:
    """210.20(A), 215.3, 230.90: a device carries the load, with 125 % of what is continuous."""
    need = case.need
    if need.elsewhere or fits(need.design, case.device):
        return None
    why = say("The device is below the {design} A needed", design=need.design)
    return case.fails("device_below_load", why, need.device_topic)


def device_within_ceiling(case: Case) -> Verdict | None:
    """422.11, 424, 440, 450.3: the largest device that another article allows."""
    need = case.need
    if fits(case.device, need.ceiling):
        return None
    why = say("The device is above the {most} A allowed", most=need.ceiling)
    return case.fails("device_above_most", why, need.ceiling_topic)


def parallel_sets(case: Case) -> Verdict | None:
    """310.10(G), 310.10(H) before 2020: conductors in parallel are 1/0 AWG or larger."""
    if case.sets == 1:
        return None
    least = case.edition.limit_size("parallel")
    if case.place >= case.rank[least]:
        return None
    why = say("Sets in parallel start at {least} AWG", least=least)
    return case.fails("parallel", why, "parallel")


def least_size(case: Case) -> Verdict | None:
    """210.19(A), 215.2(A): the least size that an article asks for, whatever the load."""
    least = case.need.least_size
    if not least or case.place >= case.rank[least]:
        return None
    why = say("Not below {least}", least=label(least))
    return case.fails("least_size", why, case.need.conductor_topic)


def usable_at_ambient(case: Case) -> Verdict | None:
    """310.15(B): an insulation has no factor where it may not be used so hot."""
    if case.option.corrected > 0:
        return None
    why = say("This insulation may not be used at this ambient")
    return case.fails("ambient", why, "ambient")


def carries_at_terminals(case: Case) -> Verdict | None:
    """110.14(C), 210.19(A), 215.2(A): the conductor carries what is needed in the column of its
    terminals, before correction."""
    needed = case.needed
    if fits(needed, case.terminal):
        return None
    by_terminals = fits(needed, case.option.base * case.sets)
    why = say(
        "Reads {ampacity} A at {column} °C: less than {needed} A",
        ampacity=case.terminal,
        column=case.column,
        needed=needed,
    )
    topic = "terminations" if by_terminals else case.need.conductor_topic
    return case.fails("terminals", why, topic)


def carries_once_corrected(case: Case) -> Verdict | None:
    """310.15(B) and (C): the conductor carries the load under its conditions of use; a motor's or a
    nameplate's 125 % is asked of it there too."""
    need = case.need
    after = max(need.conductor if need.elsewhere else need.load, need.corrected)
    if fits(after, case.corrected):
        return None
    why = say(
        "Carries {ampacity} A once corrected: less than {load} A",
        ampacity=case.corrected,
        load=after,
    )
    return case.fails("corrected", why, "ambient" if case.option.ambient < 1 else "adjustment")


def protected_elsewhere(case: Case) -> Verdict | None:
    """240.4(G): motors, air conditioning and others may have a larger device."""
    if not case.need.elsewhere:
        return None
    why = say("Carries {needed} A; the device may be larger here", needed=case.need.conductor)
    return case.passes("elsewhere", why, "protected_elsewhere")


def small_conductor(case: Case) -> Verdict | None:
    """240.4(D): the most that may protect a small conductor."""
    option = case.option
    if not option.small or fits(case.device, option.small):
        return None
    why = say(
        "Reads {ampacity} A, yet may not sit behind more than {limit} A",
        ampacity=case.terminal,
        limit=option.small,
    )
    return case.fails("small_conductor", why, "small_conductors", option.size, option.material)


def carries_device(case: Case) -> Verdict | None:
    """240.4: a conductor is protected at its ampacity."""
    if not fits(case.device, case.final):
        return None
    why = say(
        "{ampacity} A at {column} °C carries the device’s rating",
        ampacity=case.final,
        column=case.column,
    )
    return case.passes("ampacity", why, case.need.conductor_topic)


def above_800(case: Case) -> Verdict | None:
    """240.4(C): above 800 A a conductor carries the device's rating."""
    most = limit_value("next_size_up", case.edition)
    if fits(case.device, most):
        return None
    why = say("Above {most} A the conductor must carry the rating", most=most)
    return case.fails("above_800", why, "over_800")


def next_size_up(case: Case) -> Verdict:
    """240.4(B): up to 800 A the next standard rating above the ampacity may protect a conductor,
    where its ampacity is none itself and the circuit is not of several receptacles."""
    below, ampacity = previous_standard_device(case.device, case.edition), case.final
    if abs(below - ampacity) <= 1e-9 * ampacity:
        why = say("{ampacity} A is a standard rating: no next size up", ampacity=ampacity)
        return case.fails("next_size_up", why, "next_size_up")
    if below > ampacity:
        why = say("{ampacity} A is more than one size below the device", ampacity=ampacity)
        return case.fails("next_size_up", why, "next_size_up")
    if not case.need.next_size:
        topic = case.need.no_next_topic
        why = say(NO_NEXT[topic].template, ampacity=ampacity)
        return case.fails("no_next_size", why, topic)
    why = say("Next size up from {ampacity} A", ampacity=ampacity)
    return case.passes("next_size_up", why, "next_size_up")


def voltage_drop(case: Case) -> Verdict | None:
    """210.19(A), 215.2(A) notes, Chapter 9 Table 9: the drop, where it is sized for."""
    drop = case.need.drop
    if drop is None:
        return None
    percent = drop.percent(case.option, case.sets, case.edition)
    if fits(percent, drop.limit):
        return None
    why = say(
        "Loses {percent} %: more than the {limit} % it may", percent=percent, limit=drop.limit
    )
    return case.fails("voltage_drop", why, "impedance")


CHECKS: tuple[Callable[[Case], Verdict | None], ...] = (
    device_carries_load,
    device_within_ceiling,
    parallel_sets,
    least_size,
    usable_at_ambient,
    carries_at_terminals,
    carries_once_corrected,
    protected_elsewhere,
    small_conductor,
    carries_device,
    above_800,
    next_size_up,
)


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
    return decide(CHECKS, Case(device, option, sets, need, installation, edition, rank))
