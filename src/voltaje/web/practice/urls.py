"""Addresses of practice."""

from __future__ import annotations

from django.urls import path

from voltaje.web.practice import (
    balancing,
    class_views,
    faulty,
    hidden,
    paper,
    sitting_views,
    unlabelled,
    views,
)

app_name = "practice"
urlpatterns = [
    path("", views.practice_list, name="list"),
    path("fault/board/", faulty.board_fault, name="board_fault"),
    path("fault/transformers/", faulty.bank_fault, name="bank_fault"),
    path("fault/windings/", unlabelled.unlabelled_windings, name="unlabelled"),
    path("balance/", balancing.balance_board, name="balance"),
    path("fault/<str:name>/", hidden.find_fault, name="fault"),
    path("paper/", paper.paper, name="paper"),
    path("papers/", class_views.papers, name="papers"),
    path("papers/<uuid:paper_id>/", class_views.results, name="results"),
    path("papers/<uuid:paper_id>/change/", class_views.change, name="change"),
    path(
        "papers/<uuid:paper_id>/results.<str:ending>",
        class_views.results_file,
        name="results_file",
    ),
    path("papers/<uuid:paper_id>/<int:place>/<int:number>/", class_views.marking, name="marking"),
    path("join/", sitting_views.join, name="join"),
    path("mine/<str:key>/", sitting_views.sitting, name="sitting"),
    path("mine/<str:key>/<int:number>/", sitting_views.sitting_problem, name="sitting_problem"),
    path("<str:name>/", views.practise, name="problem"),
]
