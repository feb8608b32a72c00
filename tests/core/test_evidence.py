"""Bounds, ratios noted elsewhere, and samples of models, by hand."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tests.core.helpers import analysed, runs_of
from true_margin.core.checks import Check
from true_margin.core.errors import QuantityError
from true_margin.core.fastest_runs import largest_variance
from true_margin.core.margins import Call
from true_margin.core.notes import NoteStatus, number_ratio, parse_ratio
from true_margin.core.study import Bound


def exps(text: str) -> tuple[float | None, float | None, float | None]:
    """A noted ratio as times as fast: itself, at least, at most."""
    found = parse_ratio(text)
    return tuple(  # type: ignore[return-value]
        None if each is None else round(math.exp(each), 4)
        for each in (found.log_ratio, found.lo, found.hi)
    )


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("42 %", (1.42, 1.415, 1.425)),
        ("42 % faster", (1.42, 1.415, 1.425)),
        ("12 % slower", (0.8929, 0.8889, 0.8969)),
        ("30 % less time", (1.4286, 1.4184, 1.4388)),
        ("3.5", (3.5, 3.45, 3.55)),
        ("3,2 times", (3.2, 3.15, 3.25)),
        ("3.2 times as fast", (3.2, 3.15, 3.25)),
        ("3.50x", (3.5, 3.495, 3.505)),
        ("over 15 times", (None, 15.0, None)),
        ("at least 2x", (None, 2.0, None)),
        ("< 1.1", (None, None, 1.1)),
        ("over 12 % slower", (None, None, 0.8929)),
        ("less than 12 % slower", (None, 0.8929, None)),
        ("−7 %", (0.9346, 0.9302, 0.939)),
    ],
)
def test_ratios_as_people_note_them(text: str, says: tuple[float | None, ...]) -> None:
    assert exps(text) == says


@pytest.mark.parametrize(
    "text", ["", "fast", "0", "0.4 times x", "100 % less time", "-3 times", "4٢ %", "1" * 80, "0 x"]
)
def test_what_is_no_ratio_says_how_to_write_one(text: str) -> None:
    with pytest.raises(QuantityError):
        parse_ratio(text)


@given(st.text(max_size=70))
def test_any_text_is_a_ratio_or_refused(text: str) -> None:
    try:
        found = parse_ratio(text)
    except QuantityError as error:
        assert error.reason
        return
    ends = [end for end in (found.lo, found.log_ratio, found.hi) if end is not None]
    assert ends == sorted(ends)
    assert all(math.isfinite(end) for end in ends)


def test_a_number_needs_exactly_one_kind_of_doubt() -> None:
    digits = number_ratio(1.42, 0.95, digits=2)
    assert (digits.lo, digits.hi) == pytest.approx((math.log(1.415), math.log(1.425)))
    known = number_ratio(1.42, 0.95, u_rel=0.01)
    assert known.hi == pytest.approx(math.log(1.42) + 0.01 * stats.norm.ppf(0.975))
    assert number_ratio(15.0, 0.95, bound=Bound.OVER).lo == pytest.approx(math.log(15))
    for more in ({}, {"digits": 1, "u_rel": 0.1}, {"digits": 0}):
        with pytest.raises(QuantityError):
            number_ratio(0.4, 0.95, **more)


def bounded(value: float, setup: str = "B", sign: str = ">") -> dict[str, Any]:
    return {"setup": setup, "task": "T", "value": value, "bound": sign}


def test_a_bound_gives_one_end_by_the_spread_of_one_run() -> None:
    found = analysed([*runs_of({"A": [100.0, 101.0, 99.0]}), bounded(300.0)])
    margin = found.bound_margin(0, 0, 1)
    assert margin is not None
    theta = float(found.fit.theta[0, 0])
    assert margin.at_least == pytest.approx(math.exp(theta + math.log(300.0)))
    s2 = found.cells.spread[0].cv ** 2  # type: ignore[union-attr]
    assert margin.low is not None
    # Three runs of A, and the one in which the bound was seen.
    assert margin.low.se == pytest.approx(math.sqrt(s2 * (1 / 3 + 1)))
    assert (margin.high, margin.hi, margin.call) == (None, math.inf, Call.CLEAR)
    turned = found.bound_margin(0, 1, 0)
    assert turned is not None
    assert (turned.lo, turned.hi) == (-math.inf, pytest.approx(-margin.lo))


def test_bounds_of_both_sides_make_an_interval_and_contradict_where_they_cross() -> None:
    runs = [*runs_of({"A": [100.0]}), bounded(150.0), bounded(250.0, sign="<")]
    margin = analysed(runs).bound_margin(0, 0, 1)
    assert margin is not None
    assert (margin.at_least, margin.at_most) == pytest.approx((1.5, 2.5))
    crossed = analysed([*runs_of({"A": [100.0]}), bounded(250.0), bounded(150.0, sign="<")])
    assert crossed.bound_margin(0, 0, 1) is None
    assert [flag.check for flag in crossed.flags] == [Check.BOUND_CONTRADICTS] * 2


def test_a_bound_stands_on_its_tasks_ladder_and_below_the_mix() -> None:
    found = analysed([*runs_of({"A": [100.0], "C": [120.0]}), bounded(200.0)])
    (rung,) = found.tasks[0].bounded
    assert (found.study.setups[rung.setup], rung.at_most) == ("B", pytest.approx(0.5))
    assert (rung.best_rank, rung.worst_rank) == (3, 3)
    assert [each.p_fastest is not None for each in found.tasks[0].rungs] == [True, True]
    mix = found.mix
    assert mix is not None
    assert [(off.lacks, off.bounds) for off in mix.standing.off] == [((), (0,))]
    fast = analysed([*runs_of({"A": [100.0]}), bounded(50.0, sign="<")])
    assert [each.p_fastest for each in fast.tasks[0].rungs] == [None]


def test_a_note_stands_in_where_nothing_was_measured() -> None:
    ratios = [
        {"task": "T", "a": "B", "b": "A", "ratio": "3.2x", "source": "a magazine"},
        {"task": "T", "a": "A", "b": "B", "ratio": "2x", "source": "later"},
        {"task": "T", "a": "A", "b": "C", "ratio": "25 %", "source": "a forum"},
    ]
    found = analysed(runs_of({"A": [100.0], "C": [120.0]}), ratios=ratios)
    assert [each.status for each in found.notes] == [
        NoteStatus.STANDS_IN,
        NoteStatus.EARLIER,
        NoteStatus.MEASURED,
    ]
    assert found.notes[2].agrees is True
    (rung,) = found.tasks[0].noted
    assert rung.log_ratio == pytest.approx(math.log(3.2))
    # Notes make no mix and no measured margin.
    assert found.mix is not None
    assert found.mix.noted == ()
    assert len(found.tasks[0].rungs) == 2


def test_models_are_known_less_well_than_the_machines_that_were_timed() -> None:
    found = analysed(runs_of({"A": [100.0, 101.0, 99.0], "B": [120.0, 121.0, 119.0]}))
    table, machines = found.models(0), found.tasks[0].pairs.margin(0, 1)
    assert table is not None
    pair = table.pair(0, 1)
    assert pair.models.se == pytest.approx(math.sqrt(machines.se**2 + 2 * 0.015**2))
    assert pair.own.se == pytest.approx(math.sqrt(machines.se**2 + 4 * 0.015**2))
    spent = machines.se**4 / machines.df + (2 * 0.015**2) ** 2 / 4
    assert pair.models.df == pytest.approx(pair.models.se**4 / spent)
    alike = analysed(runs_of({"A": [100.0], "B": [120.0]}), unit_prior_cv=0.0).models(0)
    assert alike is not None
    assert alike.pair(0, 1).models.se == pytest.approx(alike.variance[0, 1] ** 0.5)


def test_several_samples_tell_how_much_they_differ() -> None:
    times = {f"A{n}": [100.0 * f, 100.0 * f, 100.0 * f] for n, f in enumerate((1, 1.06, 0.95))}
    setups = {name: {"model": "A"} for name in times}
    found = analysed(runs_of({**times, "B": [120.0]}), setups=setups, prior_cv=0.001, prior_df=100)
    assert found.unit_spread.cv > 0.025
    assert found.unit_spread.df > 5.5
    table = found.models(0)
    assert table is not None
    assert (table.names, table.samples) == (("A", "B"), (3, 1))
    # Two states of one machine are one sample, and tell nothing of others.
    same = {name: {"model": "A", "unit": "no 1"} for name in times}
    one = analysed(runs_of({**times, "B": [120.0]}), setups=same)
    assert one.unit_spread.df == 4.0


@pytest.mark.parametrize(("n", "known"), [(2, 1 - 1 / math.pi), (3, 0.559467), (5, 0.447534)])
def test_the_largest_of_some_normals(n: int, known: float) -> None:
    assert largest_variance(n) == pytest.approx(known, abs=1e-6)
    drawn = np.random.default_rng(1).standard_normal((200_000, n)).max(axis=1)
    assert drawn.var() == pytest.approx(known, abs=0.01)
