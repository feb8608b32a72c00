"""What a request about a sheet may hold: its text, and a person's answers to what is open."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints

from true_margin.app.requests import Bare, Currency, LongName, PlainText, Request
from true_margin.desk.sheets.taking_back import SheetCell, SheetMade
from true_margin.exchange.sheets.columns import ColumnReading, Means
from true_margin.exchange.sheets.facts import Answers, TaskAnswer


class SheetColumn(Bare):
    """How a column of a sheet is read; what is left empty is found out."""

    means: Means = Field(description="What the column is")
    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200), PlainText] = (
        Field(default="", description="Of the task, the spec row, or the machine compared with")
    )
    spec: Annotated[str, StringConstraints(max_length=60)] | None = Field(
        default=None, description="Field of a spec row that is there"
    )
    measure: Literal["", "time", "amount"] = Field(default="", description="Of a task")
    unit: Annotated[str, StringConstraints(max_length=40), PlainText] = Field(
        default="", description="Of its values"
    )
    currency: Annotated[str, StringConstraints(max_length=3)] = Field(
        default="", description="Of prices (ISO 4217)"
    )
    decimals: Literal["", ".", ","] = Field(default="", description="Sign before decimals")
    task: Annotated[str, StringConstraints(max_length=200), PlainText] = Field(
        default="", description="That noted ratios are of"
    )


class SheetTaskFields(Bare):
    """What a new task of a sheet is."""

    measure: Literal["time", "amount"] | None = Field(default=None, description="What a run yields")
    unit: Annotated[str, StringConstraints(max_length=40), PlainText] | None = Field(
        default=None, description="Of an amount"
    )
    app: (
        Annotated[str, StringConstraints(strip_whitespace=True, max_length=120), PlainText] | None
    ) = Field(default=None, description="App that it was run in")
    timeline: (
        Annotated[str, StringConstraints(strip_whitespace=True, max_length=120), PlainText] | None
    ) = Field(default=None, description="Name of its timeline")


SheetName = Annotated[str, StringConstraints(max_length=200)]
SheetKey = Annotated[str, StringConstraints(pattern=r"^\d{1,6}:\d{1,3}$")]


class SheetText(Request):
    """A sheet of results, with a person's answers."""

    text: str = Field(max_length=20_000_000, description="Pasted cells, CSV, or typed lines")
    turned: bool | None = Field(
        default=None, description="Whether machines are across; found out where missing"
    )
    columns: dict[Annotated[int, Field(ge=0, lt=500)], SheetColumn] = Field(
        default_factory=dict, max_length=500, description="How columns are read, by place"
    )
    names: dict[SheetName, SheetName] = Field(
        default_factory=dict,
        max_length=20_000,
        description="Setup that a name is, + for a new machine, empty to leave it out",
    )
    tasks: dict[SheetName, SheetTaskFields] = Field(
        default_factory=dict, max_length=20_000, description="What new tasks are, by name"
    )
    cells: dict[SheetKey, SheetName | None] = Field(
        default_factory=dict,
        max_length=20_000,
        description="What a cell should say, by row:column from 0; null to leave it out",
    )

    def answers(self) -> Answers:
        """The answers as the reader of sheets takes them."""
        return Answers(
            self.turned,
            {place: ColumnReading(**each.model_dump()) for place, each in self.columns.items()},
            self.names,
            {name: TaskAnswer(**each.model_dump()) for name, each in self.tasks.items()},
            self.cells,
        )


class NewFromSheet(SheetText):
    """A shootout to make out of a sheet."""

    name: LongName = Field(description="What it is called")
    currency: Currency | None = Field(
        default=None, description="ISO 4217; that of the prices in the notes where missing"
    )


class SheetCellMade(Bare):
    """A cell of the spec sheet that a sheet wrote."""

    machine_id: UUID = Field(description="Machine that it is of")
    setup_id: UUID | None = Field(default=None, description="Setup; null for the machine's own")
    field: Annotated[str, StringConstraints(max_length=60)] = Field(description="Row of the sheet")
    before: Annotated[str, StringConstraints(max_length=2000)] | None = Field(
        default=None, description="What it held, as one would type it; null for nothing"
    )
    after: Annotated[str, StringConstraints(max_length=2000)] = Field(
        description="What the sheet put there, as one would type it"
    )

    def cell(self) -> SheetCell:
        """The cell as the desk takes it."""
        return SheetCell(self.machine_id, self.setup_id, self.field, self.before, self.after)


class SheetToTakeBack(Request):
    """Everything that came with a sheet, as storing it answered."""

    run_ids: list[UUID] = Field(default_factory=list, max_length=100_000, description="Runs")
    ratio_ids: list[UUID] = Field(default_factory=list, max_length=100_000, description="Ratios")
    price_ids: list[UUID] = Field(default_factory=list, max_length=20_000, description="Prices")
    machine_ids: list[UUID] = Field(default_factory=list, max_length=2_000, description="Machines")
    cells: list[SheetCellMade] = Field(
        default_factory=list, max_length=100_000, description="Cells of the spec sheet"
    )

    def made(self) -> SheetMade:
        """All of it as the desk takes it."""
        return SheetMade(
            tuple(self.run_ids),
            tuple(self.ratio_ids),
            tuple(self.price_ids),
            tuple(self.machine_ids),
            tuple(each.cell() for each in self.cells),
        )
