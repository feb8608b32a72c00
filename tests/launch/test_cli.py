"""``true-margin analyse`` as a person and as a program would run it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.conftest import PROJECT

CASE = {
    "runs": [
        {"setup": "A", "task": "T", "value": "5:20"},
        {"setup": "B", "task": "T", "value": "5:58"},
    ]
}


def analyse(*arguments: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "true_margin", "analyse", *arguments]
    return subprocess.run(command, input=stdin, text=True, capture_output=True, check=False)


@pytest.fixture
def case(tmp_path: Path) -> Path:
    path = tmp_path / "case.json"
    path.write_text(json.dumps(CASE))
    return path


def test_a_table_for_people(case: Path) -> None:
    done = analyse(str(case))
    assert done.returncode == 0
    assert "times as fast" in done.stdout
    assert done.stderr == ""


def test_json_for_programs(case: Path) -> None:
    result = json.loads(analyse(str(case), "--json").stdout)
    (margin,) = result["margins"]
    assert margin["ratio"] == pytest.approx(358 / 320)
    assert margin["call"] == "ahead"


def test_standard_input_and_csv_give_the_same(case: Path, tmp_path: Path) -> None:
    csv = tmp_path / "runs.csv"
    csv.write_text("setup,task,value\nA,T,5:20\nB,T,5:58\n")
    outputs = {
        analyse(str(case), "--json").stdout,
        analyse("-", "--json", stdin=case.read_text()).stdout,
        analyse(str(csv), "--json").stdout,
    }
    assert len(outputs) == 1


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (
            '{"runs": [{"setup": "A", "task": "T", "value": "18.40 min"}]}',
            "runs[0].value: '18.40 min' has two meanings",
        ),
        ('{"runs": [], "speed": 1}', "speed: unknown key"),
        ('{"runs": [{"setup": "A", "task": "T", "value": 1}], "prior_df": 0}', "spread unknown"),
        ("nonsense", "not JSON"),
    ],
)
def test_refusals_leave_standard_output_empty(text: str, says: str) -> None:
    done = analyse("-", "--json", stdin=text)
    assert (done.returncode, done.stdout) == (2, "")
    assert says in done.stderr
    assert "Traceback" not in done.stderr


def test_files_that_cannot_be_read(tmp_path: Path) -> None:
    assert analyse(str(tmp_path / "none.json")).returncode == 2
    binary = tmp_path / "case.json"
    binary.write_bytes(b"\xff\xfe\x00")
    done = analyse(str(binary))
    assert done.returncode == 2
    assert "not UTF-8" in done.stderr


def test_analysis_loads_no_database_and_no_server(case: Path) -> None:
    program = (
        "import sys; sys.argv = ['true-margin', 'analyse', sys.argv[1]]\n"
        "from true_margin.cli import main\n"
        "try: main()\nexcept SystemExit: pass\n"
        "print([m for m in ('sqlalchemy', 'fastapi', 'psycopg', 'uvicorn') if m in sys.modules])"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, str(case)], text=True, capture_output=True, check=True
    )
    assert done.stdout.splitlines()[-1] == "[]"


def test_check_claims_prints_one_object_a_claim(tmp_path: Path) -> None:
    case = json.loads((PROJECT / "tests" / "vectors" / "claims.json").read_text())["case"]
    (tmp_path / "case.json").write_text(json.dumps(case))
    script = "Welcome back.\nHalyard L is twice as fast as Tarn Desk on parade.\n"
    arguments = ["check-claims", str(tmp_path / "case.json"), "-"]
    command = [sys.executable, "-m", "true_margin", *arguments]

    def check(text: str, *more: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [*command, *more], input=text, text=True, capture_output=True, check=False
        )

    done = check(script, "--json")
    # Something does not hold: whoever runs this before a recording sees it.
    assert done.returncode == 1, done.stderr
    (line,) = done.stdout.splitlines()
    found = json.loads(line)
    assert (found["line"], found["verdict"], found["unit"]) == (2, "overstated", "times as fast")
    assert found["lo"] < 702 / 396 < found["hi"]
    assert found["say"] == "Halyard L is 1.77 times as fast as Tarn Desk on parade."
    assert found["status"] == "judged"
    assert found["readings"] == [found["reading"]]
    reading = {
        name: found["reading"][name] for name in ("a", "b", "task", "form", "figure", "hedge")
    }
    assert reading == {
        "a": "Halyard L",
        "b": "Tarn Desk",
        "task": "parade",
        "form": "times as fast",
        "figure": 2.0,
        "hedge": "none",
    }
    asked = check(
        "The Halyard L gallops home 4 minutes sooner than the Tarn Desk on parade.", "--json"
    )
    assert asked.returncode == 1
    told = json.loads(asked.stdout)
    assert (told["status"], told["reading"]["form"], told["reading"]["figure"]) == (
        "confirm",
        "time saved",
        240.0,
    )
    unread = check("The Halyard L drew 90 watts more than the Tarn Desk.\n", "--json")
    assert unread.returncode == 1
    told = json.loads(unread.stdout)
    assert (told["status"], told["verdict"], told["reading"]) == ("not understood", "unread", None)
    assert check("Welcome back.\n" + found["say"], "--json").returncode == 0
    assert "2: overstated: Halyard L is twice" in check(script).stdout
    too_long = check("x" * 200_001)
    assert too_long.returncode == 2
    assert "are the most" in too_long.stderr


def test_check_claims_tells_what_holds_of_the_models(tmp_path: Path) -> None:
    times = {"Oak no 1": 100.0, "Oak no 2": 101.0, "Birch": 103.5, "Elm": 300.0}
    runs = [
        {"setup": setup, "task": "film", "value": value * factor}
        for setup, value in times.items()
        for factor in (0.999, 1.0, 1.001)
    ]
    setups = {name: {"model": "Oak"} for name in ("Oak no 1", "Oak no 2")}
    case = tmp_path / "case.json"
    case.write_text(json.dumps({"runs": runs, "setups": setups, "baseline": "Birch"}))
    lines = (
        "Oak no 1 is faster than Birch on film.",
        "Oak is faster than Elm on film.",
        "Oak no 1 takes 1:40 on film.",
    )
    command = [sys.executable, "-m", "true_margin", "check-claims", str(case), "-"]

    def check(*more: str) -> list[str]:
        done = subprocess.run(
            [*command, *more], input="\n".join(lines), text=True, capture_output=True, check=True
        )
        return done.stdout.splitlines()

    tested, model, alone = (json.loads(line) for line in check("--json"))
    assert tested["verdict"] == "holds"
    assert tested["of_models"]["verdict"] == "within noise"
    # The interval of the models is the wider one, about the mean of both samples.
    assert tested["of_models"]["lo"] < tested["lo"]
    assert tested["of_models"]["say"].endswith(": too close to call on film.")
    # A name that is a model's alone is about the model: there is no second question.
    assert (model["verdict"], model["of_models"]) == ("holds", None)
    assert (alone["verdict"], alone["of_models"]) == ("holds", None)
    told = check()
    assert told[0] == "1: holds: Oak no 1 is faster than Birch on film."
    assert "    of the models: within noise" in told
    assert sum("of the models" in line for line in told) == 1
