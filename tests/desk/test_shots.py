"""The shot list, and cards of what goes on: a race, a change, an update, a correction."""

from __future__ import annotations

import io
import zipfile
from typing import Any
from uuid import UUID

import opentimelineio as otio
import pytest

from tests.desk.helpers import Bench, new_bench, priced_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards, clips, give_timeline, script, shots
from true_margin.desk.publish.cards import CardView
from true_margin.desk.publish.editions import publish_edition
from true_margin.desk.runs import runs
from true_margin.publish.looks import LookName, Shape
from true_margin.store.database import Database

SCRIPT = """\
Welcome to the bench, it is a long one today.
A is 46 % faster than B on Parade.
B is twice as fast as A on Parade.
"""


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Shots")
    for setup, typed in (("A", "6:10"), ("A", "6:12"), ("A", "6:11")):
        bench.run(setup, typed)
    for typed in ("9:02", "9:04", "9:03"):
        bench.run("B", typed)
    return bench


def keep(bench: Bench, kind: str, **more: Any) -> CardView:
    return cards.add_card(bench.database, bench.slug, {"kind": kind, **more})


def say(bench: Bench, text: str) -> None:
    version = script.show_script(bench.database, bench.slug).version
    script.keep_script(bench.database, bench.slug, text, version)


def test_a_card_stands_where_the_script_speaks_of_it(bench: Bench) -> None:
    mix = keep(bench, "rule")
    parade = keep(bench, "bar", task_id=bench.tasks["Parade"], seconds=4.0)
    say(bench, SCRIPT)
    found = shots.show_shots(bench.database, bench.slug)
    assert found.by is shots.ShotsBy.WORDS
    first, second = found.shots
    # Ten words at two and a half a second, and a breath.
    assert (first.card_id, first.at_s, first.line) == (parade.card.id, 4.4, 2)
    assert first.say == "A is 46 % faster than B on Parade."
    assert first.seconds == 4.0
    # What is wrong carries no card, and what nobody speaks of follows after the script.
    assert (second.card_id, second.line) == (mix.card.id, None)
    assert second.at_s >= max(line.at_s + line.seconds for line in found.lines)
    assert found.length_s == pytest.approx(second.at_s + second.seconds)


def test_captions_tell_when_a_line_is_said(bench: Bench) -> None:
    keep(bench, "bar", task_id=bench.tasks["Parade"])
    said = (
        "1\n00:01:00,000 --> 00:01:02,500\nMany words, far more than anybody says so soon.\n\n"
        "2\n00:01:02,500 --> 00:01:06,000\nA is 46 % faster than B on Parade.\n"
    )
    say(bench, said)
    found = shots.show_shots(bench.database, bench.slug)
    assert [line.at_s for line in found.lines] == [60.0, 62.5]
    assert [line.seconds for line in found.lines] == pytest.approx([2.5, 3.6])
    assert found.by is shots.ShotsBy.CAPTIONS
    assert [shot.at_s for shot in found.shots] == [62.5]


def test_without_a_script_cards_follow_each_other(bench: Bench) -> None:
    keep(bench, "bar", task_id=bench.tasks["Parade"], seconds=4.0)
    keep(bench, "rule", seconds=5.0)
    keep(bench, "correction")
    found = shots.show_shots(bench.database, bench.slug)
    assert [(shot.at_s, shot.seconds) for shot in found.shots] == [(0.0, 4.0), (4.0, 5.0)]
    assert (found.by, found.length_s) == (shots.ShotsBy.ORDER, 9.0)
    assert found.empty == ("Correction card",)


