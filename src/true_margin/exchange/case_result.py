"""The result of a case: the JSON object of section 12, and a table to read."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np

from true_margin.core.analysis import Analysis, Comparison
from true_margin.core.checks import Flag
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.core.wording import format_elapsed, format_ratio, ratio_of


def result_object(analysis: Analysis) -> dict[str, Any]:
    """Give every result of an analysis as plain JSON values.

    Returns:
        The object that ``true-margin analyse --json`` prints; lists in name
        order, ladders fastest first.
    """
    study = analysis.study
    update = analysis.fit.update
    result: dict[str, Any] = {
        "spread": {
            task.name: {"cv": spread.cv, "df": _number(spread.df), "basis": spread.basis.value}
            for task, spread in sorted(
                zip(study.tasks, analysis.cells.spread, strict=True), key=lambda at: at[0].name
            )
            if spread is not None
        },
        "rounds": [
            {"app": e.app, "round": e.round, "log_effect": e.log_effect, "reference": e.reference}
            for e in sorted(analysis.fit.rounds, key=lambda e: (e.app, e.round))
        ],
        "update_spread": {"cv": update.cv, "df": None if update.df is None else _number(update.df)},
        "margins": [row for each in _by_name(analysis) for row in _margins(analysis, each)],
        "ladders": {
            _title(analysis, each): [
                {
                    "setup": study.setups[rung.setup],
                    "log_speed": rung.log_speed,
                    "ratio": rung.ratio,
                    "best_rank": rung.best_rank,
                    "worst_rank": rung.worst_rank,
                    "p_fastest": rung.p_fastest,
                }
                for rung in each.rungs
            ]
            for each in _all(analysis)
        },
        "off_ladder": {
            _title(analysis, each): _off(analysis, each)
            for each in _all(analysis)
            if each.standing.off
        },
        "flags": sorted((_flag(analysis, flag) for flag in analysis.flags), key=_flag_key),
    }
    if study.prices:
        result["value"] = [
            {
                "setup": study.setups[v.setup],
                "price": str(v.price),
                "ratio": v.ratio,
                "value": v.value,
                "frontier": v.frontier,
            }
            for v in analysis.values
        ]
    return result


def _number(value: float) -> float | None:
    return None if math.isinf(value) else value


def _by_name(analysis: Analysis) -> list[Comparison]:
    return sorted(analysis.tasks, key=lambda each: _title(analysis, each))


def _all(analysis: Analysis) -> Iterator[Comparison]:
    yield from _by_name(analysis)
    if analysis.mix is not None:
        yield analysis.mix


def _title(analysis: Analysis, comparison: Comparison) -> str:
    return "mix" if comparison.task is None else analysis.study.tasks[comparison.task].name


def _margins(analysis: Analysis, comparison: Comparison) -> Iterator[dict[str, Any]]:
    names = analysis.study.setups
    setups = comparison.pairs.contrasts.setups
    order = sorted(range(len(setups)), key=lambda i: names[setups[i]])
    for at, i in enumerate(order):
        for j in order[at + 1 :]:
            row = {
                "task": _title(analysis, comparison),
                "a": names[setups[i]],
                "b": names[setups[j]],
            }
            if CALL_ORDER[int(comparison.pairs.call[i, j])] is Call.NOT_COMPARABLE:
                yield {**row, "call": Call.NOT_COMPARABLE.value}
                continue
            m = comparison.pairs.margin(i, j)
            yield {
                **row,
                "log_ratio": m.log_ratio,
                "se": m.se,
                "df": _number(m.df),
                "lo": m.lo,
                "hi": m.hi,
                "ratio": m.ratio,
                "call": m.call.value,
            }


def _off(analysis: Analysis, comparison: Comparison) -> list[dict[str, Any]]:
    study = analysis.study
    rows = [
        {
            "setup": study.setups[off.setup],
            "lacks": sorted(study.tasks[t].name for t in off.lacks),
            "cannot": sorted(study.tasks[t].name for t in off.cannot),
            "no_bridge": off.no_bridge,
        }
        for off in comparison.standing.off
    ]
    return sorted(rows, key=lambda row: str(row["setup"]))


def _flag(analysis: Analysis, flag: Flag) -> dict[str, Any]:
    study = analysis.study
    return {
        "setup": study.setups[flag.setup],
        "task": study.tasks[flag.task].name,
        "round": study.rounds[flag.round],
        "order": None if flag.run is None else int(study.runs.order[flag.run]),
        "check": flag.check.value,
    }


def _flag_key(row: dict[str, Any]) -> tuple[Any, ...]:
    order = -1 if row["order"] is None else row["order"]
    return (row["setup"], row["task"], row["round"], order, row["check"])


def result_table(analysis: Analysis) -> str:
    """Write the ladders, margins and flags as a table for a terminal."""
    if analysis.mix is None:
        return "No runs: nothing to compare.\n"
    blocks = [_ladder_block(analysis, each) for each in _all(analysis)]
    if len(analysis.tasks) == 1:
        blocks = blocks[:1]
    if analysis.flags:
        rows = sorted((_flag(analysis, flag) for flag in analysis.flags), key=_flag_key)
        lines = ["Look at these runs"]
        lines += [
            f"  {row['setup']} · {row['task']} · {row['round']}"
            f"{'' if row['order'] is None else ' · run ' + str(row['order'])}: {row['check']}"
            for row in rows
        ]
        blocks.append("\n".join(lines))
    return "\n\n".join(blocks) + "\n"


def _ladder_block(analysis: Analysis, comparison: Comparison) -> str:
    study = analysis.study
    title = _title(analysis, comparison)
    heading = "Mix of all tasks" if comparison.task is None else title
    if comparison.task is not None:
        spread = analysis.cells.spread[comparison.task]
        if spread is not None:
            heading += f"   spread {100 * spread.cv:.1f} % ({spread.basis.value})"
    width = max([12, *(len(name) for name in study.setups)])
    lines = [
        heading,
        f"  {'rank':<6}{'setup':<{width}}  {'times as fast':>14}  "
        f"{'interval':>16}  {'call':<8}{'typical':>10}  chance",
    ]
    places = {int(s): i for i, s in enumerate(comparison.pairs.contrasts.setups)}
    lines += [_rung_line(analysis, comparison, rung, places, width) for rung in comparison.rungs]
    lines += [_off_line(row) for row in _off(analysis, comparison)]
    return "\n".join(line.rstrip() for line in lines)


def _rung_line(
    analysis: Analysis, comparison: Comparison, rung: Any, places: dict[int, int], width: int
) -> str:
    study = analysis.study
    low, high = rung.best_rank, rung.worst_rank
    rank = f"{low}" if low == high else f"{low}-{high}"
    interval, call = "", ""
    if rung.setup == study.baseline:
        call = "baseline"
    elif study.baseline in places and rung.ratio is not None:
        m = comparison.pairs.margin(places[rung.setup], places[study.baseline])
        interval = f"{format_ratio(ratio_of(m.lo))} to {format_ratio(ratio_of(m.hi))}"
        call = m.call.value
    ratio = "" if rung.ratio is None else format_ratio(rung.ratio)
    typical = ""
    if comparison.task is not None:
        measure = study.tasks[comparison.task].measure
        typical = (
            format_elapsed(float(np.exp(-rung.log_speed)))
            if measure.value == "time"
            else f"{ratio_of(rung.log_speed):.4g}"
        )
    return (
        f"  {rank:<6}{study.setups[rung.setup]:<{width}}  {ratio:>14}  {interval:>16}  "
        f"{call:<8}{typical:>10}  {100 * rung.p_fastest:3.0f} %"
    )


def _off_line(row: dict[str, Any]) -> str:
    reasons = []
    if row["cannot"]:
        reasons.append("every attempt failed: " + ", ".join(row["cannot"]))
    if row["lacks"]:
        reasons.append("not measured: " + ", ".join(row["lacks"]))
    if row["no_bridge"]:
        reasons.append("no bridge to the baseline's round")
    return f"  off   {row['setup']} ({'; '.join(reasons)})"
