"""Letters: the shipped faces, widths, and texts that are made to fit."""

from __future__ import annotations

import pytest
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from true_margin.publish.lettering import FONTS, Face, fit, letters, without_shape

FACES: tuple[Face, ...] = ("head", "text", "strong", "figure")


@pytest.mark.parametrize("face", FACES)
def test_every_face_has_the_letters_that_names_need(face: Face) -> None:
    for character in "abcxyzABCXYZ0123456789 äöüßéèçñåøłžőăț×–—“”’·%€£$":
        assert letters(face).knows(character), character


@pytest.mark.parametrize("face", FACES)
def test_a_face_goes_by_a_name_of_its_own(face: Face) -> None:
    font = TTFont(FONTS / f"{face}.ttf")
    assert font["name"].getDebugName(1) == f"True Margin {face}"
    assert "fvar" not in font


def test_figures_are_all_as_wide() -> None:
    own = letters("figure")
    assert len({own.width(digit, 100.0) for digit in "0123456789"}) == 1


def test_a_line_is_as_wide_as_its_letters() -> None:
    own = letters("figure")
    assert own.width("1:23", 50.0) == pytest.approx(4 * own.width("1", 50.0))
    assert own.path("") == ""
    assert own.path("i").startswith("M")


@given(st.text(st.characters(codec="utf-8"), max_size=80), st.floats(60, 900))
def test_whatever_is_fitted_fits_and_is_whole(text: str, width: float) -> None:
    fitted = fit(text, "text", width, 40.0, least=22.0, most_lines=2)
    own = letters("text")
    for line in fitted.lines:
        # A single character may be wider than its line; then it stands alone.
        assert own.width(line, fitted.size) <= width + 0.01 or len(line) == 1
    kept = "".join("".join(fitted.lines).split())
    assert kept == "".join(text.split())


def test_what_has_no_shape_is_said_once() -> None:
    assert without_shape("a Ж b Ж ☃\n") == "Ж☃"
