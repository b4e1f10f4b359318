"""The card of sizes over HTTP: read as a person and as a camera reads it; the secret on it in no address and no log."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import zxingcpp
from PIL import Image
from pypdf import PdfReader

from tests.api.calls import new_fitting, patch, pulled, sell, signed_in
from tests.api.test_purchases import count
from tests.running import Web

LINK = "https://shop.example/away/abcdefghijklmnopqrstuvwxyz012345"


def words(data: bytes) -> str:
    return PdfReader(io.BytesIO(data)).pages[0].extract_text()


def test_it_says_the_feet_the_sizes_and_the_pair(running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    count(running, line, 2)
    url = f"/api/fittings/{fitting}/size-card.pdf"
    before = words(client.get(url).content)
    assert "Test P." in before
    assert "mm long" in before
    assert "Worn here" in before
    places = client.get(f"/api/fittings/{fitting}/pull").json()["places"]
    assert places[0]["pair"]["maker"] in before
    assert "mm long inside" in before
    assert sell(client, fitting, line).status_code == 201
    pair = client.get(f"/api/stock/{line}").json()
    assert f"{pair['maker']} EU" in words(client.get(url).content) or pair["maker"] in words(client.get(url).content)
    assert pair["name"] in words(client.get(url, params={"paper": "roll"}).content)


def test_it_has_the_size_of_a_banks_card(running: Web) -> None:
    """85.60 × 53.98 mm, ISO/IEC 7810 ID-1; the picture at 300 dots an inch."""
    client = signed_in(running)
    fitting = new_fitting(client)
    page = PdfReader(io.BytesIO(client.get(f"/api/fittings/{fitting}/size-card.pdf").content)).pages[0]
    assert abs(float(page.mediabox.width) / 72 * 25.4 - 85.6) < 0.1
    assert abs(float(page.mediabox.height) / 72 * 25.4 - 53.98) < 0.1
    picture = Image.open(io.BytesIO(client.get(f"/api/fittings/{fitting}/size-card.png").content))
    assert (picture.format, picture.size) == ("PNG", (1012, 638))


def test_a_camera_reads_the_athletes_page_from_it(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", {"left/length_mm": 262, "right/length_mm": 264})
    answer = client.post(f"/api/fittings/{fitting}/size-card.png", json={"link": LINK})
    assert answer.status_code == 200, answer.text
    picture = np.array(Image.open(io.BytesIO(answer.content)).convert("RGB"))
    assert [r.text for r in zxingcpp.read_barcodes(picture)] == [LINK]
    plain = np.array(
        Image.open(io.BytesIO(client.get(f"/api/fittings/{fitting}/size-card.png").content)).convert("RGB")
    )
    assert zxingcpp.read_barcodes(plain) == []


def test_only_a_page_of_ours_goes_on_it(running: Web) -> None:
    client = signed_in(running)
    url = f"/api/fittings/{new_fitting(client)}/size-card.pdf"
    refused: list[Any] = [
        "https://elsewhere.example/",
        "javascript:x",
        "https://a.example/away/short",
        "",
        LINK + "?x=1",
    ]
    for link in refused:
        assert client.post(url, json={"link": link}).status_code == 422, link
    assert client.get(url.replace(".pdf", ".docx")).status_code == 422
