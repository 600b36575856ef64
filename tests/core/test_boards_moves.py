"""A board whose lines differ: the one circuit to be put onto a lighter line, where that mends it."""

from random import Random

import pytest

from voltaje.core.codes import edition
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import PartInput


def board(circuits, system="3ph-208Y/120", limit="20"):
    parts = [
        PartInput("s", "supply", None, {"system": system}, "Supply"),
        PartInput("b", "board", "s", {"maximum_imbalance": limit}, "Board"),
    ]
    for number, entries in enumerate(circuits):
        entries = {"use": "general", **entries}
        parts.append(PartInput(f"c{number}", "circuit", "b", entries, f"C{number}"))
    return parts


def imbalance(parts):
    found = calculate_job(parts, edition("nec-2020"))["b"].report
    assert found is not None
    return next((f for f in found.findings if f.name == "imbalance"), None)


def moved(parts, change):
    entries = dict(change.entries)
    return [
        PartInput(p.id, p.kind, p.parent, {**p.document, **entries}, p.name)
        if p.id == change.part
        else p
        for p in parts
    ]


def test_a_circuit_that_stands_on_the_wrong_line_is_named_and_moving_it_mends():
    parts = board([{"load": "1 kW", "line": line} for line in ("L1", "L1", "L2")])
    found = imbalance(parts)
    assert found.change is not None and dict(found.change.entries) == {"line": "L3"}
    assert found.change.part in ("c0", "c1")
    assert "to L3: 0 %" in str(found.change.words)
    assert imbalance(moved(parts, found.change)) is None


@pytest.mark.parametrize(
    "circuits",
    [
        # no single move makes these even
        [{"load": "1 kW", "line": "L1"}] * 6,
        # the line comes from the position that it was given
        [{"load": "1 kW", "position": "1"}, {"load": "1 kW", "position": "2"}],
        # both share a neutral
        [{"load": "1 kW", "line": "L1", "shared_neutral": "K"}, {"load": "1 kW", "line": "L2", "shared_neutral": "K"}],
    ],
)  # fmt: skip
def test_nothing_is_offered_that_would_not_mend(circuits):
    found = imbalance(board(circuits))
    assert found is not None and found.change is None


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("system", ["3ph-208Y/120", "1ph-120/240"])
def test_what_is_offered_mends(system, seed):
    rng = Random(seed)
    lines = ["L1", "L2", "L3"] if system.startswith("3ph") else ["L1", "L2"]
    circuits = [
        {"load": f"{rng.randint(3, 30) * 100} W", "line": rng.choice([*lines, "auto"])}
        for _ in range(rng.randint(3, 8))
    ]
    parts = board(circuits, system)
    found = imbalance(parts)
    if found is not None and found.change is not None:
        assert imbalance(moved(parts, found.change)) is None
