"""docs/kinds.md says of every kind what the kind says of itself."""

import importlib.util
from pathlib import Path

import pytest

from stirrup.core.kinds.registry import KINDS

ROOT = Path(__file__).parents[2]
DOCS = ROOT / "docs"
SPEC = importlib.util.spec_from_file_location("kinds_page", ROOT / "tools" / "kinds_page.py")
assert SPEC is not None and SPEC.loader is not None
WRITER = importlib.util.module_from_spec(SPEC)
SPEC.loader.exec_module(WRITER)


@pytest.mark.parametrize("kind", KINDS, ids=[k.key for k in KINDS])
def test_the_page_has_its_section(kind) -> None:
    told = WRITER.section(kind)
    assert kind.about in told and told in (DOCS / "kinds.md").read_text(), "run tools/kinds_page.py"


def test_the_page_names_no_kind_that_is_gone() -> None:
    text = (DOCS / "kinds.md").read_text()
    assert text.count("\n## ") == len(KINDS)
    shown = {f"{WRITER.slug(k)}.svg" for k in KINDS if f"kinds/{WRITER.slug(k)}.svg" in text}
    assert shown == {p.name for p in (DOCS / "kinds").glob("*.svg")}
