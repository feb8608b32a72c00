"""What every table of a pack shares: rows by name, cells that hold objects, what is new."""

from __future__ import annotations

from dataclasses import dataclass
from types import SimpleNamespace
from uuid import UUID, uuid4

import pytest

from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.registry import REGISTRY
from true_margin.desk.packs.table import Known, PackTable, Updating, copy, json_object, nothing
from true_margin.exchange.pack_difference import Changed, TableDifference
from true_margin.exchange.pack_rows import PackRow
from true_margin.exchange.pack_schemas import SCHEMAS


class Reading(PackRow):
    name: str
    amount: float | None = None


@dataclass(frozen=True)
class Stored:
    id: UUID
    name: str
    amount: float | None


def test_every_table_that_a_pack_may_hold_is_given_out_and_taken_in() -> None:
    # The shootout is what the rows go into, not one of them.
    assert {table.name for table in REGISTRY} == set(SCHEMAS) - {"shootout"}
    assert len({table.name for table in REGISTRY}) == len(REGISTRY)
    homes = {table.name for table in REGISTRY}
    assert all(table.part_of in homes for table in REGISTRY if table.part_of is not None)


def test_a_row_takes_what_it_and_the_record_name_alike_and_what_is_said_besides() -> None:
    stored = Stored(uuid4(), "idle", 12.5)
    assert copy(stored, Reading) == Reading(name="idle", amount=12.5)
    assert copy(stored, Reading, name="load") == Reading(name="load", amount=12.5)


@pytest.mark.parametrize("text", ["", "{", "[1]", "3", "null", "[" * 100_000])
def test_a_cell_that_holds_no_object_is_refused_by_table_and_column(text: str) -> None:
    with pytest.raises(RefusedError, match=r"tasks.*'settings'") as caught:
        json_object("tasks", "settings", text)
    assert caught.value.field == "file"


def test_a_cell_that_holds_an_object_is_read() -> None:
    assert json_object("tasks", "settings", '{"codec": "blue"}') == {"codec": "blue"}


def test_a_row_names_a_setup_by_its_machine_and_its_own_name() -> None:
    plain, docked = uuid4(), uuid4()
    known = Known(setups={("Amber", ""): plain, ("Amber", "docked"): docked})
    assert known.setup(SimpleNamespace(machine="Amber", setup=None)) == plain
    assert known.setup(SimpleNamespace(machine="Amber", setup="docked")) == docked
    assert known.setup(SimpleNamespace(machine=None, setup=None)) is None
    owned = SimpleNamespace(owned_machine="Amber", owned_setup="docked")
    assert known.setup(owned, before="owned_") == docked


def test_a_row_that_names_no_task_or_run_has_none() -> None:
    task, run = uuid4(), uuid4()
    known = Known(tasks={"render": task}, runs={"r1": run})
    assert known.task(SimpleNamespace(task="render")) == task
    assert known.task(SimpleNamespace(task=None)) is None
    assert known.run(SimpleNamespace(run="r1")) == run
    assert known.run(SimpleNamespace(run=None)) is None


def test_an_update_adds_what_only_the_pack_has_and_takes_its_values() -> None:
    here, there, fresh = Reading(name="idle"), Reading(name="idle", amount=3), Reading(name="load")
    difference = TableDifference("tasks", (fresh,), (Changed(here, there, ("amount",)),), 0)
    updating = Updating(SimpleNamespace(), SimpleNamespace(), {"tasks": difference})  # type: ignore[arg-type]
    table = PackTable(name="tasks", words="tasks", rows=lambda _source: ())
    assert table.fresh(updating) == [fresh]
    assert updating.changed("tasks") == [there]
    assert updating.new("runs") == updating.changed("runs") == []
    whole = PackTable(name="tasks", words="tasks", rows=lambda _source: (), added=nothing)
    assert whole.fresh(updating) == []
