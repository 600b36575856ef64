"""Conductors of a dwelling's service: the 83 % rule, the ampacity table, the grounded conductor."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.codes.vocabulary import NO_SIZE, Metal, Size
from voltaje.core.report import Rule, figure, fits, say
from voltaje.core.rules.north_america.overcurrent import previous_standard_device
from voltaje.core.rules.north_america.wiring import (
    Installation,
    options,
    size_ranks,
    smallest_option,
)

# common practice: service equipment is listed for this column, °C, and its conductors are of it
SERVICE_COLUMN = 75
SERVICE = Installation("EMT", "THW")
# Common practice: larger single conductors are not pulled where sets in parallel do.
LARGEST_SINGLE = Size("600")
MOST_SETS = 20  # no code figure
KCMIL_FROM = (
    250  # no code figure: sizes above 4/0 AWG are named by their thousands of circular mils
)
SYMBOLS = {"copper": "Cu", "aluminum": "Al"}


def label(size: Size, material: str = "", sets: int = 1) -> str:
    """``"10 AWG Cu"``, ``"2 × 500 kcmil Al"``: the one form of a conductor on every sheet."""
    unit = "kcmil" if size.isdigit() and int(size) >= KCMIL_FROM else "AWG"
    text = f"{size} {unit} {SYMBOLS.get(material, '')}".strip()
    return text if sets == 1 else f"{sets} × {text}"


@dataclass(frozen=True, slots=True)
class LineConductor:
    """A conductor for one line, ``sets`` in parallel. ``ampacity`` in A is of all sets; ``least``
    is the size that a rule asks for at least."""

    material: Metal
    size: Size
    sets: int
    ampacity: float
    needed: float
    rules: tuple[Rule, ...]
    by_dwelling_rule: bool = False
    least: Size = NO_SIZE

    def __str__(self) -> str:
        return label(self.size, self.material, self.sets)


def carried_shown(
    one: LineConductor, installation: Installation, column: int, edition: Edition
) -> str:
    """A conductor's ampacity as it comes of its cell: in sets, and with the factors where heat and
    neighbours leave less than the terminals."""
    option = next(o for o in options(one.material, installation, edition) if o.size == one.size)
    if option.corrected >= option.terminal(column):
        each = figure(one.ampacity / one.sets)
        return f"{one.sets} × {each}" if one.sets > 1 else each
    factors = [option.base, option.ambient, option.adjustment, float(one.sets)]
    product = " × ".join(figure(f) for f in factors if f != 1)
    return f"{product} = {figure(one.ampacity)}"


def sizes(edition: Edition) -> list[Size]:
    """All sizes of the ampacity table, smallest first."""
    return [Size(size) for size in edition.rows("ampacity")]


def smallest(
    needed: float,
    material: Metal,
    edition: Edition,
    least: Size | None = None,
    largest: Size = LARGEST_SINGLE,
    installation: Installation = SERVICE,
    column: int = SERVICE_COLUMN,
) -> LineConductor:
    """The smallest conductor of ``material`` for ``needed`` A as service conductors lie, not below
    the size ``least`` nor above ``largest``; in parallel from 1/0 AWG up when one does not do.

    Raises :class:`NotCoveredError` when twenty sets do not carry it.
    """
    parallel, rank = edition.limit_size("parallel"), size_ranks(edition)
    for sets in range(1, MOST_SETS + 1):
        floor = least
        if sets > 1 and (not least or rank[least] < rank[parallel]):
            floor = parallel
        found = smallest_option(
            needed / sets, material, installation, column, edition, floor, largest
        )
        if found is not None:
            rule = found.decisive(column).rule
            rules = (rule, edition.rule("parallel")) if sets > 1 else (rule,)
            ampacity = found.final(column) * sets
            return LineConductor(material, found.size, sets, ampacity, needed, rules)
    raise NotCoveredError(
        edition.title, say("a conductor for {needed} A", needed=figure(needed, 0))
    )


def service_conductor(
    amperes: float,
    device: float,
    material: Metal,
    edition: Edition,
    dwelling_rule: bool,
    installation: Installation = SERVICE,
) -> LineConductor:
    """The ungrounded service conductor of a dwelling behind ``device`` A for ``amperes`` A.

    By the dwelling rule, 83 % of the rating from 100 to 400 A; otherwise the calculated load
    with the next device size up to 800 A, above that the rating whole.
    """
    low, high = edition.value("dwelling_from"), edition.value("dwelling_to")
    if dwelling_rule and fits(low, device) and fits(device, high):
        share = edition.limit("dwelling_share")
        found = smallest(device * share.value / 100, material, edition, installation=installation)
        return LineConductor(
            material,
            found.size,
            found.sets,
            found.ampacity,
            found.needed,
            (share.rule, *found.rules),
            True,
        )
    if not fits(device, edition.value("next_size_up")):
        found = smallest(device, material, edition, installation=installation)
        extra = edition.rule("over_800")
    else:
        # ampacity above the standard size below: then this device is the next size up
        least = previous_standard_device(device, edition) * (1 + 1e-6)
        found = smallest(max(amperes, least), material, edition, installation=installation)
        extra = edition.rule("next_size_up")
    return LineConductor(
        material, found.size, found.sets, found.ampacity, found.needed, (*found.rules, extra)
    )


def grounded_conductor_least(ungrounded: LineConductor, edition: Edition) -> tuple[Size, Rule]:
    """The least size of the service's grounded conductor (250.102(C)(1)), same material, for one
    set; in parallel not below 1/0. Raises :class:`NotCoveredError` beyond the table."""
    order, topic, metal = sizes(edition), "grounded_conductor", ungrounded.material
    for row in edition.rows(topic):
        upper, found = (edition.size_cell(topic, row, of) for of in (f"{metal} to", metal))
        if upper is None or found is None:
            continue
        position = order.index(upper.size) if upper.size in order else _between(upper.size, order)
        if order.index(ungrounded.size) <= position:
            least = found.size
            parallel = edition.limit_size("parallel")
            if ungrounded.sets > 1 and order.index(least) < order.index(parallel):
                least = parallel
            return least, found.rule
    raise NotCoveredError(
        edition.title, say("a grounded conductor for {ungrounded}", ungrounded=ungrounded)
    )


def _between(kcmil: str, order: list[Size]) -> int:
    """Position of the largest listed size not over ``kcmil``."""
    listed = [i for i, s in enumerate(order) if s.isdigit() and KCMIL_FROM <= int(s) <= int(kcmil)]
    return max(listed)
