"""How a circuit is run: wiring method, insulation, ambient, neighbours, terminals.

Gives, for each size, the ampacity step by step: its own column, ambient, adjustment, terminals.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.report import Rule, fits

METALS: tuple[Metal, ...] = ("copper", "aluminum")

# no code figures: the columns, °C, of the ampacity table that terminals are read in
COLUMNS = (60, 75)
RACEWAYS = ("EMT", "PVC 40", "PVC 80", "RMC")
STEEL = ("EMT", "RMC")


@dataclass(frozen=True, slots=True)
class Cable:
    """A cable type: the column its correction starts from, °C, the column that caps it (0: only
    the terminals do) for sizes up to ``cap_to`` (empty: all), its rule, and the least and the
    largest size it is made in, by metal."""

    own: int
    cap: int
    cap_to: str
    topic: str
    least: dict[str, str]
    most: dict[str, str]


@lru_cache(maxsize=256)
def cable(method: str, edition: Edition) -> Cable | None:
    """The cable of that name; ``None`` for a raceway."""
    topic = "cable_types"
    if method not in edition.rows(topic):
        return None
    cap = edition.cell_or_none(topic, method, "cap")
    return Cable(
        int(edition.cell(topic, method, "own").value),
        int(cap.value) if cap else 0,
        edition.word(topic, method, "cap to"),
        edition.word(topic, method, "rule"),
        {m: edition.word(topic, method, f"{m} least") for m in METALS},
        {m: edition.word(topic, method, f"{m} most") for m in METALS},
    )


def insulation_degrees(insulation: str, edition: Edition) -> int:
    """The temperature of an insulation, °C (310.4(A))."""
    return int(edition.cell("insulations", insulation, "°C").value)


@dataclass(frozen=True, slots=True)
class Installation:
    """Where the conductors lie. ``counted`` is the number of current-carrying conductors in one
    raceway or cable with one set; ``each_set`` what every further set adds there (0: each set has a
    raceway of its own); ``listed_75`` says that all terminations are listed for 75 °C."""

    method: str = "EMT"
    insulation: str = "THHN"
    ambient_c: float = 30.0  # no code figure: what the ampacity table is made for
    counted: int = 3
    listed_75: bool = False
    compact: bool = False
    each_set: int = 0

    def of_sets(self, sets: int) -> Installation:
        """The same with so many sets in parallel: in one raceway all their conductors count for
        the adjustment (310.15(C)(1) and its forerunners)."""
        if not self.each_set or sets < 2:
            return self
        return replace(self, counted=self.counted + self.each_set * (sets - 1), each_set=0)

    @property
    def is_cable(self) -> bool:
        return self.method not in RACEWAYS

    def own_column(self, edition: Edition) -> int:
        """The temperature column from which correction starts, °C."""
        found = cable(self.method, edition)
        return found.own if found else insulation_degrees(self.insulation, edition)


@dataclass(frozen=True, slots=True)
class SizeAmpacity:
    """One size with its ampacities for one set, A: ``base`` in its own column, ``corrected``
    after ambient and adjustment, ``at_60`` and ``at_75`` in the columns of the terminals (already
    limited by insulation and cable), ``small`` the most it may be protected at (0: no limit); each
    with the cell that it was read from."""

    size: Size
    material: Metal
    base: float
    ambient: float
    adjustment: float
    corrected: float
    at_60: float
    at_75: float
    small: float
    mils: float
    base_cell: Cell
    cell_60: Cell
    cell_75: Cell
    small_cell: Cell | None

    def at_terminals(self, column: int) -> Cell:
        """The cell of the terminals of that column."""
        return self.cell_75 if column >= COLUMNS[1] else self.cell_60

    def decisive(self, column: int) -> Cell:
        """The cell that :meth:`final` comes of: that of the terminals, or of its own column where
        heat and neighbours leave less."""
        hot = self.corrected < self.terminal(column)
        return self.base_cell if hot else self.at_terminals(column)

    def terminal(self, column: int) -> float:
        """Ampacity at terminals of that column."""
        return self.at_75 if column >= COLUMNS[1] else self.at_60

    def final(self, column: int) -> float:
        """Ampacity under the conditions of use, limited by the terminals."""
        return min(self.corrected, self.terminal(column))


@lru_cache(maxsize=256)
def ambient_factor(column: int, ambient_c: float, edition: Edition) -> tuple[float, Rule]:
    """The factor for an insulation of ``column`` °C; 0 where it may not be used so hot."""
    for row in edition.rows("ambient"):
        if ambient_c <= float(row):
            cell = edition.cell_or_none("ambient", row, str(column))
            if cell is None:  # so hot it may not be used
                return 0.0, edition.rule("ambient", row)
            return cell.value, cell.rule
    return 0.0, edition.rule("ambient")


@lru_cache(maxsize=256)
def adjustment_factor(counted: int, edition: Edition) -> tuple[float, Rule]:
    """The factor for a number of current-carrying conductors."""
    percent = edition.cell("adjustment", edition.row_for("adjustment", counted), "percent")
    return percent.value / 100, percent.rule


@lru_cache(maxsize=256)
def limit_value(topic: str, edition: Edition) -> float:
    """A limit's figure alone, for what is asked many times."""
    return edition.limit(topic).value


