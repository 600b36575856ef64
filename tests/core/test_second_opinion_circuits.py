"""Raceways, motors and feeders a second time, written apart from the program or held against
recalled tables that the program does not use."""

from math import sqrt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import NotCoveredError, edition
from voltaje.core.electrical.systems import SYSTEMS, Piece, SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.north_america.drop import drop
from voltaje.core.rules.north_america.feeder_demand import feeder_load
from voltaje.core.rules.north_america.motors import horsepower_of
from voltaje.core.rules.north_america.raceway import conductor_area, raceway

CODE = edition("nec-2020")
SIZES = ["14", "12", "10", "8", "6", "4"]

# NFPA 70, informative annex C: the most conductors of one size in a raceway. From memory; the
# program does not hold this annex, it works from the areas of chapter 9.
ANNEX_C = {
    ("EMT", "THHN"): {"1/2": (12, 9, 5, 3, 2, 1), "3/4": (22, 16, 10, 6, 4, 2),
                      "1": (35, 26, 16, 9, 7, 4), "1-1/4": (61, 45, 28, 16, 12, 7),
                      "1-1/2": (84, 61, 38, 22, 16, 10), "2": (138, 101, 63, 36, 26, 16)},
    ("PVC 40", "THHN"): {"1/2": (11, 8, 5, 3, 1, 1), "3/4": (21, 15, 9, 5, 4, 2),
                         "1": (34, 25, 15, 9, 6, 4), "1-1/4": (60, 43, 27, 16, 11, 7),
                         "1-1/2": (82, 59, 37, 21, 15, 9), "2": (135, 99, 62, 36, 26, 16)},
    ("RMC", "THHN"): {"1/2": (13, 9, 6, 3, 2, 1), "3/4": (22, 16, 10, 6, 4, 2),
                      "1": (36, 26, 17, 9, 7, 4), "1-1/4": (63, 46, 29, 16, 12, 7)},
    ("EMT", "XHHW"): {"1/2": (8, 6, 5, 2, 1, 1), "3/4": (15, 11, 8, 5, 3, 2),
                      "1": (25, 19, 14, 8, 6, 4)},
}  # fmt: skip
CASES = [(method, insulation, trade, size, count)
         for (method, insulation), rows in ANNEX_C.items()
         for trade, counts in rows.items()
         for size, count in zip(SIZES, counts, strict=True) if count > 2]  # fmt: skip


@pytest.mark.parametrize(("method", "insulation", "trade", "size", "count"), CASES)
def test_annex_c_follows_from_the_areas(method, insulation, trade, size, count):
    """As many as fill 40 %, a remainder of 0.8 or more counting as one more (chapter 9, note 7)."""
    inside = float(CODE.table("raceways").rows[trade][f"{method} in²"]) * 0.40
    each = conductor_area(size, insulation if insulation != "XHHW" else "XHHW-2", False, CODE)
    assert int(inside / each + 0.2) == count


@settings(max_examples=examples(150))
@given(
    st.lists(st.tuples(st.sampled_from([*SIZES, "2", "1/0", "4/0", "500"]), st.integers(1, 6)),
             min_size=1, max_size=4),
    st.sampled_from(["EMT", "PVC 40", "PVC 80", "RMC"]), st.sampled_from(["THHN", "XHHW-2", "TW"]),
)  # fmt: skip
def test_the_raceway_is_the_smallest_that_holds_them(sizes, method, insulation):
    area = sum(conductor_area(s, insulation, False, CODE) * n for s, n in sizes)
    count = sum(n for _, n in sizes)
    share = {1: 0.53, 2: 0.31}.get(count, 0.40)
    fitting = [t for t, cells in CODE.table("raceways").rows.items()
               if cells[f"{method} in²"] and area <= share * float(cells[f"{method} in²"]) + 1e-9]  # fmt: skip
    if not fitting:
        with pytest.raises(NotCoveredError):
            raceway(sizes, method, insulation, CODE)
        return
    found = raceway(sizes, method, insulation, CODE)
    assert found.trade_size == fitting[0] and found.percent <= share * 100 + 1e-6


STANDARD = sorted(CODE.table("standard_devices").column("A").values())
MOTOR_ROWS = list(CODE.table("motor_current_3ph").rows.items())
PERCENT = {"inverse-time breaker": 2.5, "dual-element fuse": 1.75, "nontime-delay fuse": 3.0}


@pytest.mark.parametrize(("system", "column"), [
    ("3ph-208Y/120", "208 V"), ("3ph-240", "230 V"), ("3ph-480Y/277", "460 V"), ("3ph-600Y/347", "575 V"),
])  # fmt: skip
@pytest.mark.parametrize("device", PERCENT)
def test_every_three_phase_motor_a_second_time(system, column, device):
    """Every row of 430.250 at four voltages under three devices: 430.22, 430.52, 240.6."""
    seen = 0
    for row, cells in MOTOR_ROWS:
        if not cells[column]:
            continue
        current = float(cells[column])
        exact = current * PERCENT[device]
        wanted = next((s for s in STANDARD if s >= exact - 1e-9), None)
        context = Context(CODE, "us", SupplyPoint(SYSTEMS[system]))
        document = {"horsepower": f"{horsepower_of(row)}", "nameplate": "5 A", "terminals": "75",
                    "protection": device}  # fmt: skip
        found = evaluate(kind("motor"), document, context).report
        assert found.value("full_load_current") == current, row
        assert found.value("maximum_device") == wanted, row
        chosen = next(r for r in found.alternatives if r.chosen)
        assert chosen.ampacity >= 1.25 * current - 1e-9 and chosen.device == wanted
        ampacities = CODE.table("ampacity").column("copper 75")
        if chosen.sets == 1:
            smaller = [a for s, a in ampacities.items() if a < ampacities[chosen.size]]
            assert not smaller or max(smaller) < 1.25 * current, row
        seen += 1
    assert seen >= 20


