"""Starting the app on this machine: everything that it needs, until it is told to stop."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Timer

from true_margin.app.main import rates_of
from true_margin.app.settings import AppSettings
from true_margin.desk.access.people import is_set_up
from true_margin.desk.bench.lanes import clear_rigs
from true_margin.desk.shootouts.shootouts import list_shootouts
from true_margin.exchange.rates import RatesError
from true_margin.launch.address import is_outside, where_served
from true_margin.launch.copies import BACKUPS
from true_margin.launch.daily import daily_backups
from true_margin.launch.errors import StartError
from true_margin.launch.holder import only_one
from true_margin.launch.keeper import kept_running
from true_margin.launch.opened import close, open_database
from true_margin.launch.privacy import make_folder
from true_margin.launch.serve import check_port, serve
from true_margin.launch.upkeep import load_demo

AGAIN_S = 0.1


def run_demo(settings: AppSettings) -> None:
    """Start everything, print the address, and serve until told to stop.

    Raises:
        StartError: a taken port, no built pages, or a second start.
        ClusterError: the private database cannot be made or started.
    """
    _run(settings.model_copy(update={"standins": True}), demo=True)


def run_serve(settings: AppSettings) -> None:
    """Start everything without demo data; beyond loopback only where people sign in.

    Raises:
        StartError: also where sign-in is not set up.
        ClusterError: the private database cannot be made or started.
    """
    if is_outside(settings.host) and not settings.sign_in:
        raise StartError(
            f"At {settings.host} others can reach True Margin, and nobody signs in. "
            f"Set sign-in up first: true-margin invite, then true-margin serve --sign-in. "
            f"Or let paired devices in only: make demo HOST={settings.host}"
        )
    _run(settings, demo=False)


def _run(settings: AppSettings, *, demo: bool) -> None:
    if not (settings.web / "index.html").exists():
        raise StartError("The pages are not built yet. Run: make setup")
    settings = where_served(settings)
    check_port(settings)
    _check_rates(settings)
    make_folder(settings.data)
    with only_one(settings), ending_on_signals():
        opened = open_database(settings)
        try:
            opened.database.migrate()
            if settings.sign_in and not is_set_up(opened.database):
                raise StartError(
                    "Nobody owns this True Margin yet, so nobody could sign in. "
                    "Make the first owner's invitation: true-margin invite"
                )
            if demo and not list_shootouts(opened.database):
                load_demo(opened.database, settings.demo)
            clear_rigs(opened.database)
            backups = settings.data / BACKUPS
            with kept_running(opened.cluster), daily_backups(opened.database.url, backups):
                serve(opened.database, settings)
        finally:
            close(opened)


def _check_rates(settings: AppSettings) -> None:
    """Refuse rates that cannot be read before anything is started for nothing."""
    source = rates_of(settings)
    try:
        if source is not None:
            source.read()
    except RatesError as error:
        raise StartError(f"TRUE_MARGIN_RATES: {error}") from error


@contextmanager
def ending_on_signals() -> Iterator[None]:
    """End like Ctrl-C when asked to terminate or when the terminal goes away.

    A signal may arrive while Python clears something up, where an exception is dropped;
    it is then sent again.
    """

    def end(*_: object) -> None:
        raise KeyboardInterrupt

    def send_again(dropped: sys.UnraisableHookArgs) -> None:
        if issubclass(dropped.exc_type, KeyboardInterrupt):
            Timer(AGAIN_S, os.kill, (os.getpid(), signal.SIGTERM)).start()
        else:
            hook(dropped)

    hook, sys.unraisablehook = sys.unraisablehook, send_again
    earlier = {name: signal.signal(name, end) for name in (signal.SIGTERM, signal.SIGHUP)}
    try:
        yield
    except KeyboardInterrupt:
        print("Stopped.", flush=True)
    finally:
        sys.unraisablehook = hook
        for name, handler in earlier.items():
            signal.signal(name, handler)
