"""The race in the page is where the core says that everybody is."""

from __future__ import annotations

import math
import random

import pytest

from tests.web.conftest import Call
from true_margin.core.checks import ProgressPoint
from true_margin.core.race import Runner, done_at, lead_at, places, reached_at, runner_of


def some_race(seed: int) -> list[Runner]:
    rng = random.Random(seed)
    made = []
    for _ in range(rng.randint(1, 6)):
        end = rng.uniform(20.0, 600.0)
        marks = [
            ProgressPoint(rng.uniform(1.0, end), rng.uniform(0.02, 0.98))
            for _ in range(rng.randint(0, 5))
        ]
        runner = runner_of(marks, end, rng.choice((1.0, 1.0, 0.6)))
        assert runner is not None
        made.append(runner)
    return made


@pytest.mark.parametrize("seed", range(12))
def test_everybody_is_where_the_core_says(call: Call, seed: int) -> None:
    runners = some_race(seed)
    points = [runner.points for runner in runners]
    for share in (0.0, 0.07, 0.3, 0.5, 0.77, 1.0, 1.2):
        at = share * max(runner.end_s for runner in runners)
        for runner in runners:
            assert call("race.doneAt", runner.points, at) == pytest.approx(done_at(runner, at))
            told = call("race.reachedAt", runner.points, share)
            assert (math.inf if told is None else told) == pytest.approx(reached_at(runner, share))
        assert call("race.placesAt", points, at) == places(runners, at)
        said, lead = call("race.leadAt", points, at), lead_at(runners, at)
        if lead is None:
            assert said is None
        else:
            assert (said["first"], said["second"]) == (lead.first, lead.second)
            assert said["gap"] == pytest.approx(lead.gap)
            assert said["gapS"] == pytest.approx(lead.gap_s)
