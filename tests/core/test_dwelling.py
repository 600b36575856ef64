"""The dwelling's rules one at a time: boundaries, editions, the two methods, the service."""

import pytest

BASE = {"area": 1500}


def fixed(*nameplates, **more):
    return [{"name": f"A{i}", "nameplate": n, **more} for i, n in enumerate(nameplates)]


@pytest.mark.parametrize(
    ("area", "circuits", "laundry", "demand"),
    [
        (1, 2, 0, 3000 + 3 * 0.35),
        (1500, 2, 1, 5100),
        (1000, 2, 0, 3000 + 3000 * 0.35),
        (38500, 2, 1, 3000 + 117_000 * 0.35),  # 120,000 VA exactly
        (39000, 2, 1, 3000 + 117_000 * 0.35 + 1500 * 0.25),
    ],
)
def test_lighting_steps(work, area, circuits, laundry, demand):
    document = {"area": area, "small_appliance_circuits": circuits, "laundry_circuits": laundry}
    assert work(document).value("general_lighting_demand") == pytest.approx(demand)


@pytest.mark.parametrize(
    ("code", "nameplates", "demand"),
    [
        ("nec-2017", ("1 kW", "1 kW", "1 kW"), 3000),
        ("nec-2017", ("1 kW", "1 kW", "1 kW", "400 W"), 3400 * 0.75),
        ("nec-2020", ("1 kW", "1 kW", "1 kW", "400 W"), 3400),  # below the floor: three only
        ("nec-2023", ("1 kW", "1 kW", "1 kW", "400 W"), 3400),
        ("nec-2023", ("1 kW", "1 kW", "1 kW", "500 W"), 3500 * 0.75),
        ("nec-2023", ("1 kW", "1 kW", "1 kW", "1 kW", "400 W"), 3000 + 400),
    ],
)
def test_75_percent_by_edition(work, code, nameplates, demand):
    worked = work({**BASE, "appliances": fixed(*nameplates)}, code)
    assert worked.value("fixed_appliance_demand") == pytest.approx(demand)


@pytest.mark.parametrize(
    ("code", "fixed_demand", "charging"),
    [("nec-2017", (3000 + 6000) * 0.75, 0), ("nec-2020", 9000 * 0.75, 0), ("nec-2023", 3000, 7200)],
)
def test_vehicle_charging_by_edition(work, code, fixed_demand, charging):
    rows = [*fixed("1 kW", "1 kW", "1 kW"),
            {"name": "Charger", "nameplate": "6 kW", "connection": "240", "place": "charger"}]  # fmt: skip
    worked = work({**BASE, "appliances": rows}, code)
    assert worked.value("fixed_appliance_demand") == pytest.approx(fixed_demand)
    assert worked.value("vehicle_charging_demand") == charging
    assert ("charger_at_75" in {f.name for f in worked.findings}) == (code != "nec-2023")


@pytest.mark.parametrize(
    ("climate", "counted", "adder", "motor"),
    [
        # heating wins: the largest motor comes from the appliances
        ([("7.5 kW", "heating"), ("3.4 kVA", "cooling")], 7500, 172.5, "Disposer"),
        # cooling wins: its compressor is the largest motor
        ([("3 kW", "heating"), ("5 kVA", "cooling")], 5000, 1250, "air conditioner"),
        # heating is larger, but not than the cooling with a quarter of its motor
        ([("7.5 kW", "heating"), ("7 kVA", "cooling")], 7000, 1750, "air conditioner"),
        # a heat pump runs in both seasons; its backup in one
        ([("5 kVA", "heat_pump"), ("10 kW", "backup")], 15_000, 1250, "heat pump"),
        ([("5 kVA", "heat_pump"), ("10 kW", "backup_alone")], 10_000, 172.5, "Disposer"),
    ],
)
def test_heating_or_cooling_and_the_largest_motor(work, climate, counted, adder, motor):
    document = {
        **BASE,
        "appliances": [{"name": "Disposer", "nameplate": "6 A 115 V", "motor": True}],
        "climate": [{"nameplate": plate, "what": what} for plate, what in climate],
    }
    worked = work(document)
    assert (worked.value("climate_demand"), worked.value("motor_adder")) == (counted, adder)
    assert motor in str(worked.line("motor_adder").label)


@pytest.mark.parametrize(
    ("rows", "counted", "chosen"),
    [
        ([("9.66 kVA", "cooling", 1), ("1.5 kW", "heating", 1)], 9660, "cooling"),
        ([("5 kVA", "heat_pump", 1)], 5000, "heat_pump"),
        ([("5.76 kVA", "heat_pump", 1), ("15 kW", "backup", 1)], 15_510, "heat_pump_backup"),
        ([("5 kVA", "heat_pump", 1), ("20 kW", "backup_alone", 1)], 13_000, "heat_pump_backup"),
        ([("3 kW", "heating", 3)], 5850, "heating_few"),
        ([("3 kW", "heating", 4)], 4800, "heating_many"),
        ([("9 kW", "storage", 1)], 9000, "storage"),
    ],
)
def test_six_selections_of_the_optional_method(work, rows, counted, chosen):
    climate = [{"nameplate": p, "what": w, "count": n} for p, w, n in rows]
    worked = work({**BASE, "method": "optional", "climate": climate})
    assert worked.value("optional_load") == pytest.approx(9000 + counted)
    assert [a.name for a in worked.methods if a.chosen and a.name[:6] != "method"] == [chosen]


