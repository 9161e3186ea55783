"""Older build files brought to the newest version, one step for each version. They load for ever."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

NEWEST = 2
# version 1 told by a heading of the ledger what a thing is, where its form said nothing
_FORM_OF_GROUP = {
    "motor": "motor",
    "seats": "seat",
    "console": "console",
    "battery": "battery",
    "tank": "tank",
}


def _items(data: dict[str, Any]) -> list[dict[str, Any]]:
    """All things of a file that are items: the boat's and those that a load case brings along."""
    cases = [c for c in _listed(data.get("cases")) if isinstance(c, dict)]
    rows = [*_listed(data.get("items")), *(x for c in cases for x in _listed(c.get("extra")))]
    return [r for r in rows if isinstance(r, dict)]


def _listed(value: Any) -> list[Any]:
    return list(value) if isinstance(value, list) else []


def _from_1(data: dict[str, Any]) -> None:
    """What a thing is comes from its form alone; who steers where is said, not read out of a name."""
    for item in _items(data):
        plain = item.get("form", "box") == "box"
        group, name = item.get("group"), str(item.get("name", "")).lower()
        if plain and isinstance(group, str) and group in _FORM_OF_GROUP:
            item["form"] = _FORM_OF_GROUP[group]
        elif plain and "ladder" in name and item.get("size"):
            item["form"] = "ladder"
    seats = [i for i in _items(data) if i.get("form") in ("seat", "bench") and i.get("stage") != "removed"]
    helm = next((i for i in seats if "helm" in str(i.get("name", "")).lower()), None)
    if helm is not None:
        helm["steers"] = True


STEPS: dict[int, Callable[[dict[str, Any]], None]] = {1: _from_1}


def upgraded(data: dict[str, Any]) -> dict[str, Any]:
    """The values of a build file as the newest version has them; those handed in stay as they are.

    A version that is not known is left for the reader to refuse.
    """
    version = data.get("version")
    if isinstance(version, bool) or version not in STEPS:
        return data
    new: dict[str, Any] = _copied(data)
    while new["version"] in STEPS:
        STEPS[new["version"]](new)
        new["version"] += 1
    return new


def _copied(value: Any) -> Any:
    """Lists and objects copied, however deep they lie."""
    if isinstance(value, dict):
        return {k: _copied(v) for k, v in value.items()}
    return [_copied(v) for v in value] if isinstance(value, list) else value


def upgraded_change(data: Any) -> Any:
    """A change as it was stored, with the things in it as the newest version has them."""
    if not isinstance(data, dict):
        return data
    new = _copied(data)
    for part in new.get("changes") or [new]:
        path, value = part.get("path") or [], part.get("value")
        if path[:1] == ["items"] and len(path) < 3:
            rows = value if isinstance(value, list) else [value]
            # what version 2 wrote says of every item whether somebody steers from it
            old = [r for r in rows if isinstance(r, dict) and "steers" not in r]
            _from_1({"items": old})
    return new
