"""The conductors of a run under the codes that think as IEC 60364 does: the family's own cables, as
they lie."""

from __future__ import annotations

from collections.abc import Mapping
from math import sqrt
from typing import Any, ClassVar

from voltaje.core.codes import Cell, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import Few, entry
from voltaje.core.report import Rule, say
from voltaje.core.rules.common.runs import Carries, Ohms
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364 import protective_conductors as earth
from voltaje.core.rules.iec60364.entries import SIZES, InstallationEntries
from voltaje.core.rules.iec60364.rating_factors import rated_cable
from voltaje.core.rules.interface import Feed

MM2 = " mm²"


class Neighbours(InstallationEntries):
    """What else lies with a run, and the sizes that it may have."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"grouped": "grouped_circuits"}
    CONNECTION: ClassVar[str] = "line-neutral"
    SIZES: ClassVar[Mapping[str, str]] = {f"{size}{MM2}": f"{size}{MM2}" for size in SIZES}

    grouped_circuits: Few = entry(0, "Other circuits with it", group="run", help="grouped")


class IecStrand:
    """A family's cable as it lies: mV for each A and m, R at the temperature of its insulation,
    what the table's figure has beyond it as reactance, and what it carries."""

    def __init__(self, entries: Any, wires: int, three: bool, context: Context) -> None:
        self.entries, self.three, self.edition = entries, three, context.edition
        connection: Connection = "three-phase" if three else "line-neutral"
        self.rated = rated_cable(entries, Feed(connection, 0.0, wires, True), context.edition)
        self.column = context.edition.cells(self.rated.table, self.rated.column)
        self.sizes = tuple(Size(f"{size}{MM2}") for size in SIZES if size in self.column)
        cable, method = say(entries.CABLES[entries.cable]), say(entries.method.label)
        self.installed = say("{cable}; {method}", cable=cable, method=method)

    def beside(self, size: Size) -> tuple[Size, ...]:
        return self.sizes

    def name(self, size: Size) -> str:
        return size

    def _bare(self, size: Size) -> Size:
        return Size(size.removesuffix(MM2))

    def ohms(self, size: Size) -> Ohms | None:
        bare, edition = self._bare(size), self.edition
        table = self.mv(size)
        if bare not in self.column or table is None:
            return None
        cold = earth.ohms_per_km(bare, edition, self.entries.material)
        hot = edition.value(f"hot_factor_{self.entries.insulation}")
        r = cold.value * hot
        z = table[0] / (sqrt(3) if self.three else 2.0)  # mV for each A and m are Ω for each km
        return Ohms(r, sqrt(max(0.0, z * z - r * r)), cold.rule, cold.value, hot)

    def mv(self, size: Size) -> tuple[float, Rule, str] | None:
        hot = " 90" if self.entries.insulation == "90" else ""
        wires = "three-phase" if self.three else "two-wire"
        column = f"{wires}{hot}{earth.ENDS[self.entries.material]}"
        bare = self._bare(size)
        cell = self.edition.cell_or_none("volt_drop", bare, column)
        return (cell.value, cell.rule, "") if cell else None

    def k_volts(self, size: Size, amperes: float, metres: float) -> float:
        return 0.0

    def carries(self, size: Size, heaviest: float, sets: int) -> Carries:
        bare = self._bare(size)
        if bare not in self.column:
            return Carries(0.0, (self.edition.rule(self.rated.table),))
        tabulated = self.column[bare]
        rules = (tabulated.rule, *(cell.rule for f in self.rated.factors for cell in f.cells))
        return Carries(tabulated.value * self.rated.factor * sets, rules)

    def motor(self, horsepower: float, volts: float) -> Cell:
        raise NotCoveredError(self.edition.title, say("a motor’s amperes by its horsepower"))
