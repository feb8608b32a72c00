"""The command line: ``true-margin analyse``, and starting the app."""

from __future__ import annotations

import json
import signal
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn, TypeVar

import typer

if TYPE_CHECKING:
    from true_margin.app.settings import AppSettings
    from true_margin.core.analysis import Analysis
    from true_margin.core.contest import ViewerProfile

Outcome = TypeVar("Outcome")

cli = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    help="True Margin: which machine is ahead, by how much, and how surely.",
)


@cli.command()
def analyse(
    case: Annotated[str, typer.Argument(help="Case file (.json or .csv), or - for standard input")],
    as_json: Annotated[
        bool, typer.Option("--json", help="Print every result as a JSON object")
    ] = False,
) -> None:
    """Analyse a case file: ladder, margins and runs to look at. Needs no database."""
    # Imported here: starting the app needs none of it, and the numbers take a moment to load.
    from true_margin.exchange.case_result import result_object
    from true_margin.exchange.case_tables import result_table

    result, viewer = _analysed(case)
    if as_json:
        # NaN would not be JSON; a result never holds it, and this makes sure.
        print(json.dumps(result_object(result, viewer), indent=1, allow_nan=False))
    else:
        print(result_table(result, viewer), end="")


@cli.command("check-claims")
def check_claims(
    case: Annotated[str, typer.Argument(help="Case file (.json or .csv)")],
    script: Annotated[
        str, typer.Argument(help="Script, article or subtitles; - for standard input")
    ],
    as_json: Annotated[
        bool, typer.Option("--json", help="Print one JSON object a line that claims something")
    ] = False,
) -> None:
    """Check each sentence of a script against a case file. Needs no database.

    Ends with 1 where a claim does not hold, or was not understood.
    """
    from true_margin.core.claims.check import around_each, check_line, names_of
    from true_margin.core.claims.verdicts import Verdict
    from true_margin.core.errors import CoreError
    from true_margin.exchange.script_text import claim_object, read_script

    result, _ = _analysed(case)
    try:
        lines = read_script(_read(script))
    except CoreError as error:
        _refuse(f"{script}: {error}")
    names = names_of(result)
    around = around_each(names, [line.text for line in lines])
    stands = True
    for line, beside in zip(lines, around, strict=True):
        checked = check_line(result, names, line.text, beside)
        if checked is None:
            continue
        stands = stands and checked.verdict in (Verdict.HOLDS, Verdict.LIKELY)
        if as_json:
            print(json.dumps(claim_object(line, checked, result.study), allow_nan=False))
            continue
        print(f"{line.number}: {checked.verdict.value}: {line.text}")
        models = checked.of_models
        other = models is not None and models.verdict is not checked.verdict
        of_models = f"of the models: {models.verdict.value}" if models and other else ""
        for note in (checked.reason, checked.say and f"say: {checked.say}", of_models):
            if note:
                print(f"    {note}")
    if not stands:
        raise typer.Exit(1)


def _analysed(case: str) -> tuple[Analysis, ViewerProfile | None]:
    """Analyse a case file, or refuse it with what is wrong; with its viewer, if it has one."""
    from true_margin.core.analysis import analyse as analyse_study
    from true_margin.core.errors import CoreError
    from true_margin.exchange.case_csv import read_case_csv
    from true_margin.exchange.case_file import read_whole_case

    text = _read(case)
    try:
        is_csv = case.lower().endswith((".csv", ".tsv"))
        if is_csv:
            return analyse_study(read_case_csv(text)), None
        read = read_whole_case(text)
        return analyse_study(read.study), read.viewer
    except CoreError as error:
        _refuse(f"{case}: {error}")


def _read(case: str) -> str:
    try:
        content = sys.stdin.buffer.read() if case == "-" else Path(case).read_bytes()
        return content.decode("utf-8-sig")
    except OSError as error:
        _refuse(f"{case}: cannot be read: {error.strerror}")
    except UnicodeDecodeError:
        _refuse(f"{case}: is not UTF-8 text")


