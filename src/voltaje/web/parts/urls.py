"""Addresses of quick sheets and of the code's rules."""

from __future__ import annotations

from django.urls import include, path

from voltaje.web.codes import views as code_views
from voltaje.web.parts import answers, quick_views

codes = (
    [
        path("tables/", code_views.tables, name="tables"),
        path("tables/<str:topic>/", code_views.side_by_side, name="side_by_side"),
        path("<str:edition_id>/", code_views.rules, name="rules"),
        path("<str:edition_id>/<str:topic>/", code_views.rule, name="rule"),
    ],
    "codes",
)
sheets = (
    [
        path("", answers.find, name="find"),
        path("file/", quick_views.file_into_job, name="file"),
        path("<str:name>/", quick_views.quick, name="quick"),
        path("<str:name>/work/", quick_views.quick_work, name="quick_work"),
        path("<str:name>/file/", quick_views.quick_file, name="quick_file"),
    ],
    "sheets",
)
urlpatterns = [
    path("codes/", include(codes)),
    path("quick/", include(sheets)),
]
