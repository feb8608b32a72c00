"""Reading the log of a device: JSON lines, each an event of a lane, a kept run or a watcher's."""

from __future__ import annotations

import json
from typing import Any

from pydantic import Field, ValidationError

from true_margin.app.requests import Request
from true_margin.app.run_requests import LaneEvent, MarkFields, NewRun
from true_margin.desk.bench.lanes import NewEvent
from true_margin.desk.bench.log import DeviceLog, KeptRun, with_line

MOST_LINES = 50_000


class _KeptRun(Request):
    """A run that waited on a device."""

    event: str
    run: NewRun
    marks: list[MarkFields] = Field(default_factory=list, max_length=10_000)


def read_device_log(text: str) -> DeviceLog:
    """Read a log.

    Raises:
        RefusedError: with the line and the reason.
    """
    kept, events, watched = [], [], []
    lines = text.splitlines()
    if len(lines) > MOST_LINES:
        raise with_line(f"more than {MOST_LINES} lines; bring it in in parts", MOST_LINES)
    for number, line in enumerate(lines, start=1):
        if not line.strip():
            continue
        document = _object(line, number)
        try:
            if document.get("event") == "run":
                kept.append(_kept(_KeptRun.model_validate(document)))
            elif "lane" in document:
                events.append(_event(document))
            else:
                watched.append(line)
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(map(str, first["loc"]))
            raise with_line(f"{where}: {first['msg']}", number) from error
    return DeviceLog(tuple(kept), tuple(events), tuple(watched))


def _object(line: str, number: int) -> dict[str, Any]:
    try:
        document = json.loads(line)
    except (ValueError, RecursionError) as error:
        raise with_line("this is not JSON", number) from error
    if not isinstance(document, dict):
        raise with_line("this is no event", number)
    return document


def _kept(line: _KeptRun) -> KeptRun:
    fields = line.run.model_dump() | {
        "conditions": line.run.conditions.model_dump(exclude_none=True)
    }
    return KeptRun(fields, tuple(mark.model_dump() for mark in line.marks))


def _event(document: dict[str, Any]) -> NewEvent:
    own = {name: document.get(name) for name in ("client", "seq", "at_ms", "lane")}
    event = LaneEvent.model_validate({**own, "kind": document.get("event")})
    lane = event.lane.model_dump(mode="json", exclude_none=True)
    return NewEvent(event.client, event.seq, event.kind, event.at_ms, lane)
