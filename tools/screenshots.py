"""Refresh docs/screenshots from the demo boats.

`PYTHONPATH=. .venv/bin/python tools/screenshots.py ADDRESS`, where ADDRESS is where `./run demo`
listens, with the demo as it comes.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import trimesh
from playwright.sync_api import sync_playwright

from stirrup.core.hull.mesh import TOP, build_surface
from stirrup.demo.seed import demo_plan

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
FLAGS = ["--disable-gpu", "--disable-dev-shm-usage", "--hide-scrollbars", "--font-render-hinting=none"]
VIEWS = (
    ("yard-1280x800", "/", 1280, 800),
    ("survey-1280x800", "/b/1/survey", 1280, 800),
    ("measure-1280x800", "/measure", 1280, 800),
    ("condition-1280x800", "/b/1/survey/condition", 1280, 800),
    ("float-1280x800", "/b/1/float?case=two+on+the+bow+deck", 1280, 800),
    ("ledger-1280x800", "/b/1/float/ledger?sort=trim", 1280, 800),
    ("compare-1280x800", "/b/2/float/compare", 1280, 800),
    ("float-390x844", "/b/1/float?case=one+at+the+helm", 390, 844),
    ("layout-1280x800", "/b/1/layout?case=one+at+the+helm", 1280, 800),
    ("layout-inside-1280x800", "/b/3/layout?sel=bench", 1280, 800),
    ("layout-room-1280x800", "/b/1/layout?room=1&sel=seat-helm&case=one+at+the+helm", 1280, 800),
    ("catalogue-1280x800", "/catalogue?group=section&edit=angle-40x40x3", 1280, 800),
    ("cuts-1280x800", "/b/1/cuts", 1280, 800),
    ("money-1280x800", "/b/1/money", 1280, 800),
    ("shopping-390x844", "/b/1/money/shopping", 390, 844),
    ("layout-390x844", "/b/1/layout?case=one+at+the+helm", 390, 844),
    ("framing-1280x800", "/b/1/layout/framing/bow-deck?tape=aft", 1280, 800),
)


def scan() -> bytes:
    """The demo boat as a scanner would give it: outside only, askew, a millimetre of noise."""
    outside = build_surface(demo_plan("sedge-hopper.stirrup.json").hull).outside
    skin = outside.corners[np.array([g != TOP for g in outside.groups])]
    mesh = trimesh.Trimesh(**trimesh.triangles.to_kwargs(skin * 1000)).subdivide_to_size(60)
    turn = trimesh.transformations.euler_matrix(0.06, -0.04, 0.5)[:3, :3]
    noise = np.random.default_rng(3).normal(0, 1.0, mesh.vertices.shape)
    mesh.vertices = mesh.vertices @ turn.T + noise
    content = mesh.export(file_type="stl")
    return content if isinstance(content, bytes) else content.encode()


def main(address: str) -> None:
    """Take every picture."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for name, path, width, height in VIEWS:
            page = browser.new_page(viewport={"width": width, "height": height})
            page.goto(address + path)
            page.wait_for_timeout(1500)  # what comes behind the page too
            page.wait_for_timeout(300)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/b/1/survey")
        page.locator("#group-files summary").click()
        page.set_input_files("#scan", {"name": "scan.stl", "mimeType": "model/stl", "buffer": scan()})
        page.get_by_role("button", name="Set it upright").click()
        page.wait_for_timeout(1500)  # what comes behind the page too
        page.wait_for_timeout(500)
        page.screenshot(path=FOLDER / "scan-1280x800.png")
        page.goto(f"{address}/b/1/layout?sel=bow-deck")
        aft = page.locator('[data-path="fittings/bow-deck/aft"] input[name=text]')
        aft.fill("9' 2\"")
        aft.press("Enter")
        page.wait_for_timeout(1500)
        page.goto(f"{address}/b/1/history?number=1")
        page.wait_for_timeout(300)
        page.screenshot(path=FOLDER / "history-1280x800.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1].rstrip("/"))
