"""What problems begin with: a kind's worked examples, as its quick sheet has them."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice.problems import holding
from voltaje.web.kinds import presentation
from voltaje.web.kinds.presentation import Example
from voltaje.web.parts.quick_views import quick_settings, systems_of


@lru_cache(maxsize=512)
def bases_of(name: str, code: str) -> tuple[tuple[str, dict[str, Any]], ...]:
    """The kind's worked examples that hold under a code, each with its system."""
    found, known, own = [], systems_of(name, code), edition(code).family
    examples = presentation(name).examples
    of_family = [one for one in examples if _family(name, one) == own]
    for one in of_family or examples:
        usual = quick_settings(name, {**one.document, "code": code})["system"]
        found.append(([usual, *known] if usual else known, one.entries))
    return holding(kind(name), edition(code), found or [(known, {})])


def _family(name: str, example: Example) -> str:
    """The family of codes that an example is of."""
    return edition(quick_settings(name, example.document)["code"]).family
