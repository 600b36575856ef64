"""What a part is worked under."""

from __future__ import annotations

from dataclasses import dataclass, field

from voltaje.core.codes import Edition, edition
from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint, System
from voltaje.core.quantities import UnitSystem
from voltaje.core.rules.interface import Code, code_of
from voltaje.core.rules.settings import Limits, Shop


def supplied(system: System, edition: Edition) -> SupplyPoint:
    """A plain supply of that system under a code, in the code's own colors."""
    hertz = 50.0 if system.metric else 60.0  # common practice
    return SupplyPoint(system, hertz=hertz, marking=code_of(edition.family).marking)


@dataclass(frozen=True, slots=True)
class Context:
    """What a part is worked under: edition, units shown, its supply point, demand from below.
    ``in_job`` says that what stands above it is known: a sheet by itself has but a usual supply."""

    edition: Edition = field(default_factory=lambda: edition("nec-2020"))
    units: UnitSystem = "us"
    supply: SupplyPoint = field(default_factory=lambda: SupplyPoint(SYSTEMS["1ph-120/240"]))
    below: Demand = field(default_factory=Demand)
    shop: Shop = field(default_factory=Shop)
    limits: Limits = field(default_factory=Limits)
    in_job: bool = False

    @property
    def code(self) -> Code:
        """The family that the edition belongs to."""
        return code_of(self.edition.family)

    def at(self, supply: SupplyPoint, below: Demand) -> Context:
        """The same at another point of the job, with another demand from below."""
        return Context(self.edition, self.units, supply, below, self.shop, self.limits, self.in_job)
