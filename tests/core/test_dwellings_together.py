"""Dwellings on one feeder or service are counted together: annex D, examples D4(a) and D4(b), as
recalled: 40 dwellings of 840 ft², half of them with 12 kW ranges; or each with all that is electric."""

from __future__ import annotations

import pytest

from voltaje.core.codes import edition
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import PartInput

GAS = {"area": "840", "laundry_circuits": "0"}
RANGE = {**GAS, "cooking": [{"id": "r", "name": "Range", "nameplate": "12 kW"}]}
ELECTRIC = {
    **RANGE,
    "method": "optional",
    "appliances": [
        {"id": "w", "name": "Water heater", "nameplate": "2.5 kW", "connection": "240"},
        {"id": "d", "name": "Dishwasher", "nameplate": "1.2 kW"},
    ],
    "climate": [
        {"id": "h", "what": "heating", "nameplate": "1.5 kW", "count": "4"},
        {"id": "c", "what": "cooling", "nameplate": "2.4 kW"},
    ],
}


def feeder(homes, code="nec-2020", extra=()):
    parts = [PartInput("s", "supply", None, {"system": "1ph-120/240"}, "S"),
             PartInput("f", "feeder", "s", {}, "F")]  # fmt: skip
    parts += [PartInput(f"d{i}", "dwelling", "f", home, f"No. {i}") for i, home in enumerate(homes)]
    found = calculate_job([*parts, *extra], edition(code))
    return found["f"].outcome.carried.calculated, found["f"].report


@pytest.mark.parametrize("code", ["nec-2017", "nec-2020", "nec-2023"])
@pytest.mark.parametrize(("homes", "va"), [(20, 65_590), (40, 104_150)])
def test_annex_d4a(code, homes, va):
    """3,000 whole, 35 % to 120,000, 25 % beyond; ten ranges 25 kW, twenty 35 kW by column C."""
    found, _ = feeder([RANGE, GAS] * (homes // 2), code)
    assert found.load == pytest.approx(va)


@pytest.mark.parametrize(("homes", "va"), [(20, 206_872), (40, 304_864)])
def test_annex_d4b(homes, va):
    """544,400 VA at 38 %, 1,088,800 at 28 %: heating 6 kW counts, cooling 2.4 kW drops out."""
    found, worked = feeder([ELECTRIC] * homes)
    assert found.load == pytest.approx(va)
    line = next(one for s in worked.sections for one in s.lines if one.name == "dwellings_optional")
    assert line.rules[0].number == "220.84" and line.rules[0].topic == "dwellings_together"


@pytest.mark.parametrize(
    ("homes", "names"),
    [
        # two have no optional method of their own; one with gas takes it from all
        ([ELECTRIC] * 2, {"dwellings_lighting", "dwellings_fixed", "dwellings_cooking"}),
        ([ELECTRIC, ELECTRIC, {**GAS, "method": "optional"}], {"dwellings_lighting"}),
        ([ELECTRIC, ELECTRIC, {**ELECTRIC, "method": "standard"}], {"dwellings_lighting"}),
        ([ELECTRIC] * 3, {"dwellings_optional"}),
        # one by itself, or one by its measured demand, stays as its own sheet has it
        ([ELECTRIC], {"dwelling"}),
        ([ELECTRIC, {"calculation": "measured", "measured_demand": "40 A", "new_load": "2 kW",
                     "existing_service": "100 A"}], {"dwelling"}),
    ],
)  # fmt: skip
def test_which_way_they_are_counted(homes, names):
    found, worked = feeder(homes)
    told = {line.name for section in worked.sections for line in section.lines}
    assert names <= told
    assert ("dwellings_optional" in told) == ("dwellings_optional" in names)
    lines = [line for line in worked.sections[0].lines if line.kind == "step"]
    demand = [line.value for line in lines if line.name.startswith("dwelling")]
    assert sum(demand) == pytest.approx(found.load)


def test_numbers_of_all_dwellings_decide():
    """Four water heaters in two homes are four appliances (220.53, 75 %), five dryers stand at 85 %
    (220.54), and the largest motor is one of all (430.24)."""
    heaters = [
        {"id": f"w{i}", "name": "Heater", "nameplate": "4 kW", "connection": "240"} for i in (1, 2)
    ]
    home = {"area": "1000", "appliances": heaters}
    _, worked = feeder([home, home])
    line = next(one for one in worked.sections[0].lines if one.name == "dwellings_fixed")
    assert line.value == 4 * 4000 * 0.75
    dryer = {"area": "1000", "dryers": [{"id": "d", "name": "Dryer", "nameplate": "5 kW"}]}
    _, worked = feeder([dryer] * 5)
    line = next(one for one in worked.sections[0].lines if one.name == "dwellings_dryers")
    assert line.value == 5 * 5000 * 0.85
    cooled = {"area": "1000", "climate": [{"id": "c", "what": "cooling", "nameplate": "4 kVA"}]}
    _, worked = feeder([cooled, cooled])
    motor = next(one for one in worked.sections[0].lines if one.name == "dwellings_motor")
    assert motor.value == 1000


def test_two_by_their_own_optional_methods_were_too_little():
    """220.82 is for one dwelling: the sum of two is less than their common feeder must carry."""
    found, worked = feeder([ELECTRIC] * 2)
    each = calculate_job(
        [PartInput("s", "supply", None, {"system": "1ph-120/240"}, "S"),
         PartInput("d", "dwelling", "s", ELECTRIC, "D")], edition("nec-2020"),
    )["d"].outcome.calculated  # fmt: skip
    assert found.load > 2 * each
    assert "Calculated separately they come to" in " ".join(
        str(line.label) for section in worked.sections for line in section.lines
    )
