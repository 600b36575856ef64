"""The conductors of a run under the NEC, and metric ones that it does not rate: their ohms, their
mV for each ampere and metre, what they carry."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from math import sqrt
from typing import TYPE_CHECKING, Any, ClassVar, Literal, get_args

from voltaje.core.codes import Cell, Edition, practice
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.entries import Entries, Temperature, entry
from voltaje.core.quantities import METRES_PER_FOOT as METRES
from voltaje.core.report import Rule, figure, say
from voltaje.core.rules.common.runs import Carries, Ohms
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.drop import impedance
from voltaje.core.rules.north_america.motors import table_current
from voltaje.core.rules.north_america.wired.entries import (
    Insulation,
    Method,
    insulation_entry,
    metal_entry,
    method_entry,
)
from voltaje.core.rules.north_america.wiring import (
    Installation,
    circular_mils,
    options,
    terminal_column,
)

# no code figures: the temperatures, °C, that the ohms of a table are given at
AT_NEC, AT_IEC, AT_CABLE_TABLE = 75.0, 20.0, 70.0
METRIC = practice().rows("metric_cables")
MM2 = tuple(f"{size} mm²" for size in METRIC)
RunSize = Literal[
    "auto",
    "14",
    "12",
    "10",
    "8",
    "6",
    "4",
    "3",
    "2",
    "1",
    "1/0",
    "2/0",
    "3/0",
    "4/0",
    "250",
    "300",
    "350",
    "400",
    "500",
    "600",
    "750",
    "1000",
    "1.5 mm²",
    "2.5 mm²",
    "4 mm²",
    "6 mm²",
    "10 mm²",
    "16 mm²",
    "25 mm²",
    "35 mm²",
    "50 mm²",
    "70 mm²",
    "95 mm²",
    "120 mm²",
    "150 mm²",
    "185 mm²",
    "240 mm²",
    "300 mm²",
]
AWG = tuple(s for s in get_args(RunSize) if s != "auto" and s not in MM2)
SIZE_NAMES = {size: label(size) for size in AWG} | {size: size for size in MM2}


def is_metric(size: Size) -> bool:
    """Whether a size is given in mm²: ``"2.5 mm²"``."""
    return size.endswith("mm²")


def bare(size: Size) -> str:
    """A metric size as its table names it."""
    return size.removesuffix("mm²").strip()


@lru_cache(maxsize=1024)
def conductor_ohms(
    size: Size, material: str, method: str, celsius: float, edition: Edition
) -> Ohms | None:
    """R at ``celsius`` and X of a size, AWG, kcmil or mm². ``None`` where the size is not made of
    that metal."""
    if is_metric(size):
        book = practice()
        topic, row = "metric_cables", bare(size)
        cold = book.cell_or_none(topic, row, f"{material} R20")
        if cold is None:
            return None
        hotter = 1 + book.value(f"alpha_{material}") * (celsius - AT_IEC)
        x = book.cell(topic, row, "X").value
        return Ohms(cold.value * hotter, x, cold.rule, cold.value, hotter)
    made = edition.cells("impedance", f"{material} R PVC")
    if size in edition.rows("impedance") and size not in made:
        return None
    r, x, rule = impedance(size, material, method, edition)
    per_km = 1 / METRES
    hotter = edition.value(f"alpha_{material}") * (celsius - AT_NEC)
    return Ohms(r * (1 + hotter) * per_km, x * per_km, rule, r, 1 + hotter)


@lru_cache(maxsize=1024)
def table_mv(
    size: Size, material: str, three_phase: bool, edition: Edition
) -> tuple[float, Rule, str] | None:
    """mV for each ampere and metre and how it comes of its cell: the cable table's for mm² of
    copper; for other metric cables 2 × R or √3 × R at 70 °C, for AWG and kcmil of the
    direct-current ohms of Table 8 at 75 °C."""
    factor = sqrt(3) if three_phase else 2.0
    if is_metric(size):
        book, row = practice(), bare(size)
        if material == "copper":
            column = "mV three-phase" if three_phase else "mV two-wire"
            mv = book.cell("metric_cables", row, column)
            return mv.value, mv.rule, ""
        cold = book.cell_or_none("metric_cables", row, f"{material} R20")
        if cold is None:
            return None
        hotter = book.value(f"alpha_{material}") * (AT_CABLE_TABLE - AT_IEC)
        printed = book.word("metric_cables", row, f"{material} R20")
        shown = f"{figure(factor, 3)} × {printed} Ω × {figure(1 + hotter, 3)}"
        return factor * cold.value * (1 + hotter), cold.rule, shown
    topic = "conductor_properties"
    ohms = edition.cell_or_none(topic, size, f"{material} stranded")
    ohms = ohms or edition.cell_or_none(topic, size, material)
    if ohms is None:
        return None
    printed = edition.word(topic, size, ohms.rule.column)
    shown = f"{figure(factor, 3)} × {printed} Ω ÷ {METRES}"
    return factor * ohms.value / METRES, ohms.rule, shown


def k_volts(
    amperes: float, metres: float, mils: float, material: str, three_phase: bool
) -> tuple[float, Rule]:
    """The electricians' quick check: 2 (or √3) × K × A × ft ÷ circular mils."""
    k = practice().limit(f"k_{material}")
    factor = sqrt(3) if three_phase else 2.0
    return factor * k.value * amperes * metres / METRES / mils, k.rule


