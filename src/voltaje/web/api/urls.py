"""Addresses for programs."""

from __future__ import annotations

from django.urls import path

from voltaje.web.api import job_views
from voltaje.web.api.views import Ask, Sheet, SheetList, SheetSchema, openapi, reference

app_name = "api"
urlpatterns = [
    path("", reference, name="reference"),
    path("openapi.json", openapi, name="openapi"),
    path("jobs/", job_views.JobList.as_view(), name="jobs"),
    path("jobs/<uuid:job_id>/materials/", job_views.Materials.as_view(), name="materials"),
    path("jobs/<uuid:job_id>/labels/", job_views.Labels.as_view(), name="labels"),
    path("jobs/<uuid:job_id>/documents/", job_views.Documents.as_view(), name="documents"),
    path("jobs/<uuid:job_id>/work/", job_views.Schedules.as_view(), name="work_schedules"),
    path(
        "jobs/<uuid:job_id>/work/<uuid:schedule_id>/",
        job_views.Schedule.as_view(),
        name="work_schedule",
    ),
    path("ask/", Ask.as_view(), name="ask"),
    path("sheets/", SheetList.as_view(), name="sheets"),
    path("sheets/<str:name>/", Sheet.as_view(), name="sheet"),
    path("sheets/<str:name>/schema/", SheetSchema.as_view(), name="schema"),
]
