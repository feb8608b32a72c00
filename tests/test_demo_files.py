"""The demo's files are what the script draws, and their schema holds."""

from __future__ import annotations

import importlib.util
from types import ModuleType

import pytest
from frictionless import Package

from tests.conftest import DEMO, PROJECT
from true_margin.exchange.data_pack import read_folder, write_pack


def drawing_script() -> ModuleType:
    spec = importlib.util.spec_from_file_location("draw", PROJECT / "demo" / "draw.py")
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def test_the_script_draws_the_committed_files() -> None:
    drawn = write_pack(drawing_script().draw_pack())
    assert drawn == read_folder(DEMO)


@pytest.mark.filterwarnings("ignore")
def test_the_files_hold_to_their_schema() -> None:
    report = Package(str(DEMO / "datapackage.json")).validate()
    assert report.valid, report.flatten(["title", "rowNumber", "fieldName", "note"])
