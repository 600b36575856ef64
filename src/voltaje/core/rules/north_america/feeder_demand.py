"""Calculated load of a feeder or service other than a dwelling's, article 220 parts II and III."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import get_args

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.systems import Category, Piece
from voltaje.core.report import Text, Worksheet, figure, say
from voltaje.core.rules.common.noncoincident_loads import NoncoincidentGroup, noncoincident
from voltaje.core.rules.north_america.dwelling_demand import parts_shown, tiered
from voltaje.core.rules.north_america.dwellings_together import Together, together
from voltaje.core.rules.north_america.dwellings_together import report as report_together

# No code figure: beyond this many, a sum is named by its number and not written out.
WRITTEN_OUT = 6


@dataclass(frozen=True, slots=True)
class DemandGroup:
    """What is left of the loads of one category, VA: the ``members`` by their index, their
    ``total`` before and their ``demand`` after the rule; the ``parts`` in each step of its table as
    (VA, percent), ``None`` where no table has steps for it, the occupancy's ``family``, of kitchen
    equipment the ``two`` largest; the percents of the ``steps`` that it fills."""

    category: Category
    members: tuple[int, ...]
    total: float
    demand: float
    parts: tuple[tuple[float, Cell], ...] | None = None
    family: str = ""
    two: float = 0.0
    steps: tuple[Cell, ...] = ()
    # dwellings that are counted together
    together: Together | None = None


@dataclass(frozen=True, slots=True)
class Calculated:
    """Of a feeder, VA: ``connected``; ``load`` calculated, motors with their quarter; ``design``
    with 125 % of what is continuous. ``shares`` is what of each piece is left, by its index;
    ``largest_motor`` the quarter of the piece ``largest_index``, -1 where there is no motor.
    ``whole`` says that no demand factor was applied."""

    connected: float
    load: float
    design: float
    continuous: float
    shares: tuple[float, ...]
    largest_motor: float = 0.0
    largest_index: int = -1
    groups: tuple[DemandGroup, ...] = ()
    apart: tuple[NoncoincidentGroup, ...] = ()
    whole: bool = False

    @property
    def quarter(self) -> float:
        """What is added to continuous load, as a share of it."""
        return (self.design - self.load) / self.continuous if self.continuous else 0.0


CATEGORIES: tuple[str, ...] = get_args(Category)
# counted as they are calculated, each with its words on the worksheet
AS_CALCULATED: dict[Category, Text] = {
    "heating": say("Space heating"),
    "cooling": say("Air conditioning"),
    "cooking": say("Household cooking"),
    "dwelling": say("Dwellings, as calculated"),
    "other": say("Other load"),
}


def occupancy_of(kind: str) -> str:
    """The row family of the lighting demand factors for an occupancy's name."""
    name = kind.lower()
    for family in ("hospital", "hotel", "warehouse"):
        if family in name:
            return family
    return "other"


def feeder_load(
    pieces: Sequence[Piece], edition: Edition, occupancies: Sequence[str] = ()
) -> Calculated:
    """Applies the demand rules to what hangs on a feeder. ``occupancies`` gives each lighting
    piece's occupancy by the order of the pieces; empty: any other, counted whole."""
    unknown = sorted({p.category for p in pieces} - set(CATEGORIES))
    if unknown:
        raise ValueError(f"no demand rule knows a load of the category {', '.join(unknown)}")
    # what feeds in lowers no demand: it may be off when the load is on
    shares = [max(p.calculated, 0.0) for p in pieces]
    apart = noncoincident(pieces, shares)
    out = {index for one in apart for index in one.left}
    by_category: dict[str, list[int]] = {}
    for index, piece in enumerate(pieces):
        if index not in out:
            by_category.setdefault(piece.category, []).append(index)
    groups = [
        *_lighting(by_category.get("lighting", []), pieces, shares, occupancies, edition),
        *_receptacles(by_category.get("receptacles", []), shares, edition),
        *_kitchen(by_category.get("kitchen", []), shares, edition),
    ]
    groups += _dwellings(by_category.get("dwelling", []), pieces, shares, edition)
    counted = {index for group in groups for index in group.members}
    for category in (*AS_CALCULATED, "motor"):
        members = tuple(i for i in by_category.get(category, ()) if i not in counted)
        if members:
            value = sum(shares[i] for i in members)
            groups.append(DemandGroup(category, members, value, value))
    turning = [i for i in by_category.get("cooling", ()) if pieces[i].motor]
    quarter, largest = _largest_motor(
        [*by_category.get("motor", ()), *turning], pieces, shares, edition
    )
    load = sum(shares) + quarter
    continuous = sum(shares[i] * p.continuous for i, p in enumerate(pieces) if i not in out)
    return Calculated(
        sum(p.connected for p in pieces),
        load,
        load + continuous * (edition.value("continuous") - 100) / 100,
        continuous,
        tuple(shares),
        quarter,
        largest,
        tuple(groups),
        tuple(apart),
    )


