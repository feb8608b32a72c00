"""Specs as a block or a file: across, down, ragged, with units, and lscpu."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.errors import QuantityError
from true_margin.core.spec_rows import SPECS
from true_margin.core.specs import find_spec, parse_spec
from true_margin.exchange.spec_table import SpecTableError, read_specs

ACROSS = "\tTarn\tHalyard\nCores\t6\t12\nRAM\t24 GB\t32 GB\nColour\tred\tblue\n"
DOWN = "machine,Cores,RAM,Colour\nTarn,6,24 GB,red\nHalyard,12,32 GB,blue\n"


@pytest.mark.parametrize(
    ("text", "layout"), [(ACROSS, "across"), (DOWN, "down"), (DOWN.replace(",", ";"), "down")]
)
def test_machines_across_or_down_say_the_same(text: str, layout: str) -> None:
    table = read_specs(text)
    assert (table.layout, table.machines, table.unknown) == (
        layout,
        ("Tarn", "Halyard"),
        ("Colour",),
    )
    assert [(e.machine, e.spec.field, e.text) for e in table.entries] == [
        ("Tarn", "cores", "6"),
        ("Halyard", "cores", "12"),
        ("Tarn", "memory_gb", "24 GB"),
        ("Halyard", "memory_gb", "32 GB"),
    ]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "Nothing was pasted"),
        ("Tarn\tHalyard", "One row or column alone"),
        ("a\tb\nc\td", "No row or column is called like a spec"),
        ("\tTarn\tHalyard\nCores\t6\n", "Row 2 has 2 cells where the first has 3"),
        ("\tTarn\tTarn\nCores\t6\t7\n", "a name of its own"),
        ("\tTarn\t\nCores\t6\t7\n", "a name of its own"),
        ("{", "not JSON"),
        ("{}", 'needs a "name"'),
        ('"a\tb\nCores\t6', "check the quotes"),
    ],
)
def test_blocks_that_are_off_say_why(text: str, says: str) -> None:
    with pytest.raises(SpecTableError, match=says):
        read_specs(text)


def test_a_spec_file() -> None:
    table = read_specs(
        json.dumps({"name": "Tarn", "cores": 6, "memory_gb": 24.0, "OS": "Lathe", "fans": []})
    )
    assert [(e.spec.field, e.text) for e in table.entries] == [
        ("cores", "6"),
        ("memory_gb", "24.0"),
        ("system", "Lathe"),
    ]
    assert table.unknown == ("fans",)


def test_the_text_of_lscpu() -> None:
    nested = {
        "field": "Model name:",
        "data": "Obol 6",
        "children": [
            {"field": "Core(s) per socket:", "data": "6"},
            {"field": "Socket(s):", "data": "2"},
            {"field": "CPU max MHz:", "data": "4200,0000"},
        ],
    }
    table = read_specs(
        json.dumps({"lscpu": [{"field": "Vendor ID:", "data": "x", "children": [nested]}]})
    )
    values = {e.spec.field: parse_spec(e.spec, e.text) for e in table.entries}
    assert values == {"processor": "Obol 6", "cores": 12, "raised_clock_ghz": 4.2}


@pytest.mark.parametrize(
    ("title", "text", "value"),
    [
        ("Cores", "8", 8),
        ("Cores", "8 cores", 8),
        ("Clock", "3,6 GHz", 3.6),
        ("Clock", "3600 MHz", 3.6),
        ("Storage", "2 TB", 2000.0),
        ("Memory", "512 MB", 0.512),
        ("Form", " laptop ", "laptop"),
        ("Note", "–", None),
        ("Cores", "", None),
        ("Weight", "1300 g", 1.3),
        ("Year", "2026", 2026),
        ("Noise class", "Quiet", "quiet"),
        ("Ports", "4 USB; network, 4 USB", ["4 USB", "network"]),
        ("Supported until", "2031-06", "2031-06"),
        ("Read, measured", "6.9 GB/s", 6900.0),
    ],
)
def test_specs_are_read_in_their_unit(title: str, text: str, value: object) -> None:
    spec = find_spec(title, SPECS)
    assert spec is not None
    assert parse_spec(spec, text) == value


@pytest.mark.parametrize(
    ("title", "text", "says"),
    [
        ("Cores", "0", "at least 1"),
        ("Cores", "2.5", "whole number"),
        ("Cores", "six", "not a number"),
        ("Memory", "3 GHz", "does not fit"),
        ("Clock", "3 TB", "does not fit"),
        ("Memory", "-4", "more than 0"),
        ("Memory", "٤", "not a number"),
        ("Cores", "1e9", "does not fit"),
        ("Form", "x" * 121, "longer than"),
        ("Year", "26", "at least 1970"),
        ("Noise class", "roaring", "none of: silent, quiet"),
        ("Supported until", "soon", "no year or month"),
        ("How obtained", "stolen", "none of"),
        ("Memory channels", "0", "at least 1"),
        ("Weight", "900 kg", "at most 500"),
    ],
)
def test_specs_that_cannot_be_are_refused(title: str, text: str, says: str) -> None:
    spec = find_spec(title, SPECS)
    assert spec is not None
    with pytest.raises(QuantityError, match=says):
        parse_spec(spec, text)


@given(st.text(max_size=120))
def test_any_text_is_specs_or_refused(text: str) -> None:
    try:
        table = read_specs(text)
    except SpecTableError as error:
        assert error.reason
        return
    assert table.machines
