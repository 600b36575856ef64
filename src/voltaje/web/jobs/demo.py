"""The made-up demo: Alder Mill's keeper and the cottage. All names and figures are invented."""

from __future__ import annotations

from typing import Any

COTTAGE: dict[str, Any] = {
    "area": "1480 sq ft",
    "small_appliance_circuits": "2",
    "laundry_circuits": "1",
    "appliances": [
        {"id": "a1", "name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
        {"id": "a2", "name": "Dishwasher", "nameplate": "1.1 kW", "connection": "120"},
        {"id": "a3", "name": "Disposer", "nameplate": "6 A 115 V", "motor": "yes"},
        {"id": "a4", "name": "Microwave oven, built in", "nameplate": "1300 W"},
    ],
    "cooking": [{"id": "c1", "name": "Range", "nameplate": "11.4 kW"}],
    "dryers": [{"id": "d1", "name": "Clothes dryer", "nameplate": "4.8 kW"}],
    "climate": [
        {"id": "h1", "name": "Baseboard heaters", "nameplate": "1.5 kW", "what": "heating",
         "count": "5"},
        {"id": "h2", "name": "Air conditioner", "nameplate": "3.4 kVA", "what": "cooling"},
    ],
}  # fmt: skip
