"""A line to the server that can be slow, out of order, failing or losing answers. Where several
processes serve, all of them share one state in the file that ``VOLTAJE_WEATHER`` names."""

import fcntl
import json
import os
import re
import time
from contextlib import contextmanager
from pathlib import Path
from threading import Lock

from django.http import HttpResponse

WATCHED = (
    "/save/",
    "/work/",
    "/undo/",
    "/redo/",
    "/tree/",
    "/readings/",
    "/settings/",
    "/prices/",
    "/place/",
    "/practice/motor/",
    "/practice/fault/board/",
    "/practice/fault/multiwire_circuit/",
    "/practice/fault/windings/",
    "/practice/balance/",
    "/1/",  # the first problem of a learner's paper
)
READ = ("/circuits/",)  # what is asked by GET and answered into a page
SCHEDULE = re.compile(r"/work/[0-9a-f-]{36}/")  # a work schedule
FAIR = {"delays": [0], "at": 0, "failing": 0, "losing": 0, "active": 0}


class Line:
    """What befalls the requests that change or work something. ``delays`` in seconds come round
    and round; ``failing`` and ``losing`` are how many of the next are answered 502, and how many
    are done but their answer lost."""

    def __init__(self):
        self.lock, self.state = Lock(), dict(FAIR)

    @contextmanager
    def held(self):
        """The state, of this process or of all of them, nobody else changing it."""
        file = os.environ.get("VOLTAJE_WEATHER")
        if not file:
            with self.lock:
                yield self.state
            return
        with Path(file).open("a+") as shared:
            fcntl.flock(shared, fcntl.LOCK_EX)
            shared.seek(0)
            state = json.loads(shared.read() or json.dumps(FAIR))
            yield state
            shared.seek(0)
            shared.truncate()
            shared.write(json.dumps(state))

    def clear(self):
        """Fair weather."""
        self.set((0,))

    def set(self, delays=(0,), failing=0, losing=0):
        """Other weather from now on."""
        with self.held() as state:
            state.update(delays=list(delays), at=0, failing=failing, losing=losing)

    @property
    def failing(self):
        """How many are still to fail."""
        with self.held() as state:
            return state["failing"]

    def fate(self, spared):
        """What befalls the next: how many seconds later, whether it fails, whether its answer is
        lost."""
        with self.held() as state:
            delay = state["delays"][state["at"] % len(state["delays"])]
            state["at"] += 1
            fails = not spared and state["failing"] > 0
            loses = not spared and not fails and state["losing"] > 0
            state["failing"] -= fails
            state["losing"] -= loses
        return delay, fails, loses

    @contextmanager
    def used(self):
        """One more is on its way."""
        with self.held() as state:
            state["active"] += 1
        try:
            yield
        finally:
            with self.held() as state:
                state["active"] -= 1

    def calm(self):
        """Waits until nothing is on its way: a page that closes sends what it still has."""
        quiet = 0
        while quiet < 4:
            with self.held() as state:
                quiet = quiet + 1 if state["active"] == 0 else 0
            time.sleep(0.05)


LINE = Line()


class Weather:
    """The middleware that makes it."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        with LINE.used():
            return self.answer(request)

    def answer(self, request):
        """What comes of a request in this weather."""
        path = request.path
        sent = path.endswith(WATCHED) or SCHEDULE.search(path)
        if not (sent if request.method == "POST" else path.endswith(READ)):
            return self.get_response(request)
        delay, fails, loses = LINE.fate(spared=path.endswith("/work/"))
        if fails:
            time.sleep(delay)
            return HttpResponse("a fault in between", status=502)
        answer = self.get_response(request)
        time.sleep(delay)
        return HttpResponse("lost", status=502) if loses else answer