@settings(max_examples=examples(200))
@given(
    receptacles=st.floats(0, 60_000), lighting=st.floats(0, 40_000), kitchen=st.lists(
        st.floats(500, 20_000), max_size=9), motors=st.lists(st.floats(500, 30_000), max_size=5),
    other=st.floats(0, 50_000), heat=st.floats(0, 30_000), cool=st.floats(0, 30_000),
    year=st.sampled_from(["nec-2017", "nec-2020", "nec-2023"]),
)  # fmt: skip
def test_a_feeders_demand_a_second_time(
    receptacles, lighting, kitchen, motors, other, heat, cool, year
):
    """Article 220 written out once more, in one expression a rule."""
    pieces = [Piece("r", "receptacles", receptacles, receptacles, 0),
              Piece("l", "lighting", lighting, lighting, 0, continuous=1.0),
              Piece("o", "other", other, other, 0),
              Piece("h", "heating", heat, heat, 0, group="c", continuous=1.0),
              Piece("c", "cooling", cool, cool, 0, group="c")]  # fmt: skip
    pieces += [Piece(f"k{i}", "kitchen", va, va, 0) for i, va in enumerate(kitchen)]
    pieces += [Piece(f"m{i}", "motor", va, va, 0, motor=va / 360) for i, va in enumerate(motors)]
    found = feeder_load(pieces, edition(year))
    factor = {0: 1, 1: 1, 2: 1, 3: 0.9, 4: 0.8, 5: 0.7}.get(len(kitchen), 0.65)
    climate = max(heat, cool)
    load = (
        min(receptacles, 10_000) + max(0.0, receptacles - 10_000) / 2 + lighting + other + climate
        + max(sum(kitchen) * factor, sum(sorted(kitchen)[-2:])) + sum(motors)
        + 0.25 * max(motors, default=0.0)
    )  # fmt: skip
    assert found.load == pytest.approx(load, rel=1e-9, abs=1e-6)
    continuous = lighting + (heat if heat >= cool else 0.0)
    assert found.design == pytest.approx(load + continuous / 4, rel=1e-9, abs=1e-6)


# K × 2 × I × L ÷ cmil with K = 12.9 (copper) and 21.2 (aluminum): common practice among
# electricians as a check of the drop of small conductors at unity power factor.
@pytest.mark.parametrize(("material", "factor"), [("copper", 12.9), ("aluminum", 21.2)])
@pytest.mark.parametrize("size", ["12", "10", "8", "6", "4", "2", "1/0"])
@pytest.mark.parametrize("three", [False, True])
def test_the_k_factor_gives_about_the_same_drop(material, factor, size, three):
    mils = CODE.table("conductor_properties").column("circular mils")[size]
    by_factor = (sqrt(3) if three else 2) * factor * 20 * 150 / mils
    found = drop(20, 240, 150 * 0.3048, size, material, "PVC 40", CODE, three)
    assert found.volts_lost == pytest.approx(by_factor, rel=0.06)


@pytest.mark.parametrize(
    ("amperes", "volts", "feet", "size", "method", "pf", "three", "lost"),
    [
        # Table 9 by hand: R cos φ + X sin φ for each 1,000 ft
        (100, 208, 200, "1", "EMT", 0.85, True, sqrt(3) * 100 * (0.16 * 0.85 + 0.057 * 0.52678) * 0.2),
        (40, 240, 180, "8", "PVC 40", 1.0, False, 2 * 40 * 0.78 * 0.18),
        (300, 480, 400, "350", "EMT", 0.9, True,
         sqrt(3) * 300 * (0.039 * 0.9 + 0.050 * 0.43589) * 0.4),
    ],
)  # fmt: skip
def test_drops_by_hand(amperes, volts, feet, size, method, pf, three, lost):
    found = drop(amperes, volts, feet * 0.3048, size, "copper", method, CODE, three, pf)
    assert found.volts_lost == pytest.approx(lost, rel=1e-4)
    assert found.percent == pytest.approx(100 * lost / volts, rel=1e-4)


@pytest.mark.parametrize("count", [1, 5, 9, 10, 11, 13])
def test_receptacles_a_second_time(count):
    """180 VA each at 120 V: ten on 15 A, thirteen on 20 A."""
    found = evaluate(
        kind("circuit"), {"use": "receptacles", "outlets": f"{count}"}, Context()
    ).report
    amperes = 180 * count / 120
    assert found.value("amperes") == pytest.approx(amperes)
    assert found.value("device") == (15 if amperes <= 15 else 20)
    assert amperes <= found.value("device")
