"""Figures of transformers that practice gives in two ways: at nominal voltage, and at the voltage
that is really delivered or on the tap that is set."""

from __future__ import annotations

from voltaje.core.report import MethodAlternative, Text, say
from voltaje.core.rules.settings import Basis

LABELS: dict[Basis, Text] = {
    "nominal": say("{what} at nominal voltage"),
    "actual": say("{what} at the voltage delivered"),
}


def both_bases(
    what: Text, nominal: float, actual: float, unit: str, chosen: Basis
) -> tuple[MethodAlternative, ...]:
    """The two figures side by side, ``chosen`` the one of the job; none where they are the same."""
    if abs(nominal - actual) <= 1e-9 * abs(nominal):
        return ()
    values: dict[Basis, float] = {"nominal": nominal, "actual": actual}
    return tuple(
        MethodAlternative(
            f"method_{basis}",
            Text(LABELS[basis].template, {"what": what}),
            value,
            unit,
            basis == chosen,
            True,
            say("as the job’s settings have it") if basis == chosen else say("beside it"),
        )
        for basis, value in values.items()
    )
