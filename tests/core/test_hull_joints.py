"""What holds on a hull of metal, and on a moulded one."""

from typing import Any

import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.plan.changes import apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, wedge_lines
from tests.core.test_bulkhead import BULKHEAD
from tests.core.test_knees import KNEES
from tests.core.test_pods import PODS
from tests.core.test_stringer import STRINGER
from tests.core.test_transom import TRANSOM


def told(material: str, thing: dict[str, Any], **choices: Any) -> list[str]:
    data = build_data(wedge_lines(0.2), fittings=[{**thing, **choices}])
    data["hull"]["material"] = material
    return [f.title for f in derive(from_data(data)).findings if f.code == "HULL-JOINT"]


PEELS, NO_WELD = ["Laminate does not hold on metal"], ["Nothing is welded to a moulded hull"]


@pytest.mark.parametrize(
    ("thing", "laminated", "welded"),
    [
        (BULKHEAD, {"joined": "tabbed"}, {"joined": "welded", "skin": "al-3.2"}),
        (STRINGER, {"joined": "laminated over"}, {"joined": "welded", "core": "al-4.8", "layers": 1}),
        (PODS, {"joined": "glassed over", "skin": "ply-9"}, {"joined": "welded"}),
        (KNEES, {"joined": "tabbed"}, {"joined": "welded", "skin": "al-3.2"}),
    ],
)
def test_each_on_its_own_kind_of_hull(
    thing: dict[str, Any], laminated: dict[str, Any], welded: dict[str, Any]
) -> None:
    assert told("5052-H32", thing, **laminated) == PEELS
    assert told("5052-H32", thing, **welded) == []
    assert told("glass laminate", thing, **laminated) == []
    assert told("glass laminate", thing, **welded) == NO_WELD
    # where nobody said what she is of, nothing is said
    assert told("", thing, **laminated) == told("", thing, **welded) == []


def test_a_transom_is_tabbed_or_bolted() -> None:
    assert told("aluminium", TRANSOM, motor=None) == PEELS
    assert told("aluminium", TRANSOM, motor=None, joined="bolted in") == []


@pytest.mark.parametrize("material", ["5052-H32", "glass laminate", ""])
@pytest.mark.parametrize("entry", ["transom", "stringer_new", "bulkhead", "knees", "pods"])
def test_first_ones_suit_her(material: str, entry: str) -> None:
    """Nothing that is placed by the palette has to be mended before it can be joined to her."""
    data = build_data(wedge_lines(0.2))
    data["hull"]["material"] = material
    start = from_data(data)
    here = derive(start)
    after = derive(apply(start, place(start, here.surface, here.footing, entry)))
    joints = [f for f in after.findings if f.code.endswith("-JOINT") and f.level == "mend"]
    assert after.built[0].panels and joints == []