def terminal_column(device: float, listed_75: bool, edition: Edition) -> int:
    """The column that the terminations allow: 60 °C up to 100 A unless listed, above 75 °C."""
    limit = limit_value("terminations", edition)
    return COLUMNS[1] if listed_75 or not fits(device, limit) else COLUMNS[0]


@lru_cache(maxsize=512)
def options(
    material: Metal, installation: Installation, edition: Edition
) -> tuple[SizeAmpacity, ...]:
    """Every size that the wiring method is made in, smallest first."""
    order = edition.rows("ampacity")
    mils = circular_mils(edition)
    small = edition.cells("small_conductors", material)
    column = installation.own_column(edition)
    ambient, _ = ambient_factor(column, installation.ambient_c, edition)
    adjustment, _ = adjustment_factor(installation.counted, edition)
    made = cable(installation.method, edition)
    first = order.index(made.least[material]) if made else 0
    last = order.index(made.most[material]) if made else len(order) - 1
    capped = 0
    if made and made.cap:
        capped = order.index(made.cap_to) + 1 if made.cap_to else len(order)
    found: list[SizeAmpacity] = []
    for size in order[first : last + 1]:
        at_60 = edition.cell_or_none("ampacity", size, f"{material} 60")
        if at_60 is None or size not in mils:
            continue
        base = edition.cell("ampacity", size, f"{material} {column}")
        at_75 = edition.cell("ampacity", size, f"{material} {min(COLUMNS[1], column)}")
        if made and order.index(size) < capped:
            cap = edition.cell("ampacity", size, f"{material} {made.cap}")
            at_75 = min(at_75, cap, key=lambda cell: cell.value)
        limit = small.get(size)
        found.append(
            SizeAmpacity(
                Size(size),
                material,
                base.value,
                ambient,
                adjustment,
                base.value * ambient * adjustment,
                at_60.value,
                at_75.value,
                limit.value if limit else 0.0,
                mils[size],
                base,
                at_60,
                at_75,
                limit,
            )
        )
    return tuple(found)


def counted_conductors(
    lines: int, neutral: bool, phases_of_wye: bool, nonlinear: bool, others: int = 0
) -> int:
    """Current-carrying conductors in the raceway (310.15(E); 310.15(B)(5) before 2020).

    A neutral counts on a two-wire circuit, with two lines of a wye, or where the load is mostly
    nonlinear; it does not where it carries only the unbalance.
    """
    counts = neutral and (lines == 1 or (lines == 2 and phases_of_wye) or nonlinear)
    return lines + (1 if counts else 0) + others


def smallest_option(
    amperes: float,
    material: Metal,
    installation: Installation,
    column: int,
    edition: Edition,
    least: Size | None = None,
    most: Size | None = None,
) -> SizeAmpacity | None:
    """The one search for a conductor by what it must carry: the smallest of that metal, run like
    that, that carries ``amperes`` A at terminals of ``column`` °C, not below the size ``least`` nor
    above ``most``. ``None`` where none does."""
    order = size_ranks(edition)
    floor, ceiling = order.get(least or "", -1), order.get(most or "", len(order))
    for option in options(material, installation, edition):
        within = floor <= order[option.size] <= ceiling
        if within and fits(amperes, option.final(column)):
            return option
    return None


@lru_cache(maxsize=64)
def size_ranks(edition: Edition) -> dict[str, int]:
    """The place of each size of the ampacity table, the smallest first."""
    return {size: place for place, size in enumerate(edition.rows("ampacity"))}


@lru_cache(maxsize=64)
def circular_mils(edition: Edition) -> Mapping[str, float]:
    """Circular mils by size (chapter 9, Table 8): what sizes are compared by."""
    column = edition.cells("conductor_properties", "circular mils")
    return {size: cell.value for size, cell in column.items()}
