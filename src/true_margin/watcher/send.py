"""Sends watched runs to True Margin; the same run again stores nothing."""

from __future__ import annotations

from typing import Any

import httpx2

from true_margin.core.errors import CoreError
from true_margin.core.wording import format_elapsed
from true_margin.watcher.log import WatchedRun

WAIT_S = 10.0
RESOLUTION_S = 0.01


class SendError(CoreError):
    """A run was not stored; says why. It stays in the log."""


class AwayError(SendError):
    """The server does not answer; later it may."""


class Server:
    """A True Margin that answers at an address."""

    def __init__(self, address: str) -> None:
        self._api = f"{address.rstrip('/')}/api/v1"

    def send(self, run: WatchedRun) -> str:
        """Store a run and its marks; gives the sentence that may be said now.

        Raises:
            AwayError: the server does not answer.
            SendError: no such shootout, setup or task, or the run cannot be.
        """
        body = {
            "setup_id": self.setup_id(run.shootout, run.setup),
            "task_id": self.task_id(run.shootout, run.task),
            "typed": None if not run.elapsed_s else format_elapsed(run.elapsed_s, RESOLUTION_S),
            "method": "watch", "poll_s": run.poll_s, "status": run.status, "reason": run.reason,
            "started_at": run.started_at, "client_key": run.client_key,
        }  # fmt: skip
        stored = self._ask("POST", f"/shootouts/{run.shootout}/runs", body)
        if run.marks:
            marks = [{"elapsed_s": elapsed, "fraction": part} for elapsed, part in run.marks]
            self._ask("POST", f"/runs/{stored['run']['id']}/marks", {"marks": marks})
        return str(stored["says"])

    def setup_id(self, shootout: str, name: str) -> str:
        """Give the id of a setup by its name.

        Raises:
            SendError: there is none; names those there are.
        """
        setups = self._ask("GET", f"/shootouts/{shootout}/lineup")["setups"]
        return _named("setup", name, {each["label"]: each["id"] for each in setups})

    def task_id(self, shootout: str, name: str) -> str:
        """Give the id of a task by its name.

        Raises:
            SendError: there is none; names those there are.
        """
        sheets = self._ask("GET", f"/shootouts/{shootout}/tasks")
        return _named("task", name, {each["task"]["name"]: each["task"]["id"] for each in sheets})

    def _ask(self, method: str, path: str, body: object = None) -> Any:
        try:
            answer = httpx2.request(method, f"{self._api}{path}", json=body, timeout=WAIT_S)
        except httpx2.HTTPError as error:
            raise AwayError(f"True Margin does not answer at {self._api}.") from error
        if answer.status_code >= 500:
            raise AwayError(f"True Margin answered {answer.status_code}.")
        if answer.status_code >= 400:
            raise SendError(_detail(answer))
        return answer.json()


def _detail(answer: httpx2.Response) -> str:
    try:
        return str(answer.json()["detail"])
    except (ValueError, KeyError, TypeError):
        return f"True Margin answered {answer.status_code}."


def _named(what: str, name: str, known: dict[str, str]) -> str:
    for label, key in known.items():
        if label.casefold() == name.casefold():
            return key
    raise SendError(f"There is no {what} {name!r}; there are: {', '.join(known)}.")
