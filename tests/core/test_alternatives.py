"""Device and conductor pairs: boundaries, properties, and every pair by brute force.

The brute force reads the same tables and is written apart from the program: it catches slips of
program, not of memory.
"""

from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import NotCoveredError, edition
from voltaje.core.rules.north_america.alternatives import Pin, alternatives
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.conductors import LARGEST_SINGLE
from voltaje.core.rules.north_america.grounding import equipment_ground
from voltaje.core.rules.north_america.overcurrent import devices_between
from voltaje.core.rules.north_america.wiring import (
    Installation,
    cable,
    counted_conductors,
    options,
    terminal_column,
)
from voltaje.core.rules.settings import Shop

CODE = edition("nec-2020")
ORDER = list(CODE.table("ampacity").rows)
MILS = CODE.table("conductor_properties").column("circular mils")


def need(load, continuous=0.0, **more):
    design = load * (1 + 0.25 * continuous)
    return SizingRequest(load, design, design, devices_between(design, 6000, CODE, 4), **more)


def chosen(load, where=None, **more):
    pair = alternatives(need(load), where or Installation(counted=2), CODE, **more).chosen
    return pair.device, pair.option.size


@pytest.mark.parametrize(
    ("load", "where", "wanted"),
    [
        # exact fits: demand equal to a rating and to an ampacity
        (15.0, {}, (15.0, "14")), (20.0, {}, (20.0, "12")), (30.0, {}, (30.0, "10")),
        (30.0001, {}, (35.0, "8")), (40.0, {}, (40.0, "8")), (100.0, {}, (100.0, "1")),
        # 33.3 A: a 10 AWG does not do at 60 °C, an 8 AWG does (common practice)
        (33.333, {}, (35.0, "8")),
        # 10 AWG reads 35 A at 75 °C, yet may not sit behind 35 A: 240.4(D)
        (33.0, {"listed_75": True}, (35.0, "8")),
        (28.0, {"listed_75": True}, (30.0, "10")),
        # above 100 A the 75 °C column: the wire gets smaller as the device passes 100 A
        (101.0, {}, (110.0, "2")), (99.0, {}, (100.0, "1")), (100.5, {}, (110.0, "2")),
        # the cable's own column: NM-B at 60 °C though its wires are 90 °C
        (52.0, {"method": "NM-B", "listed_75": True}, (60.0, "6")),
        (52.0, {"method": "EMT", "listed_75": True}, (60.0, "6")),
        # correction starts from the insulation's own column: 12 AWG 30 A × 0.8 = 24 A
        (20.0, {"counted": 6}, (20.0, "12")), (20.0, {"counted": 9}, (20.0, "12")),
        # 30 × 0.7 × 0.87 = 18.3 A no longer carries 20 A; 40 × 0.7 × 0.87 = 24.4 A does
        (20.0, {"counted": 9, "ambient_c": 45}, (20.0, "10")),
    ],
)  # fmt: skip
def test_known_pairs(load, where, wanted):
    assert chosen(load, Installation(**{"counted": 2, **where})) == wanted


@pytest.mark.parametrize(
    ("preference", "load", "wanted"),
    [("smallest", 33.0, (35.0, "8")), ("maximum", 33.0, (40.0, "8")), ("ampacity", 33.0, (40.0, "8")),
     # 6 AWG Cu, 55 A at 60 °C: next size up gives 60 A; at its ampacity 50 A
     ("maximum", 52.0, (60.0, "6")), ("smallest", 47.0, (50.0, "6")), ("ampacity", 47.0, (50.0, "6"))],
)  # fmt: skip
def test_the_shops_preference(preference, load, wanted):
    assert chosen(load, shop=Shop(preference)) == wanted


def test_no_next_size_up_for_several_receptacles():
    # twelve conductors at 40 °C: 14 AWG 25 × 0.5 × 0.91 = 11.4 A, 12 AWG 13.7 A, 10 AWG 18.2 A
    where = Installation(counted=12, ambient_c=40)
    general = alternatives(need(10.0), where, CODE).chosen
    several = alternatives(need(10.0, next_size=False), where, CODE).chosen
    assert general.option.size == "14" and general.verdict.address[0] == "next_size_up"
    assert several.option.size == "10" and several.ampacity >= several.device


@pytest.mark.parametrize("device", [1000.0, 1200.0])
def test_above_800_the_conductor_carries_the_rating(device):
    one = SizingRequest(820, 820, 820, (device,))
    found = alternatives(one, Installation(counted=3), CODE)
    for pair in found.all:
        if pair.passes:
            assert pair.ampacity >= device and pair.sets > 1


