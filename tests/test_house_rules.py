"""Rules of the house that a linter does not know."""

import ast
import re
import statistics
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
CORE = sorted((ROOT / "stirrup" / "core").rglob("*.py"))
OWN = list((ROOT / "stirrup").rglob("*.py"))
WEB = ROOT / "stirrup" / "web"
FRONT = [
    *(WEB / "templates").rglob("*.html"),
    *(p for kind in ("css", "js") for p in (WEB / "static" / kind).rglob(f"*.{kind}")),
]


@pytest.mark.parametrize("path", CORE, ids=lambda p: str(p.relative_to(ROOT)))
def test_the_core_touches_no_file_clock_or_screen(path: Path) -> None:
    tree = ast.parse(path.read_text())
    names = {n.func.id for n in ast.walk(tree) if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)}
    assert not names & {"open", "print", "input", "exec", "eval"}
    imported = {a.name for n in ast.walk(tree) if isinstance(n, ast.Import) for a in n.names}
    assert not imported & {"os", "time", "random", "pathlib", "datetime"}


def _public(body: list[ast.stmt]) -> list[ast.FunctionDef]:
    """Functions of a module and methods of its classes, without those inside functions."""
    found = []
    for node in body:
        if isinstance(node, ast.ClassDef):
            found += _public(node.body)
        elif isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            marks = {d.id for d in node.decorator_list if isinstance(d, ast.Name)}
            if not marks & {"property", "cached_property", "kept_property"}:
                found.append(node)
    return found


def _of_the_contract() -> set[str]:
    """Questions that the contract of kinds documents once for all that answer them."""
    names = ("contract/kind.py", "bodies/item_kind.py", "bodies/engine.py")
    texts = ((ROOT / "stirrup" / "core" / name).read_text() for name in names)
    return {n.name for text in texts for n in _public(ast.parse(text).body) if ast.get_docstring(n)}


def test_public_functions_of_the_core_are_documented() -> None:
    asked = _of_the_contract()
    bare = [
        f"{path.name}:{node.name}"
        for path in CORE
        for node in _public(ast.parse(path.read_text()).body)
        if not ast.get_docstring(node) and node.name not in asked
    ]
    assert bare == []


def test_no_file_is_longer_than_can_be_read_in_one_go() -> None:
    long = [str(p) for p in [*OWN, *FRONT] if len(p.read_text().splitlines()) > 400]
    assert long == []


def test_the_rules_that_code_cites_are_written_down() -> None:
    page = (ROOT / "docs" / "trade-rules.md").read_text()
    headings = set(re.findall(r"^## (.+)$", page, re.M))
    cited = {}
    for path in OWN:
        for name in re.findall(r"(?:trade-rules\.md|rules of the trade),\s+“([^”]+)”", path.read_text()):
            cited.setdefault(name, path.name)
    assert {k: v for k, v in cited.items() if k not in headings} == {} and len(cited) > 5
    # and every module that the page names is there
    named = set(re.findall(r"`([a-z_/]+\.py)`", page))
    assert [n for n in named if not (ROOT / "stirrup" / "core" / n).exists()] == []


def test_functions_are_short() -> None:
    """Half of them in eight lines, none over 45; what is compiled as a whole is left out."""
    lengths = {}
    for path in OWN:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                body = node.body[1:] if ast.get_docstring(node) else node.body
                lines = body[-1].end_lineno - body[0].lineno + 1 if body else 0
                compiled = any(ast.unparse(d).startswith("compiled(") for d in node.decorator_list)
                if not compiled:
                    lengths[f"{path.name}:{node.lineno} {node.name}"] = lines
    assert {k: n for k, n in lengths.items() if n > 45} == {}
    assert statistics.median(lengths.values()) <= 8


def test_no_line_of_the_front_end_is_longer_than_160() -> None:
    wide = [
        f"{p.name}:{n}" for p in FRONT for n, x in enumerate(p.read_text().splitlines(), 1) if len(x) > 160
    ]
    assert wide == []


def test_pages_carry_no_inline_script_style_or_outside_address() -> None:
    for path in (ROOT / "stirrup" / "web" / "templates").rglob("*.html"):
        text = path.read_text()
        assert not re.search(r"<script(?![^>]*\bsrc=)", text), path
        assert not re.search(r"\sstyle=|\son[a-z]+=", text), path
        assert "http://" not in text and "https://" not in text, path


def test_colours_meet_the_contrast_for_text() -> None:
    css = (ROOT / "stirrup" / "web" / "static" / "css" / "look.css").read_text()
    for block in re.findall(r":root(?:\[[^\]]*\])? \{([^}]*)\}", css)[:2]:
        colour = dict(re.findall(r"--([a-z-]+): (#[0-9a-f]{6})", block))
        for name in ("ink", "soft", "stop", "mend", "look", "fine", "chosen", "water-ink"):
            for ground in ("paper", "raised"):
                assert _contrast(colour[name], colour[ground]) >= 4.5, (name, ground)


def _contrast(a: str, b: str) -> float:
    """WCAG 2 contrast ratio of two colours."""

    def light(colour: str) -> float:
        parts = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    high, low = sorted((light(a), light(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def test_templates_name_routes_and_write_no_addresses() -> None:
    """An address stands once, at its route."""
    written = re.compile(r'\b(?:href|action|src|data-[a-z]+)="/')
    found = [f"{p.name}:{k}" for p in FRONT for k, line in enumerate(p.read_text().splitlines(), 1)
             if written.search(line)]  # fmt: skip
    assert found == []
