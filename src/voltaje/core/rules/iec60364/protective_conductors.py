"""Protective conductors: by the table, by the heat of a fault; the loop of a run; the main earthing
conductor and the main bonding."""

from __future__ import annotations

from functools import lru_cache
from math import sqrt

from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.report import Rule, Text, figure, fits, say
from voltaje.core.rules.iec60364.entries import SIZES

# of the columns of the tables: a metal's own end in it
ENDS: dict[Metal, str] = {"copper": "", "aluminum": " Al"}


REACTIVE_FROM = 25.0  # no code figure: mm² from which the tables of drop are impedances


def at_least(area: float) -> Size:
    """The first size of that area, mm², at least; the largest beyond all."""
    return next((Size(made) for made in SIZES if fits(area, float(made))), Size(SIZES[-1]))


def protective_cell(size: Size, edition: Edition) -> Cell | None:
    """The cell that gives the protective conductor, where the edition has a table of them."""
    if not edition.has_table("protective"):
        return None
    return edition.cell("protective", size, "mm²")


@lru_cache(maxsize=512)
def protective_size(size: Size, edition: Edition) -> Size:
    """The protective conductor by the table, mm²: as the table of the edition has it, or as the
    line, 16 mm², or the next size from half the line up."""
    cell = protective_cell(size, edition)
    if cell is not None:
        return at_least(cell.value)
    area = float(size)
    same, sixteen = edition.value("cpc_same_to"), edition.value("cpc_sixteen_to")
    return at_least(area if fits(area, same) else same if fits(area, sixteen) else area / 2)


def protective_rule(size: Size, edition: Edition) -> Rule:
    """Where the protective conductor by the table comes from."""
    cell = protective_cell(size, edition)
    return cell.rule if cell is not None else edition.rule("cpc")


def protective_shown(line: Size, edition: Edition) -> Text:
    """A line and what the table asks of its protective conductor, before the least of the rules."""
    cell = protective_cell(line, edition)
    if cell is None:
        return say("line {line} mm²", line=line)
    return say("line {line} mm²: {by_table} mm²", line=line, by_table=figure(cell.value))


def protective_metal(metal: Metal, edition: Edition) -> Metal:
    """What the protective conductor beside a line of that metal is made of."""
    return "copper" if edition.says("earth_copper") else metal


def ohms_per_km(size: Size, edition: Edition, metal: Metal = "copper") -> Cell:
    """Its resistance at 20 °C, Ω for each km. Raises :class:`NotCoveredError`."""
    return edition.cell("resistance", size, f"R20{ENDS[metal]}")


@lru_cache(maxsize=1024)
def reactance(size: Size, edition: Edition, insulation: str, metal: Metal = "copper") -> float:
    """X of a conductor, Ω for each km: what the drop's figure has beyond the resistance, from 25
    mm² up, where it is an impedance."""
    if float(size) < REACTIVE_FROM:
        return 0.0
    hot = " 90" if insulation == "90" else ""
    mv = edition.cell_or_none("volt_drop", size, f"two-wire{hot}{ENDS[metal]}")
    if mv is None:
        return 0.0
    r = ohms_per_km(size, edition, metal).value * edition.value(f"hot_factor_{insulation}")
    return sqrt(max(0.0, (mv.value / 2) ** 2 - r * r))


def conductor_ohms(
    size: Size, edition: Edition, insulation: str, metal: Metal = "copper", hot: bool = True
) -> complex:
    """R + jX of one conductor at the temperature of its insulation, or at 20 °C, Ω for each km."""
    r = ohms_per_km(size, edition, metal).value
    r *= edition.value(f"hot_factor_{insulation}") if hot else 1.0
    return complex(r, reactance(size, edition, insulation, metal))


@lru_cache(maxsize=1024)
def _ohms_per_metre(
    size: Size, protective: Size, edition: Edition, insulation: str, metal: Metal
) -> complex:
    """R1 + R2 at the temperature of the insulation and the reactance of both, Ω for each metre; a
    protective conductor lies as close as the line, so it has the line's."""
    own = protective_metal(metal, edition)
    r = ohms_per_km(size, edition, metal).value + ohms_per_km(protective, edition, own).value
    x = 2 * reactance(size, edition, insulation, metal)
    return complex(r * edition.value(f"hot_factor_{insulation}"), x) / 1000


def loop_ohms(
    size: Size,
    protective: Size,
    metres: float,
    edition: Edition,
    insulation: str = "70",
    metal: Metal = "copper",
) -> complex:
    """R1 + R2 of a run at the temperature of its insulation with its reactance, Ω."""
    return _ohms_per_metre(size, protective, edition, insulation, metal) * metres


def heat_constant(edition: Edition, insulation: str, metal: Metal, size: Size) -> float:
    """k of a conductor of that size that starts at the temperature of its insulation; thick copper
    in thermoplastic insulation stands less."""
    topic = f"k_{insulation}{'_al' if metal == 'aluminum' else ''}"
    large = f"{topic}_large"
    if edition.has_limit(large) and float(size) > edition.value("k_large_above"):
        topic = large
    return edition.value(topic)


def least_by_heat(amperes: float, seconds: float, k: float) -> float:
    """The least area, mm², by the heat of a fault: √(I²t) ÷ k."""
    return amperes * sqrt(seconds) / k


def main_earthing(line: Size, buried: str, edition: Edition) -> Size:
    """The main earthing conductor, copper, mm²: by the line as a protective conductor, with the
    least that the edition sets; in the ground by what it is protected against: ``""`` not buried
    or protected against both, ``"struck"`` against corrosion alone, ``"bare"`` not even that."""
    area = float(protective_size(line, edition))
    if edition.has_limit("earth_least"):
        area = max(area, edition.value("earth_least"))
    topic = {"struck": "earth_buried", "bare": "earth_corroded"}.get(buried, "")
    if topic and edition.has_limit(topic):
        area = max(area, edition.value(topic))
    return at_least(area)


def main_bonding(earthing: Size, neutral: Size, combined: bool, edition: Edition) -> Size:
    """Main bonding, copper, mm²: half the earthing conductor within the edition's bounds; where
    supply neutral and earth are combined, by the table of the neutral where there is one."""
    if combined and edition.has_table("bonding"):
        return at_least(bonding_cell(neutral, edition).value)
    least = edition.value("bond_least")
    if not edition.has_limit("bond_most"):
        return at_least(least)
    return at_least(min(max(least, float(earthing) / 2), edition.value("bond_most")))


def bonding_cell(neutral: Size, edition: Edition) -> Cell:
    """The bonding by a combined neutral, as the edition's table has it."""
    rows = edition.rows("bonding")
    within = (row for row in rows if not row.endswith("+") and fits(float(neutral), float(row)))
    return edition.cell("bonding", next(within, rows[-1]), "mm²")


def bonding_rules(combined: bool, neutral: Size, edition: Edition) -> tuple[Rule, ...]:
    """Where the main bonding comes from."""
    if combined and edition.has_table("bonding"):
        return (bonding_cell(neutral, edition).rule,)
    bounds = ("bond_least", "bond_most")
    return tuple(edition.limit(bound).rule for bound in bounds if edition.has_limit(bound))
