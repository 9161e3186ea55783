"""docs/kinds.md says of every kind what the kind says of itself."""

from pathlib import Path

import pytest

from stirrup.core.kinds.registry import KINDS

PAGE = Path(__file__).parents[2] / "docs" / "kinds.md"


@pytest.mark.parametrize("kind", KINDS, ids=[k.key for k in KINDS])
def test_the_page_has_its_paragraph(kind) -> None:
    row = f"| {kind.group}, `{kind.key}` | **{kind.title}.** {kind.about} |"
    assert row in PAGE.read_text().splitlines(), f"docs/kinds.md wants the line\n{row}"


def test_the_page_names_no_kind_that_is_gone() -> None:
    rows = [line for line in PAGE.read_text().splitlines() if line.startswith("| ") and "`" in line]
    assert len(rows) == len(KINDS)
