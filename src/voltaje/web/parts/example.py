"""The made-up cottage, worked once for the front page."""

from __future__ import annotations

from functools import cache
from typing import Any

from voltaje.core.kinds import Context, evaluate, kind
from voltaje.web.jobs.demo import COTTAGE
from voltaje.web.kinds import dwelling


@cache
def example() -> dict[str, Any]:
    """The cottage's drawing and its answer."""
    worked = evaluate(kind("dwelling"), COTTAGE, Context()).report
    if worked is None:
        return {}
    answer = [worked.results[name] for name in worked.answer]
    return {"drawing": dwelling.draw(worked), "answer": answer}
