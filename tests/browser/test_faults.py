"""Lost connections, killed servers, two fitters, the last pair: as the fitter sees them."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect

from kalon.host.postgres import LocalServer
from tests.api.calls import PASSWORDS, pulled, ready_to_pull, signed_in
from tests.browser.driver import VIEW, Keys, new_athlete, saved, sign_in
from tests.browser.sizes import found_at_every_size
from tests.running import Web, database_server, demo_database, web

pytestmark = pytest.mark.browser


@pytest.fixture(scope="module")
def own_server() -> Iterator[LocalServer]:
    with database_server() as running:
        yield running


@pytest.fixture(scope="module")
def own(own_server: LocalServer) -> Iterator[Web]:
    """An application these tests may kill."""
    with web(demo_database(own_server, "browser_faults")) as running:
        yield running


@pytest.fixture
def bench(browser: Browser, own: Web) -> Iterator[Page]:
    context = browser.new_context(viewport=VIEW)  # type: ignore[arg-type]
    found = context.new_page()
    sign_in(found, own.url)
    yield found
    context.close()


def length(page: Page) -> httpx.Response:
    """The left length as the server has it."""
    fitting = page.url.split("/fittings/")[1].split("/")[0]
    return page.request.get(f"{page.url.split('/fittings')[0]}/api/fittings/{fitting}").json()["parts"]["feet"]["body"][
        "left"
    ]["length_mm"]  # type: ignore[no-any-return]


def type_length(page: Page, value: str) -> None:
    page.get_by_role("group", name="Left", exact=True).get_by_label("Length").fill(value)


def test_kill_minus_nine_of_the_application_in_mid_entry(bench: Page, own: Web) -> None:
    new_athlete(bench, own.url, "App Killed")
    type_length(bench, "258")
    saved(bench)
    own.kill()
    type_length(bench, "259.5")
    expect(bench.locator("[data-saved]")).to_have_text("kept here")
    expect(bench.get_by_text("No connection. 1 change is kept here", exact=False)).to_be_visible()
    own.start()
    saved(bench)
    assert length(bench) == 259.5


def test_kill_minus_nine_of_postgresql_in_mid_entry(bench: Page, own: Web, own_server: LocalServer) -> None:
    new_athlete(bench, own.url, "Store Killed")
    type_length(bench, "258")
    saved(bench)
    own_server.kill()
    type_length(bench, "260.5")
    expect(bench.locator("[data-saved]")).to_have_text("kept here")
    own_server.start()
    saved(bench)
    assert length(bench) == 260.5


def test_typed_while_away_survives_a_reload(bench: Page, own: Web) -> None:
    new_athlete(bench, own.url, "Reloaded")
    type_length(bench, "251")
    saved(bench)
    bench.route("**/api/fittings/*/parts/*", lambda route: route.abort())
    type_length(bench, "252.5")
    expect(bench.locator("[data-saved]")).to_have_text("kept here")
    bench.unroute("**/api/fittings/*/parts/*")
    bench.context.set_offline(True)
    bench.wait_for_timeout(300)
    bench.context.set_offline(False)
    bench.once("dialog", lambda d: d.accept())
    bench.reload()
    expect(bench.get_by_role("group", name="Left", exact=True).get_by_label("Length")).to_have_value("252.5")
    saved(bench)
    assert length(bench) == 252.5


def test_a_reload_right_after_typing_loses_nothing(bench: Page, own: Web) -> None:
    new_athlete(bench, own.url, "Quick Reload")
    type_length(bench, "254.5")
    bench.once("dialog", lambda d: d.accept())
    bench.reload()
    expect(bench.get_by_role("group", name="Left", exact=True).get_by_label("Length")).to_have_value("254.5")
    saved(bench)
    assert length(bench) == 254.5


SLOW_ANSWER = """
addEventListener("pagehide", () => { window.gone = true }, true);
const straight = window.fetch;
window.fetch = async (...asked) => {
  if (window.gone) return new Promise(() => {});
  const { url = "", method = "GET" } = asked[0];
  const answer = await straight(...asked);
  if (sessionStorage.slow && method === "GET" && /fittings\\/[^/]+$/.test(url)) await new Promise(d => setTimeout(d, 1200));
  return answer;
}
"""
FORGET = """() => new Promise(done => {
  const open = indexedDB.open("kalon");
  open.onsuccess = () => {
    const all = open.result.transaction("kept", "readwrite");
    all.objectStore("kept").clear();
    all.oncomplete = () => { open.result.close(); done() };
  };
})"""


def test_an_answer_asked_for_before_what_was_typed_arrived_does_not_hide_it(bench: Page, own: Web) -> None:
    """A page just opened, that remembers nothing: the fitting is asked for, what was typed is sent and acknowledged,
    and only then the fitting's answer is there, older than that."""
    bench.add_init_script(SLOW_ANSWER)
    new_athlete(bench, own.url, "Slow Answer")
    bench.wait_for_timeout(1500)  # what is kept of it in the browser is written by now
    bench.evaluate("sessionStorage.slow = 1")
    bench.evaluate(FORGET)
    type_length(bench, "254.5")
    bench.once("dialog", lambda d: d.accept())
    bench.reload()
    expect(bench.get_by_role("group", name="Left", exact=True).get_by_label("Length")).to_have_value("254.5")
    assert length(bench) == 254.5


