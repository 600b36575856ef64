"""How conductors are run, and what the user fixes by hand: the same on every sheet that has any."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from voltaje.core import units
from voltaje.core.codes import editions
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.entries import (
    Current,
    Entries,
    Few,
    Length,
    Reads,
    Temperature,
    Units,
    Usual,
    entry,
)
from voltaje.core.rules.nec.conductors import label
from voltaje.core.rules.nec.ladder import Pin
from voltaje.core.rules.nec.wired.drop import SIZING
from voltaje.core.rules.nec.wiring import RACEWAYS, Installation

SizeChoice = Literal[
    "auto", "14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0", "250",
    "300", "350", "400", "500", "600", "700", "750", "800", "900", "1000",
]  # fmt: skip
SIZE_LABELS = {"auto": "as calculated"} | {
    name: label(name)
    for name in SizeChoice.__args__[1:]  # type: ignore[attr-defined]
}
METHOD_LABELS = {
    "EMT": "EMT",
    "PVC 40": "PVC schedule 40",
    "PVC 80": "PVC schedule 80",
    "RMC": "rigid metal conduit",
    "NM-B": "NM-B cable",
    "UF-B": "UF-B cable",
    "SE": "SE cable",
    "MC": "MC cable",
}
Interrupting = Annotated[float, Reads(units.CURRENT, 1000.0, 300_000.0)]
WIRING_GROUPS = {"run": "How it is run", "hand": "By hand"}


Method = Literal["EMT", "PVC 40", "PVC 80", "RMC", "NM-B", "UF-B", "SE", "MC"]
Insulation = Literal["THHN", "THWN-2", "THWN", "XHHW-2", "XHHW", "THW-2", "THW", "TW"]


def method_entry(usual: Method) -> Any:
    """The wiring method, one and the same on every sheet but for what is usual there."""
    return entry(usual, "Wiring method", choices=METHOD_LABELS, group="run")


def insulation_entry(usual: Insulation) -> Any:
    """The insulation of conductors in a raceway."""
    table = editions("nec")[-1].table("insulations")
    labels = {name: f"{name}, {cells['°C']} °C" for name, cells in table.rows.items()}
    return entry(usual, "Insulation", group="run", when=("method", RACEWAYS), choices=labels)


def metal_entry(title: str) -> Any:
    """Copper or aluminum."""
    return entry("copper", title, choices={"copper": "copper", "aluminum": "aluminum"}, group="run")


# what a branch circuit may be for under this family
USES = (
    "general",
    "lighting",
    "receptacles",
    "water heater",
    "space heating",
    "air conditioning",
    "vehicle charging",
    "kiln",
    "kitchen",
    "sign",
)


class WiringEntries(Entries):
    """How the conductors are run, and what the user fixes by hand."""

    USES: ClassVar[tuple[str, ...]] = USES

    material: Metal = metal_entry("Conductors")
    method: Method = method_entry("EMT")
    insulation: Insulation = insulation_entry("THHN")
    compact: bool = entry(False, "Compact stranding", group="run", when=("material", ("aluminum",)))
    terminals: Literal["rule", "75"] = entry(
        "rule",
        "Terminals",
        group="run",
        choices={"rule": "by the rule: 60 °C to 100 A", "75": "all listed for 75 °C"},
    )
    ambient: Temperature = entry(30.0, "Ambient", group="run", help="°C, or write 104 °F")
    others: Few = entry(
        0, "Other current-carrying conductors", help="in the same raceway or cable", group="run"
    )
    length: Length | None = entry(
        None,
        "Length, one way",
        group="run",
        help="for the drop",
        usual=Usual(1.0, 5000.0, "a run inside or between buildings"),
    )
    drop_sizing: Literal["job", "told", "part", "total"] = entry(
        "job", "Sized for the drop", choices=SIZING, group="run"
    )
    device: Current | None = entry(
        None, "Device", help="empty: as calculated", group="hand", example="30 A"
    )
    size: SizeChoice = entry("auto", "Conductor", choices=SIZE_LABELS, group="hand")
    sets: Units | None = entry(None, "Sets in parallel", help="empty: one", group="hand")
    raceways: Literal["each", "one"] = entry(
        "each",
        "Sets in parallel lie",
        group="run",
        when=("method", RACEWAYS),
        choices={"each": "each in its raceway", "one": "all in one raceway"},
    )

    def installation(self, counted: int) -> Installation:
        """Where the conductors lie, with that many current-carrying ones of their own."""
        return Installation(
            self.method,
            self.insulation,
            self.ambient,
            counted + self.others,
            self.terminals == "75",
            self.compact and self.material == "aluminum",
            counted if self.raceways == "one" and self.is_raceway else 0,
        )

    def pin(self) -> Pin:
        """What is fixed by hand."""
        size = None if self.size == "auto" else Size(self.size)
        return Pin(self.device, size, self.sets)

    @property
    def is_raceway(self) -> bool:
        return self.method in RACEWAYS
