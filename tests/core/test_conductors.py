"""Conductors of the service and its neutral: properties and a brute-force check."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.electrical.loads import split_lines
from voltaje.core.electrical.systems import SYSTEMS, Demand
from voltaje.core.report import fits
from voltaje.core.rules.north_america.conductors import (
    LineConductor,
    grounded_conductor_least,
    service_conductor,
    sizes,
    smallest,
)
from voltaje.core.rules.north_america.overcurrent import (
    next_standard_device,
    previous_standard_device,
)

CODE = edition("nec-2020")
METALS = st.sampled_from(["copper", "aluminum"])
DEVICES = st.sampled_from(list(CODE.table("standard_devices").column("A").values()))


@settings(max_examples=examples(60))
@given(st.floats(1, 6000), METALS)
def test_the_smallest_conductor_is_the_smallest_that_carries(needed, material):
    found = smallest(needed, material, CODE)
    table = CODE.table("ampacity").column(f"{material} 75")
    rank = {size: place for place, size in enumerate(sizes(CODE))}
    assert fits(needed, found.ampacity)
    for sets in range(1, found.sets + 1):
        for size, ampacity in table.items():
            if sets > 1 and rank[size] < rank["1/0"]:
                continue
            if rank[size] > rank["600"]:
                continue
            smaller = sets < found.sets or rank[size] < rank[found.size]
            assert not (smaller and fits(needed, ampacity * sets))


@given(st.floats(100, 6000), METALS, st.booleans())
def test_a_service_conductor_is_protected_by_its_device(amperes, material, dwelling):
    device = next_standard_device(amperes, CODE).value
    found = service_conductor(amperes, device, material, CODE, dwelling)
    if found.by_dwelling_rule:
        assert dwelling and 100 <= device <= 400 and fits(0.83 * device, found.ampacity)
    else:
        assert fits(amperes, found.ampacity)
        # 240.4(B): up to 800 A the next size up; above, the rating whole
        protects = next_standard_device(found.ampacity, CODE).value if device <= 800 else device
        assert protects >= device if device <= 800 else fits(device, found.ampacity)


@given(DEVICES)
def test_standard_devices_have_a_next_and_a_previous(rating):
    below = previous_standard_device(rating, CODE)
    assert below < rating
    assert next_standard_device(below + 0.01, CODE).value == rating


@pytest.mark.parametrize(
    ("material", "size", "sets", "least"),
    [
        ("copper", "4", 1, "8"), ("copper", "2", 1, "8"), ("copper", "1", 1, "6"),
        ("copper", "1/0", 1, "6"), ("copper", "2/0", 1, "4"), ("copper", "3/0", 1, "4"),
        ("copper", "4/0", 1, "2"), ("copper", "350", 1, "2"), ("copper", "400", 1, "1/0"),
        ("copper", "600", 1, "1/0"), ("copper", "1000", 1, "2/0"),
        ("aluminum", "2", 1, "6"), ("aluminum", "1/0", 1, "6"), ("aluminum", "2/0", 1, "4"),
        ("aluminum", "4/0", 1, "2"), ("aluminum", "250", 1, "2"), ("aluminum", "300", 1, "1/0"),
        ("aluminum", "500", 1, "1/0"), ("aluminum", "600", 1, "3/0"), ("aluminum", "1000", 1, "4/0"),
        # in parallel raceways never below 1/0
        ("copper", "1/0", 2, "1/0"), ("aluminum", "4/0", 3, "1/0"), ("copper", "1000", 2, "2/0"),
    ],
)  # fmt: skip
def test_least_grounded_conductor(material, size, sets, least):
    """250.102(C)(1), row by row, recalled a second time."""
    found, rule = grounded_conductor_least(LineConductor(material, size, sets, 0, 0, ()), CODE)
    assert found == least and rule.cite == "Table 250.102(C)(1)"


@pytest.mark.parametrize(
    ("conductor", "words"),
    [
        (LineConductor("copper", "1/0", 1, 150, 0, ()), "1/0 AWG Cu"),
        (LineConductor("copper", "250", 1, 255, 0, ()), "250 kcmil Cu"),
        (LineConductor("aluminum", "500", 3, 930, 0, ()), "3 × 500 kcmil Al"),
        (LineConductor("copper", "8", 1, 50, 0, ()), "8 AWG Cu"),
    ],
)
def test_sizes_are_written_as_the_trade_writes_them(conductor, words):
    assert str(conductor) == words


@pytest.mark.parametrize("count", range(9))
def test_the_spread_over_two_lines_is_close_to_the_best_there_is(count):
    """Against every way to put the loads on two lines."""
    loads = [f * 100.0 for f in (13, 11, 10, 7, 6, 5, 3, 2)][:count]
    split = split_lines([(f"a{i}", va, "auto") for i, va in enumerate(loads)])
    best = min(
        abs(sum(va if mask >> i & 1 else -va for i, va in enumerate(loads)))
        for mask in range(2**count)
    )
    assert abs(split.l1 - split.l2) <= best + 100


@pytest.mark.parametrize(
    ("system", "amperes"),
    [("1ph-120", 100.0), ("1ph-120/240", 50.0), ("1ph-120/208", 12_000 / 208),
     ("3ph-208Y/120", 33.31), ("3ph-480Y/277", 14.43), ("3ph-400Y/230", 17.32), ("3ph-240", 28.87)],
)  # fmt: skip
def test_line_current_of_12_kva(system, amperes):
    """VA ÷ V, and VA ÷ (√3 × V) for three phases."""
    assert SYSTEMS[system].line_current(12_000) == pytest.approx(amperes, rel=1e-3)
    assert SYSTEMS[system].has_neutral == (system != "3ph-240")


def test_demands_add_line_by_line():
    total = Demand(10, 8, 1, (5.0, 6.0)) + Demand(1, 1, 1, (1.0,)) + Demand()
    assert total == Demand(11, 9, 2, (6.0, 6.0))
