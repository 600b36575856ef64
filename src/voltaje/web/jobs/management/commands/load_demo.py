"""Loads the made-up demo: Alder Mill and its keeper. Run twice, it leaves what is there."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from voltaje.web.accounts.models import User
from voltaje.web.accounts.views import DEMO_EMAIL
from voltaje.web.jobs.actions import create_job
from voltaje.web.jobs.models import Job

COTTAGE: dict[str, Any] = {
    "area": "1480 sq ft",
    "small_appliance_circuits": "2",
    "laundry_circuits": "1",
    "appliances": [
        {"id": "a1", "name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
        {"id": "a2", "name": "Dishwasher", "nameplate": "1.1 kW", "connection": "120"},
        {"id": "a3", "name": "Disposer", "nameplate": "6 A 115 V", "motor": "yes"},
        {"id": "a4", "name": "Microwave oven, built in", "nameplate": "1300 W"},
    ],
    "cooking": [{"id": "c1", "name": "Range", "nameplate": "11.4 kW"}],
    "dryers": [{"id": "d1", "name": "Clothes dryer", "nameplate": "4.8 kW"}],
    "climate": [
        {"id": "h1", "name": "Baseboard heaters", "nameplate": "1.5 kW", "what": "heating",
         "count": "5"},
        {"id": "h2", "name": "Air conditioner", "nameplate": "3.4 kVA", "what": "cooling"},
    ],
}  # fmt: skip


class Command(BaseCommand):
    """``load_demo``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Makes the demo's account and its job unless they are there."""
        user = User.objects.filter(email=DEMO_EMAIL).first()
        if user is None:
            user = User.objects.create_user(DEMO_EMAIL, None)
        if not Job.objects.of(user).exists():
            create_job(
                user, "Alder Mill", "nec-2020", "us", COTTAGE,
                supply="Cottage service drop", dwelling="Keeper’s cottage",
            )  # fmt: skip
