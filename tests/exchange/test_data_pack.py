"""The data pack: written, read back, checked by a general reader, and refused when off."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import pytest
from frictionless import Package

from true_margin.exchange import data_pack
from true_margin.exchange.data_pack import (
    Pack,
    PackError,
    read_pack,
    read_zip,
    write_pack,
    zip_files,
)
from true_margin.exchange.pack_schemas import SCHEMAS


def test_what_is_written_is_read_back(demo_pack: Pack) -> None:
    assert read_pack(write_pack(demo_pack)) == demo_pack
    assert read_pack(read_zip(zip_files(write_pack(demo_pack)))) == demo_pack


def test_the_archive_is_the_same_every_time(demo_pack: Pack) -> None:
    files = write_pack(demo_pack)
    assert zip_files(files) == zip_files(dict(reversed(files.items())))


@pytest.mark.filterwarnings("ignore")
def test_a_general_reader_accepts_it(demo_pack: Pack, tmp_path: Path) -> None:
    for name, content in write_pack(demo_pack).items():
        (tmp_path / name).write_bytes(content)
    package = Package(str(tmp_path / "datapackage.json"))
    assert package.validate().valid
    rows = package.get_resource("specs").read_rows()  # type: ignore[attr-defined]
    assert [row["value"] for row in rows] == [cell.value for cell in demo_pack.specs]


def edited(pack: Pack, name: str, change: tuple[bytes, bytes]) -> dict[str, bytes]:
    files = write_pack(pack)
    assert change[0] in files[name], "the test changes nothing"
    return {**files, name: files[name].replace(*change, 1)}


@pytest.mark.parametrize(
    ("name", "change", "says"),
    [
        (
            "datapackage.json",
            (b'"trueMarginFormat": 2', b'"trueMarginFormat": 9'),
            "trueMarginFormat 2 is needed, got 9",
        ),
        ("datapackage.json", (b"{", b"["), "not JSON"),
        ("machines.csv", (b"Tarn Desk,,", b"Tarn Desk,soon,"), "row 2, column retired_at"),
        ("specs.csv", (b"Tarn Desk,", b"Boulder,"), "machines.csv has no 'Boulder'"),
        ("machines.csv", (b"Cairn Brick,", b"Tarn Desk,"), "'Tarn Desk' stands twice"),
        ("machines.csv", (b"Tarn Desk,", b"Tarn Desk,extra,"), "more or fewer cells"),
        ("setups.csv", (b"Pebble,", b"Boulder,"), "machines.csv has no 'Boulder'"),
        ("runs.csv", (b",ok,", b",fine,"), "column status"),
        ("runs.csv", (b"spring", b"summer"), "rounds.csv has no 'summer'"),
        ("prices.csv", (b"EUR", b"eur"), "column currency"),
        ("shootout.csv", (b"0.95", b"1.95"), "column confidence"),
        ("marks.csv", (b"30.0,", b"-30.0,"), "column elapsed_s"),
    ],
)
def test_a_cell_that_is_off_is_named(
    demo_pack: Pack, name: str, change: tuple[bytes, bytes], says: str
) -> None:
    with pytest.raises(PackError, match=says.replace("[", r"\[")):
        read_pack(edited(demo_pack, name, change))


def test_a_pack_needs_its_description_and_one_shootout(demo_pack: Pack) -> None:
    files = write_pack(demo_pack)
    with pytest.raises(PackError, match=r"datapackage.json is missing"):
        read_pack({k: v for k, v in files.items() if k != "datapackage.json"})
    with pytest.raises(PackError, match=r"shootout.csv is missing, though"):
        read_pack({k: v for k, v in files.items() if k != "shootout.csv"})
    header = files["shootout.csv"].splitlines(keepends=True)[0]
    with pytest.raises(PackError, match="one row is needed, found 0"):
        read_pack({**files, "shootout.csv": header})
    with pytest.raises(PackError, match=r"machines.csv: its columns are not .* from 'name' on"):
        read_pack({**files, "machines.csv": files["machines.csv"].replace(b"name", b"title", 1)})
    other = files["datapackage.json"].replace(b'"runs.csv"', b'"../runs.csv"')
    with pytest.raises(PackError, match=r"'../runs.csv' is no table"):
        read_pack({**files, "datapackage.json": other})
    with pytest.raises(PackError, match=r"runs.csv: not UTF-8"):
        read_pack({**files, "runs.csv": b"\xff\xfe\x00"})


def zipped(names: dict[str, bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in names.items():
            archive.writestr(name, content)
    return buffer.getvalue()


def test_archives_that_are_none_are_refused() -> None:
    whole = zipped({"a.csv": b"x" * 1000})
    for content in (b"", b"not a zip", whole[: len(whole) // 2]):
        with pytest.raises(PackError, match="not a whole zip archive"):
            read_zip(content)


def test_archives_that_unpack_too_large_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(data_pack, "MAX_EXPANDED_BYTES", 10_000)
    with pytest.raises(PackError, match="too large when unpacked"):
        read_zip(zipped({"runs.csv": b"0" * 20_000}))
    monkeypatch.setattr(data_pack, "MAX_FILES", 3)
    with pytest.raises(PackError, match="more than 3 files"):
        read_zip(zipped({f"{i}.csv": b"" for i in range(4)}))


def test_a_pack_may_hold_so_many_rows_of_a_table_and_no_more(demo_pack: Pack) -> None:
    files = write_pack(demo_pack)
    most = SCHEMAS["free_rows"].most
    header = files["free_rows.csv"].split(b"\n", 1)[0]
    rows = (
        header + b"\n" + b"\n".join(b"r%d" % n + b"," * header.count(b",") for n in range(most + 5))
    )
    with pytest.raises(PackError, match=rf"free_rows.csv: more than {most} rows"):
        read_pack({**files, "free_rows.csv": rows})


def test_names_in_an_archive_are_not_paths(demo_pack: Pack) -> None:
    inside = {f"../../etc/{name}": content for name, content in write_pack(demo_pack).items()}
    inside["/etc/passwd"] = b"root"
    assert set(read_zip(zipped(inside))) == set(write_pack(demo_pack))


def test_the_description_names_types_and_keys(demo_pack: Pack) -> None:
    description = json.loads(write_pack(demo_pack)["datapackage.json"])
    runs = next(r for r in description["resources"] if r["name"] == "runs")
    types = {field["name"]: field["type"] for field in runs["schema"]["fields"]}
    assert (types["value"], types["place"], types["approximate"], types["started_at"]) == (
        "number",
        "integer",
        "boolean",
        "datetime",
    )
    assert {key["reference"]["resource"] for key in runs["schema"]["foreignKeys"]} == {
        "setups",
        "tasks",
        "rounds",
    }
