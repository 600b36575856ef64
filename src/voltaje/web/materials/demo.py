"""Sample prices of the demo's account: invented figures, so that its orders come to something."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from voltaje.core.materials import MaterialLine, take_off
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job
from voltaje.web.materials.price_list import list_of

# invented: per what, price of the smallest, hours, supplier, by the group of a material
SAMPLES = {
    "conductors": ("100 ft", 18.0, 0.6, "North Wire"),
    "cables": ("100 ft", 64.0, 1.8, "North Wire"),
    "raceways": ("ft", 0.9, 0.05, "Conduit Yard"),
    "fittings": ("each", 0.8, 0.03, "Conduit Yard"),
    "devices": ("each", 9.0, 0.3, "Panel House"),
}


STEP = 1.28  # invented: what the next size costs more


def set_prices(owner: Any, job: Job) -> None:
    """A price list for what the job orders; boards and transformers stay to be asked for."""
    kept = list_of(owner)
    kept.currency, kept.rate, kept.mark_up = "USD", Decimal(78), Decimal(12)
    lines = take_off(work_job(job), job.family.family).lines
    for group, (per, price, hours, supplier) in SAMPLES.items():
        keys = dict.fromkeys(_size(line) for line in lines if line.group == group)
        steps = {size: STEP**n for n, size in enumerate(keys)}
        for line in lines:
            if line.group == group:
                more = steps[_size(line)]
                texts = [f"{price * more:.2f}", f"{hours * more**0.5:.2f}", per, supplier]
                kept.rows[line.key] = texts
    kept.save()


def _size(line: MaterialLine) -> str:
    """The size in a key, the same for all colors of it."""
    parts = line.key.split("|")
    return parts[1] if len(parts) > 1 else line.key
