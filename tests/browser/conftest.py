"""The application on a real port, driven by Debian's Chromium."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from typing import Any

import pytest
import uvicorn
from playwright.sync_api import Browser, Page

from stirrup.store.cluster import free_port


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    flags = ["--disable-gpu", "--disable-dev-shm-usage", "--hide-scrollbars", "--font-render-hinting=none"]
    return {"executable_path": "/usr/bin/chromium-headless-shell", "args": flags}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def address(app: Any) -> Iterator[str]:
    """Where the application listens, in a thread of its own."""
    port = free_port()
    server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="error"))
    app.state.stopping = lambda: server.should_exit
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(5)


@pytest.fixture
def quiet(page: Page) -> Iterator[Page]:
    """A page on which errors in scripts or the console fail the test."""
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.on(
        "console",
        lambda m: faults.append(m.text) if m.type == "error" and "Failed to load" not in m.text else None,
    )
    yield page
    assert faults == []


@pytest.fixture(scope="module")
def window(browser: Browser, request: pytest.FixtureRequest) -> Iterator[Page]:
    """One page, as wide and high as the parameter says, for all tests of a module that only look: a new
    one would read and compile every script again."""
    wide, high = request.param
    context = browser.new_context(viewport={"width": wide, "height": high})
    yield context.new_page()
    context.close()
