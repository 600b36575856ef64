"""A distribution circuit's drawing: device, cable, and what hangs on them."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.report import figure, say
from voltaje.web.kinds.circuit import WIRED
from voltaje.web.kinds.feeder import draw
from voltaje.web.kinds.presentation import AskedQuantities, Presentation, task


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Load and length of the question."""
    return {"load": read.power or read.amperes}


PRESENTATION = Presentation(
    draw,
    open=("load", *WIRED),
    symbol="feeder",
    detail=lambda outcome: (say("{amperes} A of load", amperes=figure(outcome.amperes, 0)),),
    quick=True,
    usual_system="3ph-400Y/230",
    systems=METRIC_SYSTEMS,
    runs=True,
    fill=fill,
    tasks=(
        task(
            19,
            "Distribution circuit, metric: submain",
            "submain sub-main distribution circuit metric mm2 bs 7671 zs loop armoured swa board "
            "feeder 400 230",
        ),
    ),
)
