"""The data pack: a whole shootout as CSV tables with a schema, as a folder or zipped.

A Frictionless Data Package: ``datapackage.json`` names each table, its fields,
types, units and keys. Things refer to each other by name, so that a pack can
be read, and written, by hand.
"""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from collections.abc import Mapping
from datetime import date, datetime
from decimal import Decimal
from pathlib import Path
from typing import Annotated, Any, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from true_margin.core.errors import CoreError

MAX_PACK_BYTES = 100_000_000
MAX_EXPANDED_BYTES = 400_000_000
MAX_FILES = 200
PACK_FORMAT = 1
CONTENT_NAME = r"^timeline-\d{1,4}\.(otio|otioz|edl)$"

Text = Annotated[str, Field(max_length=2000)]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]


class PackError(CoreError):
    """The pack cannot be read; says which file, line and column."""


class _Row(BaseModel):
    """A row of a table; empty cells are missing values."""

    model_config = ConfigDict(extra="forbid")

    @field_validator("*", mode="before")
    @classmethod
    def _empty_is_missing(cls, value: object) -> object:
        return None if value == "" else value


class PackShootout(_Row):
    """The comparison itself; one row."""

    name: Name
    subject: Name = "machine"
    currency: str = Field(default="EUR", pattern="^[A-Z]{3}$")
    confidence: float = Field(default=0.95, gt=0, lt=1)
    materiality: float = Field(default=0.03, ge=0, le=1)
    prior_df: float = Field(default=3.0, gt=0)
    prior_cv: float = Field(default=0.02, gt=0)
    update_prior_df: float = Field(default=2.0, gt=0)
    update_prior_cv: float = Field(default=0.015, gt=0)
    price_date: date
    price_kind: Literal["list", "street", "paid", "used"] = "list"
    baseline_machine: Name | None = None
    baseline_setup: Name | None = None


class PackMachine(_Row):
    """A computer and its specs."""

    name: Name
    form: Text | None = None
    processor: Text | None = None
    cores: int | None = Field(default=None, gt=0)
    clock_ghz: Positive | None = None
    graphics: Text | None = None
    graphics_memory_gb: Positive | None = None
    memory_gb: Positive | None = None
    storage_gb: Positive | None = None
    system: Text | None = None
    obtained: Text | None = None
    note: Text | None = None
    retired_at: datetime | None = None


class PackSetup(_Row):
    """A machine in one tested state."""

    machine: Name
    name: Name
    power: Text | None = None
    clock_ghz: Positive | None = None
    memory_gb: Positive | None = None
    note: Text | None = None
    driver: Text | None = None
    encoder: Text | None = None
    background: Text | None = None
    caches: Text | None = None
    boot: Text | None = None
    screen: Text | None = None
    room: float | None = Field(default=None, ge=-20, le=60)
    only_system: bool | None = None


class PackPrice(_Row):
    """A price record of a machine."""

    machine: Name
    kind: Literal["list", "street", "paid", "used"]
    amount: Decimal = Field(ge=0, max_digits=12, decimal_places=2)
    currency: str = Field(pattern="^[A-Z]{3}$")
    dated: date
    source: Text | None = None
    until: date | None = None
    configuration: Text | None = None
    coupon: Text | None = None
    note: Text | None = None
    tax_included: bool | None = None
    shipping_included: bool | None = None
    paid_link: bool | None = None


class PackExtra(_Row):
    """Something that a setup needed besides its machine."""

    machine: Name
    setup: Name
    name: Name
    amount: Decimal = Field(ge=0, max_digits=12, decimal_places=2)
    currency: str = Field(pattern="^[A-Z]{3}$")
    dated: date


class PackTimeline(_Row):
    """An edited project that is exported."""

    name: Name
    length_s: Positive | None = None


class PackTimelineFile(_Row):
    """A timeline's file, as saved on a setup or as the reviewer keeps it."""

    timeline: Name
    machine: Name | None = None
    setup: Name | None = None
    name: Name
    content: str = Field(pattern=CONTENT_NAME)
    edl_rate: Positive | None = None
    who: Text = "unknown"
    added_at: datetime


