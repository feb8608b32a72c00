"""The store room: what is one over shootouts, by somebody's word and without touching a run."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from itertools import count
from typing import Any
from uuid import UUID

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import text

from tests.desk.helpers import Bench, new_bench, priced_bench
from true_margin.core.choices import Keeping
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, StaleError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.picks import viewers
from true_margin.desk.publish import editions, public_page
from true_margin.desk.room import filing, house, keeping, overview, series, taking
from true_margin.desk.shootouts import shootouts
from true_margin.store import room as store_room
from true_margin.store.database import Database

WHO = "Marit"


@pytest.fixture
def apart(empty: Database) -> Database:
    """Another installation, with a store room of its own."""
    empty.migrate()
    return empty


_NUMBERS = count(1)


@dataclass
class Years:
    """Two shootouts a year apart that have one machine and one job under one name."""

    then: Bench
    now: Bench
    machine: str
    task: str


def two_years(database: Database, then: dict[str, str], now: dict[str, str]) -> Years:
    """Two shootouts with a machine of one name, whose spec sheets are these."""
    number = next(_NUMBERS)
    name, task = f"Yardstick {number}", f"Film {number}"
    benches = []
    for year, specs in (("then", then), ("now", now)):
        bench = new_bench(database, f"Room {number} {year}")
        bench.machine(name, specs=specs)
        bench.task(task, settings={"codec": "HEVC"})
        bench.run(name, "10:00" if year == "then" else "9:00", task)
        benches.append(bench)
    return Years(benches[0], benches[1], name, task)


def machine_offer(database: Database, name: str) -> Any:
    return next(o for o in overview.show_room(database).machine_offers if o.name == name)


def kept(database: Database, years: Years) -> UUID:
    """Say that the machine and the task of both years are one each; gives the machine."""
    setups = (years.then.setups[years.machine], years.now.setups[years.machine])
    jobs = (years.then.tasks[years.task], years.now.tasks[years.task])
    view = keeping.keep(
        database,
        [keeping.KeptMachine(years.machine, None, setups)],
        [keeping.KeptTask(years.task, None, jobs)],
        WHO,
    )
    return next(m.id for m in view.machines if m.name == years.machine)


def machine_of(database: Database, key: UUID) -> overview.RoomMachine:
    return next(m for m in overview.show_room(database).machines if m.id == key)


def test_names_offer_and_say_what_speaks_against(database: Database) -> None:
    years = two_years(database, {"memory_gb": "16"}, {"memory_gb": "32"})
    offer = machine_offer(database, years.machine)
    assert (offer.machine_id, offer.demo) == (None, False)
    assert [use.slug for use in offer.uses] == [years.then.slug, years.now.slug]
    (difference,) = offer.differences
    assert difference.startswith("Memory 16 in")
    assert "32 in" in difference
    key = kept(database, years)
    held = machine_of(database, key)
    assert [(s.state, len(s.uses)) for s in held.states] == [("as is", 2)]
    assert held.shootouts == 2
    assert held.changes == offer.differences
    assert all(o.name != years.machine for o in overview.show_room(database).machine_offers)
    task = next(t for t in overview.show_room(database).tasks if t.name == years.task)
    assert [use.slug for use in task.uses] == [years.then.slug, years.now.slug]


def test_what_is_in_the_store_room_already_is_offered_to_a_new_shootout(database: Database) -> None:
    years = two_years(database, {}, {})
    key = kept(database, years)
    later = new_bench(database, f"Room later {years.machine}")
    later.machine(years.machine.upper())
    offer = machine_offer(database, years.machine.upper())
    assert offer.machine_id == key


def test_tasks_that_are_not_the_same_job_say_so(database: Database) -> None:
    number = next(_NUMBERS)
    first, second = new_bench(database, f"Job a {number}"), new_bench(database, f"Job b {number}")
    first.task(f"Clip {number}", settings={"codec": "HEVC"}, work=60.0, unit="s")
    second.task(f"Clip {number}", settings={"codec": "H.264"}, work=90.0, unit="s")
    offer = next(o for o in overview.show_room(database).task_offers if o.name == f"Clip {number}")
    assert set(offer.differences) == {"the work: 60 or 90", "Codec: HEVC or H.264"}


def test_a_standing_task_is_one_job_in_one_app(database: Database) -> None:
    number = next(_NUMBERS)
    bench = new_bench(database, f"Apps {number}")
    bench.task(f"Take {number}")
    bench.task(f"Other {number}", app="Sprocketry")
    both = (bench.tasks[f"Take {number}"], bench.tasks[f"Other {number}"])
    with pytest.raises(RefusedError, match="one job in one app"):
        keeping.keep(database, [], [keeping.KeptTask("Take", None, both)], WHO)


def test_what_is_made_up_is_never_one_with_what_is_real(database: Database) -> None:
    years = two_years(database, {}, {})
    made_up = two_years(database, {}, {})
    with database.transaction() as session:
        session.execute(
            text("update shootouts set demo = true where slug = :slug"), {"slug": made_up.now.slug}
        )
    setups = (years.now.setups[years.machine], made_up.now.setups[made_up.machine])
    with pytest.raises(RefusedError, match="of the demo"):
        keeping.keep(database, [keeping.KeptMachine("Both", None, setups)], [], WHO)
    key = kept(database, years)
    with pytest.raises(RefusedError, match="of the demo"):
        keeping.move_setups(database, [made_up.now.setups[made_up.machine]], key, None, WHO)


def test_something_that_is_gone_meanwhile_is_refused_whole(database: Database) -> None:
    years = two_years(database, {}, {})
    setups = (years.now.setups[years.machine], UUID(int=1))
    with pytest.raises(RefusedError, match="look again"):
        keeping.keep(database, [keeping.KeptMachine(years.machine, None, setups)], [], WHO)
    assert machine_offer(database, years.machine).machine_id is None


def test_a_machine_is_corrected_and_two_who_do_so_at_once_are_told(database: Database) -> None:
    key = kept(database, two_years(database, {}, {}))
    held = machine_of(database, key)
    assert held.keeping == Keeping.OWNED
    changes = {"sample": "no 2", "keeping": Keeping.LENT, "until": date(2027, 1, 5)}
    keeping.change_machine(database, key, held.version, changes, WHO)
    now = machine_of(database, key)
    assert (now.sample, now.keeping, now.until) == ("no 2", "lent", date(2027, 1, 5))
    with pytest.raises(StaleError):
        keeping.change_machine(database, key, held.version, {"sample": "no 3"}, WHO)
    with database.transaction() as session:
        events = [event.what for event in store_room.list_events(session, key)]
    assert events == ["kept", "changed"]


def test_a_name_that_is_taken_or_blank_is_said_to_be(database: Database) -> None:
    years = two_years(database, {}, {})
    kept(database, years)
    with pytest.raises(RefusedError, match="of this name already: join them"):
        keeping.add_machine(database, {"name": years.machine.upper()}, WHO)
    with pytest.raises(RefusedError, match=r"Fill in the name\."):
        keeping.add_machine(database, {"name": "  "}, WHO)


def test_two_names_of_one_machine_are_joined_and_parted_again(database: Database) -> None:
    one, other = two_years(database, {}, {}), two_years(database, {}, {})
    first, second = kept(database, one), kept(database, other)
    keeping.note_specs(database, first, {"memory_gb": "8"}, date(2026, 5, 1), WHO)
    away = next(m for m in SHELF.take(database, one.then.slug).machines if m.name == one.machine)
    lineup.archive_machine(database, away.id, archived=True)
    keeping.merge_machines(database, first, second, WHO)
    assert machine_of(database, second).shootouts == 3
    # What is in an archive is one with it too once it comes back.
    lineup.archive_machine(database, away.id, archived=False)
    held = machine_of(database, second)
    assert held.shootouts == 4
    assert [(s.field, s.text) for s in held.specs] == [("memory_gb", "8")]
    with pytest.raises(RefusedError, match="joined to another"):
        keeping.move_setups(database, [one.now.setups[one.machine]], first, None, WHO)
    assert all(m.id != first for m in overview.show_room(database).machines)
    with pytest.raises(RefusedError):
        keeping.merge_machines(database, first, second, WHO)
    setup = one.now.setups[one.machine]
    keeping.move_setups(database, [setup], None, None, WHO)
    assert machine_of(database, second).shootouts == 3
    assert machine_offer(database, one.machine).uses[0].id == setup
    keeping.move_setups(database, [setup], second, "in a cold room", WHO)
    assert [s.state for s in machine_of(database, second).states] == ["as is", "in a cold room"]


def everything_of_runs(database: Database) -> list[Any]:
    with database.transaction() as session:
        return [
            session.execute(text(f"select * from {table} order by id")).all()
            for table in ("runs", "run_revisions", "marks", "setups", "tasks")
        ]


@settings(
    max_examples=8, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(st.lists(st.tuples(st.integers(0, 5), st.integers(0, 5)), max_size=10))
def test_nothing_that_is_done_here_changes_a_run_or_its_history(
    database: Database, steps: list[tuple[int, int]]
) -> None:
    years = [two_years(database, {"memory_gb": "16"}, {}) for _ in range(2)]
    before = everything_of_runs(database)
    keys = [kept(database, each) for each in years]
    for what, which in steps:
        year, key = years[which % 2], keys[which % 2]
        setup = year.then.setups[year.machine]
        try:
            if what == 0:
                keeping.merge_machines(database, key, keys[(which + 1) % 2], WHO)
            elif what == 1:
                keeping.move_setups(database, [setup], None, None, WHO)
            elif what == 2:
                keeping.move_setups(database, [setup], key, f"state {which}", WHO)
            elif what == 3:
                version = machine_of(database, key).version
                keeping.change_machine(database, key, version, {"note": f"seen {which}"}, WHO)
            elif what == 4:
                keeping.note_specs(database, key, {"memory_gb": str(which + 1)}, None, WHO)
            else:
                keeping.part_tasks(database, [year.then.tasks[year.task]], WHO)
        except (RefusedError, StopIteration):
            # A machine that was joined to another is no longer there.
            continue
    assert everything_of_runs(database) == before


def test_a_shootout_takes_machines_and_tasks_as_they_are_now(database: Database) -> None:
    years = two_years(database, {"memory_gb": "16", "cores": "6"}, {"memory_gb": "16"})
    key = kept(database, years)
    keeping.note_specs(database, key, {"memory_gb": "32"}, date(2026, 10, 1), WHO)
    new = new_bench(database, f"Taking {years.machine}")
    offered = taking.show_taking(database, new.slug)
    task = next(t for t in offered.tasks if t.name == years.task)
    assert key in {m.id for m in offered.machines}
    after = taking.take(database, new.slug, [key], [task.id], WHO)
    assert key not in {m.id for m in after.machines}
    book = SHELF.take(database, new.slug)
    machine = next(m for m in book.machines if m.name == years.machine)
    assert machine.specs == {"memory_gb": 32.0, "cores": 6}
    assert [s.name for s in machine.setups] == ["as is"]
    taken = next(t for t in book.tasks if t.name == years.task)
    assert (taken.app, taken.settings["codec"]) == ("Heddle", "HEVC")
    assert machine_of(database, key).shootouts == 3
    with pytest.raises(RefusedError, match="here already"):
        taking.take(database, new.slug, [key], [], WHO)


def test_a_correction_is_asked_about_once_and_changes_nothing_unasked(database: Database) -> None:
    years = two_years(database, {"memory_gb": "16"}, {"memory_gb": "16"})
    key = kept(database, years)
    keeping.note_specs(database, key, {"memory_gb": "32"}, date(2026, 10, 3), WHO)

    def memory(bench: Bench) -> object:
        machines = SHELF.take(database, bench.slug).machines
        return next(m for m in machines if m.name == years.machine).specs["memory_gb"]

    (offer,) = taking.show_taking(database, years.then.slug).corrections
    assert offer.words == (
        f"Memory of the {years.machine} is 32 GB since 3 October 2026: before or after the runs "
        f"here?"
    )
    assert memory(years.then) == memory(years.now) == 16.0
    answer = taking.answer_correction
    assert answer(database, years.then.slug, offer.spec_id, "after", WHO).corrections == ()
    assert answer(database, years.now.slug, offer.spec_id, "before", WHO).corrections == ()
    assert (memory(years.then), memory(years.now)) == (16.0, 32.0)
    with pytest.raises(RefusedError, match="look again"):
        answer(database, years.now.slug, offer.spec_id, "before", WHO)
    lines = {s.field: s for s in machine_of(database, key).specs}
    assert (lines["memory_gb"].text, lines["memory_gb"].since) == ("32", date(2026, 10, 3))


def test_runs_that_were_all_made_before_it_need_no_question(database: Database) -> None:
    years = two_years(database, {"memory_gb": "16"}, {"memory_gb": "16"})
    key = kept(database, years)
    with database.transaction() as session:
        session.execute(
            text("update runs set started_at = '2026-09-01' where setup_id = :setup"),
            {"setup": years.then.setups[years.machine]},
        )
        session.execute(
            text("update shootouts set revision = revision + 1 where slug = :slug"),
            {"slug": years.then.slug},
        )
    keeping.note_specs(database, key, {"memory_gb": "32"}, date(2026, 10, 3), WHO)
    assert taking.show_taking(database, years.then.slug).corrections == ()
    assert len(taking.show_taking(database, years.now.slug).corrections) == 1


def test_a_cell_that_its_row_cannot_hold_is_refused(database: Database) -> None:
    key = kept(database, two_years(database, {}, {}))
    with pytest.raises(RefusedError, match="not a number"):
        keeping.note_specs(database, key, {"memory_gb": "much"}, None, WHO)
    with pytest.raises(NotFoundError):
        keeping.note_specs(database, UUID(int=5), {"memory_gb": "8"}, None, WHO)


def test_a_series_begins_with_everything_in_place(database: Database) -> None:
    bench = priced_bench(database, f"Series {next(_NUMBERS)}")
    setup = bench.setups["A"]
    shootout = shootouts.get_shootout(database, bench.slug)
    changes = {"baseline_setup_id": setup, "confidence": 0.9}
    shootouts.change_shootout(database, bench.slug, shootout.version, changes)
    name = f"Kept {next(_NUMBERS)}"
    keeping.keep(database, [keeping.KeptMachine(name, None, (setup,))], [], WHO)
    new = series.continue_shootout(database, bench.slug, "The same, a year on")
    book = SHELF.take(database, new.slug)
    assert [m.name for m in book.machines] == ["A", "B"]
    assert [t.name for t in book.tasks] == ["Parade"]
    assert len(book.runs) == 6
    assert book.rounds[0].brought_from == SHELF.take(database, bench.slug).shootout.name
    assert book.shootout.confidence == 0.9
    labels: dict[UUID | None, str] = {s.id: s.label for s in book.setups}
    assert labels.get(book.shootout.baseline_setup_id) == "A"
    (viewer,) = book.viewers
    assert (viewer.name, labels.get(viewer.owned_setup_id)) == ("Film maker", "A")
    assert [part.amount for part in viewer.tasks] == [6600.0]
    assert [m.prices[0].amount for m in book.machines] == [300, 900]
    own = next(m for m in overview.show_room(database).machines if m.name == name)
    assert own.shootouts == 2
    told = taking.show_taking(database, new.slug).series
    assert [(each.slug, each.here) for each in told] == [(bench.slug, False), (new.slug, True)]


def test_rows_of_ones_own_come_along_with_what_machines_and_viewers_say_in_them(
    database: Database,
) -> None:
    bench = priced_bench(database, f"Own rows {next(_NUMBERS)}")
    spec_sheet.add_free_row(database, bench.slug, "Hinge", None, number=False)
    row = SHELF.take(database, bench.slug).free_rows[0]
    machine = SHELF.take(database, bench.slug).machines[0]
    lineup.change_machine(database, machine.id, machine.version, {"specs": {str(row.id): "metal"}})
    viewer = SHELF.take(database, bench.slug).viewers[0]
    needs = [{"about": str(row.id), "relation": "is", "value": "metal"}]
    viewers.change_viewer(database, viewer.id, viewer.version, {"needs": needs})
    new = series.continue_shootout(database, bench.slug, f"Own rows on {next(_NUMBERS)}")
    book = SHELF.take(database, new.slug)
    (own,) = book.free_rows
    assert (own.title, own.id != row.id) == ("Hinge", True)
    assert book.machines[0].specs[str(own.id)] == "metal"
    assert [need["about"] for need in book.viewers[0].needs] == [str(own.id)]


def test_new_shootouts_begin_as_the_house_says(database: Database) -> None:
    before = house.get_house(database)
    changes = {"currency": "GBP", "confidence": 0.9, "materiality": 0.05, "planned_runs": 5}
    there = new_bench(database, f"Before the house {next(_NUMBERS)}")
    now = house.change_house(database, before.version, changes)
    try:
        own = shootouts.make_shootout(database, {"name": "In the house", "currency": None})
        assert (own.currency, own.confidence) == ("GBP", 0.9)
        assert (own.materiality, own.planned_runs) == (0.05, 5)
        said = shootouts.make_shootout(database, {"name": "Said otherwise", "currency": "EUR"})
        assert (said.currency, said.planned_runs) == ("EUR", 5)
        assert shootouts.get_shootout(database, there.slug).confidence == before.confidence
        with pytest.raises(StaleError):
            house.change_house(database, before.version, {"currency": "USD"})
        with pytest.raises(RefusedError):
            house.change_house(database, now.version, {"currency": "ZZZ"})
    finally:
        back = {name: getattr(before, name) for name in changes}
        house.change_house(database, now.version, back)


def test_a_page_is_the_houses_as_it_was_when_it_was_published(database: Database) -> None:
    bench = priced_bench(database, f"House page {next(_NUMBERS)}")
    before = house.get_house(database)
    changes = {"channel": "Bench & Lantern", "disclosure": "Shops pay us for some links."}
    now = house.change_house(database, before.version, changes)
    view = editions.publish_edition(database, bench.slug, None, WHO)
    after = house.change_house(database, now.version, {"channel": None, "disclosure": None})
    token = view.links[0].token
    page = public_page.public_page(database, token, 1, {})
    assert "Bench &amp; Lantern · Edition 1" in page
    assert "Shops pay us for some links." in page
    editions.publish_edition(database, bench.slug, None, WHO)
    second = public_page.public_page(database, token, 2, {})
    assert "Lantern" not in second
    assert "Some links to shops are affiliate links" in second
    assert after.channel is None


def test_a_saved_store_room_comes_in_elsewhere_and_overwrites_nothing(
    database: Database, apart: Database
) -> None:
    years = two_years(database, {"memory_gb": "16", "processor": "Obol 6"}, {})
    key = kept(database, years)
    keeping.note_specs(database, key, {"memory_gb": "32"}, date(2026, 10, 1), WHO)
    held = machine_of(database, key)
    keeping.change_machine(database, key, held.version, {"sample": "no 7", "keeping": "lent"}, WHO)
    saved = filing.save_room(database)
    assert saved == filing.save_room(database)
    came = filing.bring_room(apart, saved, WHO)
    assert came.machines > 0
    assert came.tasks > 0
    assert came.known == ()
    there = next(m for m in overview.show_room(apart).machines if m.name == years.machine)
    assert (there.sample, there.keeping, there.states) == ("no 7", "lent", ())
    assert {(s.field, s.text, s.since) for s in there.specs} == {
        ("memory_gb", "32", date(2026, 10, 1)),
        ("processor", "Obol 6", None),
    }
    again = filing.bring_room(apart, saved, WHO)
    assert (again.machines, again.tasks) == (0, 0)
    assert years.machine in again.known
    # A shootout there takes it as it would have here.
    new = new_bench(apart, "Elsewhere")
    taking.take(apart, new.slug, [there.id], [], WHO)
    machine = next(m for m in SHELF.take(apart, new.slug).machines if m.name == years.machine)
    assert machine.specs == {"memory_gb": 32.0, "processor": "Obol 6"}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("nonsense", "Was it saved as a store room?"),
        ('{"trueMarginRoom": 2}', "trueMarginRoom"),
        ('{"machines": [{"name": ""}]}', "machines.0.name"),
        ('{"machines": [{"name": "A", "specs": [{"row": "Wings", "value": "2"}]}]}', "Wings"),
        ('{"machines": [{"name": "Z", "specs": [{"row": "Memory", "value": "x"}]}]}', "Memory"),
        ('{"tasks": [{"name": "T", "app": "H", "settings": {"wings": "2"}}]}', "wings"),
        ('{"tasks": [{"name": "T", "app": "H", "work": 1e999}]}', "tasks.0.work"),
        ('{"house": {"confidence": 7}}', "house.confidence"),
    ],
)
def test_a_file_that_is_no_store_room_says_where(database: Database, text: str, words: str) -> None:
    before = overview.show_room(database)
    with pytest.raises(RefusedError, match=words.replace("?", r"\?")):
        filing.bring_room(database, text, WHO)
    assert overview.show_room(database) == before