def _refuse(reason: str) -> NoReturn:
    print(reason, file=sys.stderr)
    raise typer.Exit(2)


@cli.command()
def demo(
    host: Annotated[
        str | None, typer.Option(help="Let paired devices in at this address, such as 0.0.0.0")
    ] = None,
) -> None:
    """Start the app with its private database, and the demo shootouts if it is empty."""
    from true_margin.launch import holder

    _launch(holder.refuse_second)
    from true_margin.launch import start

    def run(settings: AppSettings) -> None:
        start.run_demo(settings if host is None else settings.model_copy(update={"host": host}))

    _launch(run)


@cli.command()
def serve(
    host: Annotated[
        str | None, typer.Option(help="Address to listen at; beyond this machine with --sign-in")
    ] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535, help="Port")] = None,
    workers: Annotated[int | None, typer.Option(min=1, max=64, help="Processes")] = None,
    address: Annotated[
        str | None, typer.Option(help="Where people reach it, such as https://bench.example")
    ] = None,
    sign_in: Annotated[
        bool | None, typer.Option("--sign-in", help="People sign in; see: true-margin invite")
    ] = None,
    plain: Annotated[
        bool | None, typer.Option("--plain", help="A proxy in front speaks TLS; this does not")
    ] = None,
) -> None:
    """Start the app for more than one person, or by several processes; no demo data."""
    from true_margin.launch import holder

    given = {
        "host": host,
        "port": port,
        "workers": workers,
        "address": address,
        "sign_in": sign_in,
        "plain": plain,
    }
    said = {name: each for name, each in given.items() if each is not None}
    _launch(holder.refuse_second, **said)
    from true_margin.launch import start

    _launch(start.run_serve, **said)


@cli.command()
def work() -> None:
    """Do the work that waits beside the requests, such as reports; any number may run."""
    from true_margin.launch.serve import work as work_on

    _launch(work_on)


@cli.command()
def invite(
    email: Annotated[str | None, typer.Argument(help="Whose invitation it is")] = None,
    role: Annotated[str, typer.Option(help="owner, editor or reader of everything")] = "owner",
    address: Annotated[
        str | None, typer.Option(help="Where people reach the app, as for serve")
    ] = None,
) -> None:
    """Make an invitation to everything here; prints its link, which is good once for 7 days."""
    from true_margin.desk.access.people import ROLES
    from true_margin.launch import upkeep

    if role not in ROLES:
        _refuse(f"There is no role {role!r}; there are: {', '.join(ROLES)}.")
    more = {} if address is None else {"address": address}
    print(_launch(lambda settings: upkeep.invite_owner(settings, role, email), **more))


@cli.command()
def publish(
    shootout: Annotated[str, typer.Argument(help="The last part of its address: /s/SHOOTOUT")],
    to: Annotated[Path, typer.Option(help="Folder to write, or to bring up to date")],
    address: Annotated[
        str, typer.Option(help="Where the folder will stand on the web, for previews and feeds")
    ] = "",
    listed: Annotated[
        bool, typer.Option("--listed", help="Search engines may list the pages")
    ] = False,
) -> None:
    """Write the public pages of a shootout as plain files, for any web host.

    In a folder that is there, unchanged files keep their bytes and older editions stay.
    """
    from true_margin.desk.publish.folder_files import Asked
    from true_margin.launch import upkeep

    def tell(words: str, part: float) -> None:
        if sys.stderr.isatty():
            sys.stderr.write(f"\r{100 * part:3.0f} %  {words:<60.60}")
            sys.stderr.flush()

    asked = Asked(address, listed)
    done = _launch(lambda settings: upkeep.publish_to(settings, shootout, to, asked, tell))
    if sys.stderr.isatty():
        sys.stderr.write("\n")
    print(f"{to}: {done.changed} files written, {done.same} unchanged, {done.removed} removed.")
    print(f"Open {to / 'index.html'}, or copy the folder to a web host.")