def test_a_pin_is_kept_and_judged():
    holds = alternatives(need(33.0), Installation(counted=2), CODE, pin=Pin(40.0, "8"))
    assert (holds.chosen.device, holds.chosen.option.size) == (40.0, "8") and holds.choice.holds
    fails = alternatives(need(45.0), Installation(counted=2), CODE, pin=Pin(40.0, "8"))
    assert (fails.chosen.device, fails.chosen.option.size) == (40.0, "8")
    assert not fails.choice.holds and "below the 45 A" in str(fails.chosen.verdict.why)
    assert (fails.choice.free.device, fails.choice.free.conductor) == (45, "6 AWG Cu")
    larger = alternatives(need(15.0), Installation(counted=2), CODE, pin=Pin(size="6"))
    assert larger.chosen.option.size == "6" and larger.choice.least.option.size == "14"


def test_prices_order_the_alternatives():
    prices = (("aluminum 8", 0.1), ("aluminum 6", 0.12), ("copper 8", 5.0), ("copper 10", 4.0),
              ("aluminum 10", 0.1), ("copper 6", 6.0))  # fmt: skip
    found = alternatives(need(33.0), Installation(counted=2), CODE, shop=Shop("smallest", prices))
    priced = [r.price for r in found.all if r.price is not None]
    assert priced == sorted(priced) and found.all[0].material == "aluminum"


def test_sets_start_at_1_0_and_dominated_pairs_are_left_out():
    found = alternatives(need(500.0), Installation(counted=3), CODE)
    passing = [r for r in found.all if r.passes]
    assert all(r.sets == 1 or ORDER.index(r.size) >= ORDER.index("1/0") for r in passing)
    for device, material in product({r.device for r in passing}, ("copper", "aluminum")):
        same = [r for r in passing if r.device == device and r.material == material]
        for one, other in product(same, same):
            assert not (one.sets > other.sets and one.mass >= other.mass), (one, other)


def test_every_rejected_rung_has_a_reason_and_a_rule():
    found = alternatives(need(33.0), Installation(counted=2), CODE)
    rejected = [r for r in found.all if not r.passes]
    assert rejected and all(str(r.why) and r.rules for r in rejected)
    assert any(r.rules[0].number == "240.4(B)" for r in rejected)


def slow(load, design, device, material, where):
    """The smallest single conductor behind a device, by trying all, written out in full."""
    rows = CODE.table("ampacity").rows
    standard = list(CODE.table("standard_devices").column("A").values())
    if device < design - 1e-9:
        return None
    for size in ORDER[: ORDER.index(LARGEST_SINGLE) + 1]:
        cells = rows[size]
        if not cells[f"{material} 75"]:
            continue
        factor = next(float(c["90"] or 0) for r, c in CODE.table("ambient").rows.items()
                      if where["ambient_c"] <= float(r))  # fmt: skip
        count = where["counted"]
        for upto, percent in ((3, 100), (6, 80), (9, 70), (20, 50), (30, 45), (40, 40), (999, 35)):
            if count <= upto:
                factor *= percent / 100
                break
        corrected = float(cells[f"{material} 90"]) * factor
        column = "75" if where["listed_75"] or device > 100 else "60"
        terminal = float(cells[f"{material} {column}"])
        small = {("14", "copper"): 15, ("12", "copper"): 20, ("10", "copper"): 30,
                 ("12", "aluminum"): 15, ("10", "aluminum"): 25}.get((size, material), 9e9)  # fmt: skip
        ampacity = min(corrected, terminal)
        below = max([s for s in standard if s < device], default=0)
        protected = ampacity >= device - 1e-9 or (device <= 800 and ampacity > below + 1e-6)
        if terminal >= design - 1e-9 and corrected >= load - 1e-9 and device <= small and protected:
            return size
    return None


GRID = list(product(
    [3.1, 7.5, 12.0, 14.9, 15.0, 16.1, 19.9, 24.0, 28.7, 33.3, 38.0, 40.0, 47.2, 55.0, 61.0, 70.0,
     83.5, 99.0, 100.0, 101.0, 128.0, 171.0, 199.0, 230.0, 260.0],
    [0.0, 1.0], [20, 30, 38, 44, 52], [2, 3, 5, 8, 15, 24], [False, True], ["copper", "aluminum"],
))  # fmt: skip