def test_the_archive_has_the_timeline_the_cut_list_and_a_film_where_there_is_one(
    bench: Bench,
) -> None:
    own = keep(bench, "bar", task_id=bench.tasks["Parade"], seconds=4.0)
    keep(bench, "rule")
    say(bench, SCRIPT)
    asked = {
        "shape": "square",
        "look": "night",
        "kind": "webm",
        "rate": 25.0,
        "seconds": 0.6,
        "hold": 0.2,
        "cuts": True,
    }
    made = clips.start_clip(bench.database, bench.slug, own.card.id, asked)
    clips.make_clip(bench.database, lambda: False, bench.slug, str(made.clip.id))
    content = give_timeline.give_timeline(
        bench.database, bench.slug, Shape.SQUARE, LookName.NIGHT, 25.0
    )
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        names = archive.namelist()
        files = {name: archive.read(name) for name in names}
    assert "cards/01-bar-card-parade-square-night.webm" in names
    assert "cards/02-rule-card-all-tasks-square-night.png" in names
    (track,) = otio.adapters.read_from_string(
        files["cards.otio"].decode(), "otio_json"
    ).video_tracks()
    first = next(each for each in track if isinstance(each, otio.schema.Clip))
    # It comes at 4.4 s, to the frame, with the line to say as its marker.
    assert first.range_in_parent().start_time.value == 110
    assert first.markers[0].name == "A is 46 % faster than B on Parade."
    # An event of a cut list: where it begins and ends in its film, and in the edit.
    first_cut = files["cards.edl"].decode().splitlines()
    events = [line.split()[-4:] for line in first_cut if line[:3].isdigit()]
    assert events[0] == ["00:00:00:00", "00:00:04:00", "00:00:04:10", "00:00:08:10"]
    assert len(events) == 2
    assert files["chapters.txt"].decode().splitlines()[0] == "0:04 Parade"
    assert "00:00:04.400 --> " in files["lines.vtt"].decode()


def test_a_race_card_says_who_was_done_first_and_what_is_not_known(bench: Bench) -> None:
    view = keep(bench, "race", task_id=bench.tasks["Parade"])
    assert view.title == "A is done first"
    assert "no progress noted of all: drawn straight" in view.notes
    assert "B: 9:03, 2:52 later." in view.alt
    assert keep(bench, "race").problem == "A race is run on one task: choose one."
    # Who is left out is not what others are behind of.
    chosen = {"setups": {"left_out": [bench.setups["A"]]}}
    alone = cards.change_card(bench.database, bench.slug, view.card.id, view.card.version, chosen)
    assert "later" not in alone.alt
    assert alone.title == "Parade"


def test_a_worth_it_card_follows_picks(database: Database) -> None:
    bench = priced_bench(database, "Worth it")
    viewer = SHELF.take(database, bench.slug).viewers[0]
    view = keep(bench, "worth", viewer_id=viewer.id)
    assert view.problem is None
    assert view.subtitle == "Film maker: changing from A to B"
    assert "From A to B." in view.alt
    assert "costs: 900 EUR." in view.alt
    assert "saves a year: " in view.alt
    nobody = viewers.add_viewer(database, bench.slug, {"name": "Nobody"}, None)
    assert keep(bench, "worth", viewer_id=nobody.id).problem == (
        "What Nobody has now is not said: choose it in Picks."
    )


def test_a_correction_strikes_what_an_edition_said(bench: Bench) -> None:
    card = keep(bench, "correction")
    assert card.problem == "Nothing was published yet: a correction says what was."
    publish_edition(bench.database, bench.slug, None, "owner")
    assert "still holds" in (only(bench, card.card.id).problem or "")
    book = SHELF.take(bench.database, bench.slug)
    wrong = next(run for run in book.runs if run.setup_id == bench.setups["B"])
    runs.revise_run(bench.database, wrong.id, wrong.version, {"typed": "8:02"}, "Ilse", "misread")
    view = only(bench, card.card.id)
    assert view.problem is None
    assert view.title == "Correction: 1 figure changed"
    assert "B, Parade: 9:03 was wrong, it is 8:42" in view.alt
    # The next edition says the new figure; the card still tells what the one before had wrong.
    publish_edition(bench.database, bench.slug, None, "owner")
    assert "9:03 was wrong" in only(bench, card.card.id).alt


def only(bench: Bench, card_id: UUID) -> CardView:
    return next(
        view for view in cards.list_cards(bench.database, bench.slug) if view.card.id == card_id
    )
