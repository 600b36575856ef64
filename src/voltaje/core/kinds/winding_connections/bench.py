"""The list of joints, read: which ends and points stand on one conductor."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.winding_connections.entries import WindingConnectionsEntries, WindingUnit
from voltaje.core.report import say

MOST_UNITS = 12  # no code figure: what a drawing still shows
END = re.compile(r"([A-Za-z][A-Za-z]*)([1-9])([+-])")
POINT = re.compile(r"[A-Za-z][A-Za-z0-9]{0,5}")
SUPPLY = ("A", "B", "C")
NEUTRAL, GROUND = "N", "E"


@dataclass(frozen=True, slots=True)
class BenchCoil:
    """A coil: ``x2`` of unit ``x``, its rated volts; its ends are ``x2+``, with the dot, and
    ``x2-``."""

    unit: str
    number: int
    volts: float

    @property
    def name(self) -> str:
        return f"{self.unit}{self.number}"

    @property
    def ends(self) -> tuple[str, str]:
        return f"{self.name}+", f"{self.name}-"


@dataclass(frozen=True, slots=True)
class Net:
    """Ends and points on one conductor, in the order in which they were told. Points come first in
    its ``label``."""

    members: tuple[str, ...]

    @property
    def points(self) -> tuple[str, ...]:
        return tuple(one for one in self.members if not is_end(one))

    @property
    def ends(self) -> tuple[str, ...]:
        return tuple(one for one in self.members if is_end(one))

    @property
    def label(self) -> str:
        return " ".join(self.points) or self.members[0]

    @property
    def text(self) -> str:
        """As it is written in a list: ``A x1+ z1-``."""
        return " ".join((*self.points, *self.ends))


def is_end(token: str) -> bool:
    """Whether it names the end of a coil, like ``x2-``."""
    return END.fullmatch(token) is not None


def windings(entries: WindingConnectionsEntries) -> tuple[BenchCoil, ...]:
    """All coils, unit by unit. Raises :class:`WrongEntryError` at the entry that is wrong."""
    if not entries.units:
        raise WrongEntryError("units", say("Needed: a unit, like x of 400 V and 231 V."))
    if len(entries.units) > MOST_UNITS:
        words = say(
            "{many} units: at most {most} stand on a bench.",
            many=len(entries.units),
            most=MOST_UNITS,
        )
        raise WrongEntryError("units", words)
    found: list[BenchCoil] = []
    seen: set[str] = set()
    for row in entries.units:
        path = f"units.{row.id}"
        if not re.fullmatch(r"[A-Za-z]{1,3}", row.name):
            raise WrongEntryError(
                f"{path}.name", say("Needed: a name of one to three letters, like x.")
            )
        if row.name in seen:
            words = say("There is a unit “{name}” already: give another letter.", name=row.name)
            raise WrongEntryError(f"{path}.name", words)
        seen.add(row.name)
        found += [BenchCoil(row.name, k, v) for k, v in enumerate(_volts(row, path), 1)]
    return tuple(found)


def _volts(row: WindingUnit, path: str) -> tuple[float, ...]:
    """Rated volts of a unit's coils, by what it is made of."""

    def needed(name: str, volts: float | None) -> float:
        if volts is None:
            raise WrongEntryError(f"{path}.{name}", say("Needed: its rated volts, like 231 V."))
        return volts

    first = needed("first", row.first)
    if row.made == "linked":
        return (first, first)
    second = needed("second", row.second)
    if row.made == "two":
        return (first, second)
    if row.made == "three":
        return (first, second, needed("third", row.third))
    return (first, second, second)


def tokens(text: str) -> list[list[str]]:
    """The joints of a text: ``x2- y2-; x2+ a`` are two."""
    plain = text.replace("−", "-").replace("–", "-")
    parts = (re.split(r"[\s,]+", part.strip()) for part in re.split(r"[;\n]", plain))
    return [found for part in parts if (found := [one for one in part if one])]


def nets(entries: WindingConnectionsEntries, coils: Sequence[BenchCoil]) -> tuple[Net, ...]:
    """What stands on one conductor, joints that share an end put together. Raises
    :class:`WrongEntryError` at the row that is wrong."""
    known = {end for coil in coils for end in coil.ends}
    groups: list[list[str]] = []
    for row in entries.joints:
        path = f"joints.{row.id}.ends"
        for group in tokens(row.ends):
            for token in group:
                _check(token, known, coils, path)
            if len(set(group)) < 2:
                words = say("“{end}” is joined to nothing: give two at least.", end=group[0])
                raise WrongEntryError(path, words)
            groups = _merged(groups, group)
            _two_lines(groups, entries, path)
    return tuple(Net(tuple(group)) for group in groups)


def _check(token: str, known: set[str], coils: Sequence[BenchCoil], path: str) -> None:
    """Raises for what is neither an end nor a point."""
    if token in known:
        return
    if is_end(token) or not POINT.fullmatch(token):
        like = ", ".join(end for coil in coils[:2] for end in coil.ends)
        words = say(
            "There is no “{token}”: ends are like {like}, points like A, N or a.",
            token=token,
            like=like,
        )
        raise WrongEntryError(path, words)


def _merged(groups: Sequence[list[str]], more: Sequence[str]) -> list[list[str]]:
    """The groups with one more put in, in their order."""
    hit = [group for group in groups if set(group) & set(more)]
    together = list(dict.fromkeys([one for group in hit for one in group] + list(more)))
    if not hit:
        return [*groups, together]
    return [
        together if group is hit[0] else group
        for group in groups
        if group is hit[0] or group not in hit
    ]


def _two_lines(
    groups: Sequence[Sequence[str]], entries: WindingConnectionsEntries, path: str
) -> None:
    """Raises where two points that a source holds apart come together."""
    held = [*SUPPLY, NEUTRAL] if entries.supply else []
    for group in groups:
        both = [one for one in held if one in group]
        if len(both) > 1:
            words = say(
                "{one} and {other} are two lines of the supply: they cannot be joined.",
                one=both[0],
                other=both[1],
            )
            raise WrongEntryError(path, words)


def by_token(found: Sequence[Net]) -> Mapping[str, Net]:
    """The conductor on which each end or point stands."""
    return {token: net for net in found for token in net.members}
