"""A job's habits: which pair is taken and at what prices, how far its volts may fall."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from voltaje.core.codes import Cell, Edition, practice
from voltaje.core.codes.vocabulary import Size
from voltaje.core.sizing import Preference

PREFERENCES: dict[str, str] = {
    "smallest": "smallest device that carries the load",
    "maximum": "largest device allowed on the cheapest conductor",
    "ampacity": "device not above the conductor’s ampacity",
}
DropMethod = Literal["impedance", "resistance", "temperature"]
# how the drop of a run is calculated: practitioners differ, a job has one of them in its headlines
DROP_METHODS: dict[str, str] = {
    "impedance": "by the code’s table: impedance at 75 °C, or mV/A/m",
    "resistance": "by resistance alone (NEC, CEC)",
    "temperature": "for the conductor’s own temperature at its load",
}
Basis = Literal["nominal", "actual"]
# at which volts the kVA and the full-load current of a transformer are headlined
BASES: dict[str, str] = {
    "nominal": "at nominal voltage",
    "actual": "at the voltage delivered, on the tap that is set",
}
Scheme = Literal["code", "supply", "tolerance", "own"]
Sizing = Literal["told", "part", "total"]
JOB_SIZING: dict[str, str] = {
    "told": "no: the drop is only told",
    "part": "yes, within each part’s own limit",
    "total": "yes, within what the total leaves each part",
}
SCHEMES: dict[str, str] = {
    "code": "what the code says (NEC notes: 3 % of a branch, 5 % in all)",
    "supply": "5 % from the supply point (AS/NZS 3000, 3.6.2)",
    "tolerance": "the supply’s tolerance at the equipment, as the code’s country has it",
    "own": "figures of our own",
}


@dataclass(frozen=True, slots=True)
class Limits:
    """How far the volts may fall in a job, in percent of nominal, and by whose word; whether
    conductors are sized for it: only told, within each part's limit, or within the total; by which
    ``method`` the drop of a run is calculated where its item does not say."""

    scheme: Scheme = "code"
    own_branch: float = 3.0  # no code figure: what the setting starts from
    own_total: float = 5.0  # no code figure: what the setting starts from
    sizing: Sizing = "told"
    method: DropMethod = "impedance"

    def branch(self, edition: Edition) -> Cell:
        """The limit of one run."""
        return self._limit("drop_branch", self.own_branch, edition)

    def total(self, edition: Edition) -> Cell:
        """The limit from the supply to the load; also that of a feeder with what is behind it."""
        return self._limit("drop_total", self.own_total, edition)

    def of(self, topic: str, edition: Edition) -> Cell:
        """The limit of that topic: ``drop_branch`` or ``drop_total``."""
        return self.branch(edition) if topic == "drop_branch" else self.total(edition)

    def binds(self, edition: Edition) -> bool:
        """Whether the drop is a rule of the code and no advice."""
        return self.scheme == "code" and edition.says("drop_binds")

    def rise(self, edition: Edition) -> Cell:
        """How far the volts may stand above nominal: as the code's country has it."""
        return _tolerance("tolerance_high", edition)

    def supply_band(self, edition: Edition) -> tuple[float, float]:
        """Percent of the nominal volts, lowest and highest, between which the supply may stand."""
        low = _tolerance("tolerance_low", edition).value
        return 100 - low, 100 + self.rise(edition).value

    def band(self, edition: Edition) -> tuple[float, float]:
        """Percent of the nominal volts, lowest and highest, that equipment may stand on: the job's
        limit from the supply or the supply's own tolerance, whichever is the narrower."""
        lowest, highest = self.supply_band(edition)
        return max(100 - self.total(edition).value, lowest), highest

    def _limit(self, topic: str, own: float, edition: Edition) -> Cell:
        if self.scheme == "supply":
            return practice().limit("drop_supply")
        if self.scheme == "tolerance":
            return _tolerance("tolerance_low", edition)
        found = edition.limit(topic)
        return Cell(own, found.rule) if self.scheme == "own" else found


def _tolerance(topic: str, edition: Edition) -> Cell:
    """The supply's tolerance by the edition's country, or as it is usual at 230/400 V."""
    return (edition if edition.has_limit(topic) else practice()).limit(topic)


@dataclass(frozen=True, slots=True)
class Shop:
    """The job's habits: which pair is taken, prices in money for each metre of conductor, at which
    volts a transformer's kVA and full-load current are headlined; the devices in ``stock``, A
    (empty: any), and the ``reserve`` that device and conductors keep, a share: with 0.05 the next
    size is taken where the load is within 5 % of one."""

    preference: Preference = "smallest"
    prices: tuple[tuple[str, float], ...] = ()
    basis: Basis = "nominal"
    stock: tuple[float, ...] = ()
    reserve: float = 0.0

    @property
    def plain(self) -> Shop:
        """The same without stock and reserve."""
        return replace(self, stock=(), reserve=0.0)

    @property
    def is_plain(self) -> bool:
        return not self.stock and not self.reserve

    def price(self, material: str, size: Size) -> float | None:
        """Price of a metre of one conductor, where the user has entered it."""
        return dict(self.prices).get(f"{material} {size}")
