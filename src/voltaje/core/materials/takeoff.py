"""Quantities of conductors, cables, raceways with fittings, devices and equipment, from what each
item of a job was worked to. What is not counted is named: it is never nothing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from math import ceil
from typing import Literal

from voltaje.core.capabilities import HasLength, InterruptsFaults, OfMetal, can
from voltaje.core.entries import Entries, FieldSpec, fields
from voltaje.core.kinds import Evaluated
from voltaje.core.quantities import METRES_PER_FOOT, UnreadableError, read_number
from voltaje.core.report import PulledConductor, Report, Text, figure, say, told
from voltaje.core.rules.interface import Code, code_of

Group = Literal["conductors", "cables", "raceways", "fittings", "devices", "equipment"]
Unit = Literal["m", ""]
GROUPS: Mapping[Group, Text] = {
    "conductors": say("Conductors"),
    "cables": say("Cables"),
    "raceways": say("Raceways"),
    "fittings": say("Fittings, estimated"),
    "devices": say("Overcurrent devices"),
    "equipment": say("Boards and transformers"),
}
# results of conductors that a sheet has beside those that its drawing pulls
SIDES = ("primary_", "secondary_", "input_", "output_")
POLES = ("L1", "L2", "L3", "A", "B", "C")


@dataclass(frozen=True, slots=True)
class Allowances:
    """What is added to lengths as they are drawn: m at each ``end`` of a run, ``waste`` as a share;
    a raceway comes in pieces of ``piece`` m, with a strap each ``strap`` m."""

    # common practice: 6 ft (2 m) at each end, a tenth for waste, pieces and straps of 10 ft (3 m)
    end: float = 6 * METRES_PER_FOOT
    waste: float = 0.10
    piece: float = 10 * METRES_PER_FOOT
    strap: float = 10 * METRES_PER_FOOT


@dataclass(frozen=True, slots=True)
class MaterialLine:
    """A line of an order: its group, a ``key`` that stays the same from job to job, its words, how
    much of it in ``unit`` (m, or pieces where it is empty), the items that it is for by their ids.
    """

    group: Group
    key: str
    label: Text
    quantity: float
    unit: Unit
    items: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class LeftOut:
    """An item that is not counted, or not wholly, and why."""

    item: str
    why: Text


@dataclass(frozen=True, slots=True)
class Takeoff:
    """All lines in the order of their groups, and what is left out."""

    lines: tuple[MaterialLine, ...]
    left_out: tuple[LeftOut, ...]


@dataclass(slots=True)
class _Order:
    """Lines as they are added up, and how often something was."""

    found: dict[str, MaterialLine] = field(default_factory=dict)
    count: int = 0

    def add(
        self, group: Group, key: str, label: Text, quantity: float, unit: Unit, item: str
    ) -> None:
        """Adds to the line of that key."""
        self.count += 1
        before = self.found.get(key)
        have, items = (before.quantity, before.items) if before else (0.0, ())
        all_of = items if item in items else (*items, item)
        self.found[key] = MaterialLine(group, key, label, have + quantity, unit, all_of)


def take_off(
    found: Mapping[str, Evaluated], family: str, allowances: Allowances | None = None
) -> Takeoff:
    """The materials of everything that was worked, item by item in the order given. Lengths in m
    with slack and waste; raceways in whole pieces' fittings. Raises nothing for an item without a
    result: it is left out and named."""
    allowed, code = allowances or Allowances(), code_of(family)
    order, left = _Order(), []
    for item, one in found.items():
        count = order.count
        said = [LeftOut(item, why) for why in _item(order, item, one, code, allowed)]
        if order.count == count and not said and not (one.of is not None and one.of.root):
            # a run of segments, a street, a dwelling: nobody is to think that it is in
            said = [LeftOut(item, say("not counted: see its worksheet"))]
        left += said
    ranked = list(GROUPS)
    lines = sorted(order.found.values(), key=lambda line: (ranked.index(line.group), by_size(line)))
    return Takeoff(tuple(lines), tuple(left))


def by_size(line: MaterialLine) -> tuple[tuple[int, float, str], ...]:
    """What lines of a group are sorted by: each part of the key by the figure that it begins with,
    gauges from the thin to the thick."""
    return tuple(_rank(part) for part in line.key.split("|"))


def _rank(part: str) -> tuple[int, float, str]:
    head, _, rest = part.partition(" ")
    gauge, slash, aught = head.partition("/")
    if slash and aught == "0":  # 1/0 to 4/0 AWG stand behind 1 AWG
        return (1, float(gauge) if gauge.isdigit() else 0.0, part)
    try:
        value = read_number(head)
    except (UnreadableError, ValueError, OverflowError):
        return (3, 0.0, part)
    if rest.startswith("AWG"):
        return (0, -value, part)
    return (2, value, part)


def _item(
    order: _Order, item: str, one: Evaluated, code: Code, allowed: Allowances
) -> Iterable[Text]:
    report, entries = one.report, one.entries
    if report is None or entries is None or one.outcome is None:
        yield say("no result")
        return
    if report.missing:
        # what is sized for a part of its load alone is too small to be ordered
        yield say("incomplete: a result below it is missing")
        return
    sides = [side for side in ("", *SIDES) if f"{side}conductor_size" in report.results]
    # the conductors that the drawing pulls are those of the load's side
    at = next((side for side in reversed(sides) if _is_pulled(report, side)), None)
    pulled = [wire for wire in report.wires if wire.size] if at is not None else []
    if at is not None:
        yield from _run(order, item, report, entries, pulled, at, code, allowed)
    if any(side != at for side in sides):
        words = say("primary or input conductors not counted: see its worksheet")
        yield words if at else say("conductors not counted: see its worksheet")
    _devices(order, item, report, entries, pulled, at or "")
    of, context = one.of, one.context
    if of is not None and of.equipment is not None and context is not None:
        for made in of.equipment(entries, one.outcome, context):
            order.add("equipment", f"equipment|{made.key}", made.label, made.number, "", item)


def _is_pulled(report: Report, side: str) -> bool:
    """Whether the conductors of a side are those that the drawing pulls."""
    size = str(report.results[f"{side}conductor_size"].value)
    lines = [wire.size for wire in report.wires if wire.role in POLES]
    return bool(lines) and lines[0].split()[0] == size


def _run(
    order: _Order,
    item: str,
    report: Report,
    entries: Entries,
    pulled: Sequence[PulledConductor],
    side: str,
    code: Code,
    allowed: Allowances,
) -> Iterable[Text]:
    length = entries.length if can(entries, HasLength) else None
    if not length:
        yield say("conductors and raceway not counted: no length is given")
        return
    specs = {spec.name: spec for spec in fields(type(entries))}
    sets = _sets(report, side)
    method = code.wiring.METHOD
    way = code.wiring_method({name: _raw(entries, name) for name in specs}).way
    long = (length + 2 * allowed.end) * sets * (1 + allowed.waste)
    metal = entries.material if can(entries, OfMetal) else "copper"
    if way == "conduit":
        cover = _words(specs, entries, code.wiring.INSULATION)
        for wire in pulled:
            of = _metal(report, side, wire, metal)
            plain = _raw(entries, code.wiring.INSULATION)
            key = f"conductor|{wire.size}|{of}|{plain}|{wire.color}"
            label = say(
                "{size} {metal}, {insulation}, {color}",
                size=wire.size,
                metal=told(of),
                insulation=cover,
                color=told(wire.color),
            )
            if not cover:
                label = say(
                    "{size} {metal}, {color}",
                    size=wire.size,
                    metal=told(of),
                    color=told(wire.color),
                )
            order.add("conductors", key, label, long, "m", item)
    else:
        named = _named(specs, method)
        kind = _raw(entries, named), _words(specs, entries, named)
        _cable(order, item, pulled, metal, kind, long)
    raceway = report.results.get(f"{side}raceway")
    if way == "conduit" and raceway is not None and isinstance(raceway.value, str):
        pipes = 1 if _raw(entries, "raceways") == "one" else sets
        _raceway(order, item, raceway.value, length, pipes, allowed)
    elif way == "conduit":
        yield say("raceway not counted: no size is selected")


def _named(specs: Mapping[str, FieldSpec], method: str) -> str:
    """The entry that names a cable: its own, or else the method."""
    return "cable" if "cable" in specs else method


def _cable(
    order: _Order,
    item: str,
    pulled: Sequence[PulledConductor],
    metal: str,
    kind: tuple[str, str],
    long: float,
) -> None:
    """Several conductors under one sheath: the live ones of the largest size, and its earth.
    ``kind`` is the cable's name as it is kept, and in words."""
    live = [wire for wire in pulled if wire.role != "G"]
    earth = [wire for wire in pulled if wire.role == "G"]
    if not live:
        return
    size, ground = live[0].size, earth[0].size if earth else ""
    key = f"cable|{kind[0]}|{len(live)}|{size}|{ground}|{metal}"
    given = {"kind": kind[1], "number": len(live), "size": size, "metal": told(metal)}
    label = say("{kind}, {number} × {size} {metal}", **given)
    if ground:
        label = say("{kind}, {number} × {size} {metal} and {ground}", **given, ground=ground)
    order.add("cables", key, label, long, "m", item)