def taken_whole(pieces: Sequence[Piece], edition: Edition) -> Calculated:
    """All load whole: no demand factor at all; the quarter of the largest motor is none."""
    shares = [max(p.calculated, 0.0) for p in pieces]
    turning = [i for i, p in enumerate(pieces) if p.category in ("motor", "cooling") and p.motor]
    quarter, largest = _largest_motor(turning, pieces, shares, edition)
    load = sum(shares) + quarter
    continuous = sum(va * p.continuous for p, va in zip(pieces, shares, strict=True))
    share = (edition.value("continuous") - 100) / 100
    return Calculated(
        sum(p.connected for p in pieces),
        load,
        load + continuous * share,
        continuous,
        tuple(shares),
        quarter,
        largest,
        whole=True,
    )


def _lighting(
    members: Sequence[int],
    pieces: Sequence[Piece],
    shares: list[float],
    occupancies: Sequence[str],
    edition: Edition,
) -> Iterator[DemandGroup]:
    kinds = list(occupancies) + [""] * (len(pieces) - len(occupancies))
    families = {i: occupancy_of(kinds[i]) for i in members}
    for wanted in dict.fromkeys(families.values()):
        group = tuple(i for i in members if families[i] == wanted)
        total, family = sum(shares[i] for i in group), wanted
        column = edition.cells("lighting_demand_others", "percent")
        rows = {r: v for r, v in column.items() if r.startswith(f"{family} ")}
        if not rows:
            family, rows = "other", {"other 0": column["other 0"]}
        parts = tiered(total, [(float(r.split()[-1]), v) for r, v in rows.items()])
        demand = sum(part * percent.value / 100 for part, percent in parts)
        for i in group:
            shares[i] *= demand / total if total else 1.0
        steps = tuple(rows.values())[: max(1, len(parts))]
        # one step takes all of it: its sum says more than its one part
        told = tuple(parts) if len(rows) > 1 else None
        yield DemandGroup("lighting", group, total, demand, told, family, steps=steps)


def _receptacles(
    members: Sequence[int], shares: list[float], edition: Edition
) -> Iterator[DemandGroup]:
    total = sum(shares[i] for i in members)
    if not total:
        return
    column = edition.cells("receptacle_demand", "percent")
    parts = tiered(total, [(float(above), percent) for above, percent in column.items()])
    demand = sum(part * percent.value / 100 for part, percent in parts)
    for i in members:
        shares[i] *= demand / total
    steps = tuple(column.values())[: len(parts)]
    yield DemandGroup("receptacles", tuple(members), total, demand, tuple(parts), steps=steps)


def _kitchen(
    members: Sequence[int], shares: list[float], edition: Edition
) -> Iterator[DemandGroup]:
    if not members:
        return
    total = sum(shares[i] for i in members)
    row = edition.row_for("kitchen_equipment", len(members))
    percent = edition.cell("kitchen_equipment", row, "percent")
    two = sum(sorted((shares[i] for i in members), reverse=True)[:2])
    by_table = total * percent.value / 100
    demand = max(by_table, two)
    for i in members:
        shares[i] *= demand / total if total else 1.0
    yield DemandGroup("kitchen", tuple(members), total, demand, ((total, percent),), two=two)


def _dwellings(
    members: Sequence[int], pieces: Sequence[Piece], shares: list[float], edition: Edition
) -> Iterator[DemandGroup]:
    """Dwellings whose loads are known, counted together from the second on."""
    known = [i for i in members if pieces[i].household is not None]
    if len(known) < 2 or not edition.has_table("dwellings_together"):
        return
    homes = [home for i in known if (home := pieces[i].household) is not None]
    each = sum(shares[i] for i in known)
    found = together(homes, each, edition)
    for i in known:
        shares[i] *= found.demand / each if each else 1.0
    yield DemandGroup("dwelling", tuple(known), each, found.demand, together=found)


def _largest_motor(
    turning: Sequence[int], pieces: Sequence[Piece], shares: list[float], edition: Edition
) -> tuple[float, int]:
    """The quarter of the largest motor and whose it is. Air conditioning that was entered by its
    nameplate's amperes takes part (430.24, 440.33); what was entered by its minimum circuit
    ampacity has its motor's quarter in that already."""
    if not turning:
        return 0.0, -1
    index = max(turning, key=lambda i: (pieces[i].motor, shares[i]))
    return shares[index] * edition.value("largest_motor") / 100, index


