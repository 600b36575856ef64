"""The equipment grounding conductor."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.worksheet import Rule, fits


@dataclass(frozen=True, slots=True)
class EquipmentGround:
    """Its size, the rules, and the circular mils asked for where it grew in proportion."""

    size: str
    table_size: str
    rules: tuple[Rule, ...]
    mils: float = 0.0

    @property
    def grew(self) -> bool:
        return self.mils > 0 and self.size != self.table_size


def equipment_ground(
    device: float, material: str, edition: Edition, line: str = "", least_line: str = ""
) -> EquipmentGround:
    """Table 250.122 for a device of that rating; grown in proportion where the line conductor
    ``line`` is larger than ``least_line`` would need to be; never larger than ``line``.

    Raises :class:`NotCoveredError` above 6,000 A.
    """
    table = edition.table("equipment_grounding")
    for row, cells in table.rows.items():
        if fits(device, float(row)):
            size = cells[material]
            rules: tuple[Rule, ...] = (edition.rule("equipment_grounding", row, material),)
            break
    else:
        raise NotCoveredError(edition.title, f"an equipment ground behind {device:,.0f} A")
    mils = edition.table("conductor_properties").column("circular mils")
    found, wanted = size, 0.0
    if line and least_line and mils[line] > mils[least_line] * (1 + 1e-9):
        wanted = mils[size] * mils[line] / mils[least_line]
        found = next((s for s, area in mils.items() if fits(wanted, area)), line)
        rules = (*rules, edition.rule("equipment_grounding_larger"))
    if line and mils[found] > mils[line]:
        found = line
    return EquipmentGround(found, size, rules, wanted)
