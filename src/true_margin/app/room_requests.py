"""What a request about the store room, a series or the house may hold."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints

from true_margin.app.requests import (
    SPEC_CELLS,
    Cells,
    Currency,
    LongName,
    Name,
    Note,
    PlannedRuns,
    Reason,
    Request,
    Short,
    Version,
)
from true_margin.core.choices import Keeping, PriceKind
from true_margin.exchange.room_file import MOST_SIGNS

Ids = Annotated[list[UUID], Field(max_length=2000)]
SomeIds = Annotated[list[UUID], Field(min_length=1, max_length=2000)]


class RoomText(Request):
    """A saved store room."""

    text: Annotated[str, StringConstraints(min_length=1, max_length=MOST_SIGNS)] = Field(
        description="The whole file"
    )


class KeptMachine(Request):
    """Setups of shootouts that are one machine."""

    name: Name = Field(description="Name of the machine, where it is a new one")
    machine_id: UUID | None = Field(
        default=None, description="Machine of the store room that they are; null for a new one"
    )
    setup_ids: SomeIds = Field(description="Setups of shootouts")


class KeptTask(Request):
    """Tasks of shootouts that are one standing task."""

    name: LongName = Field(description="Name of the standing task, where it is a new one")
    standing_id: UUID | None = Field(
        default=None, description="Standing task that they are; null for a new one"
    )
    task_ids: SomeIds = Field(description="Tasks of shootouts")


class Kept(Request):
    """What is taken into the store room."""

    machines: list[KeptMachine] = Field(default=[], max_length=2000, description="Machines")
    tasks: list[KeptTask] = Field(default=[], max_length=2000, description="Standing tasks")


class NewRoomMachine(Request):
    """A machine that no shootout has yet."""

    name: Name = Field(description="Name of the machine")
    model: Short | None = Field(default=None, description="What a shop sells; null where unknown")
    sample: Short | None = Field(
        default=None, description="Serial number, or which sample it is; null where unknown"
    )
    keeping: Keeping = Field(default=Keeping.OWNED, description="Whose it is, and whether here")
    until: date | None = Field(default=None, description="When it goes back; null for no day")
    note: Note | None = Field(default=None, description="Anything else")


class RoomMachineChange(Request):
    """What to correct of a machine of the store room."""

    version: Version
    name: Name | None = Field(default=None, description="New name")
    model: Short | None = Field(default=None, description="What a shop sells; null where unknown")
    sample: Short | None = Field(
        default=None, description="Serial number, or which sample it is; null where unknown"
    )
    keeping: Keeping | None = Field(default=None, description="Whose it is, and whether here")
    until: date | None = Field(default=None, description="When it goes back; null for no day")
    note: Note | None = Field(default=None, description="Anything else")


class RoomTaskChange(Request):
    """What to correct of a standing task."""

    version: Version
    name: LongName | None = Field(default=None, description="New name")
    note: Note | None = Field(default=None, description="Anything else")


class RoomSpecs(Request):
    """What rows of a machine's spec sheet are."""

    specs: Cells = Field(min_length=1, description=SPEC_CELLS)
    since: date | None = Field(
        default=None, description="From which day on; null for as long as is known"
    )


class Joined(Request):
    """Which machine of the store room another one is."""

    into_id: UUID = Field(description="Machine of the store room that it is too")


class MovedSetups(Request):
    """Which machine setups of shootouts are after all."""

    setup_ids: SomeIds = Field(description="Setups of shootouts")
    machine_id: UUID | None = Field(
        default=None, description="Machine of the store room; null for none"
    )
    state: Name | None = Field(
        default=None, description="In which state it was; null for what each setup is called"
    )


class PartedTasks(Request):
    """Tasks of shootouts that are no standing task after all."""

    task_ids: SomeIds = Field(description="Tasks of shootouts")


class Taken(Request):
    """What a shootout takes from the store room."""

    machine_ids: Ids = Field(default=[], description="Machines of the store room")
    standing_ids: Ids = Field(default=[], description="Standing tasks")


class CorrectionAnswer(Request):
    """Whether what was corrected was so when the runs here were made."""

    spec_id: UUID = Field(description="What was corrected")
    answer: Literal["before", "after"] = Field(
        description="before the runs here: correct it here too; after them: leave it as tested"
    )


class Continued(Request):
    """A shootout that goes on from another."""

    name: LongName = Field(description="What the new comparison is about")


class HouseChange(Request):
    """What new shootouts begin with from now on; what is left out stays."""

    version: Version
    channel: Short | None = Field(default=None, description="Name of the channel; null for none")
    disclosure: Reason | None = Field(
        default=None, description="Sentence on paid links; null for the usual one"
    )
    currency: Currency | None = Field(default=None, description="Currency of prices, ISO 4217")
    price_kind: PriceKind | None = Field(
        default=None, description="Kind of price that counts first"
    )
    confidence: float | None = Field(default=None, ge=0.5, le=0.999, description="Of intervals")
    materiality: float | None = Field(
        default=None, ge=0, le=0.5, description="Smallest ratio worth telling, less 1"
    )
    planned_runs: PlannedRuns | None = Field(
        default=None, description="Runs of each setup on each task that are planned; null for none"
    )
