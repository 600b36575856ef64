"""The worked dwellings of NFPA 70, informative annex D, examples D1(a), D1(b), D2(a) to (c), D6.

All statements and figures are recalled, not read from the book. Every recalled total was also
added by hand from the statement of its example before it was put in here.
"""

import pytest

from voltaje.core.codes import editions
from voltaje.core.electrical.loads import CountedLoad
from voltaje.core.rules.north_america import cooking
from voltaje.core.rules.north_america.overcurrent import whole_amperes

D1A = {
    "area": 1500,
    "cooking": [{"name": "Range", "nameplate": "12 kW"}],
    "dryers": [{"nameplate": "5.5 kW"}],
}
D1B = {
    **D1A,
    "appliances": [
        {"name": "Disposer", "nameplate": "8 A 115 V", "motor": True, "line": "L2"},
        {"name": "Dishwasher", "nameplate": "10 A 120 V", "line": "L2"},
    ],
    "climate": [
        {"nameplate": "6 A 230 V", "what": "cooling"},
        {"nameplate": "12 A 115 V", "what": "cooling", "connection": "120", "line": "L1"},
    ],
}
D2A = {
    "area": 1500,
    "method": "optional",
    "cooking": [{"nameplate": "12 kW"}],
    "appliances": [
        {"name": "Water heater", "nameplate": "2.5 kW", "connection": "240"},
        {"name": "Dishwasher", "nameplate": "1.2 kW"},
    ],
    "dryers": [{"nameplate": "5 kW"}],
    "climate": [
        {"nameplate": "1.8 kW", "what": "heating", "count": 5},
        {"nameplate": "6 A 230 V", "what": "cooling"},
    ],
}
D2B = {
    "area": 1500,
    "method": "optional",
    "cooking": [
        {"name": "Ovens", "nameplate": "4 kW", "count": 2},
        {"name": "Cooktop", "nameplate": "5.1 kW"},
    ],
    "appliances": [
        {"name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
        {"name": "Dishwasher", "nameplate": "1.2 kW"},
    ],
    "dryers": [{"nameplate": "5 kW"}],
    "climate": [
        {"nameplate": "7 A 230 V", "what": "cooling", "count": 6},
        {"nameplate": "1.5 kW", "what": "heating"},
    ],
}
D2C = {
    "area": 2000,
    "method": "optional",
    "cooking": [{"nameplate": "12 kW"}],
    "appliances": [
        {"name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
        {"name": "Dishwasher", "nameplate": "1.2 kW"},
    ],
    "dryers": [{"nameplate": "5 kW"}],
    "climate": [
        {"nameplate": "24 A 240 V", "what": "heat_pump"},
        {"nameplate": "15 kW", "what": "backup"},
    ],
}


@pytest.mark.parametrize("code", [item.id for item in editions("nec")])
@pytest.mark.parametrize(
    ("example", "document", "wanted"),
    [
        ("D1(a)", D1A, {"calculated_load": 18_600, "amperes": 78, "service_device": 100,
                        "general_lighting_demand": 5_100, "neutral_load": 14_550,
                        "neutral_amperes": 61}),
        ("D1(b)", D1B, {"line_1_amperes": 99, "line_2_amperes": 104, "neutral_amperes": 84,
                        "service_device": 110}),
        ("D2(a)", D2A, {"optional_load": 21_480, "calculated_load": 21_480, "amperes": 90,
                        "service_device": 100, "neutral_load": 15_400, "neutral_amperes": 64}),
        ("D2(b)", D2B, {"calculated_load": 28_780, "amperes": 120, "service_device": 125,
                        "cooking_demand": 7_205, "neutral_load": 14_843.5,
                        "neutral_amperes": 62}),
        ("D2(c)", D2C, {"calculated_load": 34_790, "amperes": 145, "service_device": 150}),
    ],
)  # fmt: skip
def test_worked_dwellings(work, code, example, document, wanted):
    worked = work(document, code)
    assert {name: worked.value(name) for name in wanted} == pytest.approx(wanted), example


@pytest.mark.parametrize(
    ("example", "ratings", "kilowatts"),
    [
        ("D6, note 1: 24 alike of 16 kW", [(16, 24)], 46.8),
        ("D6, note 2: 30 unlike, average 13.6 kW", [(11, 5), (12, 2), (13.5, 20), (18, 3)], 49.5),
    ],
)
def test_maximum_demand_of_ranges(code_2020, example, ratings, kilowatts):
    loads = [
        CountedLoad(f"r{i}", "Range", kw * 1000, kw / 0.24, count=n)
        for i, (kw, n) in enumerate(ratings)
    ]
    assert cooking.demand(loads, code_2020) == pytest.approx(kilowatts * 1000), example


@pytest.mark.parametrize(
    ("exact", "whole"), [(77.5, 78), (60.625, 61), (89.5, 90), (40.0, 40), (40.49, 40), (0.4, 0)]
)
def test_a_fraction_below_one_half_is_dropped(exact, whole):
    """220.5(B), as the examples above apply it."""
    assert whole_amperes(exact) == whole
