"""Needs: read as typed, met or missed, and said in words."""

from __future__ import annotations

import pytest

from true_margin.core.errors import QuantityError
from true_margin.core.needs import Need, Seen, miss, read_need, say_need
from true_margin.core.spec_rows import SPECS, STATES

ROWS = (*SPECS, *STATES)
SEEN = Seen(
    rows={
        "form": "Laptop",
        "memory_gb": 16.0,
        "noise": "audible",
        "system": "Fennel 12",
        "supported_until": "2030",
        "media_encode": ["H.264", "HEVC"],
        "power": "mains",
        "only_system": True,
        "cores": 8,
    },
    noise_db=38.5,
    failures=(1, 7),
    playback="half",
    trials={"scrub": "slow"},
    troubles={"crash": 2},
)


@pytest.mark.parametrize(
    ("about", "relation", "text", "missed"),
    [
        ("form", "is", "laptop", None),
        ("form", "is not", "laptop", "type Laptop"),
        ("memory_gb", "at least", "16 GB", None),
        ("memory_gb", "at least", "24", "memory 16 GB"),
        ("cores", "at most", "6", "cores 8"),
        ("noise", "at most", "audible", None),
        ("noise", "at most", "quiet", "noise audible"),
        ("noise_db", "at most", "40", None),
        ("noise_db", "at most", "38", "noise 38.5 dB"),
        ("power", "is", "battery", "power source mains"),
        ("system", "contains", "fennel", None),
        ("system", "contains", "borage", "system Fennel 12"),
        ("supported_until", "not before", "2030-06", None),
        ("supported_until", "not before", "2031", "supported until 2030"),
        ("media_encode", "includes", "hevc", None),
        ("media_encode", "includes", "HEVC, AV1", "encodes in hardware H.264, HEVC"),
        ("media_decode", "includes", "HEVC", "decodes in hardware not known"),
        ("only_system", "is", "yes", None),
        ("playback", "at least", "half", None),
        ("playback", "at least", "full", "playback half"),
        ("trial:scrub", "at least", "smooth", "editing trial, scrub slow"),
        ("trial:seek", "at least", "slow", "editing trial, seek not known"),
        ("trouble:crash", "none", None, "crash noted 2 times"),
        ("trouble:work lost", "none", None, None),
        ("failures", "none", None, "1 of 7 attempts failed"),
    ],
)
def test_needs_are_met_or_missed(
    about: str, relation: str, text: str | None, missed: str | None
) -> None:
    assert miss(read_need(about, relation, text, ROWS), SEEN, ROWS) == missed


@pytest.mark.parametrize(
    ("about", "relation", "text", "words"),
    [
        ("elbow_room", "is", "wide", "no such row"),
        ("memory_gb", "includes", "16", "at least or at most or is, not 'includes'"),
        ("memory_gb", "at least", "much", "is not a number"),
        ("memory_gb", "at least", "", "say what is needed"),
        ("noise", "at most", "deafening", "none of: silent, quiet, audible, loud"),
        ("trial:scrub", "at least", "fine", "none of: stutters, slow, smooth"),
        ("trial:juggling", "at least", "smooth", "no such row"),
    ],
)
def test_needs_that_make_no_sense_are_refused(
    about: str, relation: str, text: str, words: str
) -> None:
    with pytest.raises(QuantityError, match=words):
        read_need(about, relation, text, ROWS)


@pytest.mark.parametrize(
    ("need", "words"),
    [
        (Need("memory_gb", "at least", 16.0), "memory at least 16 GB"),
        (Need("form", "is", "laptop"), "type laptop"),
        (Need("noise_db", "at most", 38.0), "noise at most 38 dB"),
        (Need("trouble:crash", "none"), "no trouble noted: crash"),
        (Need("trial:scrub", "at least", "smooth"), "editing trial, scrub at least smooth"),
        (Need("supported_until", "not before", "2031"), "supported until not before 2031"),
    ],
)
def test_needs_in_words(need: Need, words: str) -> None:
    assert say_need(need, ROWS) == words
