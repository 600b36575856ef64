"""The tables of circuits against physics, closed forms and one another; all are from memory."""

from itertools import pairwise
from math import pi, sqrt

import pytest

from voltaje.core.codes import NotCoveredError, edition, editions
from voltaje.core.rules.north_america.motors import horsepower_of

CODE = edition("nec-2020")
AMBIENTS = [int(row) for row in CODE.table("ambient").rows]


def size_rank(size):
    return list(CODE.table("conductor_properties").rows).index(size)


@pytest.mark.parametrize("column", [60, 75, 90])
@pytest.mark.parametrize("upper", AMBIENTS)
def test_ambient_correction_is_the_root_of_the_temperature_rises(column, upper):
    """310.15(B): I' = I √((Tc − Ta') ÷ (Tc − Ta)), the code's own equation, Ta = 30 °C."""
    text = CODE.table("ambient").rows[str(upper)][str(column)]
    if upper >= column:
        assert not text
        return
    if text:
        wanted = sqrt((column - upper) / (column - 30))
        assert float(text) == pytest.approx(wanted, abs=0.0051 if upper < column - 5 else 0.006)


def test_adjustment_falls_and_leaves_no_gap():
    table = CODE.table("adjustment")
    percents = [float(row["percent"]) for row in table.rows.values()]
    assert all(a > b for a, b in pairwise(percents)) and percents[0] == 100
    assert [table.span(n) for n in range(1, 60)]
    assert table.rows[table.span(9)]["percent"] == "70"
    assert table.rows[table.span(10)]["percent"] == "50"


@pytest.mark.parametrize("size", ["14", "12", "10"])
@pytest.mark.parametrize("material", ["copper", "aluminum"])
def test_small_conductor_limits_stand_at_the_60_degree_column(size, material):
    """240.4(D) is the 60 °C column for these sizes in the present table."""
    limit = CODE.table("small_conductors").rows[size][material]
    assert limit == CODE.table("ampacity").rows[size][f"{material} 60"]


@pytest.mark.parametrize("row", CODE.table("equipment_grounding").rows)
def test_equipment_grounding_rises_and_aluminum_is_one_or_two_sizes_up(row):
    cells = CODE.table("equipment_grounding").rows
    copper, aluminum = cells[row]["copper"], cells[row]["aluminum"]
    mils = CODE.table("conductor_properties").column("circular mils")
    assert mils[aluminum] > mils[copper]
    # aluminum carries the same fault with 1.26 to 1.75 times the area in the whole table
    assert 1.2 <= mils[aluminum] / mils[copper] <= 1.8, (copper, aluminum)
    keys = list(cells)
    if keys.index(row):
        before = cells[keys[keys.index(row) - 1]]
        assert mils[copper] > mils[before["copper"]]
        assert mils[aluminum] >= mils[before["aluminum"]]  # 3000 and 6000 A repeat the row above
    assert float(row) in CODE.table("standard_devices").column("A").values()


THREE = CODE.table("motor_current_3ph").rows


@pytest.mark.parametrize("row", THREE)
def test_three_phase_currents_hang_together_by_voltage(row):
    cells = {name: float(text) for name, text in THREE[row].items() if text}
    for one, other, ratio in (
        ("230 V", "460 V", 2), ("460 V", "575 V", 1.25), ("208 V", "230 V", 1.1),
        ("200 V", "230 V", 1.15), ("460 V", "2300 V", 5), ("115 V", "230 V", 2),
        ("sync 230 V", "sync 460 V", 2), ("sync 460 V", "sync 575 V", 1.25),
        ("sync 460 V", "sync 2300 V", 5),
    ):  # fmt: skip
        if one in cells and other in cells:
            rounding = 0.55 * (1 / cells[one] + 1 / cells[other])
            assert cells[one] / cells[other] == pytest.approx(ratio, rel=0.045 + rounding), row
    for volts in ("230 V", "460 V", "575 V", "2300 V"):
        if f"sync {volts}" in cells:
            assert 0.7 < cells[f"sync {volts}"] / cells[volts] < 0.9


