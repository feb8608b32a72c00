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
from itertools import zip_longest
from pathlib import Path
from typing import Any, get_args

from pydantic import BaseModel, ConfigDict, ValidationError

from true_margin.core.errors import CoreError
from true_margin.exchange.archives import ArchiveError, unpack
from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackInquiryRun,
    PackInquirySeen,
    PackInquiryStep,
    PackJudgement,
    PackLook,
    PackOutput,
    PackOverrule,
    PackPlan,
    PackPlanPart,
    PackPlayback,
    PackPublished,
    PackRatio,
    PackSent,
    PackSettingsUsed,
    PackTrial,
    PackTrouble,
)
from true_margin.exchange.pack_publish import (
    PackCard,
    PackCardSetup,
    PackScript,
    PackScriptAnswer,
    PackScriptName,
    PackScriptPhrasing,
)
from true_margin.exchange.pack_rows import CONTENT_NAME, PICTURE_NAME, PROBE_NAME, PackRow
from true_margin.exchange.pack_schemas import SCHEMAS, TableSchema
from true_margin.exchange.pack_tables import (
    PackExtra,
    PackFreeRow,
    PackMachine,
    PackMark,
    PackPicture,
    PackPrice,
    PackRevision,
    PackRound,
    PackRoundVersion,
    PackRun,
    PackSensitivity,
    PackSetup,
    PackSetupSpec,
    PackShootout,
    PackSpec,
    PackTask,
    PackTaskSetting,
    PackTimeline,
    PackTimelineFile,
    PackTrialRow,
)
from true_margin.exchange.pack_viewers import PackViewer, PackViewerNeed, PackViewerTask

MAX_PACK_BYTES = 100_000_000
MAX_EXPANDED_BYTES = 150_000_000
MAX_FILES = 2000
MOST_CELL = 2_000_000
PACK_FORMAT = 2


class PackError(CoreError):
    """The pack cannot be read; says which file, line and column."""


class Pack(BaseModel):
    """A whole shootout; every reference by name is known to hold."""

    model_config = ConfigDict(frozen=True)

    shootout: PackShootout
    machines: list[PackMachine] = []
    setups: list[PackSetup] = []
    free_rows: list[PackFreeRow] = []
    trial_rows: list[PackTrialRow] = []
    specs: list[PackSpec] = []
    setup_specs: list[PackSetupSpec] = []
    prices: list[PackPrice] = []
    extras: list[PackExtra] = []
    timelines: list[PackTimeline] = []
    timeline_files: list[PackTimelineFile] = []
    tasks: list[PackTask] = []
    task_settings: list[PackTaskSetting] = []
    sensitivities: list[PackSensitivity] = []
    overrules: list[PackOverrule] = []
    sent_in: list[PackSent] = []
    judgements: list[PackJudgement] = []
    plans: list[PackPlan] = []
    plan_parts: list[PackPlanPart] = []
    rounds: list[PackRound] = []
    round_versions: list[PackRoundVersion] = []
    runs: list[PackRun] = []
    settings_used: list[PackSettingsUsed] = []
    outputs: list[PackOutput] = []
    looks: list[PackLook] = []
    playbacks: list[PackPlayback] = []
    trials: list[PackTrial] = []
    troubles: list[PackTrouble] = []
    noted_ratios: list[PackRatio] = []
    pictures: list[PackPicture] = []
    revisions: list[PackRevision] = []
    marks: list[PackMark] = []
    inquiries: list[PackInquiry] = []
    inquiry_steps: list[PackInquiryStep] = []
    inquiry_runs: list[PackInquiryRun] = []
    inquiry_seen: list[PackInquirySeen] = []
    published: list[PackPublished] = []
    viewers: list[PackViewer] = []
    viewer_tasks: list[PackViewerTask] = []
    viewer_needs: list[PackViewerNeed] = []
    scripts: list[PackScript] = []
    script_names: list[PackScriptName] = []
    script_answers: list[PackScriptAnswer] = []
    script_phrasings: list[PackScriptPhrasing] = []
    cards: list[PackCard] = []
    card_setups: list[PackCardSetup] = []
    contents: dict[str, bytes] = {}


