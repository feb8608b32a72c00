"""The result of a case file as a table to be read."""

from __future__ import annotations

from typing import Any

import numpy as np

from true_margin.core.analysis import Analysis, Comparison
from true_margin.core.contest import ViewerProfile
from true_margin.core.labels import RESULT, RUN_FLAG, label_of
from true_margin.core.run_remarks import run_remarks
from true_margin.core.wording import format_elapsed, format_ratio, likelihood, ratio_of, say_chance
from true_margin.exchange.case_picks import picks_object
from true_margin.exchange.case_result import comparisons_of, flag_key, flag_row, off_rows, title_of


def result_table(analysis: Analysis, viewer: ViewerProfile | None = None) -> str:
    """Write the ladders, margins, flags and the pick as a table for a terminal."""
    if analysis.mix is None:
        return "No runs: nothing to compare.\n"
    blocks = [_ladder_block(analysis, each) for each in comparisons_of(analysis)]
    if len(analysis.tasks) == 1:
        blocks = blocks[:1]
    if analysis.flags:
        rows = sorted((flag_row(analysis, flag) for flag in analysis.flags), key=flag_key)
        lines = ["Check these runs"]
        lines += [
            f"  {row['setup']} · {row['task']} · {row['round']}"
            f"{'' if row['order'] is None else ' · run ' + str(row['order'])}: "
            f"{label_of(RUN_FLAG, row['check'])}"
            for row in rows
        ]
        blocks.append("\n".join(lines))
    blocks += run_remarks(analysis)
    if viewer is not None:
        blocks.append(_pick_block(analysis, viewer))
    return "\n\n".join(blocks) + "\n"


def _pick_block(analysis: Analysis, viewer: ViewerProfile) -> str:
    picks = picks_object(analysis, viewer)
    if picks["pick"] is None:
        return "No pick for this viewer"
    chance = picks["surety"]
    lines = [f"Pick: {picks['pick']}, {likelihood(chance)} ({say_chance(chance)})"]
    for flip in picks["flips"]:
        price = "at no price" if flip["price"] is None else f"up to {flip['price']:.2f}"
        price = "at any price" if flip["endless"] else price
        lines.append(f"  {flip['name']}: would be the pick {price}")
    return "\n".join(lines)


def _ladder_block(analysis: Analysis, comparison: Comparison) -> str:
    study = analysis.study
    title = title_of(analysis, comparison)
    heading = "All tasks, equal mix" if comparison.task is None else title
    if comparison.task is not None:
        spread = analysis.cells.spread[comparison.task]
        if spread is not None:
            heading += f"   runs vary by {100 * spread.cv:.1f} % ({spread.basis.value})"
    width = max([12, *(len(name) for name in study.setups)])
    level = f"{100 * study.settings.confidence:g}"
    lines = [
        heading,
        f"  {'rank':<6}{'setup':<{width}}  {'times as fast':>14}  "
        f"{f'{level} % interval':>16}  {'result':<15}{'typical':>10}  {'fastest':>9}",
    ]
    places = {int(s): i for i, s in enumerate(comparison.pairs.contrasts.setups)}
    lines += [_rung_line(analysis, comparison, rung, places, width) for rung in comparison.rungs]
    lines += [_off_line(row) for row in off_rows(analysis, comparison)]
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
        call = label_of(RESULT, m.call.value)
    ratio = "" if rung.ratio is None else format_ratio(rung.ratio)
    typical = ""
    if comparison.task is not None:
        measure = study.tasks[comparison.task].measure
        typical = (
            format_elapsed(float(np.exp(-rung.log_speed)))
            if measure.value == "time"
            else f"{ratio_of(rung.log_speed):.4g}"
        )
    chance = "" if rung.p_fastest is None else say_chance(rung.p_fastest)
    return (
        f"  {rank:<6}{study.setups[rung.setup]:<{width}}  {ratio:>14}  {interval:>16}  "
        f"{call:<15}{typical:>10}  {chance:>9}"
    )


def _off_line(row: dict[str, Any]) -> str:
    reasons = []
    if row["cannot"]:
        reasons.append("failed every time on " + ", ".join(row["cannot"]))
    if row["lacks"]:
        reasons.append("not tested on " + ", ".join(row["lacks"]))
    if row["no_bridge"]:
        reasons.append("tested only in another round; no machine links it to the baseline's")
    return f"  not ranked: {row['setup']} ({'; '.join(reasons)})"