class PackTask(_Row):
    """What is timed."""

    name: Name
    app: Name
    timeline: Name | None = None
    operation: Text | None = None
    settings: Text | None = None
    measure: Literal["time", "amount"] = "time"
    work: Positive | None = None
    unit: Text | None = None


class PackOverrule(_Row):
    """A person's word that two setups were given the same job on a task after all."""

    task: Name
    machine_a: Name
    setup_a: Name
    machine_b: Name
    setup_b: Name
    reason: Name
    who: Text = "unknown"
    made_at: datetime
    withdrawn_at: datetime | None = None


class PackRound(_Row):
    """A round; the oldest comes first."""

    name: Name


class PackRoundVersion(_Row):
    """Which version of an app a round was run with."""

    round: Name
    app: Name
    version: Name


class PackRun(_Row):
    """One attempt, as it stands now; ``value`` in seconds or the amount's unit."""

    id: Name
    machine: Name
    setup: Name
    task: Name
    round: Name
    place: int = Field(ge=0)
    status: Literal["ok", "void", "failed"]
    value: Positive | None = None
    typed: Text | None = None
    resolution: Positive | None = None
    approximate: bool = False
    bound: bool = False
    method: Literal[
        "stopwatch", "one press", "log", "watch", "recording", "remembered", "stated"
    ] = "stopwatch"
    u: float = Field(default=0.0, ge=0, allow_inf_nan=False)
    reason: Text | None = None
    note: Text | None = None
    started_at: datetime | None = None
    who: Text = "unknown"
    version: int = Field(default=1, ge=1)


class PackRevision(_Row):
    """A run as it stood before a change."""

    run: Name
    version: int = Field(ge=1)
    changed_at: datetime
    who: Name
    why: Name
    before: Text


class PackMark(_Row):
    """A progress reading inside a run."""

    run: Name
    elapsed_s: float = Field(ge=0, allow_inf_nan=False)
    fraction: float = Field(ge=0, le=1)
    frames_per_s: float | None = Field(default=None, ge=0)
    temperature_c: float | None = None
    power_w: float | None = Field(default=None, ge=0)


TABLES: dict[str, type[_Row]] = {
    "shootout": PackShootout,
    "machines": PackMachine,
    "setups": PackSetup,
    "prices": PackPrice,
    "extras": PackExtra,
    "timelines": PackTimeline,
    "timeline_files": PackTimelineFile,
    "tasks": PackTask,
    "overrules": PackOverrule,
    "rounds": PackRound,
    "round_versions": PackRoundVersion,
    "runs": PackRun,
    "revisions": PackRevision,
    "marks": PackMark,
}
_KEYS = {"machines": ["name"], "setups": ["machine", "name"], "tasks": ["name"],
         "timelines": ["name"], "rounds": ["name"], "runs": ["id"]}  # fmt: skip
_LINKS = {
    "setups": [(["machine"], "machines", ["name"])],
    "prices": [(["machine"], "machines", ["name"])],
    "extras": [(["machine", "setup"], "setups", ["machine", "name"])],
    "timeline_files": [
        (["timeline"], "timelines", ["name"]),
        (["machine", "setup"], "setups", ["machine", "name"]),
    ],
    "tasks": [(["timeline"], "timelines", ["name"])],
    "overrules": [
        (["task"], "tasks", ["name"]),
        (["machine_a", "setup_a"], "setups", ["machine", "name"]),
        (["machine_b", "setup_b"], "setups", ["machine", "name"]),
    ],
    "round_versions": [(["round"], "rounds", ["name"])],
    "runs": [
        (["machine", "setup"], "setups", ["machine", "name"]),
        (["task"], "tasks", ["name"]),
        (["round"], "rounds", ["name"]),
    ],
    "revisions": [(["run"], "runs", ["id"])],
    "marks": [(["run"], "runs", ["id"])],
}