@cli.command()
def stop() -> None:
    """Stop the app and its private database."""
    from true_margin.launch import holder

    was_running = _launch(holder.stop)
    print("Stopped." if was_running else "Nothing was running.")


@cli.command("reset-demo")
def reset_demo() -> None:
    """Put the demo shootouts aside and load fresh ones; your own stay as they are."""
    from true_margin.launch import upkeep

    aside, loaded = _launch(upkeep.reset_demo)
    print(f"{aside} demo shootouts put aside, {loaded} loaded afresh.")


@cli.command()
def backup(
    file: Annotated[
        Path | None, typer.Argument(help="File to write; without it one in data/backups")
    ] = None,
) -> None:
    """Write the whole database into one file, and read it back; the app may run meanwhile."""
    from true_margin.launch import copies

    print(f"Written and read back: {_launch(lambda settings: copies.back_up(settings, file))}")


@cli.command()
def restore(file: Annotated[Path, typer.Argument(help="A backup")]) -> None:
    """Bring a backup back; the database as it is now is kept under another name."""
    from true_margin.launch import copies

    done = _launch(lambda settings: copies.bring_back(settings, file))
    rows = sum(done.manifest.rows.values())
    print(f"Brought back: {rows:,} rows of {done.manifest.made_at}.")
    print(f"The database as it was before is kept as {done.kept_as}.")


@cli.command()
def openapi(path: Annotated[Path, typer.Argument(help="File to write")]) -> None:
    """Write the API's OpenAPI document; the web types are made from it."""
    from true_margin.app.main import make_app
    from true_margin.store.database import Database

    document = make_app(Database("postgresql://nobody@127.0.0.1:1/none")).openapi()
    path.write_text(json.dumps(document, indent=1, sort_keys=True, ensure_ascii=False) + "\n")


@cli.command()
def watch(
    path: Annotated[Path, typer.Argument(help="The file that the export writes, or its folder")],
    shootout: Annotated[str, typer.Option(help="Name in the shootout's address")],
    setup: Annotated[str, typer.Option(help="Setup that exports")],
    task: Annotated[list[str], typer.Option(help="Task that is exported; several in their order")],
    pattern: Annotated[str, typer.Option(help="Names in a folder, such as *.mp4")] = "*",
    server: Annotated[str, typer.Option(help="Address")] = "http://127.0.0.1:8437",
    token: Annotated[
        Path | None, typer.Option(help="File that 'true-margin pair' wrote, where people sign in")
    ] = None,
    certificate: Annotated[
        Path | None, typer.Option(help="File of the server's own certificate, where it has one")
    ] = None,
    poll: Annotated[float, typer.Option(min=0.05, max=60, help="Seconds between looks")] = 0.5,
    expected_size: Annotated[
        int | None, typer.Option(min=1, help="Bytes of the finished file, for marks")
    ] = None,
    give_up: Annotated[
        float, typer.Option(min=1, help="Quiet seconds after which it has failed")
    ] = 60.0,
    repeat: Annotated[
        bool, typer.Option("--repeat", help="Watch one export after another until you end it")
    ] = False,
    by_key: Annotated[
        bool, typer.Option("--by-key", help="Start with Enter instead of the first byte")
    ] = False,
    log: Annotated[Path, typer.Option(help="Event log, JSON lines")] = Path("watched.jsonl"),
    send_only: Annotated[
        bool, typer.Option("--send-only", help="Watch nothing; send what the log holds")
    ] = False,
) -> None:
    """Time real exports by watching their files; keeps a log and sends each run."""
    from true_margin.core.errors import CoreError
    from true_margin.watcher.command import Watching, watch_all
    from true_margin.watcher.send import Server
    from true_margin.watcher.watch import Watched, send_log

    folder, wanted = (path, pattern) if path.is_dir() else (path.parent, path.name)
    if not folder.is_dir():
        _refuse(f"{folder}: there is no such folder")
    # A program that was begun in the background ignores the one, and knows nothing of the other.
    for each in (signal.SIGINT, signal.SIGTERM):
        signal.signal(each, signal.default_int_handler)
    try:
        with Server(server, _token(token), _certificate(certificate, token)) as there:
            if send_only:
                send_log(there, log, print)
                return
            what = Watched(folder, wanted, shootout, setup, task[0], poll, expected_size, give_up)
            watch_all(there, Watching(what, tuple(task), log, repeat, by_key), print)
    except (CoreError, OSError) as error:
        _refuse(str(error))
    except KeyboardInterrupt:
        print(f"Stopped watching. What was seen is in {log}; send it with --send-only.")


