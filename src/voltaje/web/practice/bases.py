"""What problems begin with: a kind's worked examples, as its quick sheet has them."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice.problems import holding
from voltaje.web.kinds import presentation
from voltaje.web.parts.quick_views import quick_settings, systems_of


@lru_cache(maxsize=512)
def bases_of(name: str, code: str) -> tuple[tuple[str, dict[str, Any]], ...]:
    """The kind's worked examples that hold under a code, each with its system."""
    found, known = [], systems_of(name, code)
    for one in presentation(name).examples:
        usual = quick_settings(name, {**one.document, "code": code})["system"]
        found.append(([usual, *known] if usual else known, one.entries))
    return holding(kind(name), edition(code), found or [(known, {})])
