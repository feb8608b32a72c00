"""The demo's files are what the script draws, and their schema holds."""

from __future__ import annotations

import pytest
from demo.draw import draw_pack
from frictionless import Package

from tests.conftest import DEMO
from true_margin.exchange.data_pack import read_folder, write_pack


def test_the_script_draws_the_committed_files() -> None:
    drawn = write_pack(draw_pack())
    assert drawn == read_folder(DEMO)


@pytest.mark.filterwarnings("ignore")
def test_the_files_hold_to_their_schema() -> None:
    report = Package(str(DEMO / "datapackage.json")).validate()
    assert report.valid, report.flatten(["title", "rowNumber", "fieldName", "note"])