class Pack(BaseModel):
    """A whole shootout; every reference by name is known to hold."""

    model_config = ConfigDict(frozen=True)

    shootout: PackShootout
    machines: list[PackMachine] = []
    setups: list[PackSetup] = []
    prices: list[PackPrice] = []
    extras: list[PackExtra] = []
    timelines: list[PackTimeline] = []
    timeline_files: list[PackTimelineFile] = []
    tasks: list[PackTask] = []
    overrules: list[PackOverrule] = []
    rounds: list[PackRound] = []
    round_versions: list[PackRoundVersion] = []
    runs: list[PackRun] = []
    revisions: list[PackRevision] = []
    marks: list[PackMark] = []
    contents: dict[str, bytes] = {}


def read_pack(files: Mapping[str, bytes]) -> Pack:
    """Read a pack from its files by name.

    Raises:
        PackError: a table is missing or malformed, a cell is off, or a row
            refers to something that is not there.
    """
    if "datapackage.json" not in files:
        raise PackError("datapackage.json is missing: this is not a data pack")
    _check_format(files["datapackage.json"])
    tables = {name: _read_table(name, files.get(f"{name}.csv")) for name in TABLES}
    if len(tables["shootout"]) != 1:
        raise PackError(f"shootout.csv: one row is needed, found {len(tables['shootout'])}")
    _check_keys(tables)
    _check_links(tables)
    contents = {row.content: files.get(row.content) for row in tables["timeline_files"]}
    missing = next((name for name, content in contents.items() if content is None), None)
    if missing is not None:
        raise PackError(f"timeline_files.csv: the pack holds no file {missing}")
    return Pack(shootout=tables.pop("shootout")[0], contents=contents, **tables)


def _check_format(content: bytes) -> None:
    try:
        descriptor = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise PackError(f"datapackage.json is not JSON: {error}") from error
    found = descriptor.get("trueMarginFormat") if isinstance(descriptor, dict) else None
    if found != PACK_FORMAT:
        raise PackError(
            f"datapackage.json: trueMarginFormat {PACK_FORMAT} is needed, got {found!r}"
        )


def read_zip(content: bytes) -> dict[str, bytes]:
    """Unpack a zipped pack in memory; names inside are never used as paths.

    Raises:
        PackError: not a zip archive, too large, or too many files.
    """
    if len(content) > MAX_PACK_BYTES:
        raise PackError(f"the pack is larger than {MAX_PACK_BYTES // 1_000_000} MB")
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = [entry for entry in archive.infolist() if not entry.is_dir()]
            if len(entries) > MAX_FILES:
                raise PackError(f"the pack holds more than {MAX_FILES} files")
            if sum(entry.file_size for entry in entries) > MAX_EXPANDED_BYTES:
                raise PackError("the pack is too large when unpacked")
            known = {"datapackage.json", *(f"{name}.csv" for name in TABLES)}
            named = ((entry, entry.filename.rsplit("/", 1)[-1]) for entry in entries)
            return {
                name: archive.read(entry)
                for entry, name in named
                if name in known or re.match(CONTENT_NAME, name)
            }
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, OSError, EOFError) as error:
        raise PackError(f"the pack is not a whole zip archive: {error}") from error


def read_folder(folder: Path) -> dict[str, bytes]:
    """Read the files of an unpacked pack."""
    return {path.name: path.read_bytes() for path in folder.iterdir() if path.is_file()}


def _read_table(name: str, content: bytes | None) -> list[Any]:
    if content is None:
        return []
    try:
        text = content.decode("utf-8-sig")
        reader = csv.DictReader(io.StringIO(text, newline=""), strict=True, restkey="")
        rows = list(reader)
    except (UnicodeDecodeError, csv.Error) as error:
        raise PackError(f"{name}.csv: not UTF-8 CSV: {error}") from error
    return [_read_row(name, line, row) for line, row in enumerate(rows, start=2)]


