"""Sentences of Margins from their values alone: each state of each in one line."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime

import pytest

from true_margin.core.cells import Basis, Spread
from true_margin.core.margins import Call, Margin
from true_margin.core.out_of_line import Finding, FindingKind
from true_margin.core.published import Beside
from true_margin.core.same_work import FixedCost
from true_margin.core.samples import UnitSpread
from true_margin.core.settling import Settling
from true_margin.desk.margins.words import (
    beside,
    fairness,
    figures,
    odd,
    pairs,
    plans,
    races,
    rankings,
    rounds,
    same_work,
)

NAMES = ("Tower", "Slim")


def plain(text: str) -> str:
    return text.replace("\u00a0", " ").replace("\u202f", " ")


def margin(ratio: float, call: Call, wide: float = 0.02) -> Margin:
    """Of the first over the second, with an interval of ± ``wide`` on the log scale."""
    log = math.log(ratio)
    return Margin(0, 1, log, wide / 2, 20.0, log - wide, log + wide, call, 0.0, 0.95)


def spread(basis: Basis = Basis.MEASURED) -> Spread:
    return Spread(0.02, 12.0, 9, 0.0, basis)


# ── Pairs ──


@pytest.mark.parametrize(
    ("ratio", "call", "single", "says"),
    [
        (1.5, Call.CLEAR, False, "Tower is 50 % faster than Slim."),
        (1.5, Call.CLEAR, True, "Tower is about 50 % faster than Slim (1 run each)."),
        (1 / 1.5, Call.CLEAR, True, "Slim is about 50 % faster than Tower (1 run each)."),
        (2.5, Call.CLEAR, False, "Tower is 2.5 times as fast as Slim."),
        (1.0, Call.LEVEL, True, "Tower and Slim are equally fast (within 3 %)."),
    ],
)
def test_who_is_faster(ratio: float, call: Call, single: bool, says: str) -> None:
    assert plain(pairs.say_call(margin(ratio, call), NAMES, 0.03, single=single)) == says


@pytest.mark.parametrize(
    ("unmeasured", "broken", "says"),
    [
        (True, True, "one of them was not measured on everything here"),
        (False, True, "they did not do the same job (another codec; edit differs)"),
        (False, False, "no machine was tested in both of their rounds"),
    ],
)
def test_why_two_cannot_be_compared(unmeasured: bool, broken: bool, says: str) -> None:
    told = pairs.cannot_compare(
        NAMES,
        unmeasured=unmeasured,
        broken=broken,
        why=["another codec"],
        apart=[pairs.job_differs("edit", None)],
    )
    assert told == f"Tower and Slim cannot be compared: {says}."


BEHIND = pairs.Behind(
    names=NAMES,
    runs=(3, 1),
    spread=None,
    rounds=None,
    update_cv=0.015,
    factors=(1.0, 1.04),
    sensitive=(),
    between_s=100.0,
    fastest=None,
    topped_up=None,
    confidence=0.95,
)


def test_what_stands_behind_a_figure() -> None:
    assert list(pairs.say_behind(BEHIND)) == ["3 runs of Tower, 1 of Slim"]
    full = replace(
        BEHIND,
        spread=spread(),
        rounds=("spring",),
        factors=(1.5, 1.0),
        sensitive=(("memory", 20.0), ("heat", 300.0)),
        fastest=Call.OPEN,
        topped_up=3,
        confidence=0.99,
    )
    assert [plain(line) for line in pairs.say_behind(full)] == [
        "3 runs of Tower, 1 of Slim",
        "Runs vary by 2.0 % (measured)",
        "Estimated from the spring round (± 1.5 % for the update)",
        "Tower varies 1.5 times as much as the others",
        "Of what is between them, memory may make up to 20 s of the 1:40",
        "Of what is between them, heat may make all of the 1:40",
        "By the fastest run of each: undecided",
        "Runs were added after the plan of 3: judged at 99 %",
    ]


def test_the_working_names_only_what_there_is() -> None:
    bare = pairs.Formula(
        margin(1.5, Call.CLEAR), NAMES, None, 3.0, 0.02, 0.03, (1.0, 1.0), 0.0, False, None
    )
    lines = [plain(line) for line in pairs.say_formula(bare)]
    assert lines[1:] == [
        "Difference of log speeds +0.4055, standard error 0.0100",
        "Student's t at 95 % with 20.0 degrees of freedom gives the interval",
        "Result clear: the interval against the smallest difference that counts, 3 %",
    ]
    more = replace(
        bare,
        spread=spread(),
        shares=(1.4, 0.8),
        rho=0.31,
        rounding=True,
        models=pairs.OfModels(UnitSpread(0.02, 3.0, Basis.ASSUMED), 2.0, 0.03, Call.AHEAD),
    )
    text = plain("\n".join(pairs.say_formula(more)))
    assert "Spread² = (prior 3 × 2 %² + scatter of repeats) / (3 + 9) = (2.00 %)²" in text
    assert "Shares of that variance: Tower 1.40, Slim 0.80 (drawn towards 1)" in text
    assert "Neighbouring runs correlate by 0.31" in text
    assert "Rounding is the same in every run" in text
    assert text.endswith("standard error 0.0300, ahead")


@pytest.mark.parametrize(
    ("need", "have", "basis", "bench_s", "says"),
    [
        (
            Settling(None, worth_it=False),
            (3, 3),
            Basis.MEASURED,
            None,
            "More runs will not settle it: the difference is almost exactly 3 %.",
        ),
        (
            Settling(40, worth_it=False),
            (3, 3),
            Basis.MEASURED,
            7200.0,
            "Not worth it: it would take 40 runs on each, about 2 hours.",
        ),
        (
            Settling(5, worth_it=True),
            (3, 4),
            Basis.MEASURED,
            600.0,
            "Likely settled by 2 more runs on Tower and 1 on Slim, about 10 min.",
        ),
        (
            Settling(5, worth_it=True),
            (5, 4),
            Basis.ASSUMED,
            None,
            "Perhaps settled by 1 more run on Slim, some time.",
        ),
        (
            Settling(3, worth_it=True),
            (3, 3),
            Basis.MEASURED,
            5.0,
            "Likely settled by one more run on each.",
        ),
    ],
)
def test_what_would_settle_a_call(
    need: Settling, have: tuple[int, int], basis: Basis, bench_s: float | None, says: str
) -> None:
    assert plain(pairs.say_settling(need, have, NAMES, basis, bench_s, 0.03)) == says


def test_a_time_that_stands_out() -> None:
    ends = ("6:00", "6:20")
    far = pairs.far_from("0:03", ends, own=True, task="Parade")
    assert far == "0:03 is far from the other runs (6:00 to 6:20)."
    alone = pairs.far_from("0:03", ("6:00", "6:00"), own=False, task="Parade")
    assert alone == "0:03 is far from the other times on Parade (6:00)."
    assert plain(pairs.off_by("7:12", 1.2, 1)) == "7:12 is 20 % slower than the other run."
    assert plain(pairs.off_by("5:00", 0.8, 3)) == "5:00 is 25 % faster than the other 3 runs."
    assert pairs.is_it_a_slip(alone).endswith(" A slip?")


# ── Rankings ──


def test_headlines() -> None:
    assert rankings.one_alone(None, [], []).startswith("Nothing to compare yet")
    assert rankings.one_alone("Tower", ["Slim"], ["Quill"]) == (
        "Only Tower has been timed; by bounds alone: Slim, below."
    )
    assert rankings.one_alone("Tower", [], ["Quill"]) == (
        "Only Tower has been timed; noted elsewhere: Quill, below."
    )
    lead = rankings.one_leads("Tower", "Slim", math.log(1.2), None, (math.log(2.4), "Desk"))
    assert [plain(part) for part in lead] == [
        "Tower is 20 % faster than the runner-up, Slim, and 2.4 times as fast as Desk.",
        "",
    ]
    # A sentence bears two numbers.
    small = rankings.one_leads("Tower", "Slim", math.log(1.04), 0.03, (math.log(2.4), "Desk"))
    assert [plain(part) for part in small] == [
        "Tower is 4.0 % faster than the runner-up, Slim, perhaps by less than 3 %.",
        "It is 2.4 times as fast as Desk.",
    ]
    many = rankings.many_lead(list("ABCDE"), None, same=False, after="Next.")
    assert many == (
        "A, B, C and 2 more share first place.",
        "Too close to rank among themselves. Next.",
    )


@pytest.mark.parametrize(
    ("behind", "amount", "says"),
    [
        (2.0, False, "They are 2 times as fast as the next, Slim."),
        (1.25, False, "The next, Slim, takes 25 % longer."),
        (1.25, True, "The next, Slim, comes to 20 % less."),
    ],
)
def test_who_comes_next(behind: float, amount: bool, says: str) -> None:
    assert plain(rankings.next_after("Slim", behind, amount=amount)) == says


def test_what_makes_no_difference_and_what_it_saves() -> None:
    assert rankings.all_the_same(3, 45.0, None) == "All 3 setups take the same time, 0:45.0."
    assert (
        rankings.all_the_same(3, None, "84 tracks") == "All 3 setups come to the same, 84 tracks."
    )
    assert rankings.all_the_same(1, None, None) == "All 1 setup are equally fast on the mix."
    saved = rankings.say_saved(240.0, 360.0, 1.0, several=True)
    assert plain(saved) == "About 4:00 instead of 6:00. 2:00 saved each time."
    assert rankings.say_shared(0, 2, same=True) == "1–3 share first place"
    assert rankings.say_shared(3, 4, same=True) == "4–5 equally fast"
    assert rankings.say_shared(3, 4, same=False) == "4–5 too close to rank"
    assert rankings.ahead_by_bound([]) == ""
    assert rankings.ahead_by_bound(["A", "B"]).strip() == (
        "By a bound alone, A and B are faster still."
    )


NO_FAILURES = rankings.Failures(0, ())


@pytest.mark.parametrize(
    ("lacks", "cannot", "bounded", "failures", "mix", "says"),
    [
        (["Parade"], [], [], NO_FAILURES, False, "not tested"),
        (["Parade", "Stills"], [], [], NO_FAILURES, True, "not tested on Parade and Stills"),
        (
            [],
            ["Parade"],
            [],
            rankings.Failures(2, ("out of disk",)),
            True,
            "failed on Parade 2 of 2: out of disk",
        ),
        ([], ["Parade"], [], rankings.Failures(1, ()), False, "failed 1 of 1"),
        (
            [],
            [],
            ["Parade (more than 2:00:00)"],
            NO_FAILURES,
            True,
            "known by a bound alone on Parade (more than 2:00:00)",
        ),
        (
            [],
            [],
            [],
            NO_FAILURES,
            True,
            "tested only in another round; no machine links it to the baseline's",
        ),
    ],
)
def test_why_a_setup_is_not_ranked(
    lacks: list[str],
    cannot: list[str],
    bounded: list[str],
    failures: rankings.Failures,
    mix: bool,
    says: str,
) -> None:
    assert rankings.why_off(lacks, cannot, bounded, failures, mix=mix) == says


def test_what_would_rank_it() -> None:
    whole = rankings.say_mend("Parade", "Slim", 600.0, 2, tied=True, again=False)
    assert whole == "run Parade on Slim (about 10 min), then 2 more tasks"
    apart = rankings.say_mend("Parade", "Slim", None, 2, tied=False, again=True)
    assert apart == "run Parade on Slim once more in the latest round, to link it to the others"
    assert rankings.say_bounds(7200.0, None, amount=False) == "more than 2:00:00"
    assert rankings.say_bounds(None, 84.0, amount=True) == "less than 84"
    assert rankings.say_by_bound(None, 3.2, None, "Desk") == (
        "at least 3.20 times as fast as Desk, by a bound alone"
    )
    assert rankings.say_by_bound("more than 2:00:00", None, None, None) == (
        "more than 2:00:00: not tied to the baseline, by a bound alone"
    )
    job = rankings.another_job("Parade", "codec", ("H.264", "HEVC"))
    assert job == (
        "not the same job as the baseline's on Parade: codec differs, H.264 against HEVC"
    )
    assert rankings.say_specs(12, 32.0, "battery", None) == "12 cores, 32 GB, battery"
    assert rankings.say_specs(None, None, "mains", 4.5) == "4.5 GHz"


# ── Fairness, plans, rounds, odd results ──


@pytest.mark.parametrize(
    ("caveats", "broken", "unknown", "says"),
    [
        (0, 0, False, "Fair."),
        (1, 0, False, "Fair, with 1 caveat."),
        (0, 0, True, "Fair as far as noted."),
        (2, 3, True, "3 pairs not comparable, with 2 caveats."),
    ],
)
def test_whether_the_test_was_fair(caveats: int, broken: int, unknown: bool, says: str) -> None:
    assert fairness.say_verdict(caveats, broken, unknown=unknown) == says


def test_what_is_known_of_the_job_and_what_could_matter() -> None:
    known = fairness.say_known("timeline", 3, 1, 0, 2)
    assert known == (
        "The edit, of 6 jobs done: the same by file or note in 3, looked at by a person in 1, "
        "not known in 2."
    )
    caveat = fairness.say_caveat("room", {"26 °C": ["Slim", "Quill"]}, "20 °C", "Tower")
    assert caveat == "Room: 26 °C on Slim and Quill, against 20 °C on Tower."
    assert fairness.say_caveat("room", {"": ["Slim"]}, "20 °C", "Tower") == "Room: 20 °C."
    assert fairness.fit_cell(None) == "as listed"
    assert fairness.fit_cell("a very long description") == "as noted"
    assert fairness.known_on(0, 3) == "not noted"
    assert fairness.known_on(2, 3) == "known on 2 of 3 tasks"


@pytest.mark.parametrize(
    ("difference", "runs", "hours", "says"),
    [
        (0.05, [], 0.0, "Add the tasks first: then this says how many runs settle a difference"),
        (0.05, [None], 0.0, "Not worth it: a difference of 5 % would take more than"),
        (0.05, [2, 7], 8.1, "To settle a difference of 5 %, plan 2 to 7 runs per setup on each"),
        (0.05, [1, None], 0.0, "To settle a difference of 5 %, plan 1 run per setup on each task."),
        (0.02, [3], 0.0, "To settle that a difference of 2 % is too small to matter, plan 3 runs"),
    ],
)
def test_runs_before_any_data(
    difference: float, runs: list[int | None], hours: float, says: str
) -> None:
    assert plain(plans.say_before_data(difference, 0.03, runs, hours)).startswith(says)


def test_what_was_planned_and_what_was_done_otherwise() -> None:
    on = datetime(2026, 11, 2, tzinfo=UTC)
    plan = plans.Planned(on, 3, 2, ("Parade", "Stills"), 0.95, 0.03, "Ten seconds.")
    said = plain(plans.say_planned(plan))
    assert "3 runs of each of 2 setups on Parade and Stills, judged at 95 %" in said
    assert said.endswith("a difference matters from 3 %. What would count: Ten seconds.")
    assert plain(plans.judged_at(0.99, 0.95)) == "Judged at 99 % instead of 95 %."
    assert plans.runs_planned(None, 3).startswith("Judged as if no runs had been planned")
    assert plans.say_voided(1) == "1 run was voided, with its reason."
    assert plans.other_runs([("Slim", "Parade", 2)], 3, more=False) == (
        "Fewer runs than the 3 planned: Slim on Parade (2)."
    )
    assert plans.say_otherwise([]) == "Nothing was done otherwise than planned."
    assert plans.say_otherwise(["A.", "B."]) == "Done otherwise than planned: A. B."


@pytest.mark.parametrize(
    ("versions", "effect", "says"),
    [
        (("6.1", "6.3"), (0.1, 0.05, 0.15), "The update to Heddle 6.3 made it 11 % faster"),
        (("6.1", "6.3"), (-0.1, -0.15, -0.05), "The update to Heddle 6.3 made it 11 % slower"),
        (("6.1", "6.3"), (0.0, -0.1, 0.1), "No difference found between Heddle 6.3 and 6.1."),
        ((None, None), (0.0, -0.1, 0.1), "No difference found between Heddle in the autumn round"),
        ((None, None), (0.1, 0.05, 0.15), "Heddle was 11 % faster in the autumn round than in the"),
    ],
)
def test_what_an_update_did(
    versions: tuple[str | None, str | None], effect: tuple[float, float, float], says: str
) -> None:
    told = rounds.say_update("Heddle", versions, ("spring", "autumn"), effect)
    assert plain(told).startswith(says)


def test_how_well_machines_agree_on_an_update() -> None:
    assert plain(rounds.say_uneven(0.017, Basis.PARTLY)).startswith(
        "Machines differ by about 1.7 % in what they gain from an update (partly measured)"
    )
    assert "less than 0.1 %" in plain(rounds.say_misfit(0.0001, disagree=True))
    assert plain(rounds.say_misfit(0.42, disagree=False)).endswith("(p = 0.42).")


ODD_NAMES = odd.OddNames("Slim", "Tower", "Parade", "Heddle", "Sprocketry", "spring", "")


@pytest.mark.parametrize(
    ("kind", "value", "limit", "headline", "rest"),
    [
        (
            FindingKind.BETTER_LOSES,
            -0.1,
            0.0,
            "Slim should win on Parade but is 11 % slower than Tower,",
            "although every spec is equal or better.",
        ),
        (
            FindingKind.APP_RATIO,
            0.5,
            0.1,
            "Slim gains far more from Heddle:",
            "65 % faster in Sprocketry; the others: 11 % faster.",
        ),
        (
            FindingKind.BRIDGE,
            -0.1,
            -0.02,
            "Slim gained more from the Heddle update than the others:",
            "11 % faster since the spring round, not 2.0 % faster.",
        ),
        (FindingKind.RESTLESS, 2.5, 1.0, "Slim's times vary 2.5 times as much as the others'.", ""),
        (FindingKind.NOTHING_APART, 0.0, 0.0, "Parade: every machine takes the same time.", ""),
    ],
)
def test_what_looks_odd(
    kind: FindingKind, value: float, limit: float, headline: str, rest: str
) -> None:
    finding = Finding(kind, 0, 1, 2, 3, value, limit, 0)
    said = odd.say_odd(finding, ODD_NAMES)
    assert (plain(said.headline), plain(said.rest).replace(" than in", " in")) == (headline, rest)
    assert said.causes


def test_how_many_odd_results_are_left() -> None:
    assert odd.say_count(0, any_found=False) == "Nothing looks odd."
    assert odd.say_count(0, any_found=True) == "Every odd result was looked into."
    assert odd.say_count(1, any_found=True) == "1 result does not fit the others."
    assert odd.say_count(3, any_found=True) == "3 results do not fit the others."


# ── Figures, races, same work, beside ──


def test_the_working_of_a_value_says_what_limits_it() -> None:
    timed = figures.Measured(timed=True, unit=None)
    one = figures.of_value((360.0, 350.0, 370.0), timed, 1, 8.0, 0.95, earlier=False)
    assert (one.title, one.value) == ("Time", "6:00, 5:50 to 6:10")
    assert one.limits == "One run only: a second would show whether it repeats."
    old = figures.of_value((360.0, 350.0, 370.0), timed, 3, math.inf, 0.95, earlier=True)
    assert old.limits is not None
    assert old.limits.startswith("It is an estimate from an earlier round")
    assert plain(old.inputs[1]) == "95 % interval, Student's t with the normal limit"
    amount = figures.Measured(timed=False, unit="tracks")
    many = figures.of_value((84.0, 80.0, 88.0), amount, 3, 8.0, 0.95, earlier=False)
    assert (many.title, many.value, many.limits) == (
        "Amount",
        "84 tracks, 80 tracks to 88 tracks",
        None,
    )


def test_the_working_of_ranks_chances_and_spreads() -> None:
    rank = figures.of_rank(2, 4, 7, 0.95)
    assert (rank.value, rank.limits) == ("2 to 4 of 7", "2 cannot be separated from it yet.")
    assert figures.of_rank(1, 1, 7, 0.95).limits is None
    assert figures.of_chance(None, 1, 8.0).value == "not told"
    assert "between the two" in figures.of_chance(0.6, 2, 8.0).formula
    assert "simulated outcomes" in figures.of_chance(0.6, 3, 8.0).formula
    assumed = figures.of_spread(spread(Basis.ASSUMED), 0.02, 3.0)
    assert assumed.limits == "No repeat yet: it is only assumed."
    assert figures.of_spread(spread(), 0.02, 3.0).limits is None
    assert figures.of_completion(2, 3, 0.2, 0.94, 0.95).value == "2 of 3 attempts"


def test_the_moments_of_a_race() -> None:
    assert races.takes_lead("Slim", from_start=True) == "Slim leads from the start."
    assert plain(races.fails_at("Slim", 75.0, 0.4)) == "Slim fails at 1:15, 40 % done."
    assert plain(races.half_way("Slim", 75.0, ("Tower", 12.04))) == (
        "Slim is half way first, at 1:15, Tower 12 s later."
    )
    assert races.half_way("Slim", 75.0, None) == "Slim is half way first, at 1:15."
    assert plain(races.done_after("Slim", 90.0)) == "Slim is done, 1:30 after the first."
    assert races.drawn_straight(["A", "B"], everyone=True).startswith(
        "No progress was noted of all of them"
    )
    assert plain(races.say_end(75.0, 0.63)) == "failed at 1:15, 63 % done"


@pytest.mark.parametrize(
    ("ratio", "call", "says"),
    [
        (1.5, Call.CLEAR, "Sprocketry takes 1.5 times as long as Heddle on Slim: 1.4"),
        (1 / 1.5, Call.CLEAR, "Heddle takes 1.5 times as long as Sprocketry on Slim: 1.4"),
        (1.05, Call.AHEAD, "Sprocketry takes 1.05 times as long as Heddle on Slim, perhaps by"),
        (1.0, Call.LEVEL, "Heddle and Sprocketry take the same time on Slim."),
        (1.01, Call.OPEN, "Heddle and Sprocketry: too close to call on Slim."),
    ],
)
def test_the_same_work_twice(ratio: float, call: Call, says: str) -> None:
    told = same_work.say_same_work(margin(ratio, call), ("Heddle", "Sprocketry"), "Slim")
    assert told.replace("1.50", "1.5").startswith(says)


def test_start_up_and_rate() -> None:
    cost = FixedCost((12.0, 8.0, 16.0), (0.5, 0.4, 0.6))
    assert same_work.say_cost(cost, None) == (
        "0:12 of start-up (0:08 to 0:16), then 30.0 s for a minute of timeline (24.0 to 36.0)"
    )
    none = FixedCost((1.0, -2.0, 4.0), (0.5, 0.4, 0.6))
    assert same_work.say_cost(none, "photos").startswith("no start-up that shows (at most ")
    assert same_work.say_cost(none, "photos").endswith(
        "0.50 s for each of the photos (0.40 to 0.60)"
    )


def test_what_stands_beside_speed() -> None:
    assert beside.say_pairs_agree("Cores", 0, 0, price=False) == (
        "Cores tells these setups not apart."
    )
    assert beside.say_pairs_agree("Price", 11, 13, price=True).startswith(
        "In 11 of 13 pairs, the dearer one is faster."
    )
    inside = Beside(1.5, 1.52, 1.45, 1.6, inside=True, off=1.0)
    assert beside.say_published(inside, alone=False, timed=True) == (
        "Agrees with ours: 1.52 times as fast, 1.45 to 1.60."
    )
    outside = Beside(2.0, 1.52, 1.45, 1.6, inside=False, off=1.25)
    assert plain(beside.say_published(outside, alone=False, timed=True)) == (
        "25 % higher than our interval (1.52 times as fast, 1.45 to 1.60)."
    )
