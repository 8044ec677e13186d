"""Charts to take along: each as a drawing with its own styles and letters, as a picture, and as a table beside it."""

import io
import re

import pytest
from PIL import Image

CHARTS = {"curve": "/brews/7", "saw": "/tapped/18", "braid": "/cultures/", "pressure": "/cellar/bottles/20", "warm": "/notebook/looking-back"}


@pytest.mark.parametrize("chart", CHARTS)
def test_a_chart_is_taken_along(page, quince_yard, chart):
    """The drawing stands by itself, with colours and letters in it and no address; the picture is as large, and not blank."""
    page.goto(quince_yard.url + CHARTS[chart])
    tools = page.locator(".chart-tools", has=page.locator(f"[data-of={chart}]"))
    tools.locator("summary").click()
    with page.expect_download() as taken:
        tools.get_by_role("button", name="Drawing (SVG)").click()
    svg = taken.value.path().read_text("utf-8")
    assert taken.value.suggested_filename == f"{chart}.svg"
    assert re.search(r"@font-face[^}]*data:font/woff2;base64,", svg)
    assert not re.search(r'(?:href|src)="https?:|url\("?http', svg.replace("http://www.w3.org", ""))
    assert len(set(re.findall(r' fill="(rgb[^"]+)"', svg))) > 2
    with page.expect_download() as taken:
        tools.get_by_role("button", name="Picture (PNG)").click()
    picture = Image.open(io.BytesIO(taken.value.path().read_bytes()))
    wide = page.locator(f"svg[data-chart={chart}]").evaluate("svg => svg.viewBox.baseVal.width")
    assert picture.width == pytest.approx(2 * wide, abs=2)
    assert len(picture.convert("RGB").getcolors(1_000_000)) > 20
    if chart in {"curve", "saw", "pressure"}:
        assert tools.locator("tbody tr").count() > 5
