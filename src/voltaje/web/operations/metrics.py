"""What is measured, for Prometheus: requests and long work in each process, and what the database
knows at the moment that it is asked. No label holds a person's data.

Processes share their figures through the files of ``VOLTAJE_METRICS_DIR``; without it each has its
own.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.models import Count, Min
from django.utils import timezone
from prometheus_client import CollectorRegistry, Counter, Histogram, generate_latest
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.metrics_core import Metric
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import Collector

# no code figures: s, the bounds of the groups
REQUEST_BOUNDS = (0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.3, 0.5, 1.0, 2.0, 5.0)
TASK_BOUNDS = (0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 120.0, 300.0)

own = CollectorRegistry()
requests = Histogram(
    "voltaje_request_seconds",
    "Requests by route and status, s until they were answered",
    ("route", "status"),
    buckets=REQUEST_BOUNDS,
    registry=own,
)
request_processor = Counter(
    "voltaje_request_processor_seconds",
    "Processor time of requests by route, s",
    ("route",),
    registry=own,
)
tasks = Histogram(
    "voltaje_task_seconds",
    "Long calculations by work and how they ended, s from their beginning",
    ("work", "state"),
    buckets=TASK_BOUNDS,
    registry=own,
)
task_processor = Counter(
    "voltaje_task_processor_seconds",
    "Processor time of long calculations, s",
    ("work",),
    registry=own,
)


class FromDatabase(Collector):
    """What the database knows: the queue, its workers, the last backup."""

    def collect(self) -> Iterator[Metric]:
        """Asked anew each time; a database that does not answer is told, too."""
        up = GaugeMetricFamily("voltaje_database_up", "Whether the database answers")
        try:
            found = list(self._found())
            up.add_metric([], 1)
        except DatabaseError:
            connection.close()
            found = []
            up.add_metric([], 0)
        yield up
        yield from found
        age = backup_age()
        if age is not None:
            yield GaugeMetricFamily(
                "voltaje_backup_age_seconds", "s since the last backup was finished", value=age
            )

    def _found(self) -> Iterator[Metric]:
        from voltaje.web.background.asking import workers
        from voltaje.web.background.models import LIVE, BackgroundTask

        live = BackgroundTask.objects.filter(state__in=LIVE).order_by()
        counts = dict(live.values_list("state").annotate(Count("pk")))
        family = GaugeMetricFamily("voltaje_tasks", "Long calculations by state", labels=["state"])
        for state in LIVE:
            family.add_metric([state], counts.get(state, 0))
        yield family
        oldest = live.filter(state="waiting").aggregate(at=Min("created_at"))["at"]
        waits = (timezone.now() - oldest).total_seconds() if oldest else 0.0
        yield GaugeMetricFamily(
            "voltaje_oldest_waiting_seconds", "s that the oldest one waits", value=waits
        )
        yield GaugeMetricFamily("voltaje_workers", "Workers that are heard of", value=workers())


def backup_age() -> float | None:
    """s since the newest backup of the directory of backups; ``None`` where there is none."""
    if not settings.BACKUP_DIR:
        return None
    made = [path.stat().st_mtime for path in Path(settings.BACKUP_DIR).glob("voltaje-*.tar*")]
    return timezone.now().timestamp() - max(made) if made else None


def written() -> bytes:
    """All of it as Prometheus reads it."""
    registry = CollectorRegistry()
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    else:
        registry.register(own)
    registry.register(FromDatabase())
    return generate_latest(registry)
