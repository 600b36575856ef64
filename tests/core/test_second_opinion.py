"""The dwelling worked a second time, by another route, over a grid of dwellings.

The functions here share nothing with the application: no tables, no loads, no lines. They are the
paper form written straight down, from the same recollection of the code, in the shape in which a
handbook explains it. What they catch is a slip in the program, not a slip of memory.
"""

from itertools import product
from math import ceil, floor

import pytest
from profiles import sample

STANDARD = [15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 250,
            300, 350, 400, 450, 500, 600, 700, 800, 1000, 1200, 1600, 2000, 2500, 3000, 4000, 5000,
            6000]  # fmt: skip


def lighting(area, small, laundry):
    load = 3 * area + 1500 * (small + laundry)
    demand = min(load, 3000)
    if load > 3000:
        demand += 0.35 * (min(load, 120_000) - 3000)
    if load > 120_000:
        demand += 0.25 * (load - 120_000)
    return demand


def column_c(n):
    if n <= 4:
        return 5 + 3 * n
    return 15 + n if n <= 40 else 25 + 0.75 * n


def range_demand(kilowatts):
    """One or more ranges over 8¾ kW, kW each: column C with notes 1 and 2."""
    n = len(kilowatts)
    if max(kilowatts) <= 12:
        return 1000 * column_c(n)
    if len(set(kilowatts)) == 1:
        above = kilowatts[0] - 12
    else:
        above = sum(max(12, kw) for kw in kilowatts) / n - 12
    steps = ceil(above) if above - floor(above) >= 0.5 else floor(above)
    return 1000 * column_c(n) * (100 + 5 * steps) / 100


def dryers(watts):
    n = len(watts)
    total = sum(max(5000, w) for w in watts)
    percent = {0: 100, 1: 100, 2: 100, 3: 100, 4: 100, 5: 85, 6: 75, 7: 65, 8: 60}[n]
    return total * percent / 100


def standard_total(area, small, ranges, dryer, fixed, motor, heat, cool):
    appliances = sum(fixed) * (0.75 if len(fixed) >= 4 else 1)
    biggest_fixed = max(motor, default=0)
    winter = heat + biggest_fixed / 4
    summer = cool + max(cool, biggest_fixed) / 4
    return (
        lighting(area, small, 1)
        + (range_demand(ranges) if ranges else 0)
        + dryers(dryer)
        + appliances
        + max(winter, summer)
    )


def optional_total(area, small, ranges, dryer, fixed, heat, units, cool):
    general = 3 * area + 1500 * (small + 1) + 1000 * sum(ranges) + sum(dryer) + sum(fixed)
    share = heat * (0.65 if units < 4 else 0.40)
    return min(general, 10_000) + 0.4 * max(0, general - 10_000) + max(share, cool)


def device(load):
    amperes = floor(load / 240 + 0.5)
    return next(size for size in STANDARD if size >= max(amperes, 100))


AREAS = [1500, 2750, 45_000]
RANGES = [[], [8.8], [12], [12.4], [12.5], [14], [17.6], [27], [9, 12], [10, 16, 22.3], [16] * 6]
DRYERS = [[], [4800], [5500], [5000, 7200], [5600] * 5]
FIXED = [[], [4500], [4500, 1100, 800], [4500, 1100, 800, 600], [900] * 7]
CLIMATE = [(0, 1, 0), (7500, 5, 3400), (9000, 3, 9000), (2000, 1, 6000), (5000, 4, 4500)]


def document(area, small, ranges, dryer, fixed, motors, climate):
    heat, units, cool = climate
    rows = [
        {"name": f"F{i}", "nameplate": watts, "connection": "240", "motor": i in motors}
        for i, watts in enumerate(fixed)
    ]
    return {
        "area": area,
        "small_appliance_circuits": small,
        "cooking": [{"nameplate": f"{kw} kW"} for kw in ranges],
        "dryers": [{"nameplate": watts} for watts in dryer],
        "appliances": rows,
        "climate": [
            *([{"nameplate": heat / units, "count": units}] if heat else []),
            *([{"nameplate": cool, "what": "cooling"}] if cool else []),
        ],
    }


@pytest.mark.parametrize("code", ["nec-2017", "nec-2020", "nec-2023"])
@pytest.mark.parametrize("ranges", RANGES, ids=str)
def test_the_form_written_down_again_says_the_same(work, ranges, code):
    """375 dwellings for each case, over 12,000 in all: loads and devices agree."""
    for area, dryer, fixed, climate in sample(list(product(AREAS, DRYERS, FIXED, CLIMATE)), 4):
        small = 2 + len(fixed) % 2
        motors = {1} if len(fixed) > 2 else set()
        worked = work(document(area, small, ranges, dryer, fixed, motors, climate), code)
        heat, units, cool = climate
        motor = [fixed[i] for i in motors]
        by_standard = standard_total(area, small, ranges, dryer, fixed, motor, heat, cool)
        by_optional = optional_total(area, small, ranges, dryer, fixed, heat, units, cool)
        assert worked.value("standard_load") == pytest.approx(by_standard)
        assert worked.value("optional_load") == pytest.approx(by_optional)
        assert worked.value("service_device") == device(by_standard)


@pytest.mark.parametrize("fixed", FIXED, ids=str)
@pytest.mark.parametrize("ranges", RANGES, ids=str)
def test_the_neutral_written_down_again_says_the_same(work, ranges, fixed):
    """240 V loads out, 70 % of ranges and dryers, 120 V appliances at their factor, 70 % of what
    exceeds 200 A."""
    for area, dryer in product(AREAS, DRYERS):
        given = document(area, 2, ranges, dryer, fixed, set(), (0, 1, 0))
        for row in given["appliances"]:
            row["connection"] = "120"
        worked = work(given)
        load = lighting(area, 2, 1) + 0.7 * (range_demand(ranges) if ranges else 0)
        load += 0.7 * dryers(dryer) + sum(fixed) * (0.75 if len(fixed) >= 4 else 1)
        amperes = load / 240
        if amperes > 200:
            amperes = 200 + 0.7 * (amperes - 200)
        assert worked.value("neutral_load") == pytest.approx(load)
        assert worked.value("neutral_amperes") == floor(amperes + 0.5)
