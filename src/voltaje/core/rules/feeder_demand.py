"""Calculated load of a feeder or service other than a dwelling's, article 220 parts II and III."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import get_args

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import Category, Piece
from voltaje.core.rules.dwelling_demand import tiered
from voltaje.core.worksheet import Finding, Line, figure, say

# No code figure: beyond this many, a sum is named by its number and not written out.
WRITTEN_OUT = 6


@dataclass(frozen=True, slots=True)
class Calculated:
    """Of a feeder, VA: ``connected``; ``load`` calculated, motors with their quarter; ``design``
    with 125 % of what is continuous. ``shares`` is what of each piece is left, by its index;
    ``largest_motor`` the quarter of the piece ``largest_index``, -1 where there is no motor."""

    connected: float
    load: float
    design: float
    continuous: float
    lines: tuple[Line, ...]
    findings: tuple[Finding, ...]
    shares: tuple[float, ...]
    largest_motor: float = 0.0
    largest_index: int = -1


CATEGORIES: tuple[str, ...] = get_args(Category)


def occupancy_of(kind: str) -> str:
    """The row family of the lighting demand factors for an occupancy's name."""
    name = kind.lower()
    for family in ("hospital", "hotel", "warehouse"):
        if family in name:
            return family
    return "other"


def calculate(
    pieces: Sequence[Piece], edition: Edition, occupancies: Sequence[str] = ()
) -> Calculated:
    """Applies the demand rules to what hangs on a feeder. ``occupancies`` gives each lighting
    piece's occupancy by the order of the pieces; empty: any other, counted whole."""
    unknown = sorted({p.category for p in pieces} - set(CATEGORIES))
    if unknown:
        raise ValueError(f"no demand rule knows a load of the category {', '.join(unknown)}")
    # what feeds in lowers no demand: it may be off when the load is on
    shares = [max(p.calculated, 0.0) for p in pieces]
    lines: list[Line] = []
    findings: list[Finding] = []
    out = _noncoincident(pieces, shares, lines, edition)
    kept = [(i, p) for i, p in enumerate(pieces) if i not in out]
    kinds = list(occupancies) + [""] * (len(pieces) - len(occupancies))
    _lighting([(i, p, kinds[i]) for i, p in kept if p.category == "lighting"], shares, lines,
              edition)  # fmt: skip
    _receptacles([(i, p) for i, p in kept if p.category == "receptacles"], shares, lines, edition)
    _kitchen([(i, p) for i, p in kept if p.category == "kitchen"], shares, lines, edition)
    labels = {
        "heating": "Space heating", "cooling": "Air conditioning", "cooking": "Household cooking",
        "dwelling": "Dwellings, as calculated", "other": "Other load",
    }  # fmt: skip
    for category, label in labels.items():
        members = [(i, p) for i, p in kept if p.category == category]
        if members:
            value = sum(shares[i] for i, _ in members)
            lines.append(
                Line(category, say(label), value, "VA",
                     _sum([(shares[i], p.name) for i, p in members]), flow=category)
            )  # fmt: skip
    quarter, largest = _motors(kept, shares, lines, edition)
    load = sum(shares) + quarter
    continuous = sum(shares[i] * p.continuous for i, p in kept)
    more = edition.limit("continuous")
    design = load + continuous * (more.value - 100) / 100
    lines.append(
        Line("calculated_load", say("Calculated load"), load, "VA", kind="sum",
             expression=" + ".join(figure(x.value) for x in lines if x.kind == "step"))
    )  # fmt: skip
    if continuous:
        lines.append(
            Line("continuous", say("A quarter more of what is continuous"),
                 continuous * (more.value - 100) / 100, "VA",
                 f"{figure(continuous)} × {figure((more.value - 100) / 100)}", (more.rule,),
                 note=say("for the device, and the conductor before correction"))
        )  # fmt: skip
    return Calculated(
        sum(p.connected for p in pieces), load, design, continuous, tuple(lines),
        tuple(findings), tuple(shares), quarter, largest,
    )  # fmt: skip


def _noncoincident(
    pieces: Sequence[Piece], shares: list[float], lines: list[Line], edition: Edition
) -> set[int]:
    out: set[int] = set()
    names = dict.fromkeys(p.group for p in pieces if p.group)
    for name in names:
        members = [i for i, p in enumerate(pieces) if p.group == name]
        # the pieces of one entered row run together: they are one alternative
        ways: dict[tuple[str, str], list[int]] = {}
        for i in members:
            ways.setdefault((pieces[i].part, pieces[i].choice or f"#{i}"), []).append(i)
        kept = max(ways.values(), key=lambda way: (sum(pieces[i].calculated for i in way), -way[0]))
        largest = kept[0]
        left = [i for i in members if i not in kept]
        if left:
            off = sum(shares[i] for i in left)
            for i in left:
                shares[i] = 0.0
            out |= set(left)
            lines.append(
                Line("noncoincident", say("“{name}” never together: {kept} counts", name=name,
                                          kept=pieces[largest].name),
                     -off, "VA", _sum([(pieces[i].calculated, pieces[i].name) for i in left]),
                     (edition.rule("noncoincident"),), kind="note", flow="noncoincident")
            )  # fmt: skip
    return out


