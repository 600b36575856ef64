"""What entries can say, asked for by capability and never by the name of a kind.

A capability is a protocol of entries; a model that has them all has it. :func:`can` asks, and the
type checker knows the entries where it says yes.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Protocol, TypeGuard, TypeVar, get_type_hints


class HasLength(Protocol):
    """Conductors of its own with a length, m."""

    length: float | None


class SizedForDrop(Protocol):
    """Its conductors may be sized for their voltage drop: by the job, alone, within the total."""

    drop_sizing: str


class LimitsDrop(Protocol):
    """It has a voltage drop of its own that it may have, percent."""

    maximum_drop: float


class OnLine(Protocol):
    """It is put on a line ("L1", "L1-L2", "auto")."""

    line: str


class Connected(Protocol):
    """Its load is connected between line and neutral, two lines, or three."""

    connection: str


class FullyRated(Protocol):
    """It is marked for how much of its rating it carries continuously, percent."""

    continuous_rating: str


class Diversified(Protocol):
    """A usual diversity of its family can be asked for, by name."""

    diversity: str


class Starting(Protocol):
    """A motor whose starting is told."""

    starting: str


class Fused(Protocol):
    """A fuse at its head, A."""

    fuse: float | None


class BusRated(Protocol):
    """A bus of its own, A."""

    rating: float | None


class MainDevice(Protocol):
    """A main device of its own, A."""

    main: float | None


class InterruptsFaults(Protocol):
    """The fault current that its devices interrupt, A."""

    interrupting: float | None


class InCases(Protocol):
    """The share of it that runs in each operating case: rows of a name and a percent."""

    cases: Sequence[Any]


class OfMetal(Protocol):
    """The metal of its conductors."""

    material: str


class Harmonics(Protocol):
    """The third harmonic of its current, percent."""

    third_harmonic: float


class ProtectedBy(Protocol):
    """The type of its protective device."""

    device_type: str


class InInsulation(Protocol):
    """A cable of which so many mm are surrounded by thermal insulation."""

    thermal_insulation: float


class SeveralDwellings(Protocol):
    """A block of so many dwellings."""

    living_units: int


class Shared(Protocol):
    """A load of which so many percent count."""

    share: float


T = TypeVar("T")


def can(entries: object, capability: type[T]) -> TypeGuard[T]:
    """Whether the entries have all that a capability names."""
    model = type(entries)
    key = (model, capability)
    if key not in _known:
        _known[key] = _has(model, capability)
    return _known[key]


_known: dict[tuple[type, type], bool] = {}


def _has(model: type, capability: type) -> bool:
    fields = getattr(model, "model_fields", {})
    return all(name in fields or hasattr(model, name) for name in get_type_hints(capability))
