"""The demand of a dwelling under these codes: by a table of maximum demand, by usual guidance on
diversity, or by factors of one's own, as the edition has it.

Each group of uses is counted on the line it stands on; what a group comes to is told with the cells
that it comes from.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import ceil

from voltaje.core.codes import Cell, Edition
from voltaje.core.report import Rule, figure

# uses by their family's names: with the words that a form has for them
TABLE_USES: Mapping[str, str] = {
    "lighting": "points of light",
    "outdoor": "outdoor lighting",
    "sockets": "10 A sockets",
    "sockets 15": "15 A sockets",
    "sockets 20": "20 A sockets",
    "cooking": "cooking, laundry",
    "heating": "fixed heating, cooling, sauna",
    "instantaneous": "instant heater, water",
    "storage": "water heater, storage",
    "spa": "spa heater",
    "pool": "swimming pool heater",
    "vehicle": "vehicle charging",
    "communal lighting": "communal lighting",
    "communal sockets": "communal sockets",
    "communal dryers": "communal dryers, water heaters above 10 A",
    "communal heating": "communal heating, cooling, sauna",
    "communal spa": "communal spa heater",
    "communal pool": "communal pool heater",
    "communal other": "other communal load",
    "other": "other load, whole",
}
GUIDE_USES: Mapping[str, str] = {
    "lighting": "lighting",
    "heating": "fixed heating",
    "cooking": "cooking",
    "cooking socket": "cooking, with a socket on its unit",
    "instantaneous": "shower, instant water heater",
    "storage": "water heater, storage",
    "floor": "floor warming",
    "night": "night storage heating",
    "circuits": "socket circuits, by their device",
    "vehicle": "vehicle charging",
    "other": "other load, whole",
}
OWN_USES: Mapping[str, str] = {
    "lighting": "lighting",
    "sockets": "sockets",
    "cooking": "cooking",
    "water": "water heating",
    "heating": "heating, cooling",
    "pump": "pumps, motors",
    "vehicle": "vehicle charging",
    "other": "other load",
}
# uses that are told by their number of points, and need no load
POINTS = ("lighting", "sockets", "sockets 15", "sockets 20", "communal sockets")
CLASSES = (21, 6, 2, 1)  # no code figures: the columns of the table are named by their first unit


@dataclass(frozen=True, slots=True)
class Used:
    """One row on one line: its use, A of each and how ``many``, the percent that its user takes."""

    path: str
    name: str
    use: str
    amperes: float
    many: int
    share: float = 100.0

    @property
    def total(self) -> float:
        return self.amperes * self.many


@dataclass(frozen=True, slots=True)
class UseDemand:
    """A group of uses on one line, A: what is connected, what of it counts, how that is reckoned,
    and the cells."""

    use: str
    connected: float
    demand: float
    shown: str
    rules: tuple[Rule, ...]
    paths: tuple[str, ...]


def by_points(edition: Edition) -> bool:
    """Whether the edition has a table of maximum demand, which counts lights and sockets by their
    points."""
    return edition.has_table("dwelling_demand")


def is_guided(edition: Edition) -> bool:
    """Whether usual guidance on diversity is at hand."""
    return edition.has_limit("guide_lighting")


def demand(rows: Sequence[Used], units: int, edition: Edition) -> tuple[UseDemand, ...]:
    """What the rows of one line come to. ``units`` living units stand on it, all alike: the rows
    are those of one, but for what is outside the units."""
    by_use: dict[str, list[Used]] = {}
    for row in rows:
        # a socket on a cooker's unit adds to the cooking, it is no group of its own
        by_use.setdefault("cooking" if row.use == "cooking socket" else row.use, []).append(row)
    if by_points(edition):
        return tuple(_by_table(use, found, units, edition) for use, found in by_use.items())
    if is_guided(edition):
        return tuple(_guided(use, found, edition) for use, found in by_use.items())
    return tuple(_own(use, found) for use, found in by_use.items())


def is_communal(use: str) -> bool:
    """Whether such loads stand outside the living units."""
    return use.startswith("communal")


def _paths(rows: Sequence[Used]) -> tuple[str, ...]:
    return tuple(row.path for row in rows)


def _by_table(use: str, rows: Sequence[Used], units: int, edition: Edition) -> UseDemand:
    connected = sum(row.total for row in rows)
    if use == "communal sockets":
        return _communal(rows, edition)
    of = next(str(first) for first in CLASSES if units >= first)
    if is_communal(use):
        units = 1  # outside the units there is one of it

    def cell(column: str) -> Cell:
        return edition.cell("dwelling_demand", use, f"{of} {column}")

    if (share := edition.cell_or_none("dwelling_demand", use, f"{of} percent")) is not None:
        return _percent(use, rows, units, share, edition)
    first = cell("A")
    if of != "1":
        each = cell("each")
        found = first.value + each.value * units
        parts = ([figure(first.value)] if first.value else []) + (
            [f"{figure(each.value)} × {units}"] if each.value else []
        )
        rules = (first.rule, each.rule)
        return UseDemand(use, connected * units, found, " + ".join(parts), rules, _paths(rows))
    points = sum(row.many for row in rows)
    if edition.cell_or_none("dwelling_demand", use, "1 points") is None:
        return UseDemand(
            use, connected, first.value, figure(first.value), (first.rule,), _paths(rows)
        )
    step, more = cell("points"), cell("more")
    further = max(0, ceil((points - step.value) / step.value - 1e-9))
    shown = f"{figure(first.value)} (1–{figure(step.value)})"
    if further:
        shown += f" + {further} × {figure(more.value)}"
    cited = (first.rule, step.rule, more.rule) if further else (first.rule, step.rule)
    return UseDemand(use, connected, first.value + further * more.value, shown, cited, _paths(rows))


def _percent(
    use: str, rows: Sequence[Used], units: int, share: Cell, edition: Edition
) -> UseDemand:
    """A percentage of what is connected in all units; of spas and pools of the largest alone."""
    connected = sum(row.total for row in rows) * units
    factor = share.value / 100
    shown_factor = figure(factor, 4)
    if use.endswith(("spa", "pool")):  # the largest spa and the largest pool, each for itself
        rest = edition.limit("spa_rest")
        largest = max(row.amperes for row in rows)
        found = largest * factor + (connected - largest) * rest.value / 100
        shown = f"{figure(largest)} × {shown_factor}"
        if connected > largest:
            shown += f" + {figure(connected - largest)} × {figure(rest.value / 100, 4)}"
        return UseDemand(use, connected, found, shown, (share.rule, rest.rule), _paths(rows))
    shown = figure(connected) if factor == 1 else f"{figure(connected)} × {shown_factor}"
    return UseDemand(use, connected, connected * factor, shown, (share.rule,), _paths(rows))


def _communal(rows: Sequence[Used], edition: Edition) -> UseDemand:
    each, most = edition.limit("communal_socket"), edition.limit("communal_socket_most")
    points = sum(row.many for row in rows)
    found = min(points * each.value, most.value)
    shown = f"{points} × {figure(each.value)}"
    if points * each.value > most.value:
        shown += f" → {figure(most.value)}"
    total = sum(row.total for row in rows)
    return UseDemand("communal sockets", total, found, shown, (each.rule, most.rule), _paths(rows))


def _whole(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    total = sum(row.total for row in rows)
    return UseDemand(use, total, total, figure(total), (edition.rule("diversity"),), _paths(rows))


def _lighting(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    total, share = sum(row.total for row in rows), edition.limit("guide_lighting")
    shown = f"{figure(total)} × {figure(share.value / 100, 4)}"
    return UseDemand(use, total, total * share.value / 100, shown, (share.rule,), _paths(rows))


def _heating(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    total = sum(row.total for row in rows)
    first, rest = edition.limit("guide_heating_first"), edition.limit("guide_heating_rest")
    own = min(total, first.value)
    shown = figure(own)
    if total > own:
        shown += f" + {figure(total - own)} × {figure(rest.value / 100, 4)}"
    found = own + (total - own) * rest.value / 100
    return UseDemand(use, total, found, shown, (first.rule, rest.rule), _paths(rows))


def _cooking(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    total = sum(row.total for row in rows)
    first, share = edition.limit("cooker_first"), edition.limit("cooker_share")
    own = min(total, first.value)
    found = own + (total - own) * share.value / 100
    shown, rules = figure(own), [first.rule, share.rule]
    if total > own:
        shown += f" + {figure(total - own)} × {figure(share.value / 100, 4)}"
    sockets = sum(row.many for row in rows if row.use == "cooking socket")
    if sockets:
        socket = edition.limit("cooker_socket")
        found += socket.value * sockets
        shown += f" + {figure(socket.value * sockets)}"
        rules.append(socket.rule)
    return UseDemand(use, total, found, shown, tuple(rules), _paths(rows))


def _largest(
    use: str, rows: Sequence[Used], whole: int, share: Cell, more: tuple[Rule, ...]
) -> UseDemand:
    """So many of the largest whole, a share of the others."""
    each = sorted((row.amperes for row in rows for _ in range(row.many)), reverse=True)
    first, rest = sum(each[:whole]), sum(each[whole:])
    shown = figure(first) + (f" + {figure(rest)} × {figure(share.value / 100, 4)}" if rest else "")
    found = first + rest * share.value / 100
    return UseDemand(use, first + rest, found, shown, (*more, share.rule), _paths(rows))


def _instantaneous(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    whole = edition.limit("guide_instant_whole")
    share = edition.limit("guide_instant_rest")
    return _largest(use, rows, int(whole.value), share, (whole.rule,))


def _circuits(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    return _largest(use, rows, 1, edition.limit("guide_circuits_rest"), ())


GUIDES: Mapping[str, Callable[[str, Sequence[Used], Edition], UseDemand]] = {
    "lighting": _lighting,
    "heating": _heating,
    "cooking": _cooking,
    "instantaneous": _instantaneous,
    "circuits": _circuits,
}


def _guided(use: str, rows: Sequence[Used], edition: Edition) -> UseDemand:
    return GUIDES.get(use, _whole)(use, rows, edition)


def _own(use: str, rows: Sequence[Used]) -> UseDemand:
    """Each row by the percentage that its user has put in."""
    total = sum(row.total for row in rows)
    found = sum(row.total * row.share / 100 for row in rows)
    parts = (
        figure(row.total) + (f" × {figure(row.share / 100, 4)}" if row.share != 100 else "")
        for row in rows
    )
    return UseDemand(use, total, found, " + ".join(parts), (), _paths(rows))
