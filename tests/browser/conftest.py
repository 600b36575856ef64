"""The real interface in headless Chromium from Debian's packages.

Every page notes what it must not do: ask another host, write an error to the console.
"""

import os
from urllib.parse import urlsplit

import pytest
from browser.weather import LINE
from django.conf import settings
from django.core.management import call_command
from playwright.sync_api import expect, sync_playwright

# the live server takes its middleware when it starts, once for all tests
settings.MIDDLEWARE = ["browser.weather.Weather", *settings.MIDDLEWARE]

# Playwright's own loop runs in this thread; the ORM is used by the fixtures in it all the same.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

# how long is waited for what is to come; a slow machine is no fault of the page
PATIENCE = 30_000  # ms
expect.set_options(timeout=PATIENCE)

ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


@pytest.hookimpl(tryfirst=True)  # before the workers read the groups
def pytest_collection_modifyitems(items):
    """All tests of the interface by one worker, one after the other: two browsers side by side
    would only wait for each other."""
    for item in items:
        if "browser" in item.path.parts:
            item.add_marker(pytest.mark.xdist_group("browser"))


@pytest.fixture(scope="session")
def chromium():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        yield browser
        browser.close()


@pytest.fixture
def demo_server(transactional_db, live_server, settings):
    """The live server in demo mode with the demo loaded."""
    settings.DEMO = True
    LINE.clear()
    call_command("load_demo")
    return live_server.url


@pytest.fixture
def window(chromium, demo_server):
    """``window(width=1280, scheme="light")`` opens a fresh browser window."""
    opened, faults = [], []

    def open_window(width=1280, scheme="light"):
        context = chromium.new_context(
            viewport={"width": width, "height": 800 if width > 900 else 844}
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
        page.goto(demo_server)
        return page

    yield open_window
    for context in opened:
        context.close()
    LINE.calm()
    assert faults == []


@pytest.fixture
def demo(window):
    """``demo(part, …)``: a window signed in through the demo's button, on a part's sheet (the
    cottage's), or with ``part=None`` on the job's page."""

    def open_demo(part="Keeper’s cottage", **kwargs):
        page = window(**kwargs)
        page.get_by_role("button", name="Open the demo").click()
        page.get_by_role("link", name="Alder Mill", exact=True).click()
        page.wait_for_selector(".job-tree")
        if part is not None:
            page.locator(".job-tree").get_by_role("link", name=part, exact=True).click()
            page.wait_for_selector("#entries")
        page.wait_for_load_state("load")  # keys before the scripts have run would go astray
        return page

    return open_demo
