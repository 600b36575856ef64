"""Writers on a server whose workers and database are killed in the middle: every save that was
acknowledged must be found afterwards. Run by ``./voltaje bench crash``.
"""

from __future__ import annotations

import html
import http.client
import json
import os
import random
import re
import secrets
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path

HERE = Path(__file__).parent.parent
WRITERS = 6
KILLS = int(os.environ.get("VOLTAJE_KILLS", "8"))
BETWEEN = 4.0  # s
STATE = re.compile(r'id="state" data-state="([^"]*)"')
PG_DATA = HERE / ".voltaje" / "pg"
FAILURES = (urllib.error.URLError, OSError, http.client.HTTPException)


class Writer(threading.Thread):
    """One tab that saves a new figure again and again and notes what was acknowledged."""

    def __init__(self, base: str, stop: threading.Event) -> None:
        super().__init__(daemon=True)
        self.base, self.stop = base, stop
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.acknowledged: list[str] = []
        self.failed = 0
        self.tab = secrets.token_hex(8)

    def ask(self, path: str, form: dict[str, str] | None = None, token: str = "") -> str:
        """The text of an answer."""
        data = urllib.parse.urlencode(form).encode() if form else None
        request = urllib.request.Request(self.base + path, data, {"X-CSRFToken": token})
        with self.opener.open(request, timeout=15) as answer:
            return answer.read().decode()

    def begin(self) -> None:
        """Opens a copy of the demo and finds a circuit."""
        token = re.search(r'csrfmiddlewaretoken" value="(\w+)"', self.ask("/"))[1]
        self.ask("/account/demo/", {"csrfmiddlewaretoken": token})
        self.job = re.search(r'href="(/jobs/[0-9a-f-]{36}/)"', self.ask("/jobs/"))[1]
        tree = self.ask(self.job)
        self.token = re.search(r'"X-CSRFToken": "(\w+)"', tree)[1]
        parts = re.findall(rf'href="({self.job}parts/[0-9a-f-]+/)">([^<]+)<', tree)
        self.part = next(url for url, name in parts if name == "Kiln room lights")

    def run(self) -> None:
        """Saves until told to stop; one whose answer did not come is sent again."""
        number = 0
        while not self.stop.is_set():
            number += 1
            load = f"{1000 + number} W"
            form = {"set:load": load, "tab": self.tab, "turn": str(int(time.time() * 1000))}
            try:
                found = STATE.search(self.ask(self.part + "save/", form, self.token))
            except FAILURES:
                self.failed += 1
                time.sleep(0.3)
                continue
            if found and json.loads(html.unescape(found[1]))["values"]["load"] == load:
                self.acknowledged.append(load)


def workers(port: str) -> list[int]:
    """The process ids of the server's workers."""
    text = subprocess.run(
        ["pgrep", "-f", f"voltaje.web.wsgi --bind 127.0.0.1:{port}"],
        capture_output=True,
        text=True,
        check=False,
    ).stdout
    return [int(line) for line in text.split()]


def kill(port: str, master: int, chance: random.Random) -> str:
    """Kills a worker, or the database's first process, which is started again."""
    if chance.random() < 0.5:
        found = [pid for pid in workers(port) if pid != master]
        os.kill(chance.choice(found), signal.SIGKILL)
        return "worker"
    pid = int((PG_DATA / "postmaster.pid").read_text().split()[0])
    os.kill(pid, signal.SIGKILL)
    time.sleep(1.5)
    for _ in range(10):  # its children may hold on to the shared memory for a moment
        if subprocess.run([HERE / "voltaje", "db", "start"], check=False).returncode == 0:
            break
        time.sleep(1)
    return "database"


def main() -> int:
    """Exit code 1 where something acknowledged is missing."""
    base, master = sys.argv[1], int(sys.argv[2])
    port = base.rsplit(":", 1)[1]
    chance, stop = random.Random(5), threading.Event()
    writers = [Writer(base, stop) for _ in range(WRITERS)]
    for writer in writers:
        writer.begin()
    for writer in writers:
        writer.start()
    killed = []
    for _ in range(KILLS):
        time.sleep(BETWEEN)
        killed.append(kill(port, master, chance))
    time.sleep(BETWEEN)
    stop.set()
    for writer in writers:
        writer.join(30)
    sys.path.insert(0, str(HERE / "src"))
    import django

    django.setup()
    from voltaje.web.jobs.models import Job

    missing, kept = 0, 0
    for writer in writers:
        job = Job.objects.get(pk=writer.job.split("/")[2])
        steps = [
            step for r in job.revisions.all() for c in r.changes for step in c.get("entries", [])
        ]
        there = {after for path, _, after in steps if path == ["load"]}
        missing += len(set(writer.acknowledged) - there)
        kept += len(set(writer.acknowledged))
        numbers = list(job.revisions.order_by("number").values_list("number", flat=True))
        assert numbers == list(range(1, len(numbers) + 1)) and numbers[-1] == job.revision
    failed = sum(writer.failed for writer in writers)
    workers_, database = killed.count("worker"), killed.count("database")
    print(f"killed: {workers_} workers, {database} times the database")
    print(f"{kept} saves acknowledged, {failed} failed, {missing} missing")
    return 1 if missing or not kept else 0


if __name__ == "__main__":
    sys.exit(main())
