"""Grounding and bonding by the conductors: against NEC 2020 tables 250.66, 250.102(C)(1), 250.122 and
the text of 250.24(C), 250.102(C) and 250.122(B), carried over from memory; and against the service's
sheet, which comes to the same by its loads."""

from __future__ import annotations

import pytest

from voltaje.core.codes import edition
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind

NEC, CEC = edition("nec-2020"), edition("cec-2021")


def results(book=NEC, **entries):
    found = evaluate(kind("grounding"), entries, Context(book, "us"))
    assert found.report is not None, found.problems
    return {name: one.value for name, one in found.report.results.items()}


CASES = [
    # size, sets, lie: main jumper, supply-side jumper, grounded conductor by the fault path
    ("2", 1, "each", "8 AWG Cu", "8 AWG Cu", "8 AWG Cu"),
    ("3/0", 1, "each", "4 AWG Cu", "4 AWG Cu", "4 AWG Cu"),
    ("500", 1, "each", "1/0 AWG Cu", "1/0 AWG Cu", "1/0 AWG Cu"),
    # 1,800 kcmil in all: 12.5 % is 225 kcmil; each raceway by its own 600 kcmil
    ("600", 3, "each", "250 kcmil Cu", "1/0 AWG Cu", "3 × 1/0 AWG Cu"),
    ("600", 3, "one", "250 kcmil Cu", "250 kcmil Cu", "250 kcmil Cu"),
    # by the table 4 AWG a raceway; sets in parallel are 1/0 AWG at least
    ("2/0", 2, "each", "2 AWG Cu", "4 AWG Cu", "2 × 1/0 AWG Cu"),
    ("750", 2, "each", "4/0 AWG Cu", "2/0 AWG Cu", "2 × 2/0 AWG Cu"),
]


@pytest.mark.parametrize(("size", "sets", "lie", "main", "side", "grounded"), CASES)
def test_jumpers_and_the_fault_path(size, sets, lie, main, side, grounded):
    found = results(size=size, sets=str(sets), lie=lie)
    assert found["main_bonding_jumper"] == main
    assert found["supply_side_jumper"] == side
    assert found["grounded_conductor"] == grounded


@pytest.mark.parametrize(
    ("entries", "grounded"),
    [
        # 180 A at 75 °C: 3/0 AWG; less than the fault path asks for: that stays
        ({"size": "500", "neutral": "180 A", "device_ahead": "400 A"}, "3/0 AWG Cu"),
        ({"size": "500", "neutral": "60 A", "device_ahead": "400 A"}, "1/0 AWG Cu"),
        # 400 A in three raceways: 134 A each, 1/0 AWG carries 150 A
        (
            {"size": "600", "sets": "3", "neutral": "400 A", "device_ahead": "1200 A"},
            "3 × 1/0 AWG Cu",
        ),
        (
            {"size": "600", "sets": "3", "neutral": "660 A", "device_ahead": "1200 A"},
            "3 × 4/0 AWG Cu",
        ),
    ],
)
def test_the_larger_of_both_ways(entries, grounded):
    assert results(**entries)["grounded_conductor"] == grounded


def test_electrodes_and_their_caps():
    found = results(
        size="500", water_pipe="yes", steel="yes", concrete="yes", rod="yes", ring="yes"
    )
    assert found["electrode_water_pipe"] == found["electrode_steel"] == "1/0 AWG Cu"
    assert found["electrode_concrete"] == "4 AWG Cu"
    assert found["electrode_rod"] == "6 AWG Cu"
    assert found["electrode_ring"] == "2 AWG Cu"
    assert found["electrode_conductor"] == "1/0 AWG Cu"  # the largest of them
    assert results(size="600", sets="3", water_pipe="yes")["electrode_water_pipe"] == "3/0 AWG Cu"


@pytest.mark.parametrize(
    ("device", "size", "least", "ground"),
    # 10 AWG for 40 A; 8 to 6 AWG: 10,380 × 26,240 ÷ 16,510 = 16,498 circular mils: 8 AWG
    [("40", "6", "8", "8 AWG Cu"), ("40", "8", "auto", "10 AWG Cu"), ("400", "500", "auto", "3 AWG Cu"),
     ("1200", "600", "auto", "3/0 AWG Cu"), ("100", "1/0", "3", "4 AWG Cu")],
)  # fmt: skip
def test_the_equipment_ground_and_its_growth(device, size, least, ground):
    found = results(size=size, device_ahead=f"{device} A", enlarged_from=least)
    assert found["ground_conductor"] == ground


def test_aluminum_lines_with_copper_jumpers():
    """Table 250.102(C)(1): aluminum 2/0 and 3/0 stand in the row of 6 AWG copper, 4 AWG aluminum."""
    found = results(size="3/0", material="aluminum", water_pipe="yes")
    assert found["main_bonding_jumper"] == "6 AWG Cu"
    assert found["grounded_by_fault"] == "4 AWG Al"
    found = results(size="3/0", material="aluminum", jumper_material="aluminum")
    assert found["main_bonding_jumper"] == "4 AWG Al"


def test_it_comes_to_what_the_service_comes_to():
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "Supply"),
        PartInput(
            "v", "service", "s", {"water_pipe": "yes", "rod": "yes", "size": "500"}, "Service"
        ),
        PartInput("f", "feeder", "v", {"loads": [{"id": "a", "nameplate": "300 A"}]}, "Feeder"),
    ]
    service = {n: r.value for n, r in calculate_job(parts, NEC)["v"].report.results.items()}
    found = results(size="500", water_pipe="yes", rod="yes", neutral="300 A", device_ahead="400 A")
    for name in (
        "main_bonding_jumper",
        "supply_side_jumper",
        "electrode_water_pipe",
        "electrode_rod",
    ):
        assert found[name] == service[name], name


@pytest.mark.parametrize(
    ("book", "entries", "path", "words"),
    [
        (NEC, {}, "size", "Needed"),
        (NEC, {"size": "2", "sets": "2"}, "sets", "1/0"),
        (
            NEC,
            {"size": "6", "device_ahead": "40 A", "enlarged_from": "4"},
            "enlarged_from",
            "before",
        ),
        (NEC, {"size": "500", "ring": "yes", "ring_size": "8"}, "ring_size", "2 AWG"),
        (CEC, {"size": "500"}, "device_ahead", "device ahead"),
        (NEC, {"size": "600", "sets": "3", "jumper_material": "aluminum"}, "", "another metal"),
    ],
)
def test_what_cannot_be_is_said_at_its_entry(book, entries, path, words):
    found = evaluate(kind("grounding"), entries, Context(book, "us"))
    assert found.report is None
    assert found.problems[0].path == path and words in found.problems[0].words


def test_canada_sizes_by_the_device():
    found = results(CEC, size="500", device_ahead="400 A", water_pipe="yes")
    assert found["main_bonding_jumper"] == found["ground_conductor"]
    assert found["electrode_water_pipe"] == "6 AWG Cu"
