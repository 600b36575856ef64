"""Log lines as JSON, each with the number of the request it belongs to. No line holds a person's
data: no address, no name, no text that was typed."""

from __future__ import annotations

import json
import logging
import secrets
import time
from collections.abc import Callable
from contextvars import ContextVar
from datetime import UTC, datetime

from django.http import HttpRequest, HttpResponse

from voltaje.web.operations import metrics

log = logging.getLogger("voltaje.requests")
current: ContextVar[str] = ContextVar("request_id", default="")
SLOW_MS = 1000


class Lines(logging.Formatter):
    """A record as one line of JSON."""

    def format(self, record: logging.LogRecord) -> str:
        """Time, level, logger, request, message, and what the record carries."""
        line = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname,
            "logger": record.name,
            "request": current.get(),
            "message": record.getMessage(),
        }
        for name in ("fault", "route", "status", "ms", "work", "state"):
            if hasattr(record, name):
                line[name] = getattr(record, name)
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


class Requests:
    """Middleware: gives each request its number, tells it to the client, and writes one line."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answers, and notes which route, how it ended and how long it took."""
        token = current.set(secrets.token_hex(6))
        began, processor = time.perf_counter(), time.thread_time()
        try:
            response = self.answer(request)
            response["X-Request-Id"] = current.get()
            seconds = time.perf_counter() - began
            route = _route(request)
            metrics.requests.labels(route, response.status_code).observe(seconds)
            metrics.request_processor.labels(route).inc(time.thread_time() - processor)
            self._write(request, route, response.status_code, seconds * 1000)
        finally:
            current.reset(token)
        return response

    def _write(self, request: HttpRequest, route: str, status: int, ms: float) -> None:
        level = logging.ERROR if status >= 500 else logging.INFO
        if ms > SLOW_MS and level == logging.INFO:
            level = logging.WARNING
        extra = {"route": route, "status": status, "ms": round(ms, 1)}
        log.log(level, "%s %s", request.method, route or "no route", extra=extra)


def _route(request: HttpRequest) -> str:
    """The name of the address, nothing where there is no such address."""
    match = request.resolver_match
    return match.view_name if match else ""
