"""Worked benches to begin with, all made up: a name, and the document that stands it up."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from voltaje.core.entries import Document
from voltaje.core.report import Text, say


@dataclass(frozen=True, slots=True)
class Bench:
    """A bench of the library."""

    name: str
    title: Text
    document: Document


def _bench(
    name: str,
    title: Text,
    joints: str,
    units: Sequence[tuple[str, ...]],
    **entries: str,
) -> Bench:
    """Units as (name, what it is, volts…); joints as a list."""
    rows = [
        {
            "id": unit,
            "name": unit,
            "made": made,
            **dict(zip(("first", "second", "third"), volts, strict=False)),
        }
        for unit, made, *volts in units
    ]
    ends = [{"id": f"j{i}", "ends": one.strip()} for i, one in enumerate(joints.split(";"), 1)]
    return Bench(name, title, {"units": rows, "joints": ends, **entries})


def _three(made: str, *volts: str) -> list[tuple[str, ...]]:
    return [(unit, made, *volts) for unit in "xyz"]


DELTA = "A x1+ z1-; B y1+ x1-; C z1+ y1-"
STAR = "A x1+; B y1+; C z1+; N x1- y1- z1-"
HALVES = "x2+ z3+; y2+ x3+; z2+ y3+"


def _library() -> Iterator[Bench]:
    yield _bench(
        "dy11",
        say("Delta–star, the usual distribution bank"),
        f"{DELTA}; a x2+; b y2+; c z2+; n N x2- y2- z2-",
        _three("two", "400 V", "231 V"),
        supply="400 V",
    )
    yield _bench(
        "yd1",
        say("Star–delta"),
        f"{STAR}; a x2+ z2-; b y2+ x2-; c z2+ y2-",
        _three("two", "231 V", "120 V"),
        supply="400 V",
    )
    yield _bench(
        "dz6",
        say("Delta–zigzag with two halves on each leg"),
        f"{DELTA}; a x2-; b y2-; c z2-; {HALVES}; n x3- y3- z3-",
        _three("zigzag", "400 V", "67 V"),
        supply="400 V",
    )
    yield _bench(
        "open-delta",
        say("Open delta of two units"),
        "A x1+; B x1- y1+; C y1-; a x2+; b x2- y2+; c y2-; b E",
        [("x", "two", "480 V", "240 V"), ("y", "two", "480 V", "240 V")],
        supply="480 V",
    )
    yield _bench(
        "corner",
        say("A delta before its last corner is closed, one coil turned round"),
        f"{DELTA}; a x2+; b x2- y2-; c y2+ z2+",
        _three("two", "480 V", "240 V"),
        supply="480 V",
        meter="a z2-",
    )
    yield _bench(
        "old-bank",
        say("The old bank without labels, traced joint by joint"),
        f"{DELTA}; a x2-; b y2-; c z2-; x2+ z3+; y2+ x3+; z2+ y3-; n x3- y3+ z3-",
        _three("zigzag", "400 V", "67 V"),
        supply="400 V",
    )
    yield _bench(
        "midpoint",
        say("The old bank fed from the midpoint of a linked pair"),
        "B p1+; C p2-; M p1- p2+; A x1+ z1-; B y1+ x1-; M z1+ y1-;"
        " a x2+; b y2+; c z2+; n N x2- y2- z2-",
        [("p", "linked", "200 V"), *_three("two", "400 V", "231 V")],
        supply="400 V",
        supplied_lines="A B M",
    )
    yield _bench(
        "two-phase",
        say("Two phases at right angles from three lines"),
        "B p1+; C p2-; p1- p2+ q1-; A q1+; a q2+; n N q2- p3-; b p3+",
        [("p", "three", "200 V", "200 V", "115 V"), ("q", "two", "346.4 V", "115 V")],
        supply="400 V",
        load_lines="a b",
    )


LIBRARY = tuple(_library())
OLD_BANK = next(bench for bench in LIBRARY if bench.name == "old-bank")
