"""Grounding and bonding in numbers: grounded conductor both ways, jumpers, electrode and equipment
grounding conductors."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError, ask_needed
from voltaje.core.kinds.grounding.entries import GroundingEntries
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.service.entries import ELECTRODES
from voltaje.core.report import Rule, figure, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.grounding import (
    EquipmentGround,
    Jumper,
    as_copper,
    bonding_size,
    check_ring,
    electrode_size,
    equipment_ground,
)
from voltaje.core.rules.north_america.wiring import (
    circular_mils,
    size_ranks,
    smallest_option,
    terminal_column,
)

COUNTED = 3  # no code figure: the conductors of one set count as such for the adjustment
Governs = Literal["fault", "parallel", "line", "load"]


@dataclass(frozen=True, slots=True)
class GroundedConductor:
    """The grounded conductor of each of ``count`` raceways or sets: by the path of ``fault``
    current, by the neutral's ``load`` (``None``: not given), the larger of both as ``size`` and
    what it goes by; ``rules`` of that."""

    fault: Jumper
    load: Size | None
    each: float
    size: Size
    count: int
    governs: Governs
    rules: tuple[Rule, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class GroundingOutcome(Outcome):
    """Circular mils of one conductor and of all ``sets``; the grounded conductor, the jumpers, the
    conductor to each electrode that is there and the equipment grounding conductor (``None``: no
    device is given)."""

    mils: float
    total: float
    sets: int
    in_one: float
    grounded: GroundedConductor
    main_jumper: Jumper
    side_jumper: Jumper
    electrodes: tuple[tuple[str, Jumper], ...]
    ground: EquipmentGround | None


def calculate(entries: GroundingEntries, context: Context) -> GroundingOutcome:
    """Raises :class:`WrongEntryError` at what is missing or does not go together."""
    edition = context.edition
    if entries.size == "auto":
        ask_needed(entries)
        raise WrongEntryError("size", say("Needed: the size of the ungrounded conductors."))
    size, metal = Size(entries.size), entries.material
    if entries.sets > 1 and not _from(edition.limit_size("parallel"), size, edition):
        words = say("Sets in parallel are {least} at least.", least=edition.limit_size("parallel"))
        raise WrongEntryError("sets", words)
    if entries.ring:
        check_ring(entries.ring_size, edition)
    by_table = edition.has_table("grounded_conductor")
    if not by_table and entries.device_ahead is None:
        words = say("Needed: {code} sizes jumpers by the device ahead.", code=edition.title)
        raise WrongEntryError("device_ahead", words)
    mils = circular_mils(edition)[size]
    total = mils * entries.sets
    in_one = total if entries.lie == "one" else mils
    device, jumper = entries.device_ahead or 0.0, entries.jumper_material
    ground = None
    if entries.device_ahead is not None:
        least = "" if entries.enlarged_from == "auto" else entries.enlarged_from
        if least and circular_mils(edition)[Size(least)] > mils:
            words = say(
                "It is larger than the conductors: give the size before they were enlarged."
            )
            raise WrongEntryError("enlarged_from", words)
        ground = equipment_ground(
            entries.device_ahead, jumper, edition, size if least else "", least
        )
    return GroundingOutcome(
        mils=mils,
        total=total,
        sets=entries.sets,
        in_one=in_one,
        grounded=_grounded(entries, size, in_one, context),
        main_jumper=bonding_size(total, metal, edition, device, jumper),
        side_jumper=bonding_size(in_one, metal, edition, device, jumper),
        electrodes=_electrodes(entries, total, edition),
        ground=ground,
    )


def _from(least: Size, size: Size, edition: Edition) -> bool:
    ranks = size_ranks(edition)
    return ranks[size] >= ranks[least]


def _grounded(
    entries: GroundingEntries, size: Size, mils: float, context: Context
) -> GroundedConductor:
    """The path of fault current is as large as 250.102(C)(1) asks for the conductors of its
    raceway, not below 1/0 AWG where sets lie in raceways of their own, and need not be larger than
    they are; the neutral's load asks for its ampacity."""
    edition = context.edition
    areas, ranks = circular_mils(edition), size_ranks(edition)
    fault = bonding_size(mils, entries.material, edition, entries.device_ahead or 0.0)
    count = entries.sets if entries.lie == "each" else 1
    chosen, governs, rules = fault.size, "fault", fault.rules
    floor = edition.limit_size("parallel")
    if count > 1 and areas[chosen] < areas[floor]:
        chosen, governs, rules = floor, "parallel", (edition.rule("parallel"), *rules)
    if entries.lie == "each" and areas[chosen] > areas[size]:
        chosen, governs = size, "line"
    load, each = None, 0.0
    if entries.neutral is not None:
        each = entries.neutral / count
        column = terminal_column(max(entries.device_ahead or 0.0, entries.neutral), False, edition)
        lie = context.code.wiring().installation(COUNTED)  # type: ignore[attr-defined]
        option = smallest_option(each, entries.material, lie, column, edition)
        if option is None:
            words = say("a grounded conductor for {each} A", each=figure(each, 0))
            raise NotCoveredError(edition.title, words)
        load = Size(option.size)
        if ranks.get(load, -1) > ranks.get(chosen, len(ranks)):
            chosen, governs, rules = load, "load", (edition.rule("neutral"), *fault.rules)
    return GroundedConductor(fault, load, each, chosen, count, governs, rules)  # type: ignore[arg-type]


def _electrodes(
    entries: GroundingEntries, total: float, edition: Edition
) -> tuple[tuple[str, Jumper], ...]:
    """The conductor to each electrode that is there, of copper: aluminum may not touch earth or
    concrete."""
    area = total
    if edition.has_table("electrode_conductor") and entries.material != "copper":
        area = as_copper(total, edition)
    there = {
        "water_pipe": entries.water_pipe,
        "steel": entries.steel,
        "concrete": entries.concrete,
        "rod": entries.rod,
        "ring": entries.ring,
    }
    return tuple(
        (name, electrode_size(area, "copper", kind, edition, entries.ring_size))
        for name, (kind, _) in ELECTRODES.items()
        if there[name]
    )
