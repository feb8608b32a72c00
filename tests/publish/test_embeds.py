"""Snippets for other sites are plain, whole and safe."""

from __future__ import annotations

from xml.etree import ElementTree

import pytest

from true_margin.publish.embeds import LABEL, WIDTH, EmbedBar, embed

LINK = "https://reviews.example/films/have/tarn/maker.html?a=1&b=2"


def _parsed(*bars: EmbedBar, said: str = "Buy the Brick.") -> ElementTree.Element:
    made = embed("A job", bars, said, LINK)
    return ElementTree.fromstring(made)  # noqa: S314 - our own


def test_a_snippet_is_bars_words_and_a_link() -> None:
    found = _parsed(EmbedBar("Tarn", "10:57", 1.0), EmbedBar("Brick", "6:12", 0.5, picked=True))
    svg, caption = found
    assert svg.get("aria-label") == "A job: Tarn 10:57; Brick 6:12"
    assert svg.get("role") == "img"
    longer, shorter = svg.findall("rect")
    assert float(longer.get("width", 0)) == pytest.approx(2 * float(shorter.get("width", 0)))
    assert float(longer.get("x", 0)) + float(longer.get("width", 0)) < WIDTH
    assert longer.get("x") == str(LABEL)
    assert longer.get("fill") != shorter.get("fill")
    assert caption.text == "Buy the Brick. "
    link = caption.find("a")
    assert link is not None
    assert link.get("href") == LINK


def test_without_bars_it_is_words_alone() -> None:
    found = _parsed()
    assert [each.tag for each in found] == ["figcaption"]


@pytest.mark.parametrize("name", ["<script>alert(1)</script>", '" onload="x', "A & B", "]]>"])
def test_names_stay_words(name: str) -> None:
    found = _parsed(EmbedBar(name, name, 1.0), said=name)
    assert [each.tag for each in found.iter()] == [
        "figure",
        "svg",
        "text",
        "rect",
        "text",
        "figcaption",
        "a",
    ]
    texts = [each.text for each in found.iter("text")]
    assert texts == [name, name]
    assert not any("onload" in key for each in found.iter() for key in each.attrib)