def _certificate(file: Path | None, token: Path | None) -> str | None:
    """The server's certificate: the named one, else the one that came with the pairing."""
    paired = None if token is None else token.with_suffix(".pem")
    if file is None and paired is not None and paired.is_file():
        return str(paired)
    return _path(file)


def _path(file: Path | None) -> str | None:
    return None if file is None else str(file)


def _token(file: Path | None) -> str | None:
    if file is None:
        return None
    try:
        return file.read_text().strip()
    except OSError as error:
        _refuse(f"{file}: {error.strerror}")


@cli.command()
def pair(
    code: Annotated[str, typer.Argument(help="Code that the desk shows: Bench, Pair a device")],
    server: Annotated[str, typer.Option(help="Address")] = "http://127.0.0.1:8437",
    name: Annotated[str, typer.Option(help="Name of this device")] = "watcher",
    out: Annotated[Path, typer.Option(help="File to write, for watch --token")] = Path("token"),
    certificate: Annotated[
        Path | None, typer.Option(help="File of the server's own certificate, where it has one")
    ] = None,
    fingerprint: Annotated[
        str | None, typer.Option(help="Digits of its certificate that the desk shows")
    ] = None,
) -> None:
    """Pair this machine with a bench where people sign in, so that it may watch exports."""
    from true_margin.core.errors import CoreError
    from true_margin.watcher.calls import fetch_certificate
    from true_margin.watcher.send import pair as pair_with

    try:
        if fingerprint is not None:
            certificate = out.with_suffix(".pem")
            certificate.write_text(fetch_certificate(server, fingerprint))
        token = pair_with(server, code, name, _path(certificate))
        out.touch(mode=0o600)
        out.write_text(token)
    except (CoreError, OSError) as error:
        _refuse(str(error))
    print(f"Paired. Watch with: true-margin watch … --token {out}")


@cli.command()
def specs(
    name: Annotated[str, typer.Argument(help="What this machine is called in the line-up")],
    out: Annotated[Path, typer.Option(help="File to write")] = Path("specs.json"),
) -> None:
    """Write this machine's spec file, to be dropped on the line-up."""
    from true_margin.watcher.sensors import write_specs

    try:
        write_specs(name, out)
    except OSError as error:
        _refuse(f"{out}: {error.strerror}")
    print(f"Written to {out}. Drop it on the line-up: Paste specs.")


def _launch(action: Callable[[AppSettings], Outcome], **given: Any) -> Outcome:
    """Run an action of the launcher; what it refuses is said without a traceback.

    Args:
        action: what to do.
        given: settings that the command line names; they go before the environment's.
    """
    from pydantic import ValidationError

    from true_margin.app.settings import AppSettings
    from true_margin.launch.backup import BackupError
    from true_margin.launch.cluster import ClusterError
    from true_margin.launch.errors import StartError
    from true_margin.launch.privacy import keep_private

    try:
        settings = AppSettings(**given)
        keep_private(settings.data)
        return action(settings)
    except (StartError, ClusterError, BackupError) as error:
        _refuse(str(error))
    except ValidationError as error:
        first = error.errors()[0]
        _refuse(f"Setting {'.'.join(map(str, first['loc']))}: {first['msg']}")


def main() -> None:
    """Run the command line."""
    cli()
