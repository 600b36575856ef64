"""Addresses of jobs. Each one looks the job up among the account's own."""

from __future__ import annotations

from django.urls import path

from voltaje.web.jobs import views
from voltaje.web.sheets import part_views as sheets

app_name = "jobs"
urlpatterns = [
    path("", views.job_list, name="list"),
    path("new/", views.create, name="create"),
    path("<uuid:job_id>/", views.job, name="job"),
    path("<uuid:job_id>/settings/", views.job_settings, name="settings"),
    path("<uuid:job_id>/duplicate/", views.duplicate, name="duplicate"),
    path("<uuid:job_id>/archive/", views.archive, name="archive"),
    path("<uuid:job_id>/undo/", views.undo, name="undo"),
    path("<uuid:job_id>/redo/", views.redo, name="redo"),
    path("<uuid:job_id>/revisions/", views.revision_list, name="revisions"),
    path("<uuid:job_id>/revisions/<int:number>/restore/", views.restore, name="restore"),
    path("<uuid:job_id>/parts/<uuid:part_id>/", sheets.sheet, name="part"),
    path("<uuid:job_id>/parts/<uuid:part_id>/rename/", views.rename_part, name="rename_part"),
    path("<uuid:job_id>/parts/<uuid:part_id>/work/", sheets.work, name="work"),
    path("<uuid:job_id>/parts/<uuid:part_id>/save/", sheets.save, name="save"),
    path("<uuid:job_id>/parts/<uuid:part_id>/print/", sheets.print_view, name="print"),
    path("<uuid:job_id>/parts/<uuid:part_id>/sheet.json", sheets.as_json, name="json"),
]