def read_pack(files: Mapping[str, bytes]) -> Pack:
    """Read a pack from its files by name.

    Raises:
        PackError: a table is missing or malformed, a cell is off, or a row
            refers to something that is not there.
    """
    if "datapackage.json" not in files:
        raise PackError("datapackage.json is missing: this is not a data pack")
    _check_description(files)
    tables = {name: _read_table(name, files.get(f"{name}.csv")) for name in SCHEMAS}
    if len(tables["shootout"]) != 1:
        raise PackError(f"shootout.csv: one row is needed, found {len(tables['shootout'])}")
    _check_keys(tables)
    _check_links(tables)
    contents = {}
    for table in ("timeline_files", "outputs", "pictures"):
        for line, row in enumerate(tables[table], start=2):
            if row.content not in files:
                raise PackError(f"{table}.csv row {line}: the pack holds no file {row.content}")
            contents[row.content] = files[row.content]
    return Pack(shootout=tables.pop("shootout")[0], contents=contents, **tables)


def _check_description(files: Mapping[str, bytes]) -> None:
    """Hold what the pack says of itself against what it holds."""
    try:
        descriptor = json.loads(files["datapackage.json"])
    except (ValueError, RecursionError) as error:
        raise PackError(f"datapackage.json is not JSON: {error}") from error
    found = descriptor.get("trueMarginFormat") if isinstance(descriptor, dict) else None
    if found != PACK_FORMAT:
        raise PackError(
            f"datapackage.json: trueMarginFormat {PACK_FORMAT} is needed, got {found!r}"
        )
    resources = descriptor.get("resources")
    for resource in resources if isinstance(resources, list) else []:
        path = resource.get("path") if isinstance(resource, dict) else None
        if not isinstance(path, str) or path.removesuffix(".csv") not in SCHEMAS:
            raise PackError(f"datapackage.json: {path!r} is no table of a pack")
        if path not in files:
            raise PackError(f"{path} is missing, though datapackage.json lists it")
        _check_columns(path, resource, files[path])


def _check_columns(path: str, resource: Mapping[str, Any], content: bytes) -> None:
    """The columns that a table is said to have are those that it has."""
    schema = resource.get("schema")
    fields = schema.get("fields") if isinstance(schema, dict) else None
    if not isinstance(fields, list):
        return
    said = [field.get("name") if isinstance(field, dict) else None for field in fields]
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        # The table's own reader says what is wrong with bytes that are no text.
        return
    header = text.split("\n", 1)[0].strip("\r").split(",")
    if said != header:
        other = next((str(a or b) for a, b in zip_longest(said, header) if a != b), "?")
        raise PackError(
            f"{path}: its columns are not those that datapackage.json lists, from {other!r} on"
        )


def read_zip(content: bytes) -> dict[str, bytes]:
    """Unpack a zipped pack in memory; names inside are never used as paths.

    Raises:
        PackError: not a zip archive, too large, or too many files.
    """
    if len(content) > MAX_PACK_BYTES:
        raise PackError(f"the pack is larger than {MAX_PACK_BYTES // 1_000_000} MB")
    try:
        return unpack(content, _name_of_file, most_files=MAX_FILES, most_bytes=MAX_EXPANDED_BYTES)
    except ArchiveError as error:
        raise PackError(error.reason) from error


_KNOWN = {"datapackage.json", *(f"{name}.csv" for name in SCHEMAS)}
_BESIDE = re.compile(f"{CONTENT_NAME}|{PROBE_NAME}|{PICTURE_NAME}")


def _name_of_file(entry: str) -> str | None:
    """The name of a file that belongs to a pack, whatever folder it lies in."""
    name = entry.rsplit("/", 1)[-1]
    return name if name in _KNOWN or _BESIDE.match(name) else None


def read_packed(content: bytes) -> Pack:
    """Read a zipped pack.

    Raises:
        PackError: as ``read_zip`` and ``read_pack`` do.
    """
    return read_pack(read_zip(content))


def read_folder(folder: Path) -> dict[str, bytes]:
    """Read the files of an unpacked pack."""
    return {path.name: path.read_bytes() for path in folder.iterdir() if path.is_file()}


