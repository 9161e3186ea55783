"""Refresh docs/screenshots from the demo boats: `.venv/bin/python tools/screenshots.py ADDRESS`.

ADDRESS is where `./run demo` listens, with the demo as it comes.
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import sync_playwright

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
FLAGS = ["--disable-gpu", "--disable-dev-shm-usage", "--hide-scrollbars", "--font-render-hinting=none"]
VIEWS = (
    ("yard-1280x800", "/", 1280, 800),
    ("survey-1280x800", "/b/1/survey", 1280, 800),
    ("layout-1280x800", "/b/1/layout?case=one+at+the+helm", 1280, 800),
    ("layout-deck-1280x800", "/b/1/layout?sel=bow-deck&case=two+on+the+bow+deck", 1280, 800),
    ("cuts-1280x800", "/b/1/cuts", 1280, 800),
    ("money-1280x800", "/b/1/money", 1280, 800),
    ("layout-390x844", "/b/1/layout?case=one+at+the+helm", 390, 844),
    ("cuts-390x844", "/b/1/cuts", 390, 844),
)
TABLE = """line,station,x,y,z
,,mm,mm,mm
keel,1,0,0,0
keel,2,1800,0,0
keel,3,3500,0,wet
chine,1,0,560,0
chine,2,1800,610,0
chine,3,3500,460,2100
sheer,1,-70,660,440
sheer,2,1800,725,450
sheer,3,3650,570,530
"""


def main(address: str) -> None:
    """Take every picture."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for name, path, width, height in VIEWS:
            page = browser.new_page(viewport={"width": width, "height": height})
            page.goto(address + path)
            page.wait_for_timeout(300)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/b/2/survey")
        page.set_input_files("#table", {"name": "t.csv", "mimeType": "text/csv", "buffer": TABLE.encode()})
        page.get_by_role("button", name="Look at it first").click()
        page.wait_for_timeout(300)
        page.screenshot(path=FOLDER / "import-1280x800.png")
        page.goto(f"{address}/b/1/layout?sel=hatch-tackle&case=two+aft%2C+livewell+full")
        page.get_by_role("button", name="Day or night shed").click()
        page.locator(".figure summary", has_text="Least freeboard").click()
        page.wait_for_timeout(300)
        page.screenshot(path=FOLDER / "layout-night-1280x800.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1].rstrip("/"))
