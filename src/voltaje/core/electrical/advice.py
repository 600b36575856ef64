"""Single-phase or three-phase? The two questions that decide, with the reasons."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.electrical.systems import SYSTEMS, System
from voltaje.core.worksheet import Text, fits, say

# Common practice: what a utility gives on one phase, and where 208 V feeders become too heavy.
USUAL_LIMIT_AMPERES = 400.0
LARGE_KVA = 300.0


@dataclass(frozen=True, slots=True)
class Advice:
    """The system to ask for, and why."""

    system: System
    why: tuple[Text, ...]


def advise(three_phase_only: bool, load_kva: float, limit: float = USUAL_LIMIT_AMPERES) -> Advice:
    """``three_phase_only``: some equipment runs on three-phase alone. ``load_kva``: the sum of all
    load. ``limit``: the amperes at 240 V that the utility gives on single-phase."""
    amperes = load_kva * 1000 / 240
    large = not fits(load_kva, LARGE_KVA)
    why: list[Text] = []
    if three_phase_only:
        why.append(
            say(
                "Some equipment runs on three-phase alone, so the supply is three-phase,"
                " however small that equipment is."
            )
        )
    elif fits(amperes, limit):
        return Advice(
            SYSTEMS["1ph-120/240"],
            (
                say(
                    "Nothing needs three-phase, and {amperes} A at 240 V is within the {limit} A"
                    " that single-phase gives.",
                    amperes=round(amperes),
                    limit=limit,
                ),
            ),
        )
    else:
        why.append(
            say(
                "{amperes} A at 240 V is more than the {limit} A that single-phase gives:"
                " a three-phase, four-wire supply, with the single-phase loads spread over"
                " its lines.",
                amperes=round(amperes),
                limit=limit,
            )
        )
    if large:
        why.append(
            say(
                "{kva} kVA is heavy at 208 V: 480Y/277 V, with a transformer for what needs 120 V.",
                kva=load_kva,
            )
        )
        return Advice(SYSTEMS["3ph-480Y/277"], tuple(why))
    why.append(
        say(
            "208Y/120 V serves 120 V loads without a transformer; heaters and kilns are"
            " ordered for 208 V."
        )
    )
    return Advice(SYSTEMS["3ph-208Y/120"], tuple(why))