@pytest.mark.parametrize("row", THREE)
def test_three_phase_currents_give_a_plausible_efficiency_and_power_factor(row):
    """746 W a horsepower over √3 × V × I is efficiency × power factor: 0.35 to 0.95."""
    for name, text in THREE[row].items():
        if text and not name.startswith("sync"):
            volts = float(name.split()[0])
            product = 746 * horsepower_of(row) / (sqrt(3) * volts * float(text))
            assert 0.35 < product < 0.95, name
            if horsepower_of(row) >= 5:
                assert product > 0.6, name


@pytest.mark.parametrize("topic", ["motor_current_3ph", "motor_current_dc", "motor_current"])
def test_motor_currents_rise_with_horsepower_and_fall_with_voltage(topic):
    table = CODE.table(topic)
    for column in table.columns:
        values = list(table.column(column).values())
        assert all(a < b for a, b in pairwise(values)), column
    powers = [horsepower_of(row) for row in table.rows]
    assert all(a < b for a, b in pairwise(powers))
    for cells in table.rows.values():
        plain = [float(t) for name, t in cells.items() if t and not name.startswith("sync")]
        assert all(a > b for a, b in pairwise(plain))


@pytest.mark.parametrize("row", CODE.table("motor_current_dc").rows)
def test_direct_current_motors_have_a_plausible_efficiency(row):
    for name, text in CODE.table("motor_current_dc").rows[row].items():
        if text:
            efficiency = 746 * horsepower_of(row) / (float(name.split()[0]) * float(text))
            assert 0.45 < efficiency < 0.98, (name, efficiency)


@pytest.mark.parametrize(
    ("topic", "inch"),
    [("raceways", ["EMT", "RMC", "PVC 40", "PVC 80"]), ("conductor_areas", ["THHN", "XHHW", "THW"]),
     ("compact_areas", ["THHN", "XHHW", "THW"])],
)  # fmt: skip
def test_areas_follow_from_diameters(topic, inch):
    table = CODE.table(topic)
    for name in inch:
        for row, cells in table.rows.items():
            if cells[f"{name} in"]:
                diameter, area = float(cells[f"{name} in"]), float(cells[f"{name} in²"])
                rounding = 0.0011 / diameter + 0.00006 / area  # printed to 1/1000 in, 1/10000 in²
                assert area == pytest.approx(pi / 4 * diameter**2, rel=0.002 + rounding), (
                    row,
                    name,
                )
        areas = list(table.column(f"{name} in²").values())
        assert all(a < b for a, b in pairwise(areas)), name


def test_schedule_80_and_compact_conductors_are_the_smaller():
    for cells in CODE.table("raceways").rows.values():
        assert float(cells["PVC 80 in²"]) < float(cells["PVC 40 in²"])
    compact, full = CODE.table("compact_areas"), CODE.table("conductor_areas")
    for row, cells in compact.rows.items():
        for name in ("THHN in²", "XHHW in²", "THW in²"):
            # the compact 8 AWG THW is recalled with the thicker insulation of the larger sizes
            if cells[name] and (row, name) != ("8", "THW in²"):
                assert float(cells[name]) < float(full.rows[row][name]), (row, name)


@pytest.mark.parametrize("row", CODE.table("conductor_properties").rows)
def test_circular_mils_and_resistance(row):
    """AWG by its definition, d = 0.005 in × 92^((36 − n) ÷ 39); resistance from the resistivity at
    75 °C, 12.9 Ω·cmil/ft for copper and 21.2 for aluminum (chapter 9, Table 8, note 2 gives the
    same by its temperature coefficients 0.00323 and 0.00330)."""
    cells = CODE.table("conductor_properties").rows[row]
    mils = float(cells["circular mils"])
    gauge = {"1/0": 0, "2/0": -1, "3/0": -2, "4/0": -3}.get(row)
    if gauge is None and int(row) < 250:
        gauge = int(row)
    wanted = float(row) * 1000 if gauge is None else (5 * 92 ** ((36 - gauge) / 39)) ** 2
    assert mils == pytest.approx(wanted, rel=0.004)
    for name, resistivity in (("copper", 12.75), ("aluminum", 21.0)):
        assert float(cells[name]) == pytest.approx(1000 * resistivity / mils, rel=0.025), name
        assert float(cells[name]) <= float(cells[f"{name} stranded"]) <= 1.03 * float(cells[name])
    assert float(cells["copper"]) < float(cells["copper coated"]) < 1.06 * float(cells["copper"])


