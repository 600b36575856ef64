"""A small server of its own for whoever watches the program: ``/live``, ``/ready``, ``/metrics``.
It answers however busy the pages' processes are, and tells when they do not answer."""

from __future__ import annotations

import json
from http import HTTPStatus
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from django.db import DatabaseError, close_old_connections, connection
from django.db.migrations.executor import MigrationExecutor
from prometheus_client import CONTENT_TYPE_LATEST

from voltaje.web.background.asking import workers
from voltaje.web.operations import metrics

PATIENCE = 3.0  # no code figure: s that the pages' processes may take for their health


def ready(pages: str) -> tuple[bool, dict[str, str]]:
    """Whether pages can be served, and each thing that it takes. ``pages`` is the address of the
    pages' processes."""
    found = {"database": _database(), "pages": _pages(pages)}
    good = all(state == "good" for state in found.values())
    if found["database"] == "good":
        # short work goes on without a worker, so that is told and nothing more
        found["workers"] = str(workers())
    return good, found


def _database() -> str:
    try:
        executor = MigrationExecutor(connection)
        behind = bool(executor.migration_plan(executor.loader.graph.leaf_nodes()))
    except DatabaseError:
        connection.close()
        return "not reachable"
    return "behind" if behind else "good"


def _pages(address: str) -> str:
    # as a proxy of the operator's own would ask: not sent on to TLS
    asked = Request(f"{address}/health/", headers={"X-Forwarded-Proto": "https"})  # noqa: S310
    try:
        with urlopen(asked, timeout=PATIENCE):  # noqa: S310 - the operator's own address
            return "good"
    except HTTPError as error:
        return f"answered {error.code}"
    except (URLError, OSError):
        return "no answer"


class _Handler(BaseHTTPRequestHandler):
    pages = ""

    def do_GET(self) -> None:
        try:
            self._answer()
        finally:
            close_old_connections()
            connection.close()

    def _answer(self) -> None:
        if self.path == "/live":
            self._write(True, {"state": "alive"})
        elif self.path == "/ready":
            self._write(*ready(self.pages))
        elif self.path == "/metrics":
            self._send(HTTPStatus.OK, CONTENT_TYPE_LATEST, metrics.written())
        else:
            self._write(False, {"state": "no such address"}, HTTPStatus.NOT_FOUND)

    def _write(
        self,
        good: bool,
        found: dict[str, str],
        bad: HTTPStatus = HTTPStatus.SERVICE_UNAVAILABLE,
    ) -> None:
        body = json.dumps(found).encode()
        self._send(HTTPStatus.OK if good else bad, "application/json", body)

    def _send(self, status: HTTPStatus, kind: str, body: bytes) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing: it is asked every few seconds."""


def server(host: str, port: int, pages: str) -> ThreadingHTTPServer:
    """The server; ``serve_forever`` starts it."""
    handler = type("Handler", (_Handler,), {"pages": pages.rstrip("/")})
    return ThreadingHTTPServer((host, port), handler)
