"""What a branch circuit asks for: its design current, and the devices that may protect it."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.entries import WrongEntryError
from voltaje.core.report import Worksheet, figure, fits, say
from voltaje.core.rules.interface import CircuitLimit, CircuitLoadRequest, CircuitRequest
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.overcurrent import (
    devices_between,
    largest_rating,
    next_standard_device,
    previous_standard_device,
    standard_ratings,
)

MANY = 6  # no code figure: how many devices below a nameplate's most are tried
# the rule that says of a use whether it is continuous
TOPICS = {
    "lighting": "continuous",
    "receptacles": "receptacle_load",
    "water heater": "water_heater",
    "space heating": "space_heating",
    "air conditioning": "air_conditioning",
    "vehicle charging": "vehicle_charging",
    "kiln": "process_heating",
    "sign": "sign_circuit",
}


def ask(wants: CircuitLoadRequest, edition: Edition) -> CircuitRequest:
    """125 % of what is continuous, the ratings that such a circuit may have."""
    amperes = wants.amperes
    share = 0.0 if wants.full_rated else wants.share
    design = amperes * (1 + share * (edition.value("continuous") - 100) / 100)
    design = max(design, wants.least_device)
    if wants.largest_device is not None:
        need = _need_of_nameplate(amperes, wants.largest_device, edition)
        return CircuitRequest(
            design, need, preference="maximum"
        )  # a smaller device may not start it
    ratings, most, topic = _allowed(wants.use, amperes, edition)
    found = devices_between(design, most, edition, ratings=ratings)
    over = None
    if not found:
        over = CircuitLimit(design, most, topic)
        most = largest_rating(edition)
        found = devices_between(design, most, edition, 2)
    several = wants.use == "receptacles"
    need = SizingRequest(
        amperes, design, design, found, next_size=not several, ceiling_topic=topic, ceiling=most
    )
    return CircuitRequest(design, need, over)


def _need_of_nameplate(amperes: float, most: float, edition: Edition) -> SizingRequest:
    least = previous_standard_device(most * (1 + 1e-6), edition)
    if not least or amperes > most:
        raise WrongEntryError(
            "maximum_device",
            say(
                "The maximum device is below the minimum circuit ampacity: read the nameplate"
                " again."
            ),
        )
    return SizingRequest(
        amperes,
        0.0,
        amperes,
        devices_between(amperes, most, edition, MANY) or (least,),
        elsewhere=True,
        device_topic="air_conditioning_device",
        conductor_topic="air_conditioning",
        ceiling_topic="air_conditioning_device",
        ceiling=most,
    )


def _allowed(use: str, amperes: float, edition: Edition) -> tuple[tuple[float, ...], float, str]:
    """The ratings that such a circuit may have, the largest of them, and the rule's topic."""
    if use == "receptacles":
        ratings = outlet_ratings(edition)
        least, most = edition.value("receptacle_least"), edition.value("receptacle_most")
        return tuple(r for r in ratings if fits(least, r)), most, "multi_outlet"
    if use in ("lighting", "sign"):
        ratings = outlet_ratings(edition)
        return ratings, ratings[-1], "circuit_ratings"
    ratings = standard_ratings(edition)
    if use != "water heater" or not edition.has_limit("single_appliance"):
        return ratings, largest_rating(edition), "standard_devices"
    most = edition.value("small_appliance_device")
    if not fits(amperes, edition.value("small_appliance_amperes")):
        percent = edition.limit("single_appliance").value
        most = next_standard_device(amperes * percent / 100, edition).value
    return ratings, most, "single_appliance"


def outlet_ratings(edition: Edition) -> tuple[float, ...]:
    """The ratings of circuits with more than one outlet, A (210.18)."""
    return tuple(cell.value for cell in edition.cells("circuit_ratings", "A").values())


def report_design(
    wants: CircuitLoadRequest, asked: CircuitRequest, edition: Edition, worksheet: Worksheet
) -> None:
    """The quarter more of what is continuous."""
    share, amperes = wants.share, wants.amperes
    if not share or wants.full_rated:
        return
    more, topic = edition.limit("continuous"), TOPICS.get(wants.use)
    factor = figure(more.value / 100, 4)
    shown = f"{figure(amperes)} × {factor}"
    if share != 1:
        shown = f"{figure(amperes * (1 - share))} + {figure(amperes * share)} × {factor}"
    worksheet.sum(
        "design_amperes",
        say("With 125 % of what is continuous"),
        asked.design,
        "A",
        shown,
        (more.rule, edition.rule(topic) if topic else None),
        entries=("use", "continuous"),
    )
