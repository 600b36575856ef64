"""The one-line diagram of a job as a drawing of its own, for files and documents."""

from __future__ import annotations

from collections.abc import Mapping

from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe

from voltaje.core.kinds import Evaluated
from voltaje.web.drawings import riser
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import told, tree

TALL = 6_000.0  # no code figure: units; a taller one is not read on paper with all its circuits
# a file of its own cannot ask for the page's styles
SVG_STYLE = (
    "text{font:12px B612,DejaVu Sans,sans-serif;fill:#12201f}.b{font-weight:700}"
    ".s{fill:#475654;font-size:10.5px}.run,.sym{fill:none;stroke:#12201f;stroke-width:1.6}"
    ".fill{fill:#fff}.pass{fill:#17695b}.check{fill:none;stroke:#7d5206;stroke-width:2}"
    ".fail{fill:none;stroke:#a3261c;stroke-width:2}"
    ".incomplete{fill:none;stroke:#475654;stroke-width:2;stroke-dasharray:3 2}"
)


def drawn(
    job: Job,
    found: Mapping[str, Evaluated],
    circuits: bool,
    folded: frozenset[str] = frozenset(),
) -> riser.Riser:
    """The whole job laid out; without ``circuits`` a board stands for its circuits, the branches
    of the items ``folded`` are counted."""
    url = reverse("jobs:job", args=[job.pk])
    return riser.draw(tree(job, told(found)), riser.Shown(url, found, circuits, folded))


def alone(job: Job, drawing: riser.Riser, style: str = "") -> SafeString:
    """The drawing as SVG that needs nothing else; ``style`` are its own rules."""
    # ours, and in a file alone: a page never carries a style of its own
    rules = mark_safe(f"<style>{style}</style>") if style else ""
    context = {"job": job, "riser": drawing, "alone": True, "style": rules}
    return render_to_string("sheets/drawings/riser.svg", context)