class AwgAlong(Entries):
    """What each family with AWG sizes asks of a run."""

    if TYPE_CHECKING:  # each family's own fields, in the order of its form
        material: Metal
        wiring_method: Any
        insulation: Any
        conductor_temperature: float

    # how a run is connected where nothing is told, and the sizes that it may have
    CONNECTION: ClassVar[str] = "two-line"
    SIZES: ClassVar[Mapping[str, str]] = SIZE_NAMES


def celsius_entry() -> Any:
    """How warm the conductors are."""
    return entry(75.0, "Conductors at", group="run", help="°C, when loaded")


class NecAlong(AwgAlong):
    """How the conductors of a run lie."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "celsius": "conductor_temperature",
        "method": "wiring_method",
    }
    material: Metal = metal_entry("Metal")
    wiring_method: Method = method_entry("PVC 40")
    insulation: Insulation = insulation_entry("THWN-2")
    conductor_temperature: Temperature = celsius_entry()


class NecStrand:
    """The conductors of a run: AWG and kcmil as they lie, mm² by its drop alone."""

    installed = None

    def __init__(self, entries: AwgAlong, wires: int, three: bool, context: Context) -> None:
        self.entries, self.wires, self.three = entries, wires, three
        self.edition = context.edition
        self.sizes = tuple(Size(size) for size in (MM2 if context.units == "metric" else AWG))

    def beside(self, size: Size) -> tuple[Size, ...]:
        return tuple(Size(one) for one in MM2) if is_metric(size) else self.sizes

    def name(self, size: Size) -> str:
        return SIZE_NAMES[size]

    def ohms(self, size: Size) -> Ohms | None:
        e = self.entries
        return conductor_ohms(
            size, e.material, e.wiring_method, e.conductor_temperature, self.edition
        )

    def mv(self, size: Size) -> tuple[float, Rule, str] | None:
        return table_mv(size, self.entries.material, self.three, self.edition)

    def k_volts(self, size: Size, amperes: float, metres: float) -> float:
        if is_metric(size):
            return 0.0
        mils = circular_mils(self.edition)[size]
        return k_volts(amperes, metres, mils, self.entries.material, self.three)[0]

    def carries(self, size: Size, heaviest: float, sets: int) -> Carries:
        """As the ungrounded conductors lie; mm² is not rated."""
        if is_metric(size):
            words = say(
                "{title} does not rate metric conductors: only the drop is judged here.",
                title=self.edition.title,
            )
            return Carries(None, unrated=words)
        e = self.entries
        installation = Installation(e.wiring_method, e.insulation, counted=self.wires)
        for option in options(e.material, installation, self.edition):
            if option.size == size:
                column = terminal_column(heaviest, False, self.edition)
                return Carries(option.final(column) * sets, (self.edition.rule("ampacity"),))
        return Carries(0.0, (self.edition.rule("ampacity"),))

    def motor(self, horsepower: float, volts: float) -> Cell:
        return table_current(horsepower, volts, "squirrel cage", self.three, self.edition)
