"""Health check: 200 when the database answers and its tables are up to date, else 503."""

from __future__ import annotations

from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse


def health(request: HttpRequest) -> JsonResponse:
    """Looks at the database; says nothing about its contents."""
    try:
        executor = MigrationExecutor(connection)
        behind = bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))
    except DatabaseError:
        return JsonResponse({"database": "not reachable"}, status=503)
    state = "behind" if behind else "up to date"
    return JsonResponse({"database": state}, status=503 if behind else 200)
