"""The placer of names: clear of one another and of what is taken, within the drawing."""

from itertools import combinations

from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.web.drawing.labels import Name, place, width_px

BOUNDS = (0.0, 0.0, 900.0, 400.0)
things = st.builds(
    lambda words, x, y, w, h: Name(words, (x, y, x + w, y + h)),
    st.text(alphabet="abcdefgh mw", min_size=1, max_size=18),
    st.floats(20, 800), st.floats(20, 340), st.floats(2, 200), st.floats(2, 120),
)  # fmt: skip


def shared(a, b) -> float:
    return max(0.0, min(a[2], b[2]) - max(a[0], b[0])) * max(0.0, min(a[3], b[3]) - max(a[1], b[1]))


@given(st.lists(things, max_size=14))
@settings(max_examples=60, deadline=None)
def test_names_are_clear_of_one_another_and_of_what_is_taken(names: list[Name]) -> None:
    taken = [(300.0, 100.0, 420.0, 130.0)]
    placed = place(names, taken, [n.box for n in names], BOUNDS, 16)
    boxes = [p.box for p in placed] + taken
    assert all(shared(a, b) < 1e-6 for a, b in combinations(boxes, 2))
    assert all(b[0] >= 0 and b[1] >= 0 and b[2] <= 900 and b[3] <= 400 for b in boxes)


def test_a_name_goes_into_its_thing_where_it_fits_and_is_led_to_it_where_it_does_not() -> None:
    wide = Name("battery", (100, 100, 220, 160))
    inside = place([wide], [], [wide.box], BOUNDS, 16)[0]
    assert inside.leader is None and inside.box[0] >= 100 and inside.box[2] <= 220
    # the same, with all the room in it and about it taken
    led = place([wide], [(60.0, 60.0, 260.0, 200.0)], [wide.box], BOUNDS, 16)[0]
    assert led.leader is not None
    x, y = led.leader[2:]
    assert 100 <= x <= 220 and 100 <= y <= 160


def test_width_is_that_of_the_letters() -> None:
    # i 21.5 and m 66.5 hundredths of the size
    assert width_px("iim", 20) == (2 * 21.5 + 66.5) * 20 / 100
