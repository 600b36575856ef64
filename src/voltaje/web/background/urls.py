"""Addresses of background tasks; each looks it up among the account's own."""

from __future__ import annotations

from django.urls import path

from voltaje.web.background import views

app_name = "background"
urlpatterns = [
    path("<uuid:task_id>/", views.progress, name="progress"),
    path("<uuid:task_id>/stop/", views.stop, name="stop"),
    path("<uuid:task_id>/again/", views.again, name="again"),
]
