"""Addresses of nameplates."""

from __future__ import annotations

from django.urls import path

from voltaje.web.nameplates import views

app_name = "nameplates"
urlpatterns = [
    path("", views.nameplates, name="list"),
    path("new/", views.new, name="new"),
    path("<uuid:plate_id>/", views.nameplate, name="one"),
    path("<uuid:plate_id>/photo.jpg", views.photo, name="photo"),
]
