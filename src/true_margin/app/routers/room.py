"""The long memory: the store room, all-time rankings, series and the house."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import BackgroundTasks, Query, Response

from true_margin.app.answers.room import House
from true_margin.app.answers.shootouts import Shootout
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person, WhoHere
from true_margin.app.downloads import attachment
from true_margin.app.room_requests import (
    Continued,
    CorrectionAnswer,
    HouseChange,
    Joined,
    Kept,
    MovedSetups,
    NewRoomMachine,
    PartedTasks,
    RoomMachineChange,
    RoomSpecs,
    RoomTaskChange,
    RoomText,
    Taken,
)
from true_margin.desk.access import people
from true_margin.desk.access.rights import Right
from true_margin.desk.publish import register
from true_margin.desk.room import (
    all_time,
    filing,
    history,
    house,
    keeping,
    overview,
    search,
    series,
    taking,
)
from true_margin.store import records

router = stage_router("room")


@router.get("/room")
def show_room(database: DatabaseHere) -> overview.Room:
    """Show machines and standing tasks that outlive one shootout, and what could join them."""
    return overview.show_room(database)


@router.get("/room/file", response_class=Response)
def save_room(database: DatabaseHere) -> Response:
    """Give the store room as a file: machines with what they have, standing tasks, the house."""
    return Response(
        filing.save_room(database),
        media_type="application/json",
        headers=attachment("store-room.json"),
    )


@router.post("/room/file", status_code=201)
def bring_room(body: RoomText, database: DatabaseHere, who: Person) -> filing.BroughtRoom:
    """Bring a saved store room in; what is there by name stays as it is."""
    return filing.bring_room(database, body.text, who)


@router.post("/room/kept", status_code=201)
def keep(body: Kept, database: DatabaseHere, who: Person) -> overview.Room:
    """Take machines and tasks of shootouts into the store room, all of them or none."""
    machines = [
        keeping.KeptMachine(each.name, each.machine_id, tuple(each.setup_ids))
        for each in body.machines
    ]
    tasks = [
        keeping.KeptTask(each.name, each.standing_id, tuple(each.task_ids)) for each in body.tasks
    ]
    return keeping.keep(database, machines, tasks, who)


@router.post("/room/machines", status_code=201)
def add_machine(body: NewRoomMachine, database: DatabaseHere, who: Person) -> overview.Room:
    """Add a machine that no shootout has yet."""
    return keeping.add_machine(database, body.model_dump(), who)


@router.patch("/room/machines/{kept_id}")
def change_machine(
    kept_id: UUID, body: RoomMachineChange, database: DatabaseHere, who: Person
) -> overview.RoomMachine:
    """Correct a machine of the store room; shootouts keep the state they were tested in."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return keeping.change_machine(database, kept_id, body.version, changes, who)


@router.get("/room/machines/{kept_id}/history")
def show_history(kept_id: UUID, database: DatabaseHere) -> history.MachineHistory:
    """Show whether a machine is slower than it was, task by task."""
    return history.show_history(database, kept_id)


@router.get("/room/machines/{kept_id}/worth")
def show_worth(kept_id: UUID, database: DatabaseHere) -> tuple[history.WorthRow, ...]:
    """Show what else to time on a machine before it goes, the most for each minute first."""
    return history.show_worth(database, kept_id)


@router.post("/room/machines/{kept_id}/specs", status_code=201)
def note_specs(
    kept_id: UUID, body: RoomSpecs, database: DatabaseHere, who: Person
) -> overview.RoomMachine:
    """Note what rows of a machine's spec sheet are, from a day on or for as long as is known."""
    return keeping.note_specs(database, kept_id, body.specs, body.since, who)


@router.post("/room/machines/{kept_id}/joined")
def join(kept_id: UUID, body: Joined, database: DatabaseHere, who: Person) -> overview.Room:
    """Say that two machines of the store room are one; no run is touched."""
    return keeping.merge_machines(database, kept_id, body.into_id, who)


@router.post("/room/setups")
def move_setups(body: MovedSetups, database: DatabaseHere, who: Person) -> overview.Room:
    """Say that setups are another machine, another state of it, or none; no run is touched."""
    return keeping.move_setups(database, body.setup_ids, body.machine_id, body.state, who)


@router.patch("/room/tasks/{standing_id}")
def change_task(
    standing_id: UUID, body: RoomTaskChange, database: DatabaseHere, who: Person
) -> overview.Room:
    """Correct the name or note of a standing task; its job stays that of its runs."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return keeping.change_task(database, standing_id, body.version, changes, who)


@router.post("/room/tasks/parted")
def part_tasks(body: PartedTasks, database: DatabaseHere, who: Person) -> overview.Room:
    """Say that tasks are no standing task after all; no run is touched."""
    return keeping.part_tasks(database, body.task_ids, who)


@router.get("/all-time")
def list_standing(database: DatabaseHere) -> tuple[all_time.StandingChoice, ...]:
    """List the standing tasks, those of most shootouts first."""
    return all_time.list_standing(database)


@router.get("/all-time/{standing_id}")
def show_all_time(standing_id: UUID, database: DatabaseHere) -> all_time.AllTimeView:
    """Show everybody who was ever timed on a standing task, as of its app's newest version."""
    return all_time.show_all_time(database, standing_id)


@router.get("/search")
def find(
    q: Annotated[str, Query(max_length=200, description="Words, all of which must be said")],
    database: DatabaseHere,
    who: WhoHere,
    beside: BackgroundTasks,
) -> tuple[search.SearchHit, ...]:
    """Find machines, tasks, published figures and lines of scripts in what one may see."""
    beside.add_task(register.note_missing, database)
    return search.find(database, q, lambda home: who.may(Right.READ, home))


@router.get("/shootouts/{slug}/published-figures")
def show_register(slug: str, database: DatabaseHere) -> tuple[register.RegisterRow, ...]:
    """Show every figure that was published of a shootout, and whether it still holds."""
    return register.show_register(database, slug)


@router.get("/house", response_model=House)
def get_house(database: DatabaseHere) -> records.House:
    """Give what every new shootout begins with."""
    return house.get_house(database)


@router.patch("/house", response_model=House)
def change_house(body: HouseChange, database: DatabaseHere) -> records.House:
    """Change what new shootouts begin with; those that are there stay as they are."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return house.change_house(database, body.version, changes)


@router.get("/shootouts/{slug}/room")
def show_taking(slug: str, database: DatabaseHere) -> taking.TakingView:
    """Show what a shootout can take from the store room, and what was corrected there."""
    return taking.show_taking(database, slug)


@router.post("/shootouts/{slug}/room/taken", status_code=201)
def take(slug: str, body: Taken, database: DatabaseHere, who: Person) -> taking.TakingView:
    """Take machines and standing tasks into a shootout, as they are now."""
    return taking.take(database, slug, body.machine_ids, body.standing_ids, who)


@router.post("/shootouts/{slug}/room/answers", status_code=201)
def answer_correction(
    slug: str, body: CorrectionAnswer, database: DatabaseHere, who: Person
) -> taking.TakingView:
    """Say whether what was corrected was so when the runs here were made."""
    return taking.answer_correction(database, slug, body.spec_id, body.answer, who)


@router.post("/shootouts/{slug}/continued", status_code=201, response_model=Shootout)
def continue_shootout(
    slug: str, body: Continued, database: DatabaseHere, who: WhoHere
) -> records.Shootout:
    """Make a shootout that goes on from another, with its tasks, machines, runs and viewers."""
    made = series.continue_shootout(database, slug, body.name)
    people.own_what_was_made(database, who, made.id)
    return made
