"""The demo's files are what the script draws, and their schema holds."""

from __future__ import annotations

import pytest
from demo.draw import PACKS
from frictionless import Package

from tests.conftest import PROJECT
from true_margin.exchange.data_pack import read_folder, write_pack


@pytest.mark.parametrize("name", PACKS)
def test_the_script_draws_the_committed_files(name: str) -> None:
    assert write_pack(PACKS[name]()) == read_folder(PROJECT / "demo" / name)


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("name", PACKS)
def test_the_files_hold_to_their_schema(name: str) -> None:
    report = Package(str(PROJECT / "demo" / name / "datapackage.json")).validate()
    assert report.valid, report.flatten(["title", "rowNumber", "fieldName", "note"])
