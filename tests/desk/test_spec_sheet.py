"""The spec sheet: typed cells, rows of one's own, what is on trial, archive, marks, assumed speeds."""

from __future__ import annotations

from uuid import UUID

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup, spec_paste, spec_sheet
from true_margin.desk.margins import margins
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Spec sheet")


def sheet(bench: Bench) -> spec_sheet.LineUp:
    return spec_sheet.show_lineup(bench.database, bench.slug)


def column(bench: Bench, name: str) -> spec_sheet.MachineColumn:
    return next(c for c in sheet(bench).columns if c.machine.name == name)


def row(bench: Bench, field: str) -> spec_sheet.SpecRow:
    return next(r for r in sheet(bench).rows if r.field == field)


def type_cells(bench: Bench, name: str, **cells: str | None) -> None:
    machine = column(bench, name).machine
    lineup.change_machine(bench.database, machine.id, machine.version, {"specs": cells})


def test_cells_are_read_in_their_unit_and_shown_as_typed(bench: Bench) -> None:
    type_cells(bench, "A", storage_gb="2 TB", weight_kg="1300 g", ports="4 USB; network")
    machine = column(bench, "A").machine
    assert machine.specs == {"storage_gb": 2000.0, "weight_kg": 1.3, "ports": ["4 USB", "network"]}
    cells = column(bench, "A").cells
    assert {field: cell[0].text for field, cell in cells.items()} == {
        "weight_kg": "1.3",
        "storage_gb": "2000",
        "ports": "4 USB, network",
    }
    type_cells(bench, "A", ports=None, weight_kg="")
    assert column(bench, "A").machine.specs == {"storage_gb": 2000.0}


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [
        ("cores", "0", "at least 1"),
        ("noise", "roaring", "none of: silent"),
        ("supported_until", "soon", "no year or month"),
        ("memory_gb", "16 GHz", "does not fit"),
        ("wings", "2", "no row 'wings'"),
        ("note", "x" * 2001, "longer than 2000"),
    ],
)
def test_a_cell_that_cannot_be_says_so_at_its_row(
    bench: Bench, field: str, text: str, says: str
) -> None:
    with pytest.raises(RefusedError, match=says) as refused:
        type_cells(bench, "A", form="laptop", **{field: text})
    assert refused.value.field == field
    assert column(bench, "A").machine.specs == {}


def test_a_setup_shows_its_own_value_and_else_its_machines(bench: Bench) -> None:
    type_cells(bench, "A", memory_gb="16")
    machine = column(bench, "A").machine
    lineup.add_setup(bench.database, machine.id, {"name": "full", "specs": {"memory_gb": "64"}})
    cells = column(bench, "A").cells["memory_gb"]
    assert [(c.text, c.own) for c in cells] == [("16", False), ("64", True)]
    assert row(bench, "memory_gb").differs
    assert not row(bench, "year").filled


def test_a_row_of_ones_own_is_filled_pasted_renamed_and_taken_off(bench: Bench) -> None:
    spec_sheet.add_free_row(bench.database, bench.slug, "Height", "cm", number=True)
    free = next(r for r in sheet(bench).rows if r.free_row_id is not None)
    assert (free.title, free.unit, free.filled) == ("Height", "cm", False)
    spec_paste.commit_specs(bench.database, bench.slug, "\tA\tB\nHeight\t41 cm\t6\n")
    assert [c.cells[free.field][0].text for c in sheet(bench).columns] == ["41", "6"]
    with pytest.raises(RefusedError, match="not a number"):
        type_cells(bench, "A", **{free.field: "tall"})
    row_id = free.free_row_id
    assert row_id is not None
    with pytest.raises(RefusedError, match="empty the row first"):
        spec_sheet.remove_free_row(bench.database, row_id)
    spec_sheet.rename_free_row(bench.database, row_id, "Height on the desk")
    for name in ("A", "B"):
        type_cells(bench, name, **{free.field: None})
    spec_sheet.remove_free_row(bench.database, row_id)
    assert all(r.free_row_id is None for r in sheet(bench).rows)


@pytest.mark.parametrize("title", ["Memory", "memory", "Power source"])
def test_a_row_of_ones_own_needs_a_name_of_its_own(bench: Bench, title: str) -> None:
    with pytest.raises(RefusedError, match="has a row"):
        spec_sheet.add_free_row(bench.database, bench.slug, title, None, number=False)
    spec_sheet.add_free_row(bench.database, bench.slug, "Mine", None, number=False)
    with pytest.raises(RefusedError, match="of this name already"):
        spec_sheet.add_free_row(bench.database, bench.slug, "Mine", None, number=False)


