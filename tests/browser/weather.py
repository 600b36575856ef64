"""A line to the server that can be slow, out of order, failing or losing answers."""

import itertools
import time

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
)


class Line:
    """What befalls the requests that change or work something. ``delays`` in seconds come round
    and round; ``failing`` and ``losing`` are how many of the next are answered 502, and how many
    are done but their answer lost."""

    def __init__(self):
        self.clear()

    def clear(self):
        """Fair weather."""
        self.set((0,))

    def set(self, delays=(0,), failing=0, losing=0):
        """Other weather from now on."""
        self.delays, self.failing, self.losing = itertools.cycle(delays), failing, losing
        self.seen = 0

    active = 0

    def calm(self):
        """Waits until nothing is on its way: a page that closes sends what it still has."""
        quiet = 0
        while quiet < 4:
            quiet = quiet + 1 if self.active == 0 else 0
            time.sleep(0.05)


LINE = Line()


class Weather:
    """The middleware that makes it."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        LINE.active += 1
        try:
            return self.answer(request)
        finally:
            LINE.active -= 1

    def answer(self, request):
        """What comes of a request in this weather."""
        if request.method != "POST" or not request.path.endswith(WATCHED):
            return self.get_response(request)
        LINE.seen += 1
        delay = next(LINE.delays)
        if LINE.failing > 0 and "/work/" not in request.path:
            LINE.failing -= 1
            time.sleep(delay)
            return HttpResponse("a fault in between", status=502)
        answer = self.get_response(request)
        if LINE.losing > 0 and "/work/" not in request.path:
            LINE.losing -= 1
            answer = HttpResponse("lost", status=502)
        time.sleep(delay)
        return answer