@pytest.mark.parametrize("part", range(12))
def test_the_search_agrees_with_brute_force(part):
    """6,000 circuits with up to four devices each: the same conductor, or none, behind each."""
    checked = 0
    for load, continuous, ambient, count, listed, material in GRID[part::12]:
        design = load * (1 + 0.25 * continuous)
        where = {"ambient_c": ambient, "counted": count, "listed_75": listed}
        devices = devices_between(design, 6000, CODE, 4)
        one = SizingRequest(load, design, design, devices)
        wanted = {d: slow(load, design, d, material, where) for d in devices}
        try:
            pairs = alternatives(one, Installation(**where), CODE, material).all
        except NotCoveredError:
            pairs = ()
        for device, size in wanted.items():
            found = [r.size for r in pairs
                     if r.passes and r.device == device and r.sets == 1 and r.material == material]  # fmt: skip
            assert found == ([size] if size else []), (load, where, device, material)
            checked += 1
    assert checked > 1500


loads = st.floats(1.0, 800.0)
places = st.builds(
    Installation,
    method=st.sampled_from(["EMT", "PVC 40", "NM-B", "UF-B", "SE", "MC"]),
    insulation=st.sampled_from(["THHN", "THWN", "TW", "XHHW-2"]),
    ambient_c=st.sampled_from([10.0, 30.0, 40.0, 49.0]),
    counted=st.integers(2, 24),
    listed_75=st.booleans(),
)


@settings(max_examples=examples(250))
@given(loads, st.floats(1.0, 2.0), places)
def test_it_never_offers_a_pair_that_fails_and_grows_with_the_load(load, more, where):
    """A bigger load never gets a smaller wire, save where the terminations change column at
    100 A. Sets in parallel are compared with as many: smaller wires carry more for their metal."""
    try:
        small, large = (alternatives(need(x), where, CODE).chosen for x in (load, load * more))
    except NotCoveredError:
        return
    for pair in (small, large):
        assert pair.verdict.passes
        assert pair.option.final(pair.column) * pair.sets == pair.ampacity
    crosses = terminal_column(small.device, where.listed_75, CODE) != terminal_column(
        large.device, where.listed_75, CODE
    )
    assert small.device <= large.device
    if not crosses and small.sets == large.sets:
        area = [p.option.mils * p.sets for p in (small, large)]
        assert area[0] <= area[1] * (1 + 1e-9)


@settings(max_examples=examples(150))
@given(loads, places)
def test_hotter_and_more_crowded_never_carries_more(load, where):
    for option, other in zip(
        options("copper", where, CODE),
        options("copper", Installation(where.method, where.insulation, where.ambient_c + 10,
                                       where.counted + 6, where.listed_75), CODE),
        strict=True,
    ):  # fmt: skip
        assert other.corrected <= option.corrected + 1e-9
        assert option.final(60) <= option.final(75) <= option.at_75


@pytest.mark.parametrize("method", CODE.table("cable_types").rows)
def test_cables_end_where_they_are_not_made(method):
    made = cable(method, CODE)
    found = options("copper", Installation(method), CODE)
    assert found[0].size == made.least["copper"] and found[-1].size == made.most["copper"]
    if made.cap == 60 and not made.cap_to:
        assert all(o.at_75 == o.at_60 for o in found)


@pytest.mark.parametrize(
    ("lines", "neutral", "pair", "nonlinear", "others", "count"),
    [
        (1, True, False, False, 0, 2),  # two-wire: the neutral carries what the line does
        (2, True, False, False, 0, 2),  # 120/240 V three-wire: only the unbalance
        (2, True, True, False, 0, 3),  # two lines of a wye and neutral
        (3, True, False, False, 0, 3),  # four-wire wye
        (3, True, False, True, 0, 4),  # with harmonics
        (2, False, False, False, 4, 6),
    ],
)
def test_current_carrying_conductors(lines, neutral, pair, nonlinear, others, count):
    """310.15(E), before 2020 310.15(B)(5)."""
    assert counted_conductors(lines, neutral, pair, nonlinear, others) == count


@pytest.mark.parametrize(
    ("device", "material", "line", "least", "wanted"),
    [
        (20, "copper", "", "", "12"), (60, "copper", "", "", "10"), (61, "copper", "", "", "8"),
        (200, "aluminum", "", "", "4"), (15, "copper", "14", "14", "14"),
        # 8 AWG where 10 would do: 10380 × 16510 ÷ 10380 = 16510 cmil
        (30, "copper", "8", "10", "8"),
        # 4/0 for 3/0: 26240 × 211600 ÷ 167800 = 33089 cmil → 4 AWG
        (200, "copper", "4/0", "3/0", "4"),
        # never larger than the line
        (100, "copper", "10", "10", "10"),
    ],
)  # fmt: skip
def test_equipment_grounding_conductor(device, material, line, least, wanted):
    """Table 250.122 and 250.122(B); the proportions by hand."""
    found = equipment_ground(device, material, CODE, line, least)
    assert found.size == wanted
    assert found.grew == (
        bool(line) and line != least and MILS[found.size] > MILS[found.table_size]
    )
