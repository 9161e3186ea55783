"""Keys and typing: undo after Enter, names that lead to things, how a number is read."""

from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build

AFT = '[data-path="fittings/deck/aft"] [name=text]'


def test_ctrl_z_after_enter_undoes_although_the_cursor_is_in_the_next_field(app, address, quiet) -> None:
    build = make_build(app)
    quiet.goto(f"{address}/b/{build}/layout?sel=deck")
    quiet.locator(AFT).fill("2900")
    quiet.locator(AFT).press("Enter")
    quiet.wait_for_function("() => document.getElementById('saved').textContent.includes('revision 2')")
    assert quiet.evaluate("document.activeElement.name") == "text"  # the next field
    quiet.keyboard.press("Control+z")
    quiet.wait_for_function("() => document.getElementById('topline').dataset.number === '3'")
    quiet.wait_for_function(f"() => document.querySelector('{AFT}').value === '3 000 mm'")
    # what is half typed is the field's own to undo
    quiet.locator(AFT).fill("28")
    quiet.keyboard.press("Control+z")
    quiet.wait_for_timeout(400)
    assert quiet.evaluate("document.getElementById('topline').dataset.number") == "3"


def test_enter_on_the_name_of_a_thing_goes_there_and_places_nothing(app, address, quiet) -> None:
    item = {"id": "b", "name": "Battery", "stage": "added", "form": "battery", "size": [0.3, 0.2, 0.2],
            "mass": {"value": 24.0, "centre": [2.0, 0.0, 0.2]}}  # fmt: skip
    build = make_build(app, skiff_plan(fittings=[DECK, HATCH], items=[item]))
    quiet.goto(f"{address}/b/{build}/layout")
    quiet.keyboard.press("/")
    quiet.locator("#palette-find").fill("battery")
    quiet.keyboard.press("Enter")
    quiet.wait_for_selector("#sheet h2:has-text('Battery')")
    assert not quiet.evaluate("document.body.classList.contains('placing')")
    # part of a name finds what can be placed
    quiet.keyboard.press("/")
    for word, title in (("trolling", "Bow motor"), ("sole", "Floor"), ("casting", "Raised deck")):
        quiet.locator("#palette-find").fill(word)
        assert quiet.locator("#palette [data-pick]:visible b").all_inner_texts()[0] == title


def test_a_number_is_echoed_as_it_is_read(app, address, quiet) -> None:
    build = make_build(app, None, "ft-in")
    quiet.goto(f"{address}/b/{build}/layout?sel=deck")
    quiet.locator(AFT).press_sequentially("")
    quiet.locator(AFT).fill("64")
    echo = quiet.locator('[data-path="fittings/deck/aft"] [data-echo]')
    quiet.wait_for_function("() => document.querySelector('[data-echo]:not(:empty)')")
    # 64 in are 5 feet 4, and 64 x 25.4 = 1 625.6 mm
    assert echo.inner_text() == "= 5' 4\" = 1 626 mm"
    quiet.locator(AFT).fill("far")
    quiet.wait_for_function("() => !document.querySelector('[data-echo]:not(:empty)')")


def test_the_tape_is_drawn_for_the_field_that_is_typed_into(address, quiet) -> None:
    quiet.goto(f"{address}/measure")
    fields = ("length", "beam", "bottom", "side_aft", "side_middle", "side_bow", "deadrise_aft",
              "deadrise_middle", "transom_rake", "bow_rake")  # fmt: skip
    for name in fields:
        quiet.locator(f"#q-{name}").focus()
        shown = quiet.evaluate(
            "[...document.querySelectorAll('[data-tape]')].filter((t) => t.getClientRects().length && "
            "getComputedStyle(t).display !== 'none').map((t) => t.dataset.tape)"
        )
        assert shown == [name]


def test_nothing_stands_below_the_strip(app, address, quiet) -> None:
    build = make_build(app)
    for page in ("layout?sel=deck", "survey", "float", "money"):
        quiet.goto(f"{address}/b/{build}/{page}")
        assert quiet.evaluate("document.scrollingElement.scrollHeight - innerHeight") == 0


def test_a_wrong_text_put_right_while_the_sheet_is_renewed_is_forgotten(app, address, quiet) -> None:
    """The page comes up to date after another change, just while the right text is on its way."""
    build = make_build(app)
    quiet.goto(f"{address}/b/{build}/layout?sel=deck")
    message = quiet.locator('[data-path="fittings/deck/aft"] .field-error')
    quiet.locator(AFT).fill("over there")
    quiet.locator(AFT).press("Enter")
    message.wait_for(state="visible")

    spacing = quiet.get_by_label("Cross members every")
    quiet.evaluate("""() => {
        const plain = window.fetch;
        window.fetch = async (url, options) => {
            const page = !options?.method;
            const wait = page ? 500 : String(options.body).includes('2900') ? 1200 : 0;
            await new Promise((done) => setTimeout(done, wait));
            return plain(url, options);
        };
    }""")
    spacing.fill("300")
    spacing.press("Enter")
    quiet.wait_for_timeout(150)
    quiet.locator(AFT).fill("2900")
    quiet.locator(AFT).press("Enter")
    quiet.wait_for_function(
        "() => document.getElementById('topline').dataset.number === '3'", timeout=15000
    )
    message.wait_for(state="hidden")
    assert quiet.locator(AFT).get_attribute("aria-invalid") is None
