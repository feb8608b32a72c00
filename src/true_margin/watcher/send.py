"""Sends watched runs to True Margin; the same run again stores nothing."""

from __future__ import annotations

import json
import time
from collections.abc import Sequence
from typing import Any
from urllib.parse import quote, urlencode

from true_margin.core.plain_clock import clock_text
from true_margin.watcher.calls import Answer, AwayError, Caller, SendError
from true_margin.watcher.log import LEAST_S, WatchedRun

RESOLUTION_S = LEAST_S
DEVICE_COOKIE = "tm_device"


class Server:
    """A True Margin that answers at an address; closes its connections at the end."""

    def __init__(
        self, address: str, token: str | None = None, certificate: str | None = None
    ) -> None:
        """Reach a True Margin.

        Args:
            address: where it answers.
            token: of this device, where people sign in there (``pair``).
            certificate: file of its own certificate, or its text, where it has one.
        """
        self._offset_ms = 0.0
        # One line for all: a new one each time costs more than the question itself.
        self._caller = Caller(address, token, certificate)

    def __enter__(self) -> Server:
        return self

    def __exit__(self, *_: object) -> None:
        self._caller.close()

    def place_clock(self, rounds: int = 5) -> None:
        """Place this machine's clock on the server's, by the shortest of a few round trips.

        A server that is away leaves it as it was.
        """
        best = float("inf")
        for _ in range(rounds):
            before = time.time() * 1000.0
            try:
                told = float(self._ask("GET", "/clock")["now_ms"])
            except SendError:
                return
            after = time.time() * 1000.0
            if after - before < best:
                best = after - before
                self._offset_ms = told - (before + after) / 2

    def now_ms(self) -> float:
        """Now on the server's clock, in milliseconds since 1970."""
        return time.time() * 1000.0 + self._offset_ms

    def post_events(self, shootout: str, events: Sequence[object]) -> None:
        """Tell the bench what happened on lanes.

        Raises:
            AwayError: the server does not answer.
            SendError: it refuses.
        """
        self._ask("POST", f"/shootouts/{quote(shootout)}/bench/events", {"events": list(events)})

    def read_lane(self, shootout: str, lane_id: str) -> dict[str, Any] | None:
        """Give one lane of a bench as it stands; None where it is not there.

        Raises:
            AwayError: the server does not answer.
        """
        lanes = self._ask("GET", f"/shootouts/{quote(shootout)}/bench/lanes")["lanes"]
        return next((each["lane"] for each in lanes if each["lane"]["id"] == lane_id), None)

    def send(self, run: WatchedRun) -> str:
        """Store a run and its marks; gives the sentence that may be said now.

        Raises:
            AwayError: the server does not answer.
            SendError: no such shootout, setup or task, or the run cannot be.
        """
        body = {
            "setup_id": self.setup_id(run.shootout, run.setup),
            "task_id": self.task_id(run.shootout, run.task),
            "typed": _typed(run.elapsed_s),
            "method": run.method,
            "poll_s": run.poll_s,
            "status": run.status,
            "reason": run.reason,
            "started_at": run.started_at,
            "client_key": run.client_key,
            "simulated": run.simulated,
            "reached": run.reached,
        }
        stored = self._ask("POST", f"/shootouts/{quote(run.shootout)}/runs", body)
        if run.marks:
            path = f"/runs/{stored['run']['id']}/marks"
            self._ask("POST", path, {"marks": list(run.marks)})
        return str(stored["says"])

    def setups(self, shootout: str) -> tuple[str, ...]:
        """Give the setups of the line-up by name.

        Raises:
            AwayError: the server does not answer.
        """
        return tuple(self._setups(shootout))

    def tasks(self, shootout: str) -> tuple[str, ...]:
        """Give the tasks that are timed by name.

        Raises:
            AwayError: the server does not answer.
        """
        return tuple(self._tasks(shootout, timed=True))

    def setup_id(self, shootout: str, name: str) -> str:
        """Give the id of a setup by its name.

        Raises:
            SendError: there is none; names those there are.
        """
        return _named("setup", name, self._setups(shootout))

    def task_id(self, shootout: str, name: str) -> str:
        """Give the id of a task by its name.

        Raises:
            SendError: there is none; names those there are.
        """
        return _named("task", name, self._tasks(shootout))

    def _setups(self, shootout: str) -> dict[str, str]:
        setups = self._ask("GET", f"/shootouts/{quote(shootout)}/lineup")["setups"]
        return {each["label"]: each["id"] for each in setups}

    def _tasks(self, shootout: str, *, timed: bool = False) -> dict[str, str]:
        sheets = self._ask("GET", f"/shootouts/{quote(shootout)}/tasks")
        tasks = [each["task"] for each in sheets]
        if timed:
            tasks = [t for t in tasks if t.get("measure") == "time" and not t.get("superseded")]
        return {each["name"]: each["id"] for each in tasks}

    def _ask(self, method: str, path: str, body: object = None) -> Any:
        told = None if body is None else json.dumps(body).encode()
        answer = self._caller.ask(method, f"/api/v1{path}", told)
        if answer.status >= 500:
            raise AwayError(f"True Margin answered {answer.status}.")
        if answer.status >= 400:
            raise SendError(_detail(answer))
        try:
            return answer.json()
        except ValueError as error:
            raise AwayError(
                f"Something else than True Margin answers at {self._caller.address}."
            ) from error


def pair(address: str, code: str, name: str, certificate: str | None = None) -> str:
    """Pair this device by a code that the desk shows; gives the token to keep.

    Raises:
        AwayError: the server does not answer.
        SendError: the code is wrong, too old, or was used.
    """
    caller = Caller(address, certificate=certificate)
    try:
        form = urlencode({"code": code, "name": name}).encode()
        answer = caller.ask("POST", "/pair", form, "application/x-www-form-urlencoded")
    finally:
        caller.close()
    token = answer.cookies.get(DEVICE_COOKIE)
    if token is None:
        raise SendError("This code is wrong or too old: ask the desk for a new one.")
    return token


def _typed(elapsed_s: float | None) -> str | None:
    """A time as a person would type it; None for what is too short to be one."""
    if elapsed_s is None or elapsed_s < LEAST_S:
        return None
    return clock_text(elapsed_s, RESOLUTION_S)


def _detail(answer: Answer) -> str:
    try:
        return str(answer.json()["detail"])
    except (ValueError, KeyError, TypeError):
        return f"True Margin answered {answer.status}."


def _named(what: str, name: str, known: dict[str, str]) -> str:
    for label, key in known.items():
        if name.casefold() in (label.casefold(), key):
            return key
    raise SendError(f"There is no {what} {name!r}; there are: {', '.join(known)}.")
