"""A service in numbers: its load, its conductors, its grounded conductor, bonds and electrodes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.codes.vocabulary import NO_SIZE, Size
from voltaje.core.electrical.systems import Demand
from voltaje.core.entries import NothingBelowError
from voltaje.core.kinds.feeder.carried import Carried, carry, connection_of
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.kinds.service.entries import ELECTRODES, ServiceEntries
from voltaje.core.report import Rule, Text, figure, say
from voltaje.core.rules.common.fault_contribution import Export, export, with_fed
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.alternatives import Candidate
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.feeder_demand import feeder_load
from voltaje.core.rules.north_america.grounding import (
    Jumper,
    as_copper,
    bonding_size,
    check_ring,
    electrode_size,
)
from voltaje.core.rules.north_america.overcurrent import devices_between, largest_rating
from voltaje.core.rules.north_america.wired import Feed, Sizing, size, smallest_neutral
from voltaje.core.rules.north_america.wiring import circular_mils

By = Literal["table", "share", "parallel", "unbalanced"]


@dataclass(frozen=True, slots=True)
class Grounded:
    """The grounded conductor of each set or raceway, and what it goes ``by``: the ``least`` of the
    table, or a ``share`` of the area, percent, above its end; what its ``load`` alone and what the
    path of ``fault`` current alone would ask for."""

    size: Size
    count: int
    rules: tuple[Rule, ...]
    by: By
    least: Size = NO_SIZE
    share: float = 0.0
    shown: Text | None = None
    load: Size = NO_SIZE
    fault: Size = NO_SIZE


@dataclass(frozen=True, slots=True, kw_only=True)
class ServiceOutcome(SizedOutcome[Sizing]):
    """Its load on the lines, the ``design`` amperes, those that flow ``back`` included, the
    ``neutral`` in A; its grounded conductor and main bonding jumper
    where the system has a neutral, the supply-side jumper, and the conductor to each electrode."""

    carried: Carried
    design: float
    back: Export | None
    neutral: float
    grounded: Grounded | None
    main_jumper: Jumper | None
    side_jumper: Jumper
    electrodes: tuple[tuple[str, Jumper], ...]
    electrode: Jumper | None


def calculate(entries: ServiceEntries, context: Context) -> ServiceOutcome:
    """The service: load, device, conductors, what is grounded and bonded."""
    system, edition = context.supply.system, context.edition
    pieces = context.below.pieces
    if not pieces and not context.below.infeed:
        raise NothingBelowError(
            "", say("Nothing hangs on this service yet: add feeders, boards or loads below it.")
        )
    ring = entries.ring or entries.ring_size == "auto"
    if ring:
        check_ring(entries.ring_size, edition)
    carried = carry(pieces, feeder_load(pieces, edition), system)
    neutral, design = carried.neutral(system, edition), carried.design
    back = export(context.below, system, edition)
    design = max(design, back.design) if back else design
    need = SizingRequest(
        carried.load,
        design,
        design,
        devices_between(design, largest_rating(edition), edition, 3),
        device_topic="service_device",
        conductor_topic="service_device",
    )
    feed = Feed(
        connection_of(system),
        system.line_to_line or system.to_neutral,
        len(system.lines),
        system.has_neutral,
        wye_pair=system.is_wye and system.phases == 1,
        drop_topic="drop_total",
        passes_on=True,
    )
    sizing = size(need, feed, entries, context)
    pair = sizing.pair
    metal, total = pair.option.material, pair.option.mils * pair.sets
    grounded, main = None, None
    if system.has_neutral:
        grounded = grounded_conductor(pair, neutral, entries, context)
        main = bonding_size(total, metal, edition, pair.device)
    in_one = total if entries.raceways == "one" else pair.option.mils
    electrodes = _electrodes(entries, total, metal, edition)
    areas = circular_mils(edition)
    return ServiceOutcome(
        amperes=carried.load,
        wires=feed.wires(context.supply.system),
        drop=sizing.lost.percent if sizing.lost else None,
        fault=with_fed(context.below, context.supply),
        sizing=sizing,
        carried=carried,
        design=design,
        back=back,
        neutral=neutral,
        grounded=grounded,
        main_jumper=main,
        side_jumper=bonding_size(in_one, metal, edition, pair.device),
        electrodes=electrodes,
        electrode=max((j for _, j in electrodes), key=lambda j: areas[j.size], default=None),
    )


def grounded_conductor(
    pair: Candidate, neutral: float, entries: ServiceEntries, context: Context
) -> Grounded:
    """The larger of 250.102(C)(1) and the unbalanced load; with sets in raceways of their own by
    the conductors of each raceway and not below 1/0 AWG.

    ``neutral`` in A for the whole service.
    """
    edition = context.edition
    order, areas = edition.rows("conductor_properties"), circular_mils(edition)
    together = entries.raceways == "one" or pair.sets == 1
    mils = pair.option.mils * (pair.sets if together else 1)
    jumper = bonding_size(mils, pair.option.material, edition, pair.device)
    least, rules, by = jumper.size, jumper.rules, "table"
    asked, share_of = least, 0.0
    if any(rule.topic == "over_1100" for rule in rules):
        by, share_of = "share", edition.value("over_1100_share")
    count = 1 if together else pair.sets
    floor = edition.limit_size("parallel")
    if not together and order.index(least) < order.index(floor):
        least, rules, by = floor, (edition.rule("parallel"), *rules), "parallel"
    # one large neutral beside several sets would be larger than their lines, or than is made: each
    # set then has its own, together of the area that is asked
    counted = len(context.supply.system.lines)
    if together and pair.sets > 1:
        single = smallest_neutral(neutral * pair.sets, least, counted, pair, entries, edition)
        rank = {name: order.index(name) for name in order}
        if single is None or rank[single] > rank[pair.option.size]:
            count = pair.sets
            share = areas.get(least, 0.0) / count
            own = next(Size(n) for n in order if areas[n] >= share and rank[n] >= rank[floor])
            least, rules, by = own, (edition.rule("parallel"), *rules), "parallel"
    each = neutral / count
    # in a raceway of its own each set's neutral is sized by itself
    carries = smallest_neutral(each * pair.sets, None, counted, pair, entries, edition)
    if carries is None:
        raise NotCoveredError(
            edition.title, say("a grounded conductor for {each} A", each=figure(each, 0))
        )
    load, fault = Size(carries), least
    if order.index(carries) > order.index(least):
        least, rules, by = Size(carries), (edition.rule("neutral"), *rules), "unbalanced"
    shown = jumper.shown
    return Grounded(least, count, rules, by, asked, share_of, shown, load, fault)  # type: ignore[arg-type]


def _electrodes(
    entries: ServiceEntries, mils: float, material: str, edition: Edition
) -> tuple[tuple[str, Jumper], ...]:
    """The conductor to each electrode that is there, of copper: aluminum ones may not touch earth
    or concrete."""
    by_line = edition.has_table("electrode_conductor")
    area = as_copper(mils, edition) if by_line and material != "copper" else mils
    return tuple(
        (name, electrode_size(area, "copper", kind, edition, entries.ring_size))
        for name, (kind, _) in ELECTRODES.items()
        if getattr(entries, name)
    )


def hand_up(entries: ServiceEntries, outcome: ServiceOutcome, context: Context) -> Demand:
    """Its loads, each on its line."""
    return Demand.of(outcome.carried.placed)
