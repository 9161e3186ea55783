"""A panel and the shape that it is cut from."""

import pytest
from shapely.geometry import Polygon

from stirrup.core.parts.model import Frame, Panel, panel_rings
from stirrup.exchange.catalogue import starting

HOLE = ((0.2, 0.2), (0.2, 0.4), (0.4, 0.4), (0.4, 0.2))
SQUARE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
TRIANGLE = ((0.0, 0.0), (1.0, 0.0), (0.0, 1.0))


@pytest.mark.parametrize(
    ("ring", "holes", "same"),
    [
        (SQUARE, [HOLE], True),
        (SQUARE[::-1], [HOLE], False),
        (TRIANGLE, [], True),
        (TRIANGLE[::-1], [], False),  # its second corner is the second one either way
    ],
)
def test_the_shape_is_kept_where_its_rings_go_the_same_way(ring, holes, same) -> None:
    shape = Polygon(ring, holes)
    outline, inner = panel_rings(shape)
    panel = Panel(
        "p", "P", "Panel", "f", starting().sheet("al-2.5"), outline, inner, Frame((0.0, 0.0, 0.0))
    )
    assert panel.cut_from(shape) is panel
    assert (panel.polygon is shape) is same
    assert panel.polygon.wkb == Polygon(outline, inner).wkb
