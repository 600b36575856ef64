"""The alternatives as the page lists them."""

from __future__ import annotations

from dataclasses import dataclass

from django.utils.translation import gettext

from voltaje.core.quantities import METRES_PER_FOOT, POUNDS_PER_KG, UnitSystem
from voltaje.core.report import Alternative, Report, figure, told


@dataclass(frozen=True, slots=True)
class ShownAlternative:
    """An alternative with its metal and price as written."""

    one: Alternative
    metal: str
    price: str

    @property
    def status(self) -> str:
        return "pass" if self.one.passes else "fail"


@dataclass(frozen=True, slots=True)
class Shown:
    """The alternatives under their headings, the job's own metal first, and the unit of their
    metal."""

    groups: tuple[tuple[str, tuple[ShownAlternative, ...]], ...]
    unit: str
    priced: bool
    smaller: tuple[ShownAlternative, ...]  # those beside the chosen one that do not pass


def lay_out(worked: Report, units: UnitSystem) -> Shown:
    """Cheapest first, as the core orders them; the sides of a transformer apart."""
    chosen = next((one for one in worked.alternatives if one.chosen), worked.alternatives[0])
    groups: dict[str, list[ShownAlternative]] = {}
    for one in worked.alternatives:
        title = told(one.group)
        if one.material != chosen.material:
            title = (
                gettext("{title}, in the other metal").format(title=title)
                if title
                else gettext("In the other metal")
            )
        groups.setdefault(title, []).append(
            ShownAlternative(one, _metal(one, units), _price(one, units))
        )
    return Shown(
        tuple((title, tuple(steps)) for title, steps in groups.items()),
        "kg/100 m" if units == "metric" else "lb/100 ft",
        any(one.price is not None for one in worked.alternatives),
        tuple(
            step
            for steps in groups.values()
            for step in steps
            if not step.one.passes
            and (step.one.group, step.one.material) == (chosen.group, chosen.material)
            and step.one.device <= chosen.device
        )
        if chosen.chosen and chosen.passes
        else (),
    )


def _metal(one: Alternative, units: UnitSystem) -> str:
    each = one.mass if units == "metric" else one.mass * POUNDS_PER_KG * METRES_PER_FOOT
    return figure(each * 100, 1)


def _price(one: Alternative, units: UnitSystem) -> str:
    if one.price is None:
        return ""
    each = one.price if units == "metric" else one.price * METRES_PER_FOOT
    return f"{each:,.2f}"
