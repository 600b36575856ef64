"""The defaults of an account."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class FirmDefaults(models.Model):
    """What new jobs of an account begin with: code, units, habit of sizing devices (empty: as the
    program has it), devices in stock, reserve in percent, and by family of codes the usual values
    of conductors, as their texts by name."""

    owner = models.OneToOneField(
        settings.AUTH_USER_MODEL, models.CASCADE, related_name="firm_defaults"
    )
    edition = models.CharField(max_length=40, blank=True)
    units = models.CharField(max_length=10, blank=True)
    preference = models.CharField(max_length=20, blank=True)
    stock = models.CharField(max_length=200, default="", blank=True)
    reserve = models.FloatField(default=0.0)
    usual = models.JSONField(default=dict, blank=True)

    def __str__(self) -> str:
        return self.edition or "defaults"