def test_a_row_on_trial_is_a_difference_that_is_meant(bench: Bench) -> None:
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(bench.database, bench.slug, version, {"subject": "storage"})
    type_cells(bench, "A", memory_gb="16", memory_mts="4800")
    type_cells(bench, "B", memory_gb="16", memory_mts="6400")
    for name in ("A", "B"):
        bench.run(name, "6:10")

    def weights() -> list[tuple[str, str]]:
        between = parity_of(SHELF.take(bench.database, bench.slug)).between(0, 0, 1)
        return [(d.weight.value, d.why) for d in between]

    assert weights() == [("muddies", "")]
    spec_sheet.put_on_trial(bench.database, bench.slug, "memory_mts", on_trial=True)
    assert weights() == [("allowed", "it is marked as what is compared")]
    assert row(bench, "memory_mts").on_trial
    spec_sheet.put_on_trial(bench.database, bench.slug, "memory_mts", on_trial=False)
    assert weights() == [("muddies", "")]
    with pytest.raises(RefusedError, match="no row"):
        spec_sheet.put_on_trial(bench.database, bench.slug, "wings", on_trial=True)


def test_the_archive_keeps_runs_out_of_every_figure_and_loses_none(bench: Bench) -> None:
    bench.run("A", "6:10")
    bench.run("B", "6:30")
    machine = column(bench, "B").machine
    lineup.archive_machine(bench.database, machine.id, archived=True)
    assert [(m.name, m.runs) for m in sheet(bench).archived] == [("B", 1)]
    view = margins.show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert [r.label for r in view.rows] == ["A"]
    with pytest.raises(RefusedError, match="already a machine of this name"):
        bench.machine("B")
    packed = zip_files(write_pack(pack_out.export_pack(bench.database, bench.slug)))
    again = import_zip(bench.database, packed)
    copied = spec_sheet.show_lineup(bench.database, again.slug)
    assert [(m.name, m.runs) for m in copied.archived] == [("B", 1)]
    lineup.archive_machine(bench.database, machine.id, archived=False)
    view = margins.show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert [r.label for r in view.rows] == ["A", "B"]


def test_marks_stay_when_machines_are_put_in_another_order(bench: Bench) -> None:
    bench.machine("C")
    before = {s.label: s.mark for s in sheet(bench).setups}
    assert sorted(before.values()) == [0, 1, 2]
    ids = [c.machine.id for c in sheet(bench).columns]
    lineup.order_machines(bench.database, bench.slug, ids[::-1])
    assert {s.label: s.mark for s in sheet(bench).setups} == before
    machine = column(bench, "A").machine
    lineup.add_setup(bench.database, machine.id, {"name": "other"})
    assert sorted(s.mark for s in sheet(bench).setups) == [0, 1, 2, 3]


def test_machines_that_share_parts_say_so(bench: Bench) -> None:
    type_cells(bench, "A", shared="board one")
    assert column(bench, "A").shares_with == ()
    type_cells(bench, "B", shared="board one")
    assert (column(bench, "A").shares_with, column(bench, "B").shares_with) == (("B",), ("A",))


def assume(
    bench: Bench, name: str, ratio: float | None, against: UUID | None, source: str | None
) -> None:
    setup = column(bench, name).machine.setups[0]
    fields = {"assumed_ratio": ratio, "assumed_against_id": against, "assumed_source": source}
    lineup.change_setup(bench.database, setup.id, setup.version, fields)


def test_an_assumed_speed_needs_its_source_and_travels(bench: Bench) -> None:
    assume(bench, "B", 1.2, bench.setups["A"], "maker's talk")
    with pytest.raises(RefusedError, match="three things"):
        assume(bench, "B", 1.2, bench.setups["A"], None)
    with pytest.raises(RefusedError, match="another setup"):
        assume(bench, "B", 1.2, bench.setups["B"], "itself")
    packed = zip_files(write_pack(pack_out.export_pack(bench.database, bench.slug)))
    again = import_zip(bench.database, packed)
    first, second = spec_sheet.show_lineup(bench.database, again.slug).setups
    assert (second.assumed_ratio, second.assumed_against_id) == (1.2, first.id)
    assume(bench, "B", None, None, None)
    assert column(bench, "B").machine.setups[0].assumed_source is None


def test_a_shootout_goes_into_the_archive_and_comes_back(bench: Bench) -> None:
    def listed(*, archived: bool) -> list[str]:
        found = shootouts.list_shootouts(bench.database, archived=archived)
        return [each.slug for each in found if each.slug == bench.slug]

    bench.run("A", "6:10")
    shootouts.archive_shootout(bench.database, bench.slug, archived=True)
    assert (listed(archived=False), listed(archived=True)) == ([], [bench.slug])
    shootouts.archive_shootout(bench.database, bench.slug, archived=False)
    assert (listed(archived=False), listed(archived=True)) == ([bench.slug], [])
    assert len(SHELF.take(bench.database, bench.slug).runs) == 1


def test_a_run_of_an_archived_machine_is_kept_and_can_be_corrected(bench: Bench) -> None:
    bench.run("A", "6:10")
    machine = column(bench, "B").machine
    lineup.archive_machine(bench.database, machine.id, archived=True)
    late = bench.run("B", "6:30")
    assert late.says == "Saved. Its machine is in the archive, so it counts in no figure."
    voided = runs.revise_run(
        bench.database, late.run.id, 1, {"status": "void", "reason": "late"}, "Jo", "late"
    )
    assert voided.run.status == "void"
    assert runs.show_run(bench.database, late.run.id).revisions
    lineup.archive_machine(bench.database, machine.id, archived=False)
    assert len(SHELF.take(bench.database, bench.slug).runs) == 2