def report(found: Calculated, pieces: Sequence[Piece], edition: Edition) -> Worksheet:
    """The demand on the worksheet, rule by rule."""
    worksheet = Worksheet()
    if found.whole:
        if found.largest_index >= 0:
            worksheet.step("whole", say("All load whole"), sum(found.shares), "VA")
            _report_motor(found, pieces, edition, worksheet)
        worksheet.sum("calculated_load", say("All load whole"), found.load, "VA")
        return worksheet
    for apart in found.apart:
        left = [pieces[i].calculated for i in apart.left]
        words = say(
            "“{name}” never together: {kept} counts", name=apart.name, kept=pieces[apart.kept].name
        )
        rule = edition.rule("noncoincident")
        shown = _sum(left)
        worksheet.note("noncoincident", words, -apart.off, "VA", shown, rule, flow="noncoincident")
    for group in found.groups:
        _report_group(group, found, pieces, edition, worksheet)
    if found.largest_index >= 0:
        _report_motor(found, pieces, edition, worksheet)
    shown = " + ".join(figure(line.value) for line in worksheet if line.kind == "step")
    worksheet.sum("calculated_load", say("Calculated load"), found.load, "VA", shown)
    if found.continuous:
        more = edition.limit("continuous")
        share = (more.value - 100) / 100
        worksheet.step(
            "continuous",
            say("A quarter more of what is continuous"),
            found.continuous * share,
            "VA",
            f"{figure(found.continuous)} × {figure(share)}",
            more.rule,
            note=say("for the device, and the conductor before correction"),
        )
    return worksheet


def _report_group(
    group: DemandGroup,
    found: Calculated,
    pieces: Sequence[Piece],
    edition: Edition,
    worksheet: Worksheet,
) -> None:
    category, value = group.category, group.demand
    if group.together is not None:
        worksheet += report_together(group.together, edition)
        return
    shares = [found.shares[i] for i in group.members]
    tiers, rules = parts_shown(group.parts or ()), tuple(step.rule for step in group.steps)
    if category == "lighting":
        words = say("General lighting")
        if group.family != "other":
            words = say("General lighting, {family}", family=say(group.family))
        shown = tiers
        if group.parts is None:
            shown = _sum([pieces[i].calculated for i in group.members])
            shown = str(say("{sum}, at {percent} %", sum=shown, percent=group.steps[0].value))
        worksheet.step("lighting", words, value, "VA", shown, rules, flow="lighting")
    elif category == "receptacles":
        worksheet.step(category, say("Receptacles"), value, "VA", tiers, rules, flow=category)
    elif category == "kitchen":
        percent = (group.parts or ())[0][1]
        count = len(group.members)
        words = say(
            "Kitchen equipment, {count} units at {percent} %", count=count, percent=percent.value
        )
        rule = percent.rule
        more = group.two > group.total * percent.value / 100
        # where the two largest are more, they take the place of what is rounded
        note = say("the two largest, {two} VA, are more", two=group.two) if more else None
        worksheet.step(category, words, value, "VA", tiers, rule, rounding=note, flow=category)
    elif category == "motor":
        rule = edition.rule("motor_several")
        words = say("Motors by their table current")
        worksheet.step("motors", words, value, "VA", _sum(shares), rule, flow="motor")
    else:
        words = AS_CALCULATED[category]
        worksheet.step(category, words, value, "VA", _sum(shares), flow=category)


def _report_motor(
    found: Calculated, pieces: Sequence[Piece], edition: Edition, worksheet: Worksheet
) -> None:
    largest, share = pieces[found.largest_index], found.shares[found.largest_index]
    quarter = edition.limit("largest_motor")
    note = None
    if largest.category == "cooling":
        note = say("air conditioning by its nameplate amperes: its compressor is the largest motor")
    worksheet.step(
        "largest_motor",
        say("A quarter of the largest motor, {name}", name=largest.name),
        found.largest_motor,
        "VA",
        f"{figure(share)} × {figure(quarter.value / 100, 4)}",
        (quarter.rule, edition.rule("motor_several")),
        note=note,
        flow="motor",
    )


def _sum(values: Sequence[float]) -> str:
    if len(values) > WRITTEN_OUT:
        return str(say("sum of {count}", count=len(values)))
    return " + ".join(figure(value) for value in values)
