"""A distribution circuit's drawing: device, cable, and what hangs on them."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import figure, say
from voltaje.web.kinds.circuit import WIRED
from voltaje.web.kinds.feeder import draw
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Load and length of the question."""
    return {"load": read.power or read.amperes}


PRESENTATION = Presentation(
    draw,
    open=("load", *WIRED),
    symbol="feeder",
    detail=lambda outcome: (say("{amperes} A of load", amperes=figure(outcome.amperes, 0)),),
    subject=CIRCUITS,
    quick=True,
    usual_system="3ph-400Y/230",
    systems=METRIC_SYSTEMS,
    runs=True,
    fill=fill,
    examples=(
        Example(
            say("14 kW to a workshop, armoured cable"),
            {
                "code": "bs7671-2018",
                "system": "1ph-230",
                "units": "metric",
                "load": "14 kW",
                "length": "40 m",
                "cable": "armoured 90",
                "reference_method": "E",
                "external_loop": "0.3",
                "device_type": "gG",
            },
        ),
        Example(
            say("40 kW, three-phase, 60 m"),
            {
                "code": "bs7671-2018",
                "system": "3ph-400Y/230",
                "units": "metric",
                "load": "40 kW",
                "length": "60 m",
                "external_loop": "0.2",
                "device_type": "gG",
            },
        ),
    ),
    tasks=(
        task(
            19,
            "Distribution circuit, metric: submain",
            "submain sub-main distribution circuit metric mm2 bs 7671 zs loop armoured swa board "
            "feeder 400 230",
        ),
    ),
)
