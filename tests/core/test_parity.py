"""Parity as the table of the computation page has it, and its exceptions."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.parity import (
    TABLE,
    Condition,
    ConditionDifference,
    Facts,
    Sensitivity,
    Subject,
    Weight,
    add_sensitivities,
    compare_parity,
    judged_apart,
    worst_weight,
)

A, M, B = Weight.ALLOWED, Weight.CONFOUNDS, Weight.BREAKS
HARDWARE = [Condition.PROCESSOR, Condition.GRAPHICS, Condition.MEMORY, Condition.DRIVES]
OWN = [Subject.PROCESSOR, Subject.GRAPHICS, Subject.MEMORY, Subject.STORAGE]
STATE = [
    Condition.BACKGROUND,
    Condition.CACHES,
    Condition.BOOT,
    Condition.SCREEN,
    Condition.TIMING,
    Condition.POWER,
]


def weight(
    condition: Condition, subject: Subject, *, across_rounds: bool = False, **more: object
) -> Weight:
    one = Facts({condition: "this"}, **more)  # type: ignore[arg-type]
    other = Facts({condition: "that"}, **more)  # type: ignore[arg-type]
    (found,) = compare_parity(one, other, subject, across_rounds=across_rounds)
    assert (found.here, found.there) == ("this", "that")
    return found.weight


@pytest.mark.parametrize("subject", Subject)
@pytest.mark.parametrize("condition", HARDWARE)
def test_hardware(condition: Condition, subject: Subject) -> None:
    on_trial = subject is Subject.MACHINE or (
        subject in OWN and HARDWARE.index(condition) == OWN.index(subject)
    )
    assert weight(condition, subject) is (A if on_trial else M)


@pytest.mark.parametrize("subject", Subject)
@pytest.mark.parametrize("condition", [Condition.SYSTEM, Condition.DRIVER])
def test_system_and_drivers(condition: Condition, subject: Subject) -> None:
    assert weight(condition, subject) is (A if subject is Subject.SYSTEM else M)
    expected = A if subject in (Subject.SYSTEM, Subject.MACHINE) else M
    assert weight(condition, subject, only_system=True) is expected


@pytest.mark.parametrize("subject", Subject)
def test_app_versions(subject: Subject) -> None:
    assert weight(Condition.APP_VERSION, subject) is (A if subject is Subject.APP else M)
    across = M if subject is Subject.SETTING else A
    assert weight(Condition.APP_VERSION, subject, across_rounds=True) is across


@pytest.mark.parametrize("subject", Subject)
def test_encoder_paths(subject: Subject) -> None:
    in_common = frozenset({"software", "hardware"})
    alone = {Subject.APP: A, Subject.MEMORY: B, Subject.STORAGE: B, Subject.SETTING: B}
    assert weight(Condition.ENCODER, subject) is alone.get(subject, A)
    assert weight(Condition.ENCODER, subject, encoders=in_common) is (
        A if subject is Subject.APP else B
    )


@pytest.mark.parametrize("subject", Subject)
@pytest.mark.parametrize("condition", STATE)
def test_states_muddy_whatever_is_on_trial(condition: Condition, subject: Subject) -> None:
    assert weight(condition, subject) is M


@pytest.mark.parametrize("subject", Subject)
def test_power_may_be_what_a_setup_is_about(subject: Subject) -> None:
    found = weight(Condition.POWER, subject, about=frozenset({Condition.POWER}))
    assert found is (A if subject is Subject.MACHINE else M)


@pytest.mark.parametrize("subject", Subject)
@pytest.mark.parametrize("condition", [Condition.TIMELINE, Condition.SETTINGS, Condition.OUTPUT])
def test_not_the_same_job(condition: Condition, subject: Subject) -> None:
    softer = subject is Subject.APP and condition is not Condition.TIMELINE
    assert weight(condition, subject) is (M if softer else B)
    if subject is Subject.SETTING:
        assert weight(condition, subject, about=frozenset({condition})) is A


@pytest.mark.parametrize(
    ("here", "there", "differs"), [("20", "25", False), ("20", "25.1", True), ("26", "20.5", True)]
)
def test_rooms_must_be_far_apart(here: str, there: str, differs: bool) -> None:
    found = compare_parity(
        Facts({Condition.ROOM: here}), Facts({Condition.ROOM: there}), Subject.MACHINE
    )
    assert bool(found) is differs


def test_what_one_side_does_not_know_is_no_difference() -> None:
    assert compare_parity(Facts({Condition.BOOT: "yes"}), Facts({}), Subject.MACHINE) == ()


def test_the_heaviest_comes_first() -> None:
    one = Facts({Condition.PROCESSOR: "a", Condition.BOOT: "yes", Condition.TIMELINE: "x"})
    other = Facts({Condition.PROCESSOR: "b", Condition.BOOT: "no", Condition.TIMELINE: "y"})
    found = compare_parity(one, other, Subject.MACHINE)
    assert [d.weight for d in found] == [B, M, A]
    assert worst_weight(found) is B
    assert worst_weight(()) is A


def test_every_condition_has_a_weight_for_every_subject() -> None:
    assert set(TABLE) == set(Condition)
    assert all(set(row) == set(Subject) for row in TABLE.values())


@given(
    st.dictionaries(
        st.sampled_from([c for c in Condition if c is not Condition.ROOM]), st.sampled_from("xy")
    ),
    st.dictionaries(
        st.sampled_from([c for c in Condition if c is not Condition.ROOM]), st.sampled_from("xy")
    ),
    st.sampled_from(Subject),
)
def test_the_other_way_round_weighs_the_same(
    one: dict[Condition, str], other: dict[Condition, str], subject: Subject
) -> None:
    there = compare_parity(Facts(one), Facts(other), subject)
    back = compare_parity(Facts(other), Facts(one), subject)
    assert [(d.condition, d.weight, d.here) for d in there] == [
        (d.condition, d.weight, d.there) for d in back
    ]
    assert all(d.here != d.there for d in there)


def sensitive(
    here: dict[Condition, str], there: dict[Condition, str], *told: Sensitivity
) -> list[tuple[str, str, str, Weight, str]]:
    one, other = Facts(here), Facts(there)
    known = compare_parity(one, other, Subject.MACHINE)
    found = add_sensitivities(known, one, other, told)
    return [(d.condition.value, d.here, d.there, d.weight, d.why) for d in found]


WHY = "this task is sensitive to memory, up to 20 s"
MEMORY = Sensitivity("memory", 20.0)


def test_what_a_task_is_sensitive_to_muddies_even_what_is_on_trial() -> None:
    found = sensitive({Condition.MEMORY: "32 GB"}, {Condition.MEMORY: "16 GB"}, MEMORY)
    assert found == [("memory", "32 GB", "16 GB", M, WHY)]


def test_known_alike_on_both_sides_leaves_the_pair_as_it_is() -> None:
    assert sensitive({Condition.MEMORY: "32 GB"}, {Condition.MEMORY: "32 GB"}, MEMORY) == []


@pytest.mark.parametrize(
    ("here", "there", "words"),
    [
        ({}, {}, ("not noted", "not noted")),
        ({Condition.MEMORY: "32 GB"}, {}, ("32 GB", "not noted")),
        ({}, {Condition.MEMORY: "16 GB"}, ("not noted", "16 GB")),
    ],
)
def test_what_is_not_noted_never_counts_as_alike(
    here: dict[Condition, str], there: dict[Condition, str], words: tuple[str, str]
) -> None:
    assert sensitive(here, there, MEMORY) == [("memory", *words, M, WHY)]


def test_something_of_ones_own_is_never_known_to_be_alike() -> None:
    own = Sensitivity("the weather", 70.0)
    found = sensitive({}, {}, own, MEMORY)
    assert [(each[0], each[1], each[4]) for each in found] == [
        (
            "what the task is sensitive to",
            "the weather",
            "this task is sensitive to the weather, up to 1:10",
        ),
        ("memory", "not noted", WHY),
    ]


def test_a_break_stays_a_break_whatever_the_task_is_sensitive_to() -> None:
    told = Sensitivity("output", 5.0)
    (found,) = sensitive({Condition.OUTPUT: "HEVC"}, {Condition.OUTPUT: "H.264"}, told)
    assert found[3] is B


@pytest.mark.parametrize(("nearly", "does"), [(True, M), (False, B)])
def test_a_persons_word_is_a_difference_of_its_own(nearly: bool, does: Weight) -> None:
    said = judged_apart(nearly, "no titles")
    assert isinstance(said, ConditionDifference)
    assert (said.condition, said.weight, said.why, said.there) == (
        Condition.WORK,
        does,
        "no titles",
        "",
    )
    assert worst_weight((said,)) is does
