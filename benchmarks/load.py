"""Many users at once: each on a job of 50 parts of their own, one act every three seconds, of which
seventy in a hundred recalculate, twenty save and ten open a page.

Run by ``./voltaje bench load`` with the server it starts; the figures go to docs/benchmarks.md.
"""

import html
import json
import random
import re
import secrets
import time

from locust import HttpUser, constant_pacing, task

KEY = re.compile(r'"X-CSRFToken": "(\w+)"')
STATE = re.compile(r'id="state" data-state="([^"]*)"')


class Electrician(HttpUser):
    """Opens the demo, which is a copy of their own, and works on its circuits."""

    wait_time = constant_pacing(3)

    def on_start(self):
        """Signs in to a copy, reads the job's parts."""
        self.tab = secrets.token_hex(8)
        page = self.client.get("/", name="front").text
        self.token = re.search(r'csrfmiddlewaretoken" value="(\w+)"', page)[1]
        self.client.post(
            "/account/demo/", {"csrfmiddlewaretoken": self.token}, name="open the demo"
        )
        jobs = self.client.get("/jobs/", name="jobs").text
        self.job = re.search(r'href="(/jobs/[0-9a-f-]{36}/)"', jobs)[1]
        tree = self.client.get(self.job, name="job").text
        self.token = KEY.search(tree)[1]
        self.parts = re.findall(rf'href="({self.job}parts/[0-9a-f-]+/)">([^<]+)<', tree)
        self.lamps = [url for url, name in self.parts if "lights" in name or "Gallery" in name]
        self.part = random.choice(self.lamps)
        self.load = "600 W"
        self.rev = "1"

    def headers(self):
        """What the page sends along."""
        return {"X-CSRFToken": self.token, "HX-Request": "true"}

    @task(70)
    def recalculate(self):
        """A key in the load of a lighting circuit."""
        watts = random.randint(300, 1500)
        form = {"use": "lighting", "load": f"{watts} W", "length": "60 ft", "seq": "1"}
        with self.client.post(
            self.part + "work/",
            form,
            headers=self.headers(),
            name="recalculate",
            catch_response=True,
        ) as answer:
            if 'id="state"' not in answer.text:
                answer.failure("no result came")

    @task(20)
    def save(self):
        """The load is kept; the answer must say what was sent."""
        load = f"{random.randint(300, 1500)} W"
        form = {
            "set:load": load,
            "base:load": self.load,
            "tab": self.tab,
            "rev": self.rev,
            "turn": str(int(time.time() * 1000)),
        }
        with self.client.post(
            self.part + "save/", form, headers=self.headers(), name="save", catch_response=True
        ) as answer:
            found = STATE.search(answer.text)
            state = json.loads(html.unescape(found[1])) if found else {}
            self.load = state.get("values", {}).get("load", self.load)
            self.rev = str(state.get("revision", self.rev))
            if not state:
                answer.failure("no result came")

    @task(10)
    def page(self):
        """The job, or another circuit."""
        if random.random() < 0.5:
            self.client.get(self.job, name="job page")
            return
        self.part = random.choice(self.lamps)
        text = self.client.get(self.part, name="part page").text
        found = re.search(r'name="load" value="([^"]*)"', text)
        self.load = html.unescape(found[1]) if found else self.load
