"""Cards: nothing clipped, nothing over anything else, the same every time."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from itertools import product
from xml.etree import ElementTree

import pytest

from true_margin.publish.canvas import Box, Drawing
from true_margin.publish.card_data import (
    BarCard,
    BarRow,
    Card,
    CardSetup,
    CorrectionCard,
    CorrectionRow,
    FeelCard,
    FeelMark,
    Heading,
    PickCard,
    PriceCard,
    PricePoint,
    Progress,
    ProgressCard,
    RaceCard,
    RaceRun,
    RuleCard,
    RuleRow,
    SpecCard,
    WorthCard,
)
from true_margin.publish.card_frame import LEAST
from true_margin.publish.cards import draw_card, to_png
from true_margin.publish.lettering import CUT, fit_within
from true_margin.publish.looks import LookName, Shape

LONG = [
    "Cairn Brick with the bigger memory kit and the raised clock",
    "Halyard S on battery",
    "Ferrous T9 stock",
    "Ferrous T9 overclocked",
    "Unbreakablycompoundedmachinename",
    "Tarn Desk",
    "Pebble",
    "Halyard L as lent by the maker",
]
WHO = [CardSetup(label, at, at == 2) for at, label in enumerate(LONG)]
HEAD = Heading(
    "Which machine exports the whole lantern parade in the largest size the soonest?",
    "times as fast as Tarn Desk, Heddle 6.3, on mains power, with the caches emptied before each",
    (
        "128 runs",
        "jaws: 95 %",
        "round autumn",
        "carried over from an earlier round: Halyard L",
        "3 parity overrules",
        "not on this ladder: Pebble, Halyard M",
        "3 more not shown",
    ),
    "A channel with quite a long name, and a second line about the season, 15 October 2026",
)
CALLS = ("clear", "ahead", "level", "open", "baseline", "clear", "open", "level")


def bars(values: list[float]) -> BarCard:
    rows = [
        BarRow(who, v, v * 0.97, v * 1.03, f"{v:,.0f}:59:59", call, f"1.38× {call}")
        for who, v, call in zip(WHO, values, CALLS, strict=False)
    ]
    return BarCard(HEAD, "minutes:seconds, less is better", tuple(rows))


def rule(ratios: list[float]) -> RuleCard:
    rows = [
        RuleRow(
            who,
            r,
            None if call == "baseline" else r * 0.9,
            None if call == "baseline" else r * 1.1,
            f"{r:.2f}× {call}",
            call,
        )
        for who, r, call in zip(WHO, ratios, CALLS, strict=False)
    ]
    return RuleCard(HEAD, "Tarn Desk", 0.03, tuple(rows))


def prices(pairs: Sequence[tuple[float, float]]) -> PriceCard:
    points = [
        PricePoint(
            who,
            price,
            f"{price:,.2f} EUR",
            ratio,
            ratio * 0.95,
            ratio * 1.05,
            at % 2 == 0,
            at == 3,
            price > 1500,
        )
        for at, (who, (price, ratio)) in enumerate(zip(WHO, pairs, strict=False))
    ]
    return PriceCard(HEAD, "EUR", "Tarn Desk", 1500.0, "budget 1 500 EUR", tuple(points))


CROWDED = [(980 + 7 * at, 1.5 + 0.004 * at) for at in range(8)]
SPREAD = [(300 + 331 * at, 1.0 + 0.3 * at) for at in range(8)]
PICK = PickCard(
    HEAD,
    WHO[0],
    f"{LONG[0]}, 1 299.00 EUR",
    (
        "One sentence with its surety, which is long enough that it has to be broken into lines: "
        "over 99 in 100 that nothing under 1 500 EUR serves this work more than 3 % better.",
    )
    * 3,
    (
        ("budget", "1 500 EUR"),
        ("needs", "memory at least 16 GB; no failed run; screen; " * 3),
        ("payback", "pays back in 23 to 25 months"),
        ("flip price", "stays the pick up to 1 379 EUR; as far as speeds are known, to 1 500"),
    ),
)
SPECS = SpecCard(
    HEAD,
    tuple(WHO),
    tuple(
        (
            f"A row of the sheet {at}",
            tuple(f"value {at} of {w.label[:9]}" for w in WHO),
            at % 2 == 0,
        )
        for at in range(5)
    ),
    4,
)
PROGRESS = ProgressCard(
    HEAD,
    tuple(
        Progress(
            who,
            ((0.0, 0.0), (40.0, 0.1), (200.0 + 9 * at, 0.6), (400.0 + 31 * at, 1.0)),
            f"{6 + at}:40",
            at != 5,
        )
        for at, who in enumerate(WHO)
    ),
)
BESIDE = RuleCard(
    HEAD,
    "Tarn Desk",
    0.03,
    (
        *rule([1.0, 1.4]).rows[:1],
        RuleRow(WHO[1], 7.0, 7.0, None, "at least 7.00×", "bound"),
        RuleRow(WHO[2], 0.4, None, 0.4, "at most 0.40×", "bound"),
        RuleRow(WHO[3], 0.5, 0.5, 2.0, "0.50 to 2.00×", "bound"),
        RuleRow(WHO[4], 1.38, 1.375, 1.385, "1.38× noted", "noted"),
        RuleRow(WHO[5], 3.2, None, None, "3.20× noted", "noted"),
    ),
)
FEEL = FeelCard(
    HEAD,
    tuple(WHO[:4]),
    tuple(
        (
            title,
            tuple(
                None
                if (at + place) % 5 == 4
                else FeelMark(
                    ("smooth", "slow", "stutters", "unusable")[(at + place) % 4],
                    "11 freezes, 12 of 3000 frames lost" if at == 1 else "",
                )
                for at in range(4)
            ),
        )
        for place, title in enumerate(
            ("Scrub", "Playback full, UHD with three effects", "Seek", "Import of stills")
        )
    ),
    ("crash, 3 times, device not found", "", "wrong colours in preview", ""),
    2,
)
RACE = RaceCard(
    HEAD,
    tuple(
        RaceRun(
            who,
            ((0.0, 0.0), (40.0, 0.1), (200.0 + 9 * at, 0.6), (400.0 + 31 * at, done)),
            f"{6 + at}:40" if done == 1.0 else "failed at 9:15, 80 % done",
            f"{31 * at} s later" if at else "",
            done == 1.0,
        )
        for at, (who, done) in enumerate(zip(WHO[:6], (1.0, 1.0, 1.0, 1.0, 1.0, 0.8), strict=True))
    ),
)
WORTH = WorthCard(
    HEAD,
    WHO[0],
    WHO[2],
    (
        ("costs", "12 640.00 EUR", "1 300 EUR for the old one taken off"),
        ("saves a year", "129 h", "128 to 131 h"),
        ("pays for itself after", "over 100 years", "at least 90 years, and never for 5 in 100"),
    ),
)
CORRECTED = CorrectionCard(
    HEAD,
    tuple(
        CorrectionRow(who, f"A task with quite a long name, export {at}", "6:12", "1:06:14.2")
        for at, who in enumerate(WHO[:5])
    ),
)
CARDS: dict[str, Card] = {
    "bars": bars([236, 241, 243, 372, 372, 400, 657, 660]),
    "bars, one tiny": bars([0.5, 9000, 3, 2, 1, 70, 800, 4]),
    "one bar": bars([236.0]),
    "rule": rule([2.8, 2.7, 1.04, 1.001, 1.0, 0.97, 0.5, 12.0]),
    "rule, all alike": rule([1.001, 1.0, 1.0, 1.0, 1.0]),
    "rule, not measured": BESIDE,
    "prices, crowded": prices(CROWDED),
    "prices, spread": prices(SPREAD),
    "one price": prices([(940.0, 1.5)]),
    "pick": PICK,
    "specs": SPECS,
    "progress": PROGRESS,
    "feel": FEEL,
    "race": RACE,
    "worth": WORTH,
    "corrected": CORRECTED,
}
EVERY = list(product(CARDS, Shape))


def texts(drawing: Drawing) -> list[Box]:
    return [box for box in drawing.boxes if box.text.strip()]


@pytest.mark.parametrize(("name", "shape"), EVERY)
def test_nothing_is_clipped(name: str, shape: Shape) -> None:
    drawing = draw_card(CARDS[name], shape, LookName.DAY)
    for box in drawing.boxes:
        assert box.x >= -0.5, box
        assert box.y >= -0.5, box
        assert box.x + box.width <= drawing.width + 0.5, box
        assert box.y + box.height <= drawing.height + 0.5, box


@pytest.mark.parametrize(("name", "shape"), EVERY)
def test_no_text_lies_over_another(name: str, shape: Shape) -> None:
    own = texts(draw_card(CARDS[name], shape, LookName.NIGHT))
    over = [(a.text, b.text) for at, a in enumerate(own) for b in own[at + 1 :] if a.meets(b, 1.5)]
    # Eight prices within a few pixels of each other cannot all be named apart.
    allowed = 3 if name == "prices, crowded" else 0
    assert len(over) <= allowed, over


@pytest.mark.parametrize(("name", "shape"), EVERY)
def test_every_name_and_figure_is_there_and_can_be_read(name: str, shape: Shape) -> None:
    card = CARDS[name]
    own = texts(draw_card(card, shape, LookName.DAY))
    said = " ".join(box.text for box in own)
    together = said.replace(" ", "")
    for words in (card.heading.title, card.heading.source):
        assert words.replace(" ", "") in together
    # Of the notes the last give way; they are told in the text alternative.
    there = [note.replace(" ", "") in together for note in card.heading.notes]
    assert there == sorted(there, reverse=True)
    alt = draw_card(card, shape, LookName.DAY).alt
    assert all(note in alt for note in card.heading.notes)
    if isinstance(card, (BarCard, RuleCard)):
        for row in card.rows:
            label = row.who.label.replace(" ", "")
            cut = any(
                box.text.endswith(CUT) and box.text[:-1].strip() in row.who.label for box in own
            )
            assert label in together or cut
            assert row.shown in said
    smallest = min(box.height / 0.96 for box in own)
    assert smallest >= LEAST - 1e-6, smallest


@pytest.mark.parametrize(("name", "shape"), EVERY)
def test_a_foot_has_two_lines_at_most(name: str, shape: Shape) -> None:
    drawing = draw_card(CARDS[name], shape, LookName.DAY)
    rule = max(b.y for b in drawing.boxes if not b.text and b.height == 0 and b.width > 900)
    foot = {round(box.y) for box in texts(drawing) if box.y > rule}
    assert len(foot) <= 2


def test_rows_fill_a_shape_for_the_phone() -> None:
    drawing = draw_card(bars([200.0, 300.0, 400.0]), Shape.TALL, LookName.DAY)
    lowest = max(b.y + b.height for b in drawing.boxes if not b.text and b.height > 30)
    assert lowest > 0.75 * drawing.height


def test_what_has_no_room_is_cut_and_says_so() -> None:
    long = "a machine with a name that nobody ever had the time to say in full"
    fitted = fit_within(long, "text", 200.0, 60.0, 40.0, least=22.0)
    assert (len(fitted.lines), fitted.size, fitted.lines[-1][-1]) == (2, 22.0, CUT)
    assert fit_within("short", "text", 200.0, 60.0, 40.0, least=22.0).lines == ("short",)


def test_a_card_is_the_same_every_time() -> None:
    for name, shape in EVERY:
        one, other = (draw_card(CARDS[name], shape, LookName.CLEAR) for _ in range(2))
        assert one == other
    once, again = (to_png(draw_card(CARDS["rule"], Shape.SQUARE, LookName.DAY)) for _ in range(2))
    assert hashlib.sha256(once).digest() == hashlib.sha256(again).digest()


@pytest.mark.parametrize("look", LookName)
@pytest.mark.parametrize("shape", Shape)
def test_pictures_have_their_size_and_background(look: LookName, shape: Shape) -> None:
    drawing = draw_card(CARDS["one bar"], shape, look)
    png = to_png(drawing)
    assert png[:8] == b"\x89PNG\r\n\x1a\n"
    size = (int.from_bytes(png[16:20], "big"), int.from_bytes(png[20:24], "big"))
    assert size == (drawing.width, drawing.height)
    paper = f'<rect width="{drawing.width}" height="{drawing.height}" fill='
    assert (paper in drawing.svg) is (look is not LookName.CLEAR)


def test_the_drawing_says_in_words_what_it_shows() -> None:
    drawing = draw_card(CARDS["bars"], Shape.WIDE, LookName.DAY)
    root = ElementTree.fromstring(drawing.svg)  # noqa: S314 - our own
    space = "{http://www.w3.org/2000/svg}"
    described = root.find(f"{space}desc")
    assert described is not None
    assert described.text == drawing.alt
    for who in WHO:
        assert who.label in drawing.alt
    # No face is asked for: text is outlines.
    assert root.findall(f".//{space}text") == []
    assert "font" not in drawing.svg.replace(drawing.alt, "")


def test_bars_begin_at_zero() -> None:
    drawing = draw_card(bars([200.0, 400.0]), Shape.WIDE, LookName.DAY)
    fills = [b for b in drawing.boxes if not b.text and b.width > 60 and 30 < b.height < 160]
    short, long = sorted(fills, key=lambda box: box.width)
    assert short.x == long.x
    assert long.width / short.width == pytest.approx(2.0, rel=1e-3)


def test_a_character_without_a_shape_is_named() -> None:
    card = BarCard(Heading("Жук ☃", "", (), ""), "s", (BarRow(WHO[0], 1, 1, 1, "1", "", ""),))
    drawing = draw_card(card, Shape.WIDE, LookName.DAY)
    assert set(drawing.missing) == {"Ж", "у", "к", "☃"}
    assert "Жук ☃" in drawing.alt


def test_an_interval_without_bounds_leaves_room_for_the_rest() -> None:
    wide = BarRow(WHO[1], 300.0, 1e-9, 1e12, "5:00", "open", "1.3× open")
    drawing = draw_card(BarCard(HEAD, "s", (*bars([200.0]).rows, wide)), Shape.WIDE, LookName.DAY)
    fills = [b for b in drawing.boxes if not b.text and b.width > 200 and 30 < b.height < 160]
    assert len(fills) == 2
    endless = RuleRow(WHO[1], 1.2, 1e-200, 1e200, "1.2× open", "open")
    for shape in Shape:
        card = RuleCard(HEAD, "Tarn Desk", 0.03, (*rule([2.8, 1.5]).rows, endless))
        own = draw_card(card, shape, LookName.DAY)
        assert all(box.x + box.width <= own.width + 0.5 for box in own.boxes)
        # The two others are told apart by more than the width of a hair.
        places = sorted(b.x for b in own.boxes if not b.text and b.width == 0 and b.height < 60)
        assert places[-1] - places[0] > 100
    point = PricePoint(WHO[0], 900.0, "900 EUR", 1.5, 1e-200, 1e200, True, False, False)
    flat = draw_card(
        PriceCard(HEAD, "EUR", "B", None, "", (point, *prices(SPREAD).points)),
        Shape.SQUARE,
        LookName.NIGHT,
    )
    assert all(box.y >= -0.5 for box in flat.boxes)