@pytest.mark.parametrize("row", CODE.table("impedance").rows)
def test_effective_impedance_follows_from_resistance_and_reactance(row):
    """Chapter 9, Table 9, note 2: Z = R cos φ + X sin φ at 0.85 power factor."""
    cells = CODE.table("impedance").rows[row]
    for metal in ("copper", "aluminum"):
        for conduit in ("PVC", "aluminum", "steel"):
            text = cells[f"{metal} Z {conduit}"]
            if text:
                reactance = cells["X steel" if conduit == "steel" else "X nonmagnetic"]
                wanted = float(cells[f"{metal} R {conduit}"]) * 0.85 + float(reactance) * 0.5268
                digits = len(text.split(".")[1]) if "." in text else 0
                allowed = 0.51 * 10**-digits + 0.043 * wanted
                assert float(text) == pytest.approx(wanted, abs=allowed), (metal, conduit)


@pytest.mark.parametrize("row", CODE.table("impedance").rows)
def test_alternating_resistance_is_not_below_direct(row):
    direct = CODE.table("conductor_properties").rows[row]
    cells = CODE.table("impedance").rows[row]
    for metal in ("copper", "aluminum"):
        text = cells[f"{metal} R PVC"]
        if text:
            assert float(text) >= 0.955 * float(direct[metal]), metal
            assert float(text) <= 1.2 * float(direct[f"{metal} stranded"]), metal
    assert 1.2 < float(cells["X steel"]) / float(cells["X nonmagnetic"]) < 1.3


@pytest.mark.parametrize("code", [item.id for item in editions("nec")])
def test_occupancies_and_demand_factors(code):
    loads = edition(code).table("occupancy_load").column("VA/ft²")
    assert len(loads) >= 19 and all(0.2 <= value <= 3.6 for value in loads.values())
    factors = edition(code).table("lighting_demand_others").column("percent")
    for family in {row.split()[0] for row in factors}:
        values = [v for row, v in factors.items() if row.startswith(f"{family} ")]
        assert all(a > b for a, b in pairwise(values))
    kitchen = [float(r["percent"]) for r in edition(code).table("kitchen_equipment").rows.values()]
    assert kitchen == [100, 100, 90, 80, 70, 65]


@pytest.mark.parametrize(
    ("topic", "row", "column", "by_edition"),
    [
        # section numbers, as recalled; the figures behind them are the same
        ("ambient", "35", "90", ("310.15(B)(2)(a)", "310.15(B)(1)", "310.15(B)(1)(1)")),
        ("adjustment", "4-6", "percent", ("310.15(B)(3)(a)", "310.15(C)(1)", "310.15(C)(1)")),
        ("ampacity", "8", "copper 75", ("310.15(B)(16)", "310.16", "310.16")),
        ("receptacle_demand", "10000", "percent", ("220.44", "220.44", "220.47")),
        ("motor_devices", "wound rotor", "dual-element fuse", ("430.52", "430.52", "430.52(C)(1)")),
    ],
)
def test_numbers_change_by_edition_and_figures_do_not(topic, row, column, by_edition):
    cells = [code.cell(topic, row, column) for code in editions("nec")]
    assert tuple(cell.rule.number for cell in cells) == by_edition
    assert len({cell.value for cell in cells}) == 1


def test_what_an_edition_lacks_is_said():
    with pytest.raises(NotCoveredError, match="NEC 2017"):
        edition("nec-2017").table("dwelling_sizes")
    with pytest.raises(NotCoveredError):
        CODE.cell("motor_current_3ph", "1", "2300 V")
    with pytest.raises(NotCoveredError):
        CODE.limit("nothing")


@pytest.mark.parametrize("code", editions("nec"), ids=lambda code: code.id)
def test_every_limit_belongs_to_a_rule(code):
    for cells in code.table("limits").rows.values():
        assert code.text(cells["rule"])
