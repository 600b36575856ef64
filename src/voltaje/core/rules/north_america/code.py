"""The families with AWG sizes: the National Electrical Code and the Canadian one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, ClassVar

from voltaje.core.codes import Cell, Edition, editions
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.panel_layout import Numbering
from voltaje.core.electrical.systems import SYSTEMS, Piece
from voltaje.core.entries import Document, Entries
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Worksheet, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import (
    CircuitLoadRequest,
    CircuitRequest,
    Code,
    Feed,
    SizingReport,
    Wiring,
    WiringMethod,
    WiringWay,
)
from voltaje.core.rules.north_america import circuits, feeder_demand, wired
from voltaje.core.rules.north_america.cec import FAMILY, CecAlong, CecStrand, CecWiring
from voltaje.core.rules.north_america.feeder_demand import Calculated
from voltaje.core.rules.north_america.motors import table_current
from voltaje.core.rules.north_america.runs import NecAlong, NecStrand
from voltaje.core.rules.north_america.wiring import RACEWAYS, circular_mils

MM2_PER_MIL = 5.06707e-4  # physics: mm² of a circular mil
HOT = 90  # no code figure: what conductors and cables are made for where nothing is told, °C


class Nec:
    """Ampacity tables and terminations, the next size up, horsepower tables."""

    # what is laid how, and the insulation in a raceway by what it is made for, °C
    CABLES: ClassVar[Mapping[str, WiringWay]] = {
        "NM-B": "cable",
        "SE": "cable",
        "MC": "armoured",
        "UF-B": "ground",
    }
    # no code figures: the columns of the ampacity table
    COVERS: ClassVar[Mapping[int, str]] = {90: "THHN", 75: "THWN", 60: "TW"}

    family = "nec"
    title = "National Electrical Code"
    design_label = say("With 125 % of continuous")
    wiring: type[Wiring] = wired.WiringEntries
    cable: type[Wiring] = wired.WiringEntries
    systems: tuple[str, ...] = tuple(
        name for name, system in SYSTEMS.items() if not system.metric or name == "3ph-400Y/230"
    )
    marking: tuple[str, ...] = ()
    numbering: Numbering = "odd-even"
    along: type[Entries] = NecAlong
    units: UnitSystem = "us"

    def strand(self, entries: Any, wires: int, three: bool, context: Context) -> NecStrand:
        return NecStrand(entries, wires, three, context)

    def wiring_method(self, document: Mapping[str, Any]) -> WiringMethod:
        edition = editions(self.family)[-1]
        method = str(document.get(self.wiring.METHOD) or "EMT")
        insulation = str(document.get(self.wiring.INSULATION) or "")
        known = edition.cell_or_none("insulations", insulation, "°C")
        if method in RACEWAYS:
            return WiringMethod("conduit", int(known.value) if known else HOT)
        return WiringMethod(self.CABLES.get(method, "cable"), HOT)

    def entries_of(self, method: WiringMethod) -> Document:
        found = {
            self.wiring.METHOD: next(
                (c for c, way in self.CABLES.items() if way == method.way), "EMT"
            )
        }
        if method.way == "conduit":
            found[self.wiring.INSULATION] = self.COVERS.get(method.degrees, self.COVERS[HOT])
        return found

    def sizes(self, edition: Edition) -> Sequence[Size]:
        return [Size(row) for row in edition.rows("ampacity")]

    def square_mm(self, size: Size, edition: Edition) -> float:
        mils = circular_mils(edition)
        return (mils.get(size) or float(size) * 1000) * MM2_PER_MIL

    def outlet(self, edition: Edition) -> Cell:
        return edition.limit("receptacle_load")

    def least_sign(self, edition: Edition) -> Cell | None:
        return edition.limit("sign_circuit")

    def motor_current(
        self, horsepower: float, volts: float, three: bool, edition: Edition
    ) -> Cell | None:
        return table_current(horsepower, volts, "squirrel cage", three, edition)

    def ask(self, wants: CircuitLoadRequest, edition: Edition) -> CircuitRequest:
        return circuits.ask(wants, edition)

    def report_design(
        self,
        wants: CircuitLoadRequest,
        asked: CircuitRequest,
        edition: Edition,
        worksheet: Worksheet,
    ) -> None:
        circuits.report_design(wants, asked, edition, worksheet)

    def size(self, need: Any, feed: Feed, entries: Any, context: Context) -> wired.Sizing:
        return wired.size(need, feed, entries, context)

    def report_sizing(self, sized: wired.Sizing, entries: Any, context: Context) -> SizingReport:
        return wired.report_sizing(sized, entries, context)

    def calculated_load(
        self, pieces: Sequence[Piece], edition: Edition, occupancies: Sequence[str] = ()
    ) -> Calculated:
        return feeder_demand.feeder_load(pieces, edition, occupancies)

    def report_demand(self, found: Any, pieces: Sequence[Piece], edition: Edition) -> Worksheet:
        return feeder_demand.report(found, pieces, edition)


class Cec(Nec):
    """Canada: the same thinking by tables and limits of its own. A continuous load is 80 % of its
    device, or 100 % where the equipment is marked so."""

    CABLES: ClassVar[Mapping[str, WiringWay]] = {
        "NMD90": "cable",
        "TECK90": "armoured",
        "AC90": "armoured",
        "NMWU": "ground",
    }
    # no code figures: the columns of the ampacity table
    COVERS: ClassVar[Mapping[int, str]] = {90: "RW90", 75: "RW75", 60: "TW"}

    family = FAMILY
    title = "Canadian Electrical Code"
    wiring: type[Wiring] = CecWiring
    cable: type[Wiring] = CecWiring
    systems: tuple[str, ...] = (
        "1ph-120/240",
        "1ph-120",
        "1ph-120/208",
        "3ph-208Y/120",
        "3ph-600Y/347",
        "3ph-480Y/277",
        "3ph-240",
        "3ph-240/120",
    )
    marking: tuple[str, ...] = ("red", "black", "blue", "white")
    along: type[Entries] = CecAlong
    units: UnitSystem = "metric"

    def strand(self, entries: Any, wires: int, three: bool, context: Context) -> NecStrand:
        return CecStrand(entries, wires, three, context)

    def least_sign(self, edition: Edition) -> Cell | None:
        return None


CODES: Mapping[str, Code] = {code.family: code for code in (Nec(), Cec())}