@pytest.mark.parametrize(("kw", "va"), [("4 kW", 5000), ("5 kW", 5000), ("5.5 kW", 5500)])
def test_a_dryer_counts_5000_at_least(work, kw, va):
    assert work({**BASE, "dryers": [{"nameplate": kw}]}).value("dryer_demand") == va


@pytest.mark.parametrize(
    ("entries", "lines"),
    [
        ({"appliances": fixed("4 kW", "1 kW", "1 kW", "0.6 kW")}, {"fixed_lowered"}),
        ({"dryers": [{"nameplate": "10 kW", "count": 4}, {"nameplate": "5 kW"}]},
         {"dryers_lowered"}),
        ({"cooking": [{"nameplate": "8.75 kW", "count": 15}, {"nameplate": "3.6 kW"}]}, set()),
        ({"method": "optional", "climate": [{"nameplate": "3 kW", "count": 4}]},
         {"heating_lowered"}),
        ({"appliances": fixed("1 kW", "1 kW", "1 kW")}, set()),
    ],
)  # fmt: skip
def test_a_line_says_where_one_more_lowers_the_load(work, entries, lines):
    found = work({**BASE, **entries}).sections[0].lines
    assert {line.name for line in found if line.name.endswith("_lowered")} == lines


def test_neutral_keeps_240_volt_loads_out_and_120_volt_loads_in(work):
    alone = work(BASE).value("neutral_load")
    with_240 = work({**BASE, "appliances": fixed("4.5 kW", connection="240")})
    with_120 = work({**BASE, "appliances": fixed("1.2 kW")})
    assert with_240.value("neutral_load") == alone
    assert with_120.value("neutral_load") == alone + 1200


def test_two_lines_of_a_wye_take_no_reduction_and_no_dwelling_rule(work):
    document = {**BASE, "cooking": [{"nameplate": "12 kW"}]}
    wye, split = work(document, system="1ph-120/208"), work(document)
    assert wye.value("neutral_load") == 5100 + 8000
    assert split.value("neutral_load") == 5100 + 8000 * 0.7
    assert wye.value("amperes") == round((5100 + 8000) / 208)
    assert "310.12" not in [r.cite for r in wye.line("service_conductor_copper").rules]
    assert "volts_208" in {f.name for f in wye.findings}


@pytest.mark.parametrize(
    ("area", "device"), [(500, 100), (20_000, 110), (100_000, 400), (38_500, 200)]
)
def test_service_is_100_amperes_at_least(work, area, device):
    assert work({"area": area}).value("service_device") == device


def test_horsepower_goes_by_the_motor_table(work):
    worked = work({**BASE, "appliances": fixed("1/2 hp")})
    assert worked.value("fixed_appliance_demand") == pytest.approx(9.8 * 120)  # Table 430.248
    assert worked.value("motor_adder") == pytest.approx(9.8 * 120 / 4)


@pytest.mark.parametrize(
    ("lies", "conductor"),
    [
        # 200 A of service: 83 % of it is 166 A, in the 75 °C column of Table 310.16 (310.15(B)(16))
        ({}, "2/0"),
        ({"ambient": 40}, "3/0"),  # 175 x 0.88 = 154; 200 x 0.88 = 176
        ({"ambient": "113 °F"}, "4/0"),  # 45 °C: 200 x 0.82 = 164; 230 x 0.82 = 188.6
        ({"ambient": 45, "insulation": "THWN-2"}, "2/0"),  # 195 x 0.87 = 169.7
        ({"others": 4}, "4/0"),  # two lines and four: 200 x 0.8 = 160; 230 x 0.8 = 184
        ({"others": 1}, "2/0"),  # three of them: nothing off
        ({"others": 4, "ambient": 45, "insulation": "XHHW-2"}, "4/0"),  # 260 x 0.87 x 0.8 = 181
        ({"ambient": 20, "others": 0}, "2/0"),  # 175 x 1.11, yet 175 at the terminals
    ],
)
def test_heat_and_neighbours_take_from_the_service_conductor(work, lies, conductor):
    load = [{"name": "Furnace", "nameplate": "38 kW", "what": "heating"}]
    worked = work({**BASE, "climate": load, **lies})
    assert worked.value("service_device") == 200
    chosen = [pair for pair in worked.alternatives if pair.chosen]
    assert [(pair.size, pair.passes) for pair in chosen] == [(conductor, True)]
    assert {pair.passes for pair in worked.alternatives if pair.material == "copper"} == {
        False,
        True,
    }
    assert all(pair.ampacity >= 166 for pair in worked.alternatives if pair.passes)
    assert all(pair.ampacity < 166 for pair in worked.alternatives if not pair.passes)


