"""The real interface in headless Chromium from Debian's packages.

Every page notes what it must not do: ask another host, write an error to the console.
"""

import os
from contextlib import contextmanager
from inspect import signature
from urllib.parse import urlsplit

import pytest
from browser.machines import machines
from browser.weather import LINE
from django.conf import settings as django
from django.core import signing
from django.core.management import call_command
from django.db import connection
from django.test import Client
from django.test.utils import setup_databases, teardown_databases
from django.urls import reverse
from playwright.sync_api import expect, sync_playwright
from pytest_django.live_server_helper import LiveServer

from voltaje.web.jobs.demo_copies import COOKIE, copy
from voltaje.web.jobs.models import Job

# the live server takes its middleware when it starts, once for all tests
django.MIDDLEWARE = ["browser.weather.Weather", *django.MIDDLEWARE]

GROUPS = 2  # how many browsers there are: each takes a processor
SIGNED_IN_BY = "django.contrib.auth.backends.ModelBackend"

# Playwright's own loop runs in this thread; the ORM is used by the fixtures in it all the same.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

# how long is waited for what is to come; a slow machine is no fault of the page
PATIENCE = 30_000  # ms
expect.set_options(timeout=PATIENCE)

# the browser without its window: the pages are the same, a third of the work is not
CHROMIUM = "/usr/bin/chromium-headless-shell"
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


@pytest.hookimpl(tryfirst=True)  # before the workers read the groups
def pytest_collection_modifyitems(items):
    """Each file stays with one worker and its browser, and every other file goes to the second."""
    files = sorted({item.path for item in items if "browser" in item.path.parts})
    for item in items:
        if "browser" in item.path.parts:
            group = files.index(item.path) % GROUPS
            item.add_marker(pytest.mark.xdist_group(f"browser {group + 1}"))


@pytest.fixture(scope="session")
def chromium():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def database_of_tests(django_db_setup, django_db_blocker):
    """The database of tests, made here where no test that was chosen asks for one by its mark:
    without it these would run on the one that is served."""
    made = None
    with django_db_blocker.unblock():
        if not is_of_tests():
            made = setup_databases(verbosity=0, interactive=False, aliases=["default"])
        assert is_of_tests()
    yield
    if made is not None:
        with django_db_blocker.unblock():
            teardown_databases(made, verbosity=0)


def is_of_tests():
    """Whether what is connected to is a database of tests."""
    return connection.settings_dict["NAME"].startswith("test_")


@contextmanager
def served(how):
    """The address of a live server in this process, or of several machines."""
    if how:
        with machines(connection.settings_dict, pooled=how == "pooled") as url:
            yield url
        return
    server = LiveServer("localhost")
    yield server.url
    server.stop()


@pytest.fixture(autouse=True)
def in_this_process(request):
    """What changes the program for a test does so in this process alone."""
    asked = set(signature(request.function).parameters)
    if request.config.getoption("--machines") and asked & {"monkeypatch", "worker"}:
        pytest.skip("changes the program in its own process")


@pytest.fixture(scope="package")
def demo_site(request, database_of_tests, django_db_blocker):
    """One live server with the demo for all of these tests: each has its own copy of it, or an
    account of its own. What they leave is gone before any other test of the same worker runs."""
    with django_db_blocker.unblock():
        call_command("load_demo")
        with served(request.config.getoption("--machines")) as url:
            yield url
        # what the open browser keeps alive holds the database; its end is not waited for
        with connection.cursor() as cursor:
            cursor.execute(
                "select pg_terminate_backend(pid) from pg_stat_activity"
                " where datname = current_database() and pid <> pg_backend_pid()"
            )
        call_command("flush", verbosity=0, interactive=False, allow_cascade=True)
        connection.close()


@pytest.fixture
def demo_server(demo_site, django_db_blocker, settings):
    """The live server in demo mode."""
    settings.DEMO = True
    LINE.clear()
    with django_db_blocker.unblock():
        yield demo_site


@pytest.fixture
def window(chromium, demo_server):
    """``window(width=1280, scheme="light")`` opens a fresh browser window on the front page, or
    with ``at=None`` on none yet."""
    opened, faults = [], []

    def open_window(width=1280, scheme="light", at="/", touch=False):
        context = chromium.new_context(
            viewport={"width": width, "height": 800 if width > 900 else 844},
            has_touch=touch,
            is_mobile=touch,
        )
        context.add_cookies([{"name": "scheme", "value": scheme, "url": demo_server}])
        context.set_default_timeout(PATIENCE)
        page = context.new_page()
        page.on(
            "console", lambda m: faults.append(m.text) if m.type in ("error", "warning") else None
        )
        page.on("pageerror", lambda e: faults.append(str(e)))
        page.on("request", lambda r: faults.append(r.url) if urlsplit(r.url).hostname not in
                ("localhost", "127.0.0.1", None) else None)  # fmt: skip
        page.faults = faults
        opened.append(context)
        if at is not None:
            page.goto(demo_server + at)
        return page

    yield open_window
    for context in opened:
        context.close()
    LINE.calm()
    assert faults == []


@pytest.fixture
def demo(window, demo_server):
    """``demo(part, …)``: a window of a visitor with an own copy of the demo, signed in by the
    session's cookie, on a part's sheet (the cottage's), or with ``part=None`` on the job's page."""

    def open_demo(part="Keeper’s cottage", **kwargs):
        visitor = copy()
        client = Client()
        client.force_login(visitor, SIGNED_IN_BY)
        session = client.cookies[django.SESSION_COOKIE_NAME].value
        mill = Job.objects.get(owner=visitor, name="Alder Mill")
        address = reverse("jobs:job", args=[mill.pk])
        if part is not None:
            address = reverse("jobs:part", args=[mill.pk, mill.parts.get(name=part).pk])
        page = window(at=None, **kwargs)
        known = signing.dumps(visitor.pk, salt=COOKIE)  # so that the button leads back to this copy
        cookies = {django.SESSION_COOKIE_NAME: session, COOKIE: known}
        page.context.add_cookies(
            [{"name": name, "value": text, "url": demo_server} for name, text in cookies.items()]
        )
        page.goto(f"{demo_server}{address}")
        page.wait_for_selector("#entries" if part else ".job-tree")
        page.wait_for_load_state("load")  # keys before the scripts have run would go astray
        return page

    return open_demo
