"""The price list of an account: what its materials cost, who supplies them, what an hour costs."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class PriceList(models.Model):
    """One for each account. ``rows`` has by the key of a material the texts of its price, its
    hours, what they are for, and the supplier; ``mark_up`` is percent of the materials."""

    owner = models.OneToOneField(
        settings.AUTH_USER_MODEL, models.CASCADE, related_name="price_list"
    )
    currency = models.CharField(max_length=8, default="USD")
    rate = models.DecimalField(max_digits=9, decimal_places=2, default=0)
    mark_up = models.DecimalField(max_digits=6, decimal_places=2, default=0)
    rows = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"{len(self.rows)} prices, {self.currency}"
