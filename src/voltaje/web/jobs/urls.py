"""Addresses of jobs. Each one looks the job up among the account's own."""

from __future__ import annotations

from django.urls import path

from voltaje.web.board import cases_views
from voltaje.web.board import views as board_views
from voltaje.web.documents import labels as label_sheets
from voltaje.web.documents import views as documents
from voltaje.web.history import saving
from voltaje.web.jobs import (
    amendment_views,
    archive_views,
    reading_views,
    recording_views,
    riser_views,
    tree_views,
    views,
)
from voltaje.web.materials import views as materials
from voltaje.web.nameplates import views as nameplates
from voltaje.web.parts import line, rows_views
from voltaje.web.parts import part_views as sheets
from voltaje.web.planning import adviser_views, balance_views
from voltaje.web.planning import conductor_views as metal_views
from voltaje.web.site import views as site
from voltaje.web.work_schedule import views as work

app_name = "jobs"
urlpatterns = [
    path("", views.job_list, name="list"),
    path("new/", views.create, name="create"),
    path("supply/", views.adviser, name="adviser"),
    path("supply/list/", adviser_views.by_list, name="adviser_list"),
    path("<uuid:job_id>/", tree_views.job_page, name="job"),
    path("<uuid:job_id>/done/", saving.done, name="done"),
    path("<uuid:job_id>/tree/", tree_views.change_tree, name="tree"),
    path("<uuid:job_id>/riser/", riser_views.page, name="riser"),
    path("<uuid:job_id>/riser.svg", riser_views.as_svg, name="riser_svg"),
    path("<uuid:job_id>/riser.dxf", riser_views.as_dxf, name="riser_dxf"),
    path("<uuid:job_id>/riser.pdf", riser_views.as_pdf, name="riser_pdf"),
    path("<uuid:job_id>/materials/", materials.materials, name="materials"),
    path(
        "<uuid:job_id>/materials/order.<str:ending>",
        materials.materials_file,
        {"name": "order"},
        name="materials_order",
    ),
    path(
        "<uuid:job_id>/materials/prices.<str:ending>",
        materials.materials_file,
        {"name": "prices"},
        name="materials_prices",
    ),
    path("<uuid:job_id>/parts/<uuid:part_id>/nameplate/", nameplates.of_item, name="nameplate"),
    path("<uuid:job_id>/parts/<uuid:part_id>/site/", site.on_site, name="on_site"),
    path("<uuid:job_id>/work/", work.schedules, name="work_schedules"),
    path("<uuid:job_id>/work/<uuid:schedule_id>/", work.schedule, name="work_schedule"),
    path(
        "<uuid:job_id>/work/<uuid:schedule_id>/file.<str:ending>",
        work.schedule_file,
        name="work_schedule_file",
    ),
    path("<uuid:job_id>/documents/", documents.choose, name="documents"),
    path("<uuid:job_id>/labels/", label_sheets.label_sheets, name="labels"),
    path("<uuid:job_id>/documents/print/", documents.printed, name="documents_print"),
    path("<uuid:job_id>/documents/presets/", documents.change_presets, name="document_presets"),
    path("<uuid:job_id>/documents/<uuid:set_id>.pdf", documents.as_pdf, name="document_set"),
    path("<uuid:job_id>/codes/", tree_views.codes_page, name="codes"),
    path("<uuid:job_id>/prices/", amendment_views.prices, name="prices"),
    path("<uuid:job_id>/readings/", reading_views.readings, name="readings"),
    path("<uuid:job_id>/readings/import/", reading_views.take_readings, name="readings_import"),
    path("<uuid:job_id>/readings.csv", reading_views.readings_csv, name="readings_csv"),
    path("<uuid:job_id>/recordings/", recording_views.recording_list, name="recordings"),
    path(
        "<uuid:job_id>/recordings/<uuid:recording_id>/",
        recording_views.recording_page,
        name="recording",
    ),
    path(
        "<uuid:job_id>/recordings/<uuid:recording_id>/change/",
        recording_views.change_recording,
        name="change_recording",
    ),
    path(
        "<uuid:job_id>/recordings/<uuid:recording_id>.csv",
        recording_views.recording_csv,
        name="recording_csv",
    ),
    path(
        "<uuid:job_id>/readings/<uuid:reading_id>/drop/",
        reading_views.drop_reading,
        name="drop_reading",
    ),
    path("<uuid:job_id>/amendments/", amendment_views.amendments, name="amendments"),
    path(
        "<uuid:job_id>/amendments/<uuid:amendment_id>/drop/",
        amendment_views.drop_amendment,
        name="drop_amendment",
    ),
    path("<uuid:job_id>/settings/", views.job_settings, name="settings"),
    path("<uuid:job_id>/duplicate/", views.duplicate, name="duplicate"),
    path("<uuid:job_id>/archive/", views.archive, name="archive"),
    path("<uuid:job_id>/delete/", archive_views.delete_job, name="delete"),
    path("<uuid:job_id>/undo/", views.undo, name="undo"),
    path("<uuid:job_id>/redo/", views.redo, name="redo"),
    path("<uuid:job_id>/revisions/", views.revision_list, name="revisions"),
    path("<uuid:job_id>/revisions/<int:number>/restore/", views.restore, name="restore"),
    path("<uuid:job_id>/parts/<uuid:part_id>/", sheets.sheet, name="part"),
    path("<uuid:job_id>/parts/<uuid:part_id>/rename/", views.rename_part, name="rename_part"),
    path("<uuid:job_id>/parts/<uuid:part_id>/work/", sheets.work, name="work"),
    path("<uuid:job_id>/parts/<uuid:part_id>/save/", saving.save, name="save"),
    path(
        "<uuid:job_id>/parts/<uuid:part_id>/undo/",
        saving.step,
        {"action": "undo"},
        name="undo_here",
    ),
    path(
        "<uuid:job_id>/parts/<uuid:part_id>/redo/",
        saving.step,
        {"action": "redo"},
        name="redo_here",
    ),
    path("<uuid:job_id>/parts/<uuid:part_id>/accept/", sheets.accept, name="accept"),
    path("<uuid:job_id>/parts/<uuid:part_id>/line/", line.read, name="line"),
    path("<uuid:job_id>/mend/", sheets.mend, name="mend"),
    path("<uuid:job_id>/parts/<uuid:part_id>/offer/", sheets.take_offer, name="offer"),
    path("<uuid:job_id>/parts/<uuid:part_id>/print/", sheets.print_view, name="print"),
    path("<uuid:job_id>/parts/<uuid:part_id>/sheet.json", sheets.as_json, name="json"),
    path("<uuid:job_id>/parts/<uuid:part_id>/balance/", balance_views.balance, name="balance"),
    path(
        "<uuid:job_id>/parts/<uuid:part_id>/balance/work/",
        balance_views.work_order,
        name="work_order",
    ),
    path(
        "<uuid:job_id>/parts/<uuid:part_id>/rows/<slug:name>/",
        rows_views.take_file,
        name="rows_in",
    ),
    path(
        "<uuid:job_id>/parts/<uuid:part_id>/rows/<slug:name>.<str:ending>",
        rows_views.as_file,
        name="rows_file",
    ),
    path("<uuid:job_id>/parts/<uuid:part_id>/metal/", metal_views.metal, name="metal"),
    path("<uuid:job_id>/parts/<uuid:part_id>/cases/", cases_views.cases, name="cases"),
    path(
        "<uuid:job_id>/parts/<uuid:part_id>/cases.<str:ending>",
        cases_views.as_file,
        name="cases_file",
    ),
    path("<uuid:job_id>/parts/<uuid:part_id>/door/", board_views.door_view, name="door"),
    path("<uuid:job_id>/parts/<uuid:part_id>/place/", board_views.place, name="place"),
    path("<uuid:job_id>/parts/<uuid:part_id>/circuits/", board_views.many, name="many"),
    path("<uuid:job_id>/parts/<uuid:part_id>/circuits/change/", saving.many, name="change_many"),
    path("<uuid:job_id>/parts/<uuid:part_id>/chart/", board_views.chart_view, name="chart"),
    path("<uuid:job_id>/parts/<uuid:part_id>/circuits.csv", board_views.as_csv, name="csv"),
    path("<uuid:job_id>/parts/<uuid:part_id>/circuits.xlsx", board_views.as_xlsx, name="xlsx"),
    path("<uuid:job_id>/parts/<uuid:part_id>/import/", board_views.take_file, name="import"),
]
