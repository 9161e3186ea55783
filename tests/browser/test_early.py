"""What is pressed before the page's modules have loaded is done once they have."""

from playwright.sync_api import Page, Route, expect

from tests.boats import DECK, skiff_plan
from tests.web.conftest import make_build


class Held:
    """A page whose main module does not arrive before it is let go."""

    def __init__(self, page: Page, url: str) -> None:
        self.routes: list[Route] = []
        self.open = False
        page.route("**/js/build.js*", self.take)
        page.goto(url, wait_until="commit")

    def take(self, route: Route) -> None:
        if self.open:
            route.continue_()
        else:
            self.routes.append(route)

    def let_go(self) -> None:
        self.open = True
        for route in self.routes:
            route.continue_()


def test_a_button_pressed_early_is_pressed_again(app, address, quiet: Page) -> None:
    build = make_build(app, skiff_plan(fittings=[DECK]))
    held = Held(quiet, f"{address}/b/{build}/layout?sel=deck")
    button = quiet.locator("#sheet").get_by_role("button", name="Lock", exact=True)
    button.click()
    expect(quiet.locator("#saved")).to_have_text("revision 1 · saved")
    held.let_go()
    expect(quiet.locator("#saved")).to_contain_text("revision 2 · saved")
    expect(quiet.locator("#sheet").get_by_role("button", name="Unlock", exact=True)).to_be_visible()
    quiet.wait_for_timeout(300)  # once, and no more
    assert quiet.request.get(f"{address}/api/builds/{build}/history").json()[0]["number"] == 2


def test_a_value_chosen_early_is_stored(app, address, quiet: Page) -> None:
    build = make_build(app, skiff_plan(fittings=[DECK]))
    held = Held(quiet, f"{address}/b/{build}/layout?sel=deck")
    quiet.locator('[data-path="fittings/deck/cover"] select').select_option("carpet")
    held.let_go()
    expect(quiet.locator("#saved")).to_contain_text("revision 2 · saved")
    plan = quiet.request.get(f"{address}/b/{build}/file").json()
    assert plan["fittings"][0]["cover"] == "carpet"
