"""How a load is connected: its voltage, its current, the conductors that it has. Common physics."""

from __future__ import annotations

from math import sqrt

from voltaje.core.electrical.systems import Connection, System
from voltaje.core.report import Text, figure, say


def no_voltage(system: System, connection: Connection) -> Text | None:
    """Why a supply has nothing for a load of that connection; ``None`` where it has."""
    if system.volts(connection):
        return None
    supply = say(system.label)
    if connection == "line-neutral":
        return say(
            "The supply, {supply}, has no neutral: choose another connection.", supply=supply
        )
    if connection == "two-line":
        return say(
            "The supply, {supply}, has only one line: choose another connection.", supply=supply
        )
    return say(
        "The supply, {supply}, is not three-phase: choose another connection.", supply=supply
    )


def load_current(va: float, voltage: float, connection: Connection) -> float:
    """Line current in A of a load in VA: VA ÷ V, or VA ÷ (√3 × V)."""
    return va / (sqrt(3) * voltage if connection == "three-phase" else voltage)


def current_divisor(voltage: float, connection: Connection) -> str:
    """The divisor as it is written: ``"240"`` or ``"(1.732 × 208)"``."""
    return f"(1.732 × {figure(voltage)})" if connection == "three-phase" else figure(voltage)


def line_count(connection: Connection) -> int:
    """How many ungrounded conductors a connection has."""
    return {"line-neutral": 1, "two-line": 2, "three-phase": 3}[connection]


def conductor_names(
    system: System, connection: Connection, neutral: bool, line: str = "auto"
) -> tuple[str, ...]:
    """The conductors that are pulled, the protective one left out: those of the ``line`` that a
    load stands on, or the first of the system."""
    names = system.lines if line == "auto" else tuple(line.split("-"))
    own = line_count(connection) if line == "auto" else len(names)
    return (*names[: max(own, 1)], *(("N",) if neutral else ()))
