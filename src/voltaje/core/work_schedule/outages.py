"""Steps in an order, cut into outages: what is locked out, who is without power, what else may feed
in, what is read before and after, and when each begins and ends."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from voltaje.core.report import Text
from voltaje.core.work_schedule.site import READ, Site
from voltaje.core.work_schedule.steps import Step

# no code figures: minutes to switch off, lock and test, and to switch on and read: common practice
LOCKING, ENERGIZING = 20, 20
WEEKEND = 5  # no code figure: Saturday, counted from Monday
MOST_DAYS = 3660  # no code figure: so far ahead a working day is sought


class OutOfOrderError(ValueError):
    """An order in which a step comes before what it ``needs``, both by their keys."""

    def __init__(self, step: str, needs: str) -> None:
        super().__init__(f"{step} needs {needs}")
        self.step, self.needs = step, needs


@dataclass(frozen=True, slots=True)
class Block:
    """Steps without a break. An outage has in ``locked`` the items whose device is open and locked,
    in ``locks`` where these are, in ``off`` those that are without power for it, in ``also_fed``
    those of them that feed in and are to be locked out as well; ``still_off`` stay without power
    after it."""

    steps: tuple[Step, ...]
    locked: tuple[str, ...] = ()
    off: tuple[str, ...] = ()
    also_fed: tuple[str, ...] = ()
    still_off: tuple[str, ...] = ()
    minutes: int = 0
    locks: tuple[Text, ...] = ()

    @property
    def is_outage(self) -> bool:
        return bool(self.locked)


@dataclass(frozen=True, slots=True)
class WorkingHours:
    """When work is done: from ``start`` on, each day between two times of the clock of a ``zone``
    (over midnight where the second is the earlier), on weekends or not."""

    start: datetime
    opens: time
    closes: time
    zone: ZoneInfo
    weekends: bool = False


@dataclass(frozen=True, slots=True)
class TimedBlock:
    """A block with its ``pieces``, one for each day on which it is worked at, begin and end.
    ``too_long``: an outage longer than a working day."""

    block: Block
    pieces: tuple[tuple[datetime, datetime], ...]
    too_long: bool = False

    @property
    def begins(self) -> datetime:
        return self.pieces[0][0]

    @property
    def ends(self) -> datetime:
        return self.pieces[-1][1]


@dataclass(slots=True)
class _Power:
    """What is connected and what has power, step by step."""

    site: Site
    above: dict[str, str]  # of what is connected now
    had: set[str]  # has power, or had it
    cut: set[str] = field(default_factory=set)  # disconnected for good
    out: set[str] = field(default_factory=set)  # their device is taken out for a while
    moved: set[str] = field(default_factory=set)  # their device stands where it will
    # what has power with what locked, as long as nothing of it changes
    known: dict[frozenset[str], frozenset[str]] = field(default_factory=dict)

    def do(self, step: Step, locked: frozenset[str]) -> None:
        """A step is done while the devices of some items are open."""
        handled = {step.item, *step.devices}
        gone = step.act == "remove" and self.site[step.item].after is None
        if step.act in ("connect", "move"):
            self.above[step.item] = self.site[step.item].after or ""
        elif step.act == "disconnect" or gone:
            self.cut.add(step.item)
        elif step.act == "lift":
            self.out |= set(step.devices)
        if step.act in ("place", "move", "replace", "connect"):
            self.moved |= handled
        if step.act in ("place", "move", "replace"):
            self.out -= handled
        elif step.act not in ("connect", "disconnect", "lift") and not gone:
            return  # nothing is joined or parted by it
        self.known = {}
        self.had |= self.powered(locked)

    def powered(self, locked: frozenset[str]) -> frozenset[str]:
        """Everything that has power with the devices of some items open."""
        if locked not in self.known:
            self.known[locked] = self._powered(locked)
        return self.known[locked]

    def _powered(self, locked: frozenset[str]) -> frozenset[str]:
        has: dict[str, bool] = {}
        parted = self.cut | self.out | locked

        def found(item: str) -> bool:
            if item not in has:
                above = self.above.get(item)
                here = above is not None and item not in parted
                has[item] = here and (not above or found(above))
            return has[item]

        return frozenset(item for item in self.above if found(item))

    def locks(self, dead: frozenset[str]) -> frozenset[str]:
        """The items whose device is to be open so that others have no power as things stand; none
        for what has no power by itself."""
        on, found = self.powered(frozenset()), set()
        for one in dead:
            if one in on:
                while not self.site[one].has_device and self.above[one]:
                    one = self.above[one]
                found.add(one)
        return frozenset(one for one in found if not found & set(self._all_above(one)))

    def _all_above(self, item: str) -> Iterator[str]:
        while item := self.above.get(item, ""):
            yield item

    def where(self, item: str) -> Text:
        """Where the device of an item is now."""
        one = self.site[item]
        return one.later_lock if item in self.moved else one.lock

    def off(self, locked: frozenset[str]) -> list[str]:
        """What had power and has none now; what has none for good is no longer counted."""
        on, ever = self.powered(locked), self.powered(frozenset())
        if len(on) == len(self.above):
            return []
        return [
            one
            for one in self.above
            if one in self.had
            and one not in on
            and (one in ever or self.site[one].after is not None)
        ]

    def copy(self) -> _Power:
        return _Power(
            self.site,
            dict(self.above),
            set(self.had),
            set(self.cut),
            set(self.out),
            set(self.moved),
        )


def check_order(steps: Sequence[Step], order: Sequence[str]) -> tuple[Step, ...]:
    """The steps in that order of their keys; those that it does not name come where they usually
    do. Raises :class:`OutOfOrderError` where one would come before what it needs."""
    of = {step.key: step for step in steps}
    asked = [key for key in dict.fromkeys(order) if key in of]
    named = set(asked)
    usual = [step.key for step in steps]
    for n, key in enumerate(usual):
        if key not in named:  # after the one that it usually follows
            at = 1 + max((asked.index(one) for one in usual[:n] if one in asked), default=-1)
            needs = [1 + asked.index(one) for one in of[key].needs if one in asked]
            asked.insert(max(at, *needs, 0) if needs else at, key)
    done: set[str] = set()
    for key in asked:
        if late := sorted(of[key].needs - done):
            raise OutOfOrderError(key, late[0])
        done.add(key)
    return tuple(of[key] for key in asked)


def spans_of(steps: Sequence[Step]) -> dict[str, tuple[int, int]]:
    """Between which two places in this order each step can stand, by its key."""
    at = {step.key: n for n, step in enumerate(steps)}
    followed = dict.fromkeys(at, len(steps))
    for n, step in enumerate(steps):
        for key in step.needs & at.keys():
            followed[key] = min(followed[key], n)
    return {
        step.key: (
            max((1 + at[key] for key in step.needs if key in at), default=0),
            followed[step.key] - 1,
        )
        for step in steps
    }


def blocks(
    steps: Sequence[Step], site: Site, minutes: Mapping[str, int] | None = None, few: bool = False
) -> tuple[Block, ...]:
    """The steps cut into outages and what lies between. An outage goes on as long as the next step
    needs the same locked out, as things stand then; where they are to be ``few``, also as long as
    what is locked out makes dead what it needs. ``minutes`` are those of steps that do not take
    their usual time."""
    taking = minutes or {}
    there = {item: one.before for item, one in site.items() if one.before is not None}
    power = _Power(site, there, set(there))
    made: list[Block] = []
    ahead = list(steps)
    while ahead:
        locked = power.locks(ahead[0].dead)
        together = _cut(power.copy(), ahead, locked, few)
        locks = tuple(power.where(item) for item in sorted(locked))
        ahead = ahead[len(together) :]
        off: dict[str, None] = {}
        for step in together:
            off |= dict.fromkeys(power.off(locked))
            power.do(step, locked)
        off |= dict.fromkeys(power.off(locked))
        power.had |= power.powered(frozenset())
        fed = tuple(item for item in off if site[item].feeds_in)
        still = tuple(item for item in power.off(frozenset()) if site[item].after is not None)
        long = sum(taking.get(step.key, step.minutes) for step in together)
        if locked:
            long += LOCKING + ENERGIZING
            own = (tuple(sorted(locked)), tuple(off), fed, still, long, locks)
            made.append(Block(tuple(together), *own))
        else:
            made.append(Block(tuple(together), still_off=still, minutes=long))
    return tuple(made)


def _cut(power: _Power, ahead: Sequence[Step], locked: frozenset[str], few: bool) -> list[Step]:
    """The steps at the head that are done without a break."""
    together: list[Step] = []
    for step in ahead:
        mine = power.locks(step.dead)
        if mine != locked:
            below = bool(locked) and bool(mine) and few
            if not below or step.dead & power.powered(locked):
                break
        together.append(step)
        power.do(step, locked)
    return together


def places_to_read(block: Block, site: Site) -> tuple[str, ...]:
    """Where is read before an outage and after it: the boards on which something is done, and what
    is connected or changed."""
    found: dict[str, None] = {}
    for step in block.steps:
        if step.act in READ:
            found[step.item] = None
        above = step.item if site[step.item].is_board else site[step.item].above
        if above and site[above].is_board:
            found[above] = None
    return tuple(one for one in found if site[one].readings)


# when ---------------------------------------------------------------------------------------------


def timed(found: Sequence[Block], hours: WorkingHours) -> tuple[TimedBlock, ...]:
    """Begin and end of each block, one after the other. An outage is not interrupted: where it does
    not fit into what is left of a day it begins with the next; other work goes on the day after."""
    made, at = [], hours.start.astimezone(UTC)
    for block in found:
        too_long = False
        if block.is_outage:
            begins, ends, too_long = _at_once(at, block.minutes, hours)
            pieces = [(begins, ends)]
        else:
            pieces = list(_as_it_fits(at, block.minutes, hours))
        local = tuple((a.astimezone(hours.zone), b.astimezone(hours.zone)) for a, b in pieces)
        made.append(TimedBlock(block, local, too_long))
        at = pieces[-1][1]
    return tuple(made)


def _days(at: datetime, hours: WorkingHours) -> Iterator[tuple[datetime, datetime]]:
    """The working days that end after ``at``, in UTC, the first from ``at`` on."""
    day = at.astimezone(hours.zone).date() - timedelta(days=1)  # a night that began yesterday
    for n in range(MOST_DAYS):
        one = day + timedelta(days=n)
        if one.weekday() >= WEEKEND and not hours.weekends:
            continue
        opens, closes = _clock(one, hours.opens, hours), _clock(one, hours.closes, hours)
        if hours.closes <= hours.opens:
            closes = _clock(one + timedelta(days=1), hours.closes, hours)
        if closes > at:
            yield max(opens, at), closes


def _clock(day: date, at: time, hours: WorkingHours) -> datetime:
    return datetime.combine(day, at, hours.zone).astimezone(UTC)


def _at_once(at: datetime, minutes: int, hours: WorkingHours) -> tuple[datetime, datetime, bool]:
    taking = timedelta(minutes=minutes)
    for n, (opens, closes) in enumerate(_days(at, hours)):
        if opens + taking <= closes:
            return opens, opens + taking, False
        if n and opens + taking > closes:  # no longer day comes
            return opens, opens + taking, True
    raise OverflowError("no working day")


def _as_it_fits(
    at: datetime, minutes: int, hours: WorkingHours
) -> Iterator[tuple[datetime, datetime]]:
    left = timedelta(minutes=minutes)
    for opens, closes in _days(at, hours):
        ends = min(closes, opens + left)
        yield opens, ends
        left -= ends - opens
        if left <= timedelta(0):
            return
    raise OverflowError("no working day")
