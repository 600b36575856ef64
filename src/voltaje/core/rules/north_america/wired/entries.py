"""How conductors are run, and what the user fixes by hand: the same on every sheet that has any."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.codes import editions
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.entries import (
    Current,
    Few,
    Length,
    Reads,
    Temperature,
    Units,
    Usual,
    entry,
)
from voltaje.core.rules.interface import Wiring
from voltaje.core.rules.north_america.alternatives import Pin
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.wired.drop import METHODS as DROP_METHODS
from voltaje.core.rules.north_america.wired.drop import SIZING
from voltaje.core.rules.north_america.wiring import RACEWAYS, Installation

SizeChoice = Literal[
    "auto", "14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0", "250",
    "300", "350", "400", "500", "600", "700", "750", "800", "900", "1000",
]  # fmt: skip
SIZE_LABELS = {"auto": "as calculated"} | {
    name: label(name)
    for name in SizeChoice.__args__[1:]  # type: ignore[attr-defined]
}
METHOD_LABELS: Mapping[str, str] = {
    "EMT": "EMT",
    "PVC 40": "PVC schedule 40",
    "PVC 80": "PVC schedule 80",
    "RMC": "rigid metal conduit",
    "NM-B": "NM-B cable",
    "UF-B": "UF-B cable",
    "SE": "SE cable",
    "MC": "MC cable",
}
Interrupting = Annotated[float, Reads(quantities.CURRENT, 1000.0, 300_000.0)]
WIRING_GROUPS = {"run": "How it is run", "hand": "By hand"}


Method = Literal["EMT", "PVC 40", "PVC 80", "RMC", "NM-B", "UF-B", "SE", "MC"]
Insulation = Literal["THHN", "THWN-2", "THWN", "XHHW-2", "XHHW", "THW-2", "THW", "TW"]


def method_entry(usual: Method) -> Any:
    """The wiring method, one and the same on every sheet but for what is usual there."""
    return entry(usual, "Wiring method", choices=METHOD_LABELS, group="run")


def insulation_entry(usual: Insulation) -> Any:
    """The insulation of conductors in a raceway."""
    degrees = editions("nec")[-1].cells("insulations", "°C")
    labels = {name: f"{name}, {cell.value:g} °C" for name, cell in degrees.items()}
    return entry(usual, "Insulation", group="run", when=("wiring_method", RACEWAYS), choices=labels)


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


Terminals = Literal["rule", "75"]
DropSizing = Literal["job", "told", "part", "total"]
DropBy = Literal["job", "impedance", "resistance", "temperature"]
Raceways = Literal["each", "one"]


def terminals_entry() -> Any:
    """The temperature that the terminations are made for."""
    labels = {"rule": "by the rule: 60 °C to 100 A", "75": "all listed for 75 °C"}
    return entry("rule", "Terminals", group="run", choices=labels, at_rest="terminals by the rule")


def ambient_entry() -> Any:
    """The air around the conductors."""
    return entry(30.0, "Ambient", group="run", help="°C, or write 104 °F", at_rest="30 °C")


def others_entry() -> Any:
    """Neighbours that warm them."""
    words = "in the same raceway or cable"
    return entry(
        0,
        "Other current-carrying conductors",
        help=words,
        group="run",
        at_rest="no other conductors",
    )


def length_entry() -> Any:
    """How long the run is."""
    usual = Usual(0.3048, 1_524.0, "a run inside or between buildings")
    return entry(
        None, "Length, one way", group="run", help="for the drop", usual=usual, seldom=False
    )


def drop_sizing_entry() -> Any:
    """Whether the conductors are taken larger for the drop."""
    return entry("job", "Sized for the drop", choices=SIZING, group="run", at_rest="")


def drop_method_entry() -> Any:
    """How the drop is calculated."""
    return entry("job", "Voltage drop calculated", choices=DROP_METHODS, group="run", at_rest="")


def device_entry() -> Any:
    """A device fixed by hand."""
    return entry(None, "Device", help="empty: as calculated", group="hand", example="30 A")


def size_entry() -> Any:
    """A conductor fixed by hand."""
    return entry("auto", "Conductor", choices=SIZE_LABELS, group="hand", at_rest="")


def sets_entry() -> Any:
    """Sets in parallel fixed by hand."""
    return entry(None, "Sets in parallel", help="empty: one", group="hand")


def raceways_entry(method: str) -> Any:
    """How sets in parallel lie; ``method`` is the entry that says whether they are in raceways."""
    labels = {"each": "each in its raceway", "one": "all in one raceway"}
    when = (method, RACEWAYS)
    return entry("each", "Sets in parallel lie", group="run", when=when, choices=labels, at_rest="")


class InstalledEntries(Wiring):
    """What every family with AWG sizes makes of how its conductors are run."""

    EARTH: ClassVar[str] = "equipment grounding conductor"
    USES: ClassVar[tuple[str, ...]] = USES
    METHODS: ClassVar[Mapping[str, str]] = METHOD_LABELS
    METHOD: ClassVar[str] = "wiring_method"
    INSULATION: ClassVar[str] = "insulation"
    CONDUCTOR: ClassVar[str] = "size"  # the entry that fixes it by hand

    if TYPE_CHECKING:  # each family's own fields, in the order of its form
        material: Metal
        wiring_method: Any
        insulation: Any
        compact: bool
        terminals: str
        ambient: float
        others: int
        device: float | None
        size: Any
        sets: int | None
        raceways: str

    def installation(self, counted: int) -> Installation:
        """Where the conductors lie, with that many current-carrying ones of their own."""
        return Installation(
            self.wiring_method,
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
        return self.wiring_method in RACEWAYS

    @property
    def method_label(self) -> str:
        """The wiring method in words."""
        return self.METHODS[self.wiring_method]


class WiringEntries(InstalledEntries):
    """How the conductors are run, and what the user fixes by hand."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"method": "wiring_method"}
    material: Metal = metal_entry("Conductors")
    wiring_method: Method = method_entry("EMT")
    insulation: Insulation = insulation_entry("THHN")
    compact: bool = entry(False, "Compact stranding", group="run", when=("material", ("aluminum",)))
    terminals: Terminals = terminals_entry()
    ambient: Temperature = ambient_entry()
    others: Few = others_entry()
    length: Length | None = length_entry()
    drop_sizing: DropSizing = drop_sizing_entry()
    drop_method: DropBy = drop_method_entry()
    device: Current | None = device_entry()
    size: SizeChoice = size_entry()
    sets: Units | None = sets_entry()
    raceways: Raceways = raceways_entry("wiring_method")
