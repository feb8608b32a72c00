"""Ending: a signal is obeyed whenever it comes."""

from __future__ import annotations

import os
import signal
import threading
from pathlib import Path

import pytest

from true_margin.app.settings import AppSettings
from true_margin.launch.errors import StartError
from true_margin.launch.start import ending_on_signals, run_demo


class Dying:
    """Is told to end while it is cleared up, where Python drops every exception."""

    def __del__(self) -> None:
        os.kill(os.getpid(), signal.SIGTERM)
        for _ in range(1000):
            pass


def test_a_signal_that_comes_while_something_is_cleared_up_is_obeyed(
    capsys: pytest.CaptureFixture[str],
) -> None:
    went_on = False
    with ending_on_signals():
        Dying()
        threading.Event().wait(30)
        went_on = True
    assert not went_on
    assert capsys.readouterr().out == "Stopped.\n"


def test_rates_that_cannot_be_read_are_refused_before_anything_starts(tmp_path: Path) -> None:
    web = tmp_path / "web"
    web.mkdir()
    (web / "index.html").touch()
    rates = tmp_path / "rates.csv"
    rates.write_text("dated,currency,per_eur\n2026-03-12,USD,much\n")
    settings = AppSettings(web=web, data=tmp_path / "data", rates=str(rates))
    with pytest.raises(StartError, match=r"rates\.csv, rate 1: 'much' is no rate"):
        run_demo(settings)
    assert not (tmp_path / "data").exists()
