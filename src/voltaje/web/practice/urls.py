"""Addresses of practice."""

from __future__ import annotations

from django.urls import path

from voltaje.web.practice import hidden, paper, views

app_name = "practice"
urlpatterns = [
    path("", views.practice_list, name="list"),
    path("fault/<str:name>/", hidden.find_fault, name="fault"),
    path("paper/", paper.paper, name="paper"),
    path("<str:name>/", views.practise, name="problem"),
]
