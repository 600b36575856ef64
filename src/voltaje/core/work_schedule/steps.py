"""The steps of a change on site and what each needs done before it, what is dead for it, and an
order in which all can be done.

Common practice, no source: new conductors are run before anything is switched off; what becomes
larger does so from the supply down, what becomes smaller from the loads up; work in a board is done
with the board dead. The adopted code, the manufacturer and the person in charge of the site
prevail."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from voltaje.core.electrical.panel_layout import Schedule, Shift, Span
from voltaje.core.electrical.panel_layout import order as order_of_moves
from voltaje.core.report import Text, figure, say, told
from voltaje.core.rules.interface import Wiring
from voltaje.core.work_schedule.changes import (
    SETTINGS,
    Aspect,
    Built,
    ItemChange,
    Side,
    ampere_words,
    conductors_in_words,
    device_in_words,
    place_in_words,
    positions,
    rating_of,
    schedule_of,
)

Act = Literal[
    "mount", "run", "disconnect", "replace", "equipment", "move", "lift", "place", "connect",
    "adjust", "load", "other", "remove", "label",
]  # fmt: skip
# minutes and people that a step usually takes: common practice, no source; each can be changed
USUAL: Mapping[Act, tuple[int, int]] = {
    "mount": (120, 2),
    "run": (120, 2),
    "disconnect": (20, 1),
    "replace": (60, 2),
    "equipment": (240, 2),
    "move": (45, 2),
    "lift": (10, 1),
    "place": (15, 1),
    "connect": (30, 1),
    "adjust": (30, 1),
    "load": (60, 1),
    "other": (60, 1),
    "remove": (60, 1),
    "label": (20, 1),
}
PREPARED, LAST = ("mount", "run"), ("remove", "label")
FITTED: frozenset[Aspect] = frozenset({"equipment", "conductors", "raceway", "device"})


@dataclass(frozen=True, slots=True)
class Step:
    """A step: a ``key`` that stays the same as long as it is to be done, the item, what is to be
    done, the items that have no power while it is (``dead``: where hands are; what is locked out
    for it depends on what feeds them then), the keys of what is done before it. ``tests`` are made
    while it is dead, ``minutes`` and ``people`` usual ones. ``freed`` and ``taken`` are positions
    of boards."""

    key: str
    act: Act
    item: str
    words: Text
    dead: frozenset[str] = frozenset()
    needs: frozenset[str] = frozenset()
    tests: tuple[Text, ...] = ()
    minutes: int = 0
    people: int = 1
    freed: frozenset[str] = frozenset()
    taken: frozenset[str] = frozenset()
    devices: tuple[str, ...] = ()


def all_above(side: Side, item: str) -> Iterator[str]:
    """What an item hangs on, up to the supply."""
    above = side[item].above
    while above and above in side:
        yield above
        above = side[above].above


def lock_out(side: Side, item: str) -> str:
    """The item whose own device makes dead what hangs on ``item``: itself or the nearest above that
    has one; where none has, what stands at the head: the supply is to be switched off by its
    operator."""
    while True:
        here = side[item]
        if rating_of(here) or not here.above or here.above not in side:
            return item
        item = here.above


@dataclass(slots=True)
class Drafts:
    """Steps as they are found, without what they need."""

    before: Side
    after: Side
    found: Mapping[str, ItemChange]

    def steps(self) -> Iterator[Step]:
        for item, change in self.found.items():
            was, now = change.before, change.after
            if was is None and now is not None:
                yield from self._added(item, now)
            elif was is not None and now is None:
                yield from self._removed(item, was)
            elif was is not None and now is not None:
                yield from self._changed(item, was, now, change.aspects)
        boards = [one for one in self.after if schedule_of(self.after, one) is not None]
        for board in boards:
            yield from self._placed(board)
        yield from self._labels(boards)

    # what stands where ------------------------------------------------------------------------

    def name(self, item: str) -> str:
        """Its name, as it will be."""
        return (self.after.get(item) or self.before[item]).name

    def bus(self, item: str) -> frozenset[str]:
        """What is dead for work at the supply end of an item: what it hangs on, now and later."""
        sides = (self.before, self.after)
        return frozenset(side[item].above for side in sides if item in side and side[item].above)

    def own(self, item: str) -> frozenset[str]:
        """What is dead for work at the load of an item: itself, and what shares its neutral, which
        carries the current of the others."""
        side = self.before if item in self.before else self.after
        here = side[item]
        neutral = here.document.get("shared_neutral")
        return frozenset({item}) | {
            other
            for other, one in side.items()
            if neutral and one.above == here.above and one.document.get("shared_neutral") == neutral
        }

    def usual_lock_out(self, step: Step) -> frozenset[str]:
        """The items whose device is locked out for a step, as the job stands before it all; nothing
        where a new item is wired to what is new, too, and so is dead by itself."""
        found = set()
        for one in step.dead:
            if one in self.before:
                found.add(lock_out(self.before, one))
            elif step.item in self.before:
                found.add(lock_out(self.after, one))
        return frozenset(one for one in found if not self._is_below(one, found - {one}))

    def _is_below(self, item: str, others: set[str]) -> bool:
        """Whether an item is dead by another of them, before and after."""
        sides = [side for side in (self.before, self.after) if item in side]
        return bool(sides) and all(
            any(above in others for above in all_above(side, item)) for side in sides
        )

    def seat(self, side: Side, item: str) -> frozenset[str]:
        """Positions that it takes, by board and name."""
        board = side[item].above if item in side else ""
        span = positions(side, board).get(item) if board else None
        return frozenset(f"{board} {place.name}" for place in span or ())

    def at(self, side: Side, item: str) -> str:
        """``Panel A, 7, 9``: the board that it stands on and its position."""
        board = side[item].above
        if not board:
            return ""
        place = place_in_words(positions(side, board).get(item))
        return f"{side[board].name}, {place}" if place else side[board].name

    # steps ------------------------------------------------------------------------------------

    def _added(self, item: str, now: Built) -> Iterator[Step]:
        name = self.name(item)
        for words in now.equipment_words[:1]:
            yield _step("mount", item, say("Mount {name}: {what}", name=name, what=words))
        conductors = conductors_in_words(now)
        if conductors:
            said = say(
                "Run {conductors} for {name}; leave both ends disconnected",
                conductors=conductors,
                name=name,
            )
            yield _step("run", item, said)
        at, device = self.at(self.after, item), device_in_words(now)
        if not at:
            words = say("Have {name} connected by the network operator (utility)", name=name)
        elif device:
            words = say("Connect {name} at {board}: {device}", name=name, board=at, device=device)
        else:
            words = say("Connect {name} at {board}", name=name, board=at)
        tests = self.dead_tests(now.lines) if conductors else ()
        seat = self.seat(self.after, item)
        yield _step("connect", item, words, self.bus(item), tests, taken=seat)

    def _removed(self, item: str, was: Built) -> Iterator[Step]:
        here = self.before[item]
        gone_with = here.above and here.above not in self.after
        if not gone_with:
            at = self.at(self.before, item)
            words = say("Disconnect {name} at {board}", name=here.name, board=at)
            if not at:
                words = say(
                    "Have {name} disconnected by the network operator (utility)", name=here.name
                )
            # what has no item above it is opened by others; nothing of this job is locked for it
            yield _step(
                "disconnect", item, words, self.bus(item), freed=self.seat(self.before, item)
            )
        words = say("Remove {name}", name=here.name)
        if was.conductors:
            words = say("Remove {name} and its conductors", name=here.name)
        yield _step("remove", item, words)

    def _changed(self, item: str, was: Built, now: Built, has: frozenset[Aspect]) -> Iterator[Step]:
        name = self.name(item)
        if "equipment" in has:
            new = now.equipment_words[0] if now.equipment_words else say("as its sheet says")
            words = say("Replace {name}: {what}", name=name, what=new)
            yield _step("equipment", item, words, frozenset({item}))
        if "fed" in has:
            yield from self._fed(item, now)
        elif has & {"conductors", "device"}:
            yield from self._refitted(item, was, now, has)
        if "setting" in has:
            yield from self._adjusted(item, was, now)
        if "load" in has:
            words = say(
                "Change the load of {name} from {was} to {now}",
                name=name,
                now=ampere_words(now),
                was=ampere_words(was),
            )
            yield _step("load", item, words, self.own(item))
        if "other" in has:
            words = say("Change {name} as its sheet says", name=name)
            yield _step("other", item, words, self.bus(item) | {item})

    def _adjusted(self, item: str, was: Built, now: Built) -> Iterator[Step]:
        """Another tap, another connection."""
        old, name = dict(was.setting), self.name(item)
        for setting, value in now.setting:
            if old.get(setting) != value:
                words = say(
                    "Set {name}: {what} from {was} to {now}",
                    name=name,
                    what=SETTINGS[setting],
                    now=value,
                    was=old.get(setting, "–"),
                )
                yield replace(_step("adjust", item, words, self.own(item)), key=f"{setting}|{item}")

    def _refitted(
        self, item: str, was: Built, now: Built, has: frozenset[Aspect]
    ) -> Iterator[Step]:
        """Other conductors or another device where it stands."""
        name, device = self.name(item), device_in_words(now)
        at = self.at(self.after, item) or name
        conductors = conductors_in_words(now)
        beside = "raceway" in has or not now.raceway
        tests: tuple[Text, ...] = ()
        if "conductors" not in has:
            words = say(
                "Replace the device of {name} at {board}: from {was} to {now}",
                name=name,
                board=at,
                now=device or "–",
                was=device_in_words(was) or "–",
            )
        else:
            tests = self.dead_tests(now.lines)
            what = {
                "name": name,
                "board": at,
                "conductors": conductors or told("as its sheet says"),
            }
            if beside:
                said = say("Run {conductors} for {name}; leave both ends disconnected", **what)
                yield _step("run", item, said)
                words = say("Connect {name} to the new conductors at {board}", **what)
            else:
                words = say(
                    "Replace the conductors of {name} in the existing raceway: {conductors}", **what
                )
            if "device" in has:
                words = say("{what}; {device}", what=words, device=device or "–")
        seats = {"freed": self.seat(self.before, item), "taken": self.seat(self.after, item)}
        if len(seats["freed"]) == len(seats["taken"]):
            seats = {}  # it moves with the others of the board
        yield _step("replace", item, words, self.bus(item), tests, **seats)
        if "conductors" in has and beside and was.conductors:
            yield _step("remove", item, say("Remove the old conductors of {name}", name=name))

    def _fed(self, item: str, now: Built) -> Iterator[Step]:
        """Fed from elsewhere."""
        name = self.name(item)
        tests: tuple[Text, ...] = ()
        if conductors_in_words(now):
            said = say(
                "Run {conductors} for {name}; leave both ends disconnected",
                conductors=conductors_in_words(now),
                name=name,
            )
            yield _step("run", item, said)
            tests = self.dead_tests(now.lines)
        words = say(
            "Move {name} from {old} to {board}: {device}",
            name=name,
            old=self.at(self.before, item) or "–",
            board=self.at(self.after, item) or "–",
            device=device_in_words(now) or told("no device of its own"),
        )
        seats = {"freed": self.seat(self.before, item), "taken": self.seat(self.after, item)}
        yield _step("move", item, words, self.bus(item), tests, **seats)

    def _placed(self, board: str) -> Iterator[Step]:
        """Devices that stay on a board and stand elsewhere on it."""
        one, other = schedule_of(self.before, board), schedule_of(self.after, board)
        if one is None or other is None:
            return
        was, now = positions(self.before, board), positions(self.after, board)
        both = {item for item in was if item in now and len(was[item]) == len(now[item])}
        if all(was[item] == now[item] for item in both):
            return
        at = dict(was)
        for shift in order_of_moves(_only(one, both), _only(other, both)):
            yield self._shift(board, shift, at)

    def _shift(self, board: str, shift: Shift, at: dict[str, Span]) -> Step:
        names = ", ".join(self.name(item) for item in shift.devices)
        here = frozenset({board})
        places = "; ".join(place_in_words(span) for span in shift.places)
        left = [place for item in shift.devices for place in at.get(item, ())]
        given = {"name": names, "board": self.name(board), "places": places}
        if shift.act == "swap":
            others = ", ".join(self.name(item) for item in shift.others)
            back = "; ".join(place_in_words(span) for span in shift.back)
            left += [place for item in shift.others for place in at.get(item, ())]
            words = say(
                "In {board} swap {name} and {others}: to {places} and {back}",
                **given,
                others=others,
                back=back,
            )
        elif shift.act == "lift":
            words = say("In {board} remove the device of {name} temporarily", **given)
        elif shift.act == "set":
            words = say("In {board} reinstall the device of {name} at {places}", **given)
        else:
            words = say("In {board} move {name} to {places}", **given)
        to = [place for span in (*shift.places, *shift.back) for place in span]
        for item, span in zip(
            (*shift.devices, *shift.others), (*shift.places, *shift.back), strict=False
        ):
            at[item] = span
        if shift.act == "lift":
            for item in shift.devices:
                at.pop(item, None)
        key = ",".join(shift.devices)
        freed = frozenset(f"{board} {place.name}" for place in left)
        taken = frozenset(f"{board} {place.name}" for place in to)
        made = _step("lift" if shift.act == "lift" else "place", shift.devices[0], words, here)
        return replace(
            made,
            key=f"{shift.act}|{board}|{key}",
            freed=freed - taken,
            taken=taken - freed,
            devices=(*shift.devices, *shift.others),
        )

    def lifted(self, step: Step) -> Step:
        """What takes the device of a step out ahead of it, so that its position is free."""
        board = self.before[step.item].above
        words = say(
            "In {board} remove the device of {name} temporarily",
            board=self.name(board),
            name=self.name(step.item),
        )
        made = _step("lift", step.item, words, step.dead, freed=step.freed)
        return replace(made, key=f"out|{board}|{step.item}", devices=(step.item,))

    def dead_tests(self, lines: tuple[str, ...]) -> tuple[Text, ...]:
        """What is tested before new conductors are energized: common practice."""
        found = (
            say("Continuity of the {earth} and bonding", earth=told(self._earth())),
            say("Insulation resistance, electronics disconnected"),
            say("Polarity, torque of terminals"),
        )
        turning = sum(1 for line in lines if line != "N") > 2  # no code figure: three lines
        return (*found, say("Phase sequence as before")) if turning else found

    def _earth(self) -> str:
        """The name of the earth conductor in the code of the job."""
        contexts = (
            item.one.context for side in (self.after, self.before) for item in side.values()
        )
        found = next((one for one in contexts if one is not None), None)
        return found.code.wiring.EARTH if found is not None else Wiring.EARTH

    def _labels(self, boards: list[str]) -> Iterator[Step]:
        """The schedule at the door and the labels say what is there now."""
        touched = {
            side[item].above
            for item, change in self.found.items()
            for side in (self.before, self.after)
            if item in side and change.aspects != {"load"}
        }
        touched |= {b for b in boards if positions(self.before, b) != positions(self.after, b)}
        for board in boards:
            if board in touched:
                name = self.name(board)
                words = say("Update the door schedule and the labels of {name}", name=name)
                yield _step("label", board, words)
        for item, change in self.found.items():
            if "name" in change.aspects and self.after[item].above not in boards:
                words = say(
                    "Relabel {old} as {name}", name=self.name(item), old=self.before[item].name
                )
                yield _step("label", item, words)


def _step(
    act: Act,
    item: str,
    words: Text,
    dead: frozenset[str] = frozenset(),
    tests: tuple[Text, ...] = (),
    freed: frozenset[str] = frozenset(),
    taken: frozenset[str] = frozenset(),
) -> Step:
    minutes, people = USUAL[act]
    return Step(
        f"{act}|{item}",
        act,
        item,
        words,
        dead,
        tests=tests,
        minutes=minutes,
        people=people,
        freed=freed - taken,
        taken=taken - freed,
    )


def _only(schedule: Schedule, keys: set[str]) -> Schedule:
    return replace(schedule, seats=tuple(s for s in schedule.seats if s.device.key in keys))


def words_of_lock_out(side: Side, item: str) -> Text:
    """Where the device of a lock-out point is: the item, its rating, the board that it stands
    on."""
    here = side[item]
    rating = rating_of(here)
    if not rating:
        return say("{name}: to be switched off by the network operator (utility)", name=here.name)
    stands_on = here.above if schedule_of(side, here.above) is not None else ""
    place = place_in_words(positions(side, stands_on).get(item)) if stands_on else ""
    given = {"name": here.name, "amperes": figure(rating, 1)}
    if not stands_on:
        return say("{name}, {amperes} A; the supply side stays live", **given)
    given["board"] = side[stands_on].name
    if place:
        return say("{name}, {amperes} A, in {board}, position {place}", **given, place=place)
    return say("{name}, {amperes} A, in {board}", **given)
