"""Addresses of practice."""

from __future__ import annotations

from django.urls import path

from voltaje.web.practice import views

app_name = "practice"
urlpatterns = [
    path("", views.practice_list, name="list"),
    path("<str:name>/", views.practise, name="problem"),
]
