"""The pictures of docs/screenshots, made anew from the demo that ``./voltaje demo`` serves.

python checks/screenshots.py http://127.0.0.1:8000 [name …]
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import sync_playwright

HERE = Path(__file__).parent.parent
OUT = HERE / "docs" / "screenshots"
sys.path.insert(0, str(HERE / "src"))

MILL = "Alder Mill"
# name: job, part (empty: the job's page), what comes after its address
VIEWS: dict[str, tuple[str, str, str]] = {
    "job": (MILL, "", ""),
    "sheet": (MILL, "Keeper’s cottage", ""),
    "board": (MILL, "Shop and gallery", ""),
    "circuit": (MILL, "Kiln 2, top loading", ""),
    "materials": (MILL, "", "materials/"),
    "documents": (MILL, "", "documents/print/?section=cover&section=panels"),
    "motor": (MILL, "Glaze compressor", ""),
    "transformer": (MILL, "Mill transformer", ""),
    "neutral": (MILL, "Counter, one neutral for two circuits", ""),
    "riser": (MILL, "", "riser/"),
    "readings": (MILL, "", "readings/"),
    "balance": (MILL, "Workshop feeder", "balance/?objective=heaviest"),
    "schedule": (MILL, "Mill transformer", ""),
    "dark": (MILL, "", "codes/"),
    "phone": (MILL, "Keeper’s cottage", ""),
}
NARROW, DARK = {"phone"}, {"dark"}


def opened_neutral(page: Any) -> None:
    """The counter's neutral, opened in the drawing."""
    page.locator('#drawing [data-sets="opened_at=N:1"]').first.focus()
    page.keyboard.press("Enter")
    page.wait_for_timeout(1500)


def read(page: Any) -> None:
    """Some readings on the board with a hidden fault."""
    for place in ("a-N", "v-L1-N", "v-1"):
        page.locator(f'button[value="measure:{place}"]').click()
        page.wait_for_timeout(600)


def planned(page: Any) -> None:
    """Another tap and a longer feeder, and the schedule of that work."""
    job = page.url.partition("parts/")[0]
    page.locator("[name=tap]").select_option("-2.5")
    page.wait_for_timeout(1500)
    page.locator(".job-tree, .tree").get_by_role("link", name="Workshop feeder").first.click()
    page.wait_for_load_state("networkidle")
    page.locator("[name=length]").fill("160 ft")
    page.keyboard.press("Enter")
    page.wait_for_timeout(1500)
    page.goto(job + "work/")
    page.locator("#before").select_option("1")
    page.get_by_role("button", name="Create schedule").click()
    page.wait_for_selector("[data-step]")


BEFORE: dict[str, Callable[[Any], None]] = {
    "neutral": opened_neutral,
    "practice": read,
    "schedule": planned,
}


def shot(page: Any, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(400)
    if name in BEFORE:
        BEFORE[name](page)
    page.screenshot(path=OUT / f"{name}.png")


def bench() -> str:
    """The entries of a bench of windings for its quick sheet."""
    from voltaje.core.kinds.winding_connections.benches import LIBRARY
    from voltaje.web.kinds.presentation import Example

    one = next(bench for bench in LIBRARY if bench.name == "old-bank")
    return str(Example(one.title, one.document).asks())


def main(arguments: list[str]) -> int:
    base, wanted = arguments[0].rstrip("/"), set(arguments[1:])
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox"]
        )

        def window(width: int, height: int, scheme: str) -> Any:
            context = browser.new_context(viewport={"width": width, "height": height})
            context.add_cookies([{"name": "scheme", "value": scheme, "url": base}])
            page = context.new_page()
            page.goto(base)
            return page

        plain = window(1280, 800, "light")
        outside = {
            "front": base,
            "quick": f"{base}/quick/winding_connections/?{bench()}",
            "tables": f"{base}/codes/tables/occupancy_load/",
            "practice": f"{base}/practice/fault/board/?code=nec-2020&seed=a1",
        }
        for name, address in outside.items():
            if not wanted or name in wanted:
                plain.goto(address)
                shot(plain, name)
        for name, (job, part, after) in VIEWS.items():
            if wanted and name not in wanted:
                continue
            size = (390, 844) if name in NARROW else (1280, 800)
            page = window(*size, "dark" if name in DARK else "light")
            page.get_by_role("button", name="Open the demo").click()
            page.get_by_role("link", name=job, exact=True).click()
            page.wait_for_selector(".job-tree")
            address = page.url
            if part:
                link = page.locator(".job-tree").get_by_role("link", name=part, exact=True)
                address = base + str(link.get_attribute("href"))
            page.goto(address + after)
            shot(page, name)
            page.context.close()
        browser.close()
    return 0


if __name__ == "__main__":
    if len(sys.argv) < 2:
        print(__doc__)
        sys.exit(2)
    sys.exit(main(sys.argv[1:]))
