"""A client on the application, and builds of its own for each test."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import pytest
from fastapi.testclient import TestClient

from stirrup.core.plan.model import Plan
from stirrup.store import builds
from stirrup.store.shop import set_units, the_shop
from tests.boats import DECK, HATCH, skiff_plan


@dataclass
class Site:
    """A browser's view of the application."""

    client: TestClient
    token: str

    def post(self, path: str, body: Any, **headers: str):
        return self.client.post(path, json=body, headers={"X-CSRF-Token": self.token, **headers})

    def form(self, path: str, data: dict[str, Any], **more: Any):
        return self.client.post(
            path, data={"csrf_token": self.token, **data}, follow_redirects=False, **more
        )


@pytest.fixture
def site(app: Any) -> Iterator[Site]:
    with TestClient(app, base_url="http://127.0.0.1:8470") as client:
        page = client.get("/measure")  # no boat of the yard is worked out for it
        found = re.search(r'name="csrf" content="([^"]+)"', page.text)
        assert found
        yield Site(client, found[1])


def make_build(app: Any, plan: Plan | None = None, units: str = "mm") -> int:
    """A build of its own; the shop reads in `units`."""
    database = app.state.database
    with database.connection_context(), database.atomic():
        shop = the_shop()
        set_units(shop.id, units)
        return builds.create(shop.id, plan or skiff_plan(fittings=[DECK, HATCH]), "made for a test").id


@pytest.fixture
def build(app: Any) -> int:
    return make_build(app)