def _raceway(
    order: _Order, item: str, size: str, length: float, pipes: int, allowed: Allowances
) -> None:
    """The pipe in m and its fittings: a coupling between pieces, two connectors, a strap each few
    metres and one besides."""
    order.add(
        "raceways",
        f"raceway|{size}",
        say("{size}", size=size),
        length * pipes * (1 + allowed.waste),
        "m",
        item,
    )
    pieces = ceil(length / allowed.piece - 1e-9)
    for name, words, number in (
        ("coupling", say("coupling, {size}", size=size), pieces - 1),
        ("connector", say("connector, {size}", size=size), 2),
        ("strap", say("strap, {size}", size=size), ceil(length / allowed.strap - 1e-9) + 1),
    ):
        if number:
            order.add("fittings", f"{name}|{size}", words, number * pipes, "", item)


def _devices(
    order: _Order,
    item: str,
    report: Report,
    entries: Entries,
    pulled: Sequence[PulledConductor],
    at: str,
) -> None:
    """Each device by rating, poles and kind; its interrupting rating where one is given."""
    specs = {spec.name: spec for spec in fields(type(entries))}
    poles = sum(1 for wire in pulled if wire.role in POLES)
    # a fuse or a breaker, or the letter of its curve; a figure fixed by hand is none
    kind = next(
        (
            text
            for name in ("device_type", "device")
            if name in specs and specs[name].choices and (text := _words(specs, entries, name))
        ),
        "",
    )
    rcd = _words(specs, entries, "rcd") if _raw(entries, "rcd") not in ("", "none") else ""
    breaks = entries.interrupting if can(entries, InterruptsFaults) else None
    own_sides = any(f"{side}device" in report.results for side in SIDES)
    for side in SIDES if own_sides else ("",):  # the one ahead is one of its sides
        result = report.results.get(f"{side}device")
        if result is None or isinstance(result.value, str):
            continue
        said = [f"{figure(result.value, 1)} A"]
        if poles and side == at:
            many = say("{number} poles", number=poles) if poles > 1 else say("1 pole")
            said.append(str(many))
        said += [kind] if kind and not side else []
        said += [rcd] if rcd else []
        said += [f"{figure(breaks / 1000, 1)} kA"] if breaks else []
        own = poles if poles and side == at else 0
        plain = _raw(entries, "device_type") if not side else ""
        leak = _raw(entries, "rcd") if rcd else ""
        key = f"device|{figure(result.value, 1)}|{own}|{plain}|{leak}|{breaks or ''}"
        order.add("devices", key, say("{text}", text=", ".join(said)), 1, "", item)


def _sets(report: Report, side: str) -> int:
    result = report.results.get(f"{side}conductor_sets")
    return int(result.value) if result is not None and not isinstance(result.value, str) else 1


def _metal(report: Report, side: str, wire: PulledConductor, metal: str) -> str:
    """The metal of a conductor by its role, as the sheet has it."""
    role = {"N": "neutral_conductor", "G": "ground_conductor"}.get(wire.role, "conductor")
    result = report.results.get(f"{side}{role}_metal")
    return str(result.value if result is not None else metal)


def _raw(entries: Entries, name: str) -> str:
    """A choice as it is kept."""
    value = entries.model_dump(include={name}).get(name)
    return "" if value is None else str(value)


def _words(specs: Mapping[str, FieldSpec], entries: Entries, name: str) -> str:
    """A choice by its label, up to the first explanation."""
    if name not in specs:
        return ""
    text = _raw(entries, name)
    label = dict(specs[name].choices).get(text, text) if specs[name].choices else text
    return told(str(label)).partition(":")[0]
