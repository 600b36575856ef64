"""The families that think as IEC 60364 does."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.panel_layout import Numbering
from voltaje.core.electrical.systems import METRIC_SYSTEMS, Piece
from voltaje.core.entries import Document, Entries
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Worksheet, figure, say
from voltaje.core.rules.common.noncoincident_loads import NoncoincidentGroup, noncoincident
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364 import report as reporting
from voltaje.core.rules.iec60364 import sizing
from voltaje.core.rules.iec60364.asnzs3000 import AsAlong, AsCable
from voltaje.core.rules.iec60364.bs7671 import BsAlong, BsCable, BsFinal
from voltaje.core.rules.iec60364.dwellings import GUIDE_USES, OWN_USES, TABLE_USES
from voltaje.core.rules.iec60364.entries import SIZES, CableEntries
from voltaje.core.rules.iec60364.runs import IecStrand
from voltaje.core.rules.iec60364.sans10142 import SansAlong, SansCable
from voltaje.core.rules.interface import (
    CircuitLoadRequest,
    CircuitRequest,
    Code,
    Feed,
    SizingReport,
    Wiring,
    WiringMethod,
)


@dataclass(frozen=True, slots=True)
class Summed:
    """Loads added up as they are, VA, but those that never run together: these codes give no
    diversity of their own."""

    connected: float
    load: float
    shares: tuple[float, ...]
    apart: tuple[NoncoincidentGroup, ...] = ()

    # no quarter for what is continuous, none for a motor
    quarter: ClassVar[float] = 0.0
    largest_index: ClassVar[int] = -1
    largest_motor: ClassVar[float] = 0.0

    @property
    def design(self) -> float:
        return self.load


class Iec:
    """Ib ≤ In ≤ Iz, methods of laying, mV for each ampere and metre, the earth-fault loop. What the
    families differ in is their tables, limits and vocabulary: ``wiring`` of a final circuit,
    ``cable`` of one for distribution."""

    design_label = say("Design current Ib")
    systems: tuple[str, ...] = METRIC_SYSTEMS
    units: UnitSystem = "metric"
    numbering: Numbering = "ways"

    def __init__(
        self,
        family: str,
        title: str,
        along: type[Entries],
        cable: type[CableEntries],
        wiring: type[CableEntries] | None = None,
        marking: tuple[str, ...] = (),
        uses: Mapping[str, str] = OWN_USES,
    ) -> None:
        self.family, self.title, self.along = family, title, along
        self.cable: type[Wiring] = cable
        self.laying = cable
        self.wiring: type[Wiring] = wiring or cable
        self.marking = marking
        self.dwelling_uses = uses  # what a dwelling's loads are for, with the words for it

    def strand(self, entries: Any, wires: int, three: bool, context: Context) -> IecStrand:
        return IecStrand(entries, wires, three, context)

    def wiring_method(self, document: Mapping[str, Any]) -> WiringMethod:
        laying = self.laying
        name = str(document.get(laying.METHOD) or laying.model_fields[laying.METHOD].default)
        cable = str(document.get("cable") or laying.model_fields["cable"].default)
        method = laying.METHODS.get(name)
        degrees = 90 if cable.endswith("90") else int(laying.COOL)  # no code figure
        if method is not None and method.ground:
            return WiringMethod("ground", degrees)
        if cable.startswith("armoured"):
            return WiringMethod("armoured", degrees)
        return WiringMethod(
            "conduit" if method is None or method.grouping == "B" else "cable", degrees
        )

    def entries_of(self, method: WiringMethod) -> Document:
        laying = self.laying
        wanted = {"conduit": "B", "cable": "C", "armoured": "C", "ground": "D"}[method.way]
        methods = laying.METHODS.items()
        found = (n for n, m in methods if m.grouping == wanted and not m.insulated)
        usual = {"conduit": "single", "cable": "multi"}.get(method.way, "armoured")
        # no code figures: what is made for more than the cooler of a family's two is the hotter one
        hot = f"{usual} 90" if method.degrees >= 90 else usual
        cable = hot if hot in laying.CABLES else usual
        return {laying.METHOD: next(found), "cable": cable}

    def sizes(self, edition: Edition) -> Sequence[Size]:
        return [Size(size) for size in SIZES]

    def square_mm(self, size: Size, edition: Edition) -> float:
        return float(size)

    def outlet(self, edition: Edition) -> Cell:
        raise NotCoveredError(edition.title, say("a load for each outlet"))

    def least_sign(self, edition: Edition) -> Cell | None:
        return None

    def motor_current(
        self, horsepower: float, volts: float, three: bool, edition: Edition
    ) -> Cell | None:
        return None

    def ask(self, wants: CircuitLoadRequest, edition: Edition) -> CircuitRequest:
        return sizing.ask(wants, edition)

    def report_design(
        self,
        wants: CircuitLoadRequest,
        asked: CircuitRequest,
        edition: Edition,
        worksheet: Worksheet,
    ) -> None:
        """The design current is the load's, or what usual guidance leaves of a cooker."""
        if not wants.diversity:
            return
        first, share = edition.limit("cooker_first"), edition.limit("cooker_share")
        own = min(wants.amperes, first.value)
        shown = f"{figure(own)} + {figure(share.value / 100, 4)} × {figure(wants.amperes - own)}"
        rules = [first.rule, share.rule]
        if wants.diversity.endswith("socket"):
            socket = edition.limit("cooker_socket")
            shown += f" + {figure(socket.value)}"
            rules.append(socket.rule)
        worksheet.sum(
            "diversity",
            say("After usual diversity"),
            asked.design,
            "A",
            shown,
            tuple(rules),
            note=say("usual guidance for a dwelling; the code itself gives none"),
            entries="diversity",
        )

    def size(self, need: Any, feed: Feed, entries: Any, context: Context) -> sizing.CableSizing:
        return sizing.size(need, feed, entries, context)

    def report_sizing(
        self, sized: sizing.CableSizing, entries: Any, context: Context
    ) -> SizingReport:
        return reporting.report_sizing(sized, entries, context)

    def calculated_load(
        self, pieces: Sequence[Piece], edition: Edition, occupancies: Sequence[str] = ()
    ) -> Summed:
        shares = [max(piece.calculated, 0.0) for piece in pieces]
        apart = noncoincident(pieces, shares)
        connected = sum(piece.connected for piece in pieces)
        return Summed(connected, sum(shares), tuple(shares), tuple(apart))

    def report_demand(self, found: Any, pieces: Sequence[Piece], edition: Edition) -> Worksheet:
        worksheet = Worksheet()
        for one in found.apart:
            words = say(
                "“{name}” never together: {kept} counts", name=one.name, kept=pieces[one.kept].name
            )
            worksheet.note("noncoincident", words, -one.off, "VA", flow="noncoincident")
        shown = " + ".join(figure(share) for share in found.shares if share)
        note = say("no diversity: none is given by the code itself")
        worksheet.sum("calculated_load", say("All load whole"), found.load, "VA", shown, note=note)
        return worksheet


CODES: Mapping[str, Code] = {
    code.family: code
    for code in (
        Iec("bs7671", "BS 7671", BsAlong, BsCable, BsFinal, uses=GUIDE_USES),
        Iec(
            "sans10142",
            "SANS 10142-1",
            SansAlong,
            SansCable,
            marking=("red", "yellow", "blue", "black"),
        ),
        Iec(
            "asnzs3000",
            "AS/NZS 3000",
            AsAlong,
            AsCable,
            marking=("red", "white", "blue", "black"),
            uses=TABLE_USES,
        ),
    )
}
