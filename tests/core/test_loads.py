"""Nameplates as loads, seasons, steps: the pieces of a dwelling one by one."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.loads import CountedLoad, total
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import parse
from voltaje.core.kinds.dwelling.nec.climate import larger_side, largest_motor, selections
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.kinds.dwelling.nec.loads import Loads, collect
from voltaje.core.kinds.dwelling.rows import read_load
from voltaje.core.quantities import read_nameplate
from voltaje.core.rules.north_america import dwelling_demand as demand

CODE = edition("nec-2020")
SPLIT, WYE = SYSTEMS["1ph-120/240"], SYSTEMS["1ph-120/208"]


@pytest.mark.parametrize(
    ("plate", "connection", "system", "va", "amperes"),
    [
        ("4.5 kW", "two-line", SPLIT, 4500, 18.75),
        ("4.5 kW", "two-line", WYE, 4500, 4500 / 208),
        ("1200 W", "line-neutral", SPLIT, 1200, 10),
        # amperes count at the nameplate's own volts, as annex D1(b) takes them
        ("6 A 115 V", "line-neutral", SPLIT, 690, 6),
        ("6 A 230 V", "two-line", SPLIT, 1380, 6),
        ("6 A", "line-neutral", SPLIT, 720, 6),
        ("6 A", "two-line", WYE, 1248, 6),
        # horsepower by Table 430.248 at nominal volts, never by 746 W
        ("1/2 hp", "line-neutral", SPLIT, 9.8 * 120, 9.8),
        ("1/2 hp", "two-line", SPLIT, 4.9 * 240, 4.9),
        ("1/2 hp", "two-line", WYE, 5.4 * 208, 5.4),
        ("0.4 hp", "line-neutral", SPLIT, 9.8 * 120, 9.8),  # between rows: the larger
        ("10 hp", "two-line", SPLIT, 50 * 240, 50),
        ("1/8 hp", "line-neutral", SPLIT, 4.4 * 120, 4.4),
    ],
)
def test_a_nameplate_as_a_load(plate, connection, system, va, amperes):
    found = read_load(read_nameplate(plate), connection, system, CODE)
    assert found[:2] == pytest.approx((va, amperes))
    assert (found[2] is not None) == ("hp" in plate)


@pytest.mark.parametrize(
    ("load", "parts"),
    [
        (0, []), (2000, [(2000, 100)]), (3000, [(3000, 100)]), (3001, [(3000, 100), (1, 35)]),
        (120_000, [(3000, 100), (117_000, 35)]),
        (130_000, [(3000, 100), (117_000, 35), (10_000, 25)]),
    ],
)  # fmt: skip
def test_steps_of_a_demand_table(load, parts):
    assert demand.tiered(load, [(0, 100), (3000, 35), (120_000, 25)]) == parts


def made(kind, va, count=1, connection="two-line", motor=False):
    return CountedLoad(f"{kind}.{va}", kind, va, va / 240, connection, count, motor)


def loads(**climate):
    return Loads((), (), (), (), (), (), (), {k: tuple(v) for k, v in climate.items()}, ())


HEAT, COOL = made("heat", 6000), made("cool", 5000, motor=True)
PUMP, BACKUP, FAN = (
    made("pump", 4000, motor=True),
    made("backup", 9000),
    made("fan", 600, motor=True),
)


@pytest.mark.parametrize(
    ("climate", "name", "load", "adder"),
    [
        (loads(heating=[HEAT]), "heating", 6000, 0),
        (loads(cooling=[COOL]), "cooling", 5000, 1250),
        (loads(heating=[HEAT], cooling=[COOL]), "cooling", 5000, 1250),  # 6,250 against 6,000
        (loads(heating=[made("heat", 6500)], cooling=[COOL]), "heating", 6500, 0),
        (loads(heating=[HEAT], fan=[FAN]), "heating", 6600, 150),
        (loads(heating=[HEAT], cooling=[COOL], fan=[FAN]), "cooling", 5600, 1250),
        (loads(heat_pump=[PUMP], backup=[BACKUP]), "heating", 13_000, 1000),
        (loads(heat_pump=[PUMP], backup_alone=[BACKUP]), "heating", 9000, 0),
        (loads(heat_pump=[PUMP], backup_alone=[made("b", 3000)]), "heating", 4000, 1000),
        (loads(storage=[HEAT], heat_pump=[PUMP]), "heating", 10_000, 1000),
        (loads(), "heating", 0, 0),
    ],
)
def test_the_side_that_counts(climate, name, load, adder):
    side, dropped = larger_side(climate, (), CODE)
    assert (side.name, side.load, side.adder) == (name, load, adder)
    assert side.load + side.adder >= dropped.load + dropped.adder


def test_the_largest_motor_is_one_motor_however_many_there_are():
    three = made("pump", 1000, count=3, motor=True)
    assert largest_motor([three, made("heater", 9000)]) is three
    side, _ = larger_side(loads(), (three,), CODE)
    assert side.adder == 250
    assert largest_motor([made("off", 0, motor=True)]) is None


@pytest.mark.parametrize("count", [1, 3, 4, 9])
def test_four_units_are_counted_over_all_heaters(count):
    chosen = {
        item.name: item.value for item in selections(loads(heating=[made("h", 1000, count)]), CODE)
    }
    few, many = (0.65, 0) if count < 4 else (0, 0.40)
    assert chosen["heating_few"] == pytest.approx(1000 * count * few)
    assert chosen["heating_many"] == pytest.approx(1000 * count * many)


@pytest.mark.parametrize(
    ("year", "va", "motor", "counts"),
    [("nec-2017", 50, False, True), ("nec-2020", 499, False, False), ("nec-2020", 500, False, True),
     # a 1/4 hp motor draws 5.8 A at 115 V and 2.9 A at 230 V: 696 VA (Table 430.248, recalled)
     ("nec-2020", 700, True, True), ("nec-2020", 690, True, False), ("nec-2020", 200, True, False),
     ("nec-2017", 50, True, True), ("nec-2023", 499, False, False)],
)  # fmt: skip
def test_the_size_floor_of_the_75_percent(year, va, motor, counts):
    assert demand.counts_for_fixed(made("x", va, motor=motor), edition(year)) == counts


@pytest.mark.parametrize(("hp", "counts"), [("1/6 hp", False), ("1/4 hp", True), ("1/3 hp", True)])
def test_a_motor_in_horsepower_is_judged_by_its_horsepower(hp, counts):
    """1/6 hp draws 4.4 A at 115 V, 528 VA: above 500 W, and below the floor all the same."""
    entries = parse(DwellingEntries, {"area": "1000", "appliances": [
        {"name": "Fan", "nameplate": hp, "connection": "120"}]}).entries  # fmt: skip
    found = collect(entries, SYSTEMS["1ph-120/240"], edition("nec-2020")).fixed[0]
    assert found.va > 500 and demand.counts_for_fixed(found, edition("nec-2020")) == counts


@pytest.mark.parametrize(
    ("groups", "by"),
    [
        ([1000, 1000, 1000], 0), ([4000, 1000, 1000, 600], 4000 + 1000 + 1000 - 6600 * 0.75),
        ([1000, 1000, 1000, 1000], 0), ([1000] * 5, 0),
    ],
)  # fmt: skip
def test_what_one_fewer_would_count(groups, by):
    given = [made(f"a{i}", va) for i, va in enumerate(groups)]
    found = demand.lowered_by_number(given, lambda g: total(g) * demand.fixed_factor(g, CODE))
    assert found == pytest.approx(by)


def test_a_charger_counts_7200_each():
    found = demand.chargers([made("ev", 6000, 2), made("ev", 9600)], edition("nec-2023"))
    assert (found.demand, found.connected) == (2 * 7200 + 9600, 21_600)
