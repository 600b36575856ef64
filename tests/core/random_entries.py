"""Random entries, loads below and supplies for any kind of part under any code: what a person may
type, with sizes left to be chosen."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from random import Random
from typing import Any

from voltaje.core.codes import Edition
from voltaje.core.electrical.lines import pairs, to_neutral
from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, System
from voltaje.core.entries import FieldSpec, fields
from voltaje.core.kinds import Context, Kind, PartInput
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import Code, code_of

LOADS = ["3 A", "9 A", "16 A", "24 A", "31 A", "47 A", "63 A", "90 A", "130 A", "190 A", "260 A",
         "2 kW", "7 kW", "18 kW", "45 kW"]  # fmt: skip
GIVEN = {
    "load": LOADS,
    "nameplate": LOADS,
    "horsepower": ["1 hp", "5 hp", "15 hp", "30 hp", "60 hp"],
    "power": ["1.5 kW", "7.5 kW", "22 kW"],
    "external_loop": ["", "0.05", "0.2", "0.35", "0.8", "1.5"],
    "fault": ["", "2 kA", "6 kA", "16 kA"],
    "others": ["", "2", "5", "9"],
    "grouped_circuits": ["", "2", "5", "9"],
    "ambient": ["35", "45"],
}
LENGTHS = ["5 ft", "30 ft", "90 ft", "200 ft", "8 m", "25 m", "60 m", "140 m", ""]
ALWAYS = ("load", "nameplate", "length")
# what is fixed by hand, or told of an existing board, is no choice of the program; a part of the
# network that is opened is an operating case
BY_HAND = ("hand", "place")
OPENED = ("open", "opened", "opened_behind")
UNNAMED = ("name", "stays", "line")
BURIED = ("ring", "ring_size")  # a ring electrode is there as it is


def _text(spec: FieldSpec, rng: Random) -> str | None:
    if spec.choices:
        values = [value for value, _ in spec.choices]
        sizes = "size" in spec.name or spec.name in ("area", "protective")
        chosen = (
            "auto" in values and sizes and not spec.required
        )  # what is asked of everybody is no choice
        if "auto" in values and sizes and spec.required:
            values.remove("auto")
        return "auto" if chosen else rng.choice(values)
    if spec.kind == "check":
        return rng.choice(["yes", ""])
    if "length" in spec.name:
        return rng.choice(LENGTHS)
    if spec.name in GIVEN:
        return rng.choice(GIVEN[spec.name])
    if spec.example and rng.random() < 0.5:
        return str(spec.example).split(",")[0].strip()
    return None


def _rows(spec: FieldSpec, rng: Random) -> list[dict[str, str]]:
    rows = []
    for index in range(rng.randint(1, 3)):
        row = {"id": f"r{index}"}
        for column in spec.columns:
            if column.name in UNNAMED:
                continue
            text = _text(column, rng)
            if text and (column.required or column.name in ALWAYS or rng.random() < 0.6):
                row[column.name] = text
        rows.append(row)
    return rows


def document(
    of: Kind, code: Code, base: Mapping[str, Any], rng: Random, share: float = 0.4
) -> dict[str, Any]:
    """A document of a kind under a code, a share of its entries others, nothing of it fixed by
    hand."""
    found: dict[str, Any] = dict(base)
    for spec in fields(of.entries_in(code)):
        if _fixes(spec):
            found.pop(spec.name, None)
            continue
        if spec.kind == "rows":
            if rng.random() < share:
                found[spec.name] = _rows(spec, rng)
        elif is_size(spec) or rng.random() < (0.9 if spec.name in ALWAYS and share else share):
            text = _text(spec, rng)
            if text:
                found[spec.name] = text
    return found


def _fixes(spec: FieldSpec) -> bool:
    """Whether an entry fixes what the program would choose, or opens a part of the network."""
    device = spec.kind == "quantity" and spec.name.endswith(("device", "sets"))
    return spec.group in BY_HAND or spec.name in (*OPENED, *BURIED) or (device and not spec.default)


def is_size(spec: FieldSpec) -> bool:
    """Whether an entry is a conductor that the program may choose."""
    return bool(spec.choices) and _text(spec, Random(0)) == "auto"


def loads(system: System, rng: Random) -> list[Piece]:
    """What hangs below: loads of every connection that the system has, motors among them."""
    ways = [("line-neutral", system.to_neutral)] if system.has_neutral else []
    ways += [("two-line", system.line_to_line)] if system.line_to_line else []
    ways += [("three-phase", system.line_to_line * 3**0.5)] if system.phases == 3 else []
    found = []
    for index in range(rng.randint(1, 5)):
        connection, volts = rng.choice(ways)
        amperes = rng.uniform(3, 90)
        motor = amperes if rng.random() < 0.3 else 0.0
        found.append(
            Piece(f"p{index}", "motor" if motor else "other", amperes * volts, amperes * volts,
                  amperes, connection, continuous=rng.choice([0.0, 1.0]), motor=motor,
                  device=amperes * (2.5 if motor else 1.2), part=f"p{index}")
        )  # fmt: skip
    return found


def context(of: Kind, book: Edition, rng: Random) -> Context:
    """A supply of the code, its fault current and loop known or not, with loads below a kind that
    holds others."""
    code = code_of(book.family)
    system = SYSTEMS[rng.choice(sorted(code.systems))]
    point = replace(
        supplied(system, book),
        fault=rng.choice([0.0, 3000.0, 10_000.0]),
        loop_impedance=rng.choice([0.0, 0.1, 0.4]) if system.metric else 0.0,
        earthing=rng.choice(["", "TN-S", "TN-C-S", "TT"]) if system.metric else "",
    )
    below = Demand.of(loads(system, rng)) if of.holds_parts else Demand()
    return Context(book, code.units, point, below, in_job=rng.random() < 0.5)


def circuit(system: System, rng: Random) -> dict[str, str]:
    """A circuit of any connection on a line that is told."""
    ways = {"line-neutral": to_neutral(system)} if system.has_neutral else {}
    if system.line_to_line:
        ways["two-line"] = tuple(pairs(system))
    if system.phases == 3:
        ways["three-phase"] = ("auto",)
    connection = rng.choice(list(ways))
    return {
        "use": rng.choice(["general", "lighting", "water heater"]),
        "load": f"{rng.choice([4, 9, 13, 18, 27, 41, 55])} A",
        "connection": connection,
        "line": rng.choice(ways[connection]),
        "continuous": rng.choice(["auto", "yes", "no"]),
    }


def tree(family: str, system: System, rng: Random) -> list[PartInput]:
    """A supply, what the family has between it and its boards, boards in a row, circuits."""
    awg = family in ("nec", "cec")
    run = "feeder" if awg else "distribution"
    parts = [PartInput("s", "supply", None, {"system": system.id, "fault": "8 kA"}, "S")]
    if awg and rng.random() < 0.5:
        parts.append(PartInput("v", "service", "s", {"water_pipe": "yes"}, "V"))
    # the drop of one run leaves more or less to the next: told apart by its own tests
    length = "" if family == "cec" else rng.choice(["", "20 m", "60 m"])
    parts.append(PartInput("f", run, parts[-1].id, {"length": length}, "F"))
    parts.append(PartInput("b", "board", "f", {}, "B"))
    if rng.random() < 0.5:
        parts.append(PartInput("g", run, "b", {}, "G"))
        parts.append(PartInput("h", "board", "g", {}, "H"))
    boards = [part.id for part in parts if part.kind == "board"]
    for index in range(rng.randint(1, 7)):
        load = circuit(system, rng)
        parts.append(PartInput(f"c{index}", "circuit", rng.choice(boards), load, f"C{index}"))
    if system.phases == 3 and rng.random() < 0.3:
        name, power = (
            ("motor", {"horsepower": "10 hp"}) if awg else ("machine", {"power": "7.5 kW"})
        )
        parts.append(PartInput("m", name, rng.choice(boards), power, "M"))
    return parts
