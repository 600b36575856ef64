"""The circuit chart for a board's door: what each way feeds, its device, cable, loop and test."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

from voltaje.core.kinds import kind
from voltaje.core.report import figure, told
from voltaje.web.board.table import CircuitRow, result_text
from voltaje.web.jobs.models import Job

# what of the board itself stands at the chart's head
OF_BOARD = ("amperes", "fault", "minimum_fault_current", "loop_impedance")


@dataclass(frozen=True, slots=True)
class ChartCircuit:
    """One way of the board as the chart prints it: texts, empty where nothing is known; whether its
    result, or one that it needs, is ``missing``."""

    number: str
    name: str
    device: str
    line: str
    protective: str
    run: str
    length: str
    loop: str
    most: str
    residual: str
    tested: str
    missing: bool = False


def ways(job: Job, rows: Sequence[CircuitRow]) -> list[ChartCircuit]:
    """The ways of a board in the order in which they stand; what has no place comes last."""
    # the newest of each, as the logbook has them
    tested = {
        reading.part_id: figure(reading.value, 2)
        for reading in job.readings.filter(point="Zs", unit="Ω").order_by("taken_at")
    }
    method = job.family.wiring.METHOD
    found = []
    for number, row in enumerate(sorted(rows, key=_stands), 1):
        texts = {cell.column: cell.text for cell in (*row.cells, *row.more)}
        words = {
            cell.column: _words(cell.spec.choices if cell.spec else (), cell.text)
            for cell in row.more
        }
        worked = row.report
        rating = result_text(worked, "device", 0)
        residual = words.get("rcd", "") if texts.get("rcd", "none") != "none" else ""
        found.append(
            ChartCircuit(
                row.stands or str(number),
                row.part.name or told(kind(row.part.kind).label),
                f"{texts.get('device_type', '')} {rating} A".strip() if rating else "",
                result_text(worked, "conductor_size", 1),
                result_text(worked, "ground_conductor_size", 1),
                words.get(method, "").partition(":")[0],
                texts.get("length", ""),
                result_text(worked, "loop_impedance", 2),
                _most(row),
                residual,
                tested.get(row.part.pk, ""),
                worked is None or bool(worked.missing),
            )
        )
    return found


def _stands(row: CircuitRow) -> tuple[float, str]:
    """The number of a row's place or way, then its line: ``3 L2``, ``1, 3``."""
    found = re.match(r"\d+", row.stands)
    return (int(found[0]) if found else inf), row.stands


def _words(choices: Sequence[tuple[str, str]], text: str) -> str:
    return told(dict(choices).get(text, text)) if text else ""


def _most(row: CircuitRow) -> str:
    """What the loop may be: by its overcurrent device, where that alone holds it."""
    results = row.report.results if row.report else {}
    loop, own = results.get("loop_impedance"), results.get("own_loop_impedance")
    holds = loop is not None and own is not None and float(loop.value) <= float(own.value)
    return result_text(row.report, "own_loop_impedance" if holds else "maximum_loop_impedance", 2)
