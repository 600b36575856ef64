"""How a cable lies: the column of its capacities and the factors that take part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import prod
from typing import Any, Literal

from voltaje.core.capabilities import Harmonics, ProtectedBy, can
from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Metal
from voltaje.core.entries import WrongEntryError
from voltaje.core.report import Text, fits, say
from voltaje.core.rules.iec60364.entries import InstallationEntries
from voltaje.core.rules.interface import Feed


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor of how a cable lies: what it is for, its ``value`` and the cells that give it."""

    name: Literal[
        "ambient", "ground", "grouping", "insulation", "soil", "depth", "rewirable", "third"
    ]
    value: float
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class RatedCable:
    """A cable as it lies: ``table`` of its capacities with their ``column``, and the factors that
    take part, none that excludes another. ``around`` is the °C around it, ``base`` what the table
    is for, ``ground`` whether it lies in the ground."""

    table: str
    column: str
    factors: tuple[Factor, ...]
    around: float
    base: float
    ground: bool = False

    @property
    def factor(self) -> float:
        return prod(one.value for one in self.factors)

    @property
    def warmth(self) -> float:
        """The factors that tell how warm it gets: all but a fuse's."""
        return prod(one.value for one in self.factors if one.name != "rewirable")


def rated_cable(entries: InstallationEntries, feed: Feed, edition: Edition) -> RatedCable:
    """How the cable lies. Raises :class:`WrongEntryError` at what its table does not have."""
    method = entries.method
    third = entries.third_harmonic if can(entries, Harmonics) else 0.0
    three = feed.connection == "three-phase"
    return _lay(
        type(entries),
        entries.cable,
        entries.material,
        entries.method_id,
        (entries.ground, entries.soil, entries.depth) if method.ground else (entries.ambient,),
        entries.grouped_circuits,
        0.0 if method.insulated else entries.in_insulation,
        can(entries, ProtectedBy) and entries.device_type == "BS 3036",
        third if three else 0.0,
        three,
        edition,
    )


@lru_cache(maxsize=1024)
def _lay(
    vocabulary: type[InstallationEntries],
    cable: str,
    material: Metal,
    method_id: str,
    around: tuple[float, ...],
    grouped: int,
    in_insulation: float,
    rewirable: bool,
    third: float,
    three: bool,
    edition: Edition,
) -> RatedCable:
    """The same for what of the entries counts: most circuits of a job lie as another does."""
    topic = f"ampacity_{cable.replace(' ', '_')}"
    if material == "aluminum":
        topic += "_al"
        if not edition.has_table(topic):
            words = say("This cable is not tabulated in aluminum: choose copper, or another cable.")
            raise WrongEntryError("material", words)
    loaded, method = "3" if three else "2", vocabulary.METHODS[method_id]
    insulation = "90" if cable.endswith("90") else vocabulary.COOL
    try:
        column = edition.column_at(topic, method=method_id, insulation=insulation, loaded=loaded)
    except KeyError:
        words = _no_column(edition.columns(topic), loaded, vocabulary)
        raise WrongEntryError(vocabulary.METHOD, words) from None
    found: list[Factor] = []

    def add(name: Any, cell: Cell) -> None:
        if cell.value != 1:
            found.append(Factor(name, cell.value, (cell,)))

    warm: tuple[tuple[str, str, str], ...] = (("ambient", "ambient", insulation),)
    if method.ground:
        warm = (
            ("ambient_ground", "ground", insulation),
            ("soil", "soil", "factor"),
            ("depth", "depth", "factor"),
        )
    for (of, path, at), value in zip(warm, around, strict=True):
        add(path, edition.cell(of, _up_to(of, value, path, at, edition), at))
    row = edition.row_for("grouping", grouped + 1)
    add("grouping", edition.cell("grouping", row, method.grouping))
    if in_insulation:
        spans = edition.rows("insulation_length")
        within = (r for r in spans if not r.endswith("+") and in_insulation <= float(r))
        add("insulation", edition.cell("insulation_length", next(within, spans[-1]), "factor"))
    if rewirable:
        add("rewirable", edition.limit("rewirable"))
    if third:
        found += _harmonics(third, edition)
    base = edition.value("base_ground" if method.ground else "base_air")
    return RatedCable(topic, column, tuple(found), around[0], base, method.ground)


def _no_column(columns: Sequence[str], loaded: str, vocabulary: type[InstallationEntries]) -> Text:
    axes = [name.split(" | ") for name in columns]
    names = dict.fromkeys(method for method, _, count in axes if count == loaded)
    if not names:
        return say("This cable is not tabulated for three loaded conductors: choose multicore.")
    listed = [name for name in vocabulary.METHODS if name in names]
    return say("This cable is tabulated for method {names}: choose one.", names=", ".join(listed))


def _up_to(topic: str, value: float, path: str, column: str, edition: Edition) -> str:
    """The first row that is not below ``value``. Raises :class:`WrongEntryError` beyond all."""
    rows = list(edition.cells(topic, column))
    found = next((row for row in rows if value <= float(row)), None)
    if found is None:
        words = say("The factors end at {most}: give one below.", most=rows[-1])
        if topic in ("ambient", "ambient_ground"):
            words = say("The factors end at {rows} °C: give an ambient below.", rows=rows[-1])
        raise WrongEntryError(path, words)
    return found


def _harmonics(third: float, edition: Edition) -> list[Factor]:
    """What third harmonics leave of a cable with a neutral: 0.86, and above 33 % by the neutral's
    amperes, three times the share."""
    if not edition.has_limit("third_low"):
        raise NotCoveredError(edition.title, say("third harmonics"))
    if fits(third, edition.value("third_low")):
        return []
    factor = edition.limit("third_factor")
    neutral = max(1.0, 3 * third / 100) if third > edition.value("third_mid") else 1.0
    value = (1.0 if third > edition.value("third_high") else factor.value) / neutral
    return [Factor("third", value, (factor,))]