@pytest.mark.parametrize(
    ("extra", "load", "status"),
    [
        # 220.83(A): first 8 kVA whole, the rest at 40 %; 9,000 + 12,000 + 7,200 connected
        ({}, 8000 + 20_200 * 0.4, "pass"),
        # 220.83(B): heating that is added counts whole
        ({"adds_climate": True, "climate": [{"nameplate": "15 kW"}]},
         8000 + 20_200 * 0.4 + 15_000, "fail"),
        # heating that is there already goes in with the rest
        ({"climate": [{"nameplate": "5 kW"}]}, 8000 + 25_200 * 0.4, "pass"),
    ],
)  # fmt: skip
def test_existing_dwelling(work, extra, load, status):
    document = {
        **BASE, "calculation": "added", "existing_service": "100 A",
        "cooking": [{"nameplate": "12 kW"}],
        "appliances": fixed("7.2 kW", connection="240"), **extra,
    }  # fmt: skip
    worked = work(document)
    assert worked.value("calculated_load") == pytest.approx(load)
    assert worked.status == status


@pytest.mark.parametrize(
    ("demand", "new", "amperes", "status"),
    [("58 A", "7.2 kW", 103, "fail"), ("13.92 kW", "7.2 kW", 103, "fail"),
     ("56 A", "7.2 kW", 100, "pass"), ("0 A", 0, 0, "pass")],
)  # fmt: skip
def test_measured_demand(work, demand, new, amperes, status):
    """220.87: the highest demand × 125 % plus the new load against the service."""
    worked = work({"calculation": "measured", "measured_demand": demand, "new_load": new,
                   "existing_service": 100})  # fmt: skip
    assert (worked.value("amperes"), worked.status) == (amperes, status)


def test_both_methods_stand_side_by_side_with_their_difference(work):
    worked = work({**BASE, "cooking": [{"nameplate": "12 kW"}]})
    standard, optional = worked.value("standard_load"), worked.value("optional_load")
    gap = worked.section("difference").lines[-1].value
    assert gap == optional - standard
    assert {a.name for a in worked.methods} >= {"method_standard", "method_optional"}


@pytest.mark.parametrize("method", ["standard", "optional"])
def test_the_drawing_adds_up_to_the_answer(work, method):
    document = {**BASE, "method": method, "cooking": [{"nameplate": "12 kW"}],
                "dryers": [{"nameplate": "4 kW"}], "appliances": fixed("1 kW", "2 kW", "3 kW", "1 hp"),
                "climate": [{"nameplate": "9 kW"}, {"nameplate": "3 kW", "what": "cooling"}]}  # fmt: skip
    worked = work(document)
    flows = worked.flows["shown"]
    assert sum(flow.calculated for flow in flows) == pytest.approx(worked.value("calculated_load"))
    assert sum(flow.connected for flow in flows) == pytest.approx(worked.value("connected_load"))


@pytest.mark.parametrize("fan", [0, 600])
def test_the_difference_between_the_methods_adds_up(work, fan):
    """What each method takes off what is connected, line by line, is what they differ by."""
    climate = [{"nameplate": "9 kW"}, {"nameplate": "3 kW", "what": "cooling"}]
    climate += (
        [{"name": "Blower", "nameplate": fan, "what": "fan", "connection": "120"}] if fan else []
    )
    worked = work({**BASE, "cooking": [{"nameplate": "12 kW"}], "climate": climate})
    lines = worked.section("difference").lines
    standard = sum(line.value for line in lines if "standard method" in str(line.label))
    optional = sum(line.value for line in lines if ": optional method" in str(line.label))
    assert optional - standard == pytest.approx(lines[-1].value)
    general = worked.line("taken_off_general").value
    assert general == pytest.approx(-0.6 * (9000 + 12_000 + fan - 10_000))


def test_metres_are_shown_where_they_are_preferred(work):
    worked = work({"area": "140"}, units="metric")
    assert worked.line("general_lighting").expression == "140 m² = 1,506.95 ft² × 3 VA"
    assert "m²" not in work({"area": "140 m²"}).line("general_lighting").expression


def test_120_volt_loads_are_named_on_the_line_they_are_put_on(work):
    rows = [{"name": n, "nameplate": p} for n, p in (("Big", 2000), ("Mid", 1200), ("Low", 900))]
    worked = work({**BASE, "appliances": rows})
    assert str(worked.line("l1_amperes").note) == "120 V here: Big"
    assert str(worked.line("l2_amperes").note) == "120 V here: Mid, Low"
