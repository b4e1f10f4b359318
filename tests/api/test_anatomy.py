"""Anatomy at the bench: needs rule out or ask, likeness orders the shelf, and gauge-only feet go on."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.api.calls import FOOTBALL, new_fitting, patch, ready_to_pull, signed_in
from tests.running import Web

GAUGED = {"left/length_mm": 262.0, "left/ball_width_mm": 101.0, "right/length_mm": 261.0, "right/ball_width_mm": 100.5}


def test_gauge_only_feet_are_pulled_for_and_told_what_to_measure(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    assert patch(client, fitting, "feet", GAUGED).status_code == 200
    patch(client, fitting, "brief", FOOTBALL)
    whole = client.get(f"/api/fittings/{fitting}").json()
    assert next(s for s in whole["stations"] if s["slug"] == "feet")["state"] == "done"
    assert not whole["reading"]["complete"]
    girth = whole["estimated"]["left"]["ball_girth_mm"]
    assert girth["taken_from"] == "ball_width"
    assert girth["sigma_mm"] > 2
    pull = client.get(f"/api/fittings/{fitting}/pull").json()
    assert pull["places"]
    assert any("Not measured" in note for note in pull["foot_notes"])
    assert pull["surer"]["measure"] in ("ball_girth_mm", "instep_girth_mm", "heel_width_mm")
    assert pull["surer"]["then"] > pull["surer"]["now"]
    measured = {f"{side}/{name}": mm for side in ("left", "right")
                for name, mm in (("ball_girth_mm", 247.0), ("instep_girth_mm", 252.0), ("heel_width_mm", 65.0))}  # fmt: skip
    assert patch(client, fitting, "feet", measured).status_code == 200
    whole = client.get(f"/api/fittings/{fitting}").json()
    assert whole["estimated"] == {"left": {}, "right": {}}
    assert client.get(f"/api/fittings/{fitting}/pull").json()["surer"] is None


def test_a_settled_gauge_only_fitting_keeps_what_it_was_settled_by(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", GAUGED)
    patch(client, fitting, "brief", FOOTBALL)
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    assert client.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200
    before = client.get(f"/api/fittings/{fitting}/settle/{line}").json()
    assert before["size"]["zones"]


def test_a_prescribed_insole_rules_out_or_asks(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client, history=["orthosis"])
    pull = client.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()
    models = client.get("/api/stock/models", params={"sport": "football"}).json()
    glued = {m["id"] for m in models if m["features"].get("removable_insole") is False}
    assert glued
    assert not glued & {p["pair"]["model_id"] for p in pull["places"]}
    for place in pull["places"]:
        known = place["pair"]["features"].get("removable_insole")
        asked = any("Insole that comes out" in a for a in place["asks"])
        assert known is True or (known is None and asked)


def test_like_the_pair_they_like_orders_by_likeness(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    models = client.get("/api/stock/models", params={"sport": "football"}).json()
    assert any(m["features"] for m in models)
    liked = next(m for m in models if m["name"] == "Tern")
    places = client.get(f"/api/fittings/{fitting}/pull", params={"like": liked["id"], "limit": 200}).json()["places"]
    itself = next((p for p in places if p["pair"]["model_id"] == liked["id"]), None)
    if itself:
        assert itself["like"]["like"] == 1
        assert not itself["like"]["differs"]
    near = [p["like"]["like"] * p["like"]["known"] + 0.5 * (1 - p["like"]["known"]) for p in places]
    assert near == sorted(near, reverse=True)
    assert places[-1]["like"]["differs"]
    plain = client.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()["places"]
    assert {p["pair"]["id"] for p in plain} == {p["pair"]["id"] for p in places}
    assert all(p["like"] is None for p in plain)


def test_a_model_nobody_has_is_named_so(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    assert client.get(f"/api/fittings/{fitting}/pull", params={"like": str(uuid4())}).status_code == 404


def test_features_and_how_they_are_seen_come_with_the_vocabulary(running: Web) -> None:
    words = signed_in(running).get("/api/vocabulary").json()
    assert words["features"]["toe_guard"]["seen"]
    assert all(scale["read"] for sport in words["sports"] for scale in sport["scales"].values())


def test_a_pair_weighs_what_its_size_weighs(running: Web) -> None:
    client = signed_in(running)
    lines = client.get("/api/stock", params={"text": "Skiff"}).json()
    one = [r for r in lines if r["model_id"] == lines[0]["model_id"]]
    small, large = (pick(one, key=lambda r: r["eu_label"]) for pick in (min, max))
    ratio = large["properties"]["mass_g"] / small["properties"]["mass_g"]
    assert ratio == pytest.approx((large["eu_label"] / small["eu_label"]) ** 2, rel=0.01)