def _read_table(name: str, content: bytes | None) -> list[Any]:
    if content is None:
        return []
    # A script is one cell, longer than the reader's own limit.
    csv.field_size_limit(MOST_CELL)
    try:
        text = content.decode("utf-8-sig")
        reader = csv.DictReader(io.StringIO(text, newline=""), strict=True, restkey="")
        rows: list[Any] = []
        for line, row in enumerate(reader, start=2):
            if len(rows) >= SCHEMAS[name].most:
                raise PackError(f"{name}.csv: more than {SCHEMAS[name].most} rows; split the pack")
            rows.append(_read_row(name, line, row))
    except (UnicodeDecodeError, csv.Error) as error:
        raise PackError(f"{name}.csv: not UTF-8 CSV: {error}") from error
    return rows


def _read_row(name: str, line: int, row: dict[str, Any]) -> PackRow:
    if "" in row or None in row.values():
        raise PackError(f"{name}.csv row {line}: more or fewer cells than the header has")
    given = {key: value for key, value in row.items() if value != ""}
    try:
        return SCHEMAS[name].model.model_validate(given)
    except ValidationError as error:
        first = error.errors()[0]
        column = str(first["loc"][0]) if first["loc"] else "?"
        raise PackError(f"{name}.csv row {line}, column {column}: {first['msg']}") from error


def _check_keys(tables: Mapping[str, list[Any]]) -> None:
    for name, schema in SCHEMAS.items():
        seen = set()
        for line, row in enumerate(tables[name] if schema.key else (), start=2):
            key = tuple(getattr(row, column) for column in schema.key)
            if key in seen:
                raise PackError(f"{name}.csv row {line}: {' '.join(map(str, key))!r} stands twice")
            seen.add(key)


def _check_links(tables: Mapping[str, list[Any]]) -> None:
    for name, schema in SCHEMAS.items():
        for link in schema.links:
            known = {tuple(getattr(r, column) for column in link.key) for r in tables[link.table]}
            for line, row in enumerate(tables[name], start=2):
                key = tuple(getattr(row, column) for column in link.columns)
                if None not in key and key not in known:
                    raise PackError(
                        f"{name}.csv row {line}: {link.table}.csv has no "
                        f"{' '.join(map(str, key))!r}"
                    )


def write_pack(pack: Pack) -> dict[str, bytes]:
    """Write a pack as files by name, with their schema."""
    files = {"datapackage.json": _descriptor(pack)}
    for name, schema in SCHEMAS.items():
        model = schema.model
        rows = [pack.shootout] if name == "shootout" else getattr(pack, name)
        text = io.StringIO(newline="")
        writer = csv.writer(text, lineterminator="\n")
        # The writer leaves a lone carriage return bare, which no reader takes for text.
        quoting = csv.writer(text, lineterminator="\n", quoting=csv.QUOTE_ALL)
        writer.writerow(model.model_fields)
        for row in rows:
            cells = [_cell(getattr(row, field)) for field in model.model_fields]
            (quoting if any("\r" in cell for cell in cells) else writer).writerow(cells)
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
    int: "integer",
    float: "number",
    Decimal: "number",
    bool: "boolean",
    date: "date",
    datetime: "datetime",
}


def _descriptor(pack: Pack) -> bytes:
    descriptor = {
        "profile": "tabular-data-package",
        "name": "true-margin-shootout",
        "title": pack.shootout.name,
        "trueMarginFormat": PACK_FORMAT,
        "resources": [_resource(name, schema) for name, schema in SCHEMAS.items()],
    }
    return (json.dumps(descriptor, indent=2) + "\n").encode()


def _resource(name: str, table: TableSchema) -> dict[str, Any]:
    schema: dict[str, Any] = {
        "fields": [
            {"name": column, "type": _field_type(info.annotation)}
            for column, info in table.model.model_fields.items()
        ]
    }
    if table.key:
        schema["primaryKey"] = list(table.key)
    if table.links:
        schema["foreignKeys"] = [
            {
                "fields": list(link.columns),
                "reference": {"resource": link.table, "fields": list(link.key)},
            }
            for link in table.links
        ]
    return {
        "name": name.replace("_", "-"),
        "path": f"{name}.csv",
        "title": (table.model.__doc__ or "").strip(),
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