def _lighting(
    members: list[tuple[int, Piece, str]], shares: list[float], lines: list[Line], edition: Edition
) -> None:
    for family in dict.fromkeys(occupancy_of(kind) for _, _, kind in members):
        group = [(i, p) for i, p, kind in members if occupancy_of(kind) == family]
        total = sum(shares[i] for i, _ in group)
        column = edition.table("lighting_demand_others").column("percent")
        rows = {r: v for r, v in column.items() if r.startswith(f"{family} ")}
        if not rows:
            family, rows = "other", {"other 0": column["other 0"]}
        steps = [(float(r.split()[-1]), v) for r, v in rows.items()]
        parts = tiered(total, steps)
        demand = sum(part * percent / 100 for part, percent in parts)
        for i, _ in group:
            shares[i] *= demand / total if total else 1.0
        row = list(rows)[max(0, len(parts) - 1)]
        expression = (
            _sum([(p.calculated, p.name) for _, p in group])
            if len(steps) == 1
            else " + ".join(f"{figure(part)} × {figure(pc / 100)}" for part, pc in parts)
        )
        lines.append(
            Line("lighting", say("General lighting") if family == "other"
                 else say("General lighting, {family}", family=family),
                 demand, "VA", expression,
                 (edition.rule("lighting_demand_others", row, "percent"),), flow="lighting")
        )  # fmt: skip


def _receptacles(
    members: list[tuple[int, Piece]], shares: list[float], lines: list[Line], edition: Edition
) -> None:
    total = sum(shares[i] for i, _ in members)
    if not total:
        return
    column = edition.table("receptacle_demand").column("percent")
    parts = tiered(total, [(float(above), percent) for above, percent in column.items()])
    demand = sum(part * percent / 100 for part, percent in parts)
    for i, _ in members:
        shares[i] *= demand / total
    row = list(column)[len(parts) - 1]
    lines.append(
        Line("receptacles", say("Receptacles"), demand, "VA",
             " + ".join(f"{figure(part)} × {figure(pc / 100)}" for part, pc in parts),
             (edition.rule("receptacle_demand", row, "percent"),), flow="receptacles")
    )  # fmt: skip


def _kitchen(
    members: list[tuple[int, Piece]], shares: list[float], lines: list[Line], edition: Edition
) -> None:
    if not members:
        return
    total = sum(shares[i] for i, _ in members)
    row = edition.table("kitchen_equipment").span(len(members))
    cell = edition.cell("kitchen_equipment", row, "percent")
    two = sum(sorted((shares[i] for i, _ in members), reverse=True)[:2])
    by_table = total * cell.value / 100
    demand = max(by_table, two)
    for i, _ in members:
        shares[i] *= demand / total if total else 1.0
    lines.append(
        Line("kitchen", say("Kitchen equipment, {count} units at {percent} %", count=len(members),
                            percent=cell.value),
             demand, "VA", f"{figure(total)} × {figure(cell.value / 100)}", (cell.rule,),
             say("the two largest, {two} VA, are more", two=two) if two > by_table else None,
             flow="kitchen")
    )  # fmt: skip


def _motors(
    kept: list[tuple[int, Piece]], shares: list[float], lines: list[Line], edition: Edition
) -> tuple[float, int]:
    """The quarter of the largest motor and whose it is. Air conditioning that was entered by its
    nameplate's amperes takes part (430.24, 440.33); what was entered by its minimum circuit
    ampacity has its motor's quarter in that already."""
    motors = [(i, p) for i, p in kept if p.category == "motor"]
    if motors:
        lines.append(
            Line("motors", say("Motors by their table current"), sum(shares[i] for i, _ in motors),
                 "VA", _sum([(shares[i], p.name) for i, p in motors]),
                 (edition.rule("motor_several"),), flow="motor")
        )  # fmt: skip
    turning = motors + [(i, p) for i, p in kept if p.category == "cooling" and p.motor]
    if not turning:
        return 0.0, -1
    index, largest = max(turning, key=lambda m: (m[1].motor, shares[m[0]]))
    quarter = edition.limit("largest_motor")
    more = shares[index] * quarter.value / 100
    note = None
    if largest.category == "cooling":
        note = say("air conditioning by its nameplate amperes: its compressor is the largest motor")
    lines.append(
        Line("largest_motor", say("A quarter of the largest motor, {name}", name=largest.name),
             more, "VA", f"{figure(shares[index])} × {figure(quarter.value / 100)}",
             (quarter.rule, edition.rule("motor_several")), note=note, flow="motor")
    )  # fmt: skip
    return more, index


def _sum(members: Sequence[tuple[float, str]]) -> str:
    if len(members) > WRITTEN_OUT:
        return f"sum of {len(members)}"
    return " + ".join(figure(value) for value, _ in members)
