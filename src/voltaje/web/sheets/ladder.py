"""The ladder of alternatives as the page lists it."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import Rung, Worked, figure

POUNDS_PER_KG, METRES_PER_FOOT = 2.204623, 0.3048


@dataclass(frozen=True, slots=True)
class Step:
    """A rung with its metal and price as written."""

    rung: Rung
    metal: str
    price: str

    @property
    def status(self) -> str:
        return "holds" if self.rung.passes else "fails"


@dataclass(frozen=True, slots=True)
class Shown:
    """The rungs of the job's own material, those of the other, and the units of their columns."""

    own: tuple[Step, ...]
    other: tuple[Step, ...]
    unit: str
    priced: bool


def lay_out(worked: Worked, units: UnitSystem) -> Shown:
    """Cheapest first, as the core orders them."""
    chosen = next((rung for rung in worked.ladder if rung.chosen), worked.ladder[0])
    steps = [
        Step(rung, _metal(rung, units), _price(rung, units)) for rung in worked.ladder
    ]  # fmt: skip
    return Shown(
        tuple(s for s in steps if s.rung.material == chosen.material),
        tuple(s for s in steps if s.rung.material != chosen.material),
        "kg/100 m" if units == "metric" else "lb/100 ft",
        any(rung.price is not None for rung in worked.ladder),
    )


def _metal(rung: Rung, units: UnitSystem) -> str:
    each = rung.mass if units == "metric" else rung.mass * POUNDS_PER_KG * METRES_PER_FOOT
    return figure(each * 100, 1)


def _price(rung: Rung, units: UnitSystem) -> str:
    if rung.price is None:
        return ""
    each = rung.price if units == "metric" else rung.price * METRES_PER_FOOT
    return f"{each:,.2f}"
