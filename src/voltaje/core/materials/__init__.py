"""Materials of a job: what its sheets chose, added up for an order, with slack and waste."""

from voltaje.core.materials.takeoff import (
    GROUPS,
    Allowances,
    LeftOut,
    MaterialLine,
    Takeoff,
    by_size,
    take_off,
)

__all__ = ["GROUPS", "Allowances", "LeftOut", "MaterialLine", "Takeoff", "by_size", "take_off"]
