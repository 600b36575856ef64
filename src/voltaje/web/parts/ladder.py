"""The ladder of alternatives as the page lists it."""

from __future__ import annotations

from dataclasses import dataclass

from django.utils.translation import gettext

from voltaje.core.report import Alternative, Report, figure, told
from voltaje.core.units import METRES_PER_FOOT, POUNDS_PER_KG, UnitSystem


@dataclass(frozen=True, slots=True)
class ShownAlternative:
    """A rung with its metal and price as written."""

    rung: Alternative
    metal: str
    price: str

    @property
    def status(self) -> str:
        return "pass" if self.rung.passes else "fail"


@dataclass(frozen=True, slots=True)
class Shown:
    """The rungs under their headings (the job's own metal first), and the unit of their metal."""

    groups: tuple[tuple[str, tuple[ShownAlternative, ...]], ...]
    unit: str
    priced: bool


def lay_out(worked: Report, units: UnitSystem) -> Shown:
    """Cheapest first, as the core orders them; the sides of a transformer apart."""
    chosen = next((rung for rung in worked.ladder if rung.chosen), worked.ladder[0])
    groups: dict[str, list[ShownAlternative]] = {}
    for rung in worked.ladder:
        title = told(rung.group)
        if rung.material != chosen.material:
            title = (
                gettext("{title}, in the other metal").format(title=title)
                if title
                else gettext("In the other metal")
            )
        groups.setdefault(title, []).append(
            ShownAlternative(rung, _metal(rung, units), _price(rung, units))
        )
    return Shown(
        tuple((title, tuple(steps)) for title, steps in groups.items()),
        "kg/100 m" if units == "metric" else "lb/100 ft",
        any(rung.price is not None for rung in worked.ladder),
    )


def _metal(rung: Alternative, units: UnitSystem) -> str:
    each = rung.mass if units == "metric" else rung.mass * POUNDS_PER_KG * METRES_PER_FOOT
    return figure(each * 100, 1)


def _price(rung: Alternative, units: UnitSystem) -> str:
    if rung.price is None:
        return ""
    each = rung.price if units == "metric" else rung.price * METRES_PER_FOOT
    return f"{each:,.2f}"
