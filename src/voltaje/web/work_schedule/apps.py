"""The work schedules' part of the program."""

from __future__ import annotations

from django.apps import AppConfig


class WorkScheduleConfig(AppConfig):
    """Work schedules of jobs."""

    name = "voltaje.web.work_schedule"
    label = "work_schedule"
    default_auto_field = "django.db.models.BigAutoField"