def _read_row(name: str, line: int, row: dict[str, Any]) -> _Row:
    if "" in row or None in row.values():
        raise PackError(f"{name}.csv row {line}: more or fewer cells than the header has")
    given = {key: value for key, value in row.items() if value != ""}
    try:
        return TABLES[name].model_validate(given)
    except ValidationError as error:
        first = error.errors()[0]
        column = str(first["loc"][0]) if first["loc"] else "?"
        raise PackError(f"{name}.csv row {line}, column {column}: {first['msg']}") from error


def _check_keys(tables: Mapping[str, list[Any]]) -> None:
    for name, fields in _KEYS.items():
        seen = set()
        for line, row in enumerate(tables[name], start=2):
            key = tuple(getattr(row, field) for field in fields)
            if key in seen:
                raise PackError(f"{name}.csv row {line}: {' '.join(key)!r} stands twice")
            seen.add(key)


def _check_links(tables: Mapping[str, list[Any]]) -> None:
    for name, links in _LINKS.items():
        for fields, target, target_fields in links:
            known = {tuple(getattr(r, f) for f in target_fields) for r in tables[target]}
            for line, row in enumerate(tables[name], start=2):
                key = tuple(getattr(row, field) for field in fields)
                if None not in key and key not in known:
                    raise PackError(
                        f"{name}.csv row {line}: {target}.csv has no {' '.join(map(str, key))!r}"
                    )


def write_pack(pack: Pack) -> dict[str, bytes]:
    """Write a pack as files by name, with their schema."""
    files = {"datapackage.json": _descriptor(pack)}
    for name, model in TABLES.items():
        rows = [pack.shootout] if name == "shootout" else getattr(pack, name)
        text = io.StringIO(newline="")
        writer = csv.writer(text, lineterminator="\n")
        writer.writerow(model.model_fields)
        for row in rows:
            writer.writerow([_cell(getattr(row, field)) for field in model.model_fields])
        files[f"{name}.csv"] = text.getvalue().encode()
    return {**files, **pack.contents}


def zip_files(files: Mapping[str, bytes]) -> bytes:
    """Pack files into a zip archive that is the same for the same files."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in sorted(files):
            entry = zipfile.ZipInfo(name, date_time=(2000, 1, 1, 0, 0, 0))
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, files[name])
    return buffer.getvalue()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, (date, datetime)):
        return value.isoformat()
    return str(value)


_TYPES: dict[object, str] = {
    int: "integer", float: "number", Decimal: "number", bool: "boolean",
    date: "date", datetime: "datetime",
}  # fmt: skip


def _descriptor(pack: Pack) -> bytes:
    descriptor = {
        "profile": "tabular-data-package",
        "name": "true-margin-shootout",
        "title": pack.shootout.name,
        "trueMarginFormat": PACK_FORMAT,
        "resources": [_resource(name, model) for name, model in TABLES.items()],
    }
    return (json.dumps(descriptor, indent=2) + "\n").encode()


def _resource(name: str, model: type[_Row]) -> dict[str, Any]:
    schema: dict[str, Any] = {
        "fields": [
            {"name": field, "type": _field_type(info.annotation)}
            for field, info in model.model_fields.items()
        ]
    }
    if name in _KEYS:
        schema["primaryKey"] = _KEYS[name]
    if name in _LINKS:
        schema["foreignKeys"] = [
            {"fields": fields, "reference": {"resource": target, "fields": target_fields}}
            for fields, target, target_fields in _LINKS[name]
        ]
    return {
        "name": name.replace("_", "-"),
        "path": f"{name}.csv",
        "title": (model.__doc__ or "").strip(),
        "profile": "tabular-data-resource",
        "format": "csv",
        "encoding": "utf-8",
        "schema": schema,
    }


def _field_type(annotation: object) -> str:
    """Schema type of a field; the first plain type inside unions and annotations."""
    if annotation in _TYPES:
        return _TYPES[annotation]
    inner = (_field_type(part) for part in get_args(annotation) if part is not type(None))
    return next((found for found in inner if found != "string"), "string")