def test_an_ended_session_asks_again_and_sends_what_was_typed(bench: Page, own: Web) -> None:
    new_athlete(bench, own.url, "Session Ended")
    bench.context.clear_cookies()
    type_length(bench, "249.5")
    dialog = bench.get_by_role("dialog")
    dialog.get_by_label("Sign-in name").fill("ilse")
    dialog.get_by_label("Password").fill(PASSWORDS["ilse"])
    dialog.get_by_role("button", name="Sign in").click()
    saved(bench)
    assert length(bench) == 249.5


@pytest.mark.parametrize(("button", "ends"), [("Keep theirs", 261), ("Put mine", 266)])
def test_the_second_fitter_is_told_and_chooses(
    open_page: Callable[..., Page], running: Web, button: str, ends: float
) -> None:
    one = open_page()
    new_athlete(one, running.url, f"Two Fitters {button}")
    two = open_page("bram")
    two.goto(one.url)
    two.locator("[data-drawing=feet]").wait_for()
    two.route("**/api/fittings/*", lambda route: route.abort() if route.request.method == "GET" else route.continue_())
    type_length(one, "261")
    saved(one)
    type_length(two, "266")
    clash = two.get_by_role("region", name="Changed by somebody else meanwhile")
    expect(clash).to_contain_text("Ilse Varn put 261")
    expect(clash).to_contain_text("you put 266")
    assert found_at_every_size(two, scrolls_sideways=True) == []
    two.unroute("**/api/fittings/*")
    clash.get_by_role("button", name=button).click()
    saved(two)
    expect(two.get_by_role("group", name="Left", exact=True).get_by_label("Length")).to_have_value(str(ends))
    assert length(two) == ends


def test_a_clash_takes_no_key_from_the_hand_that_types(open_page: Callable[..., Page], running: Web) -> None:
    """66, 260 and 100 typed on in a hurry, with Enter after each, while somebody else's length comes in between."""
    one = open_page()
    new_athlete(one, running.url, "Typed On And On")
    two = open_page("bram")
    two.goto(one.url)
    two.locator("[data-drawing=feet]").wait_for()
    two.route("**/api/fittings/*", lambda route: route.abort() if route.request.method == "GET" else route.continue_())
    type_length(one, "261")
    saved(one)
    left = two.get_by_role("group", name="Left", exact=True)
    left.get_by_label("Length").focus()
    keys = Keys(two)
    keys("266", "Enter", "98")
    clash = two.get_by_role("region", name="Changed by somebody else meanwhile")
    expect(clash).to_be_visible(timeout=60_000)
    keys("Enter", "240", "Enter", "Enter")
    expect(clash).to_contain_text("you put 266")
    for label, typed in (("Length", "266"), ("Ball width", "98"), ("Ball girth", "240")):
        expect(left.get_by_label(label)).to_have_value(typed)
    expect(left.get_by_label("Length")).to_have_attribute("aria-invalid", "true")
    assert length(one) == 261
    # Reached by its key, and no sooner chosen than it can have been read.
    two.get_by_role("heading").first.click()
    keys("c", "Tab")
    expect(clash.get_by_role("button", name="Put mine")).to_be_focused()
    expect(clash.get_by_role("button", name="Put mine")).to_be_enabled()
    keys("Enter")
    saved(two)
    feet = two.request.get(two.url.replace("/fittings/", "/api/fittings/").rsplit("/", 1)[0]).json()["parts"]["feet"]
    assert [feet["body"]["left"][n] for n in ("length_mm", "ball_width_mm", "ball_girth_mm")] == [266, 98, 240]


def test_a_change_of_another_fitter_arrives(open_page: Callable[..., Page], running: Web) -> None:
    one = open_page()
    new_athlete(one, running.url, "Seen By Both")
    two = open_page("bram")
    two.goto(one.url)
    type_length(one, "247.5")
    saved(one)
    two.reload()
    expect(two.get_by_role("group", name="Left", exact=True).get_by_label("Length")).to_have_value("247.5")


def test_the_last_pair_sold_meanwhile_is_a_clear_sentence(page: Page, running: Web) -> None:
    client = signed_in(running)
    mine, lines = pulled(client, 1)
    other = ready_to_pull(client)
    manager = signed_in(running, "marrow")
    (had,) = [p["on_hand"] for p in client.get(f"/api/fittings/{mine}").json()["tray"]]
    move = {"id": str(uuid.uuid4()), "by": 1 - had}
    assert manager.post(f"/api/stock/{lines[0]}/moves", json=move).json()["on_hand"] == 1
    client.put(f"/api/fittings/{other}/tray/{lines[0]}")
    page.goto(f"{running.url}/fittings/{mine}/settle")
    page.get_by_role("button", name="Settle on this pair").wait_for()
    sold = client.post(f"/api/fittings/{other}/sale", json={"sale_id": other, "line_id": lines[0]})
    assert sold.status_code == 201
    page.get_by_role("button", name="Settle on this pair").click()
    expect(page.get_by_role("alert")).to_contain_text("The last pair of that size was sold a moment ago")


def test_a_trainee_prepares_and_is_told_who_settles(open_page: Callable[..., Page], running: Web) -> None:
    fitting, _ = pulled(signed_in(running), 1)
    page = open_page("pip")
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    expect(page.get_by_role("button", name="Settle on this pair")).to_be_disabled()
    expect(page.get_by_text("a fitter or manager settles")).to_be_visible()


def test_wrong_sign_in_is_told_beside_the_field(browser: Browser, running: Web) -> None:
    page = browser.new_page()
    page.goto(running.url)
    page.get_by_label("Sign-in name").fill("ilse")
    page.get_by_label("Password").fill("not the password")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_have_text("That name and password don't go together.")
    page.close()
