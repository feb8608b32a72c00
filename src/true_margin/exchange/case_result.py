"""The result of a case: the JSON object of section 12, and a table to read."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from true_margin.core.analysis import Analysis, Comparison
from true_margin.core.checks import Flag
from true_margin.core.contest import ViewerProfile
from true_margin.core.fastest_runs import fastest_margin
from true_margin.core.margins import Call, Margin
from true_margin.core.noted import JudgedNote, note_of_pair
from true_margin.core.samples import ModelMargin, ModelTable
from true_margin.core.settling import settling_of
from true_margin.core.study import Note, NotedRatio
from true_margin.exchange.case_picks import picks_object


def result_object(analysis: Analysis, viewer: ViewerProfile | None = None) -> dict[str, Any]:
    """Give every result of an analysis as plain JSON values.

    Args:
        analysis: of a case.
        viewer: who asks for a pick, if somebody does.

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
        "setup_spread": _setup_spreads(analysis),
        "serial": _serial(analysis),
        "first_run": _first_runs(analysis),
        "rounds": [
            {"app": e.app, "round": e.round, "log_effect": e.log_effect, "reference": e.reference}
            for e in sorted(analysis.fit.rounds, key=lambda e: (e.app, e.round))
        ],
        "update_spread": {"cv": update.cv, "df": None if update.df is None else _number(update.df)},
        "margins": [row for each in _by_name(analysis) for row in _margins(analysis, each)],
        "ladders": {
            title_of(analysis, each): _ladder(analysis, each)
            for each in comparisons_of(analysis)
            if each.rungs
        },
        "off_ladder": {
            title_of(analysis, each): off_rows(analysis, each)
            for each in comparisons_of(analysis)
            if each.standing.off and each.rungs
        },
        "flags": sorted((flag_row(analysis, flag) for flag in analysis.flags), key=flag_key),
    }
    result["models"] = _models(analysis)
    if study.notes:
        result["notes"] = [_note(analysis, each) for each in analysis.notes]
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
    if viewer is not None:
        result["picks"] = picks_object(analysis, viewer)
    return result


def _setup_spreads(analysis: Analysis) -> list[dict[str, Any]]:
    """Of the setups with measured runs."""
    cells, names = analysis.cells, analysis.study.setups
    return [
        {
            "setup": names[s],
            "factor": float(cells.factor[s]),
            "df": _inverse(float(cells.shares.inverse_df[s])),
        }
        for s in sorted(set(cells.setup.tolist()), key=lambda s: names[s])
    ]


def _inverse(value: float) -> float | None:
    return 1.0 / value if value > 0 else None


def _serial(analysis: Analysis) -> dict[str, Any]:
    found = analysis.cells.resemblance
    return {
        "ratio": found.ratio,
        "p": found.p,
        "rho": found.rho,
        "applied": found.applied,
        "fires": found.fires,
    }


def _first_runs(analysis: Analysis) -> dict[str, Any] | None:
    found = analysis.first_runs
    if found is None:
        return None
    return {
        "cells": found.cells,
        "log_effect": found.log_effect,
        "t": found.t,
        "df": found.df,
        "p": found.p,
        "fires": found.fires,
    }


def _number(value: float) -> float | None:
    return None if math.isinf(value) else value


def _by_name(analysis: Analysis) -> list[Comparison]:
    return sorted(analysis.tasks, key=lambda each: title_of(analysis, each))


def comparisons_of(analysis: Analysis) -> Iterator[Comparison]:
    yield from _by_name(analysis)
    if analysis.mix is not None:
        yield analysis.mix


def title_of(analysis: Analysis, comparison: Comparison) -> str:
    return "mix" if comparison.task is None else analysis.study.tasks[comparison.task].name


def _models(analysis: Analysis) -> dict[str, Any]:
    """What is known of models, of which the setups are samples."""
    spread = analysis.unit_spread
    tables = [
        (title_of(analysis, each), each, table)
        for each in comparisons_of(analysis)
        if (table := analysis.models(each.task)) is not None
    ]
    return {
        "unit_spread": {"cv": spread.cv, "df": spread.df, "basis": spread.basis.value},
        "margins": [
            _model_pair(title, table, a, b)
            for title, comparison, table in tables
            for a in range(len(table.names))
            for b in range(a + 1, len(table.names))
            if comparison.rungs
        ],
        "fastest": {title: analysis.model_chances(each.task) for title, each, _ in tables},
    }


def _model_pair(title: str, table: ModelTable, a: int, b: int) -> dict[str, Any]:
    pair = table.pair(a, b)
    return {
        "ladder": title,
        "a": table.names[a],
        "b": table.names[b],
        "samples": [table.samples[a], table.samples[b]],
        "log_ratio": pair.log_ratio,
        **_model_margin(pair.models),
        "own": _model_margin(pair.own),
    }


def _model_margin(margin: ModelMargin) -> dict[str, Any]:
    return {
        "se": margin.se,
        "df": _number(margin.df),
        "lo": margin.lo,
        "hi": margin.hi,
        "call": margin.call.value,
    }


def _ladder(analysis: Analysis, comparison: Comparison) -> list[dict[str, Any]]:
    """Rungs by speed, a measured one before another of equal speed."""
    names = analysis.study.setups
    rows: list[tuple[float, int, str, dict[str, Any]]] = []
    for rung in comparison.rungs:
        row = {
            "setup": names[rung.setup],
            "evidence": "measured",
            "log_speed": rung.log_speed,
            "ratio": rung.ratio,
            "best_rank": rung.best_rank,
            "worst_rank": rung.worst_rank,
            "p_fastest": rung.p_fastest,
        }
        rows.append((-rung.log_speed, 0, names[rung.setup], row))
    nothing = {"best_rank": None, "worst_rank": None, "p_fastest": None}
    for bound in comparison.bounded:
        row = {
            "setup": names[bound.setup],
            "evidence": "bound",
            "log_speed": None,
            "ratio": None,
            "best_rank": bound.best_rank,
            "worst_rank": bound.worst_rank,
            "p_fastest": None,
            "at_least": bound.at_least,
            "at_most": bound.at_most,
        }
        rows.append((-bound.place, 1, names[bound.setup], row))
    for noted in comparison.noted:
        row = {
            "setup": names[noted.setup],
            "evidence": "noted",
            "log_speed": noted.log_speed,
            "ratio": noted.ratio,
            **nothing,
        }
        rows.append((-noted.log_speed, 1, names[noted.setup], row))
    return [row for *_, row in sorted(rows, key=lambda each: each[:3])]


def _margins(analysis: Analysis, comparison: Comparison) -> Iterator[dict[str, Any]]:
    """Every ordered pair of a task that has a margin of some kind, in name order."""
    names, task = analysis.study.setups, comparison.task
    if task is None:
        return
    place = {int(s): i for i, s in enumerate(comparison.pairs.contrasts.setups)}
    bounds = comparison.bounds
    has_more = {*(bounds.limits.on(task) if bounds else ())}
    has_more |= {s for note in analysis.study.notes if note.task == task for s in (note.a, note.b)}
    order = sorted({*place, *has_more}, key=lambda s: names[s])
    for at, a in enumerate(order):
        for b in order[at + 1 :]:
            row = {"task": title_of(analysis, comparison), "a": names[a], "b": names[b]}
            found = _margin(analysis, comparison, place, a, b)
            if found is not None:
                yield {**row, **found}


def _margin(
    analysis: Analysis, comparison: Comparison, place: dict[int, int], a: int, b: int
) -> dict[str, Any] | None:
    """A margin of one kind: measured before bound before noted."""
    task = comparison.task
    if task is None:
        return None
    measured = a in place and b in place
    if measured:
        i, j = place[a], place[b]
        m = comparison.pairs.margin(i, j)
        if m.call is not Call.NOT_COMPARABLE:
            return {
                "evidence": "measured",
                "log_ratio": m.log_ratio,
                "se": m.se,
                "df": _number(m.df),
                "lo": m.lo,
                "hi": m.hi,
                "ratio": m.ratio,
                "call": m.call.value,
                "confidence": m.confidence,
                "topped_up": m.topped_up,
                "settle": _settle(analysis, comparison, m),
                "fastest": _fastest(analysis, comparison, i, j),
            }
    bound = None if measured else analysis.bound_margin(task, a, b)
    if bound is not None:
        return {
            "evidence": "bound",
            "at_least": bound.at_least,
            "at_most": bound.at_most,
            "lo": _number(bound.lo),
            "hi": _number(bound.hi),
            "call": bound.call.value,
            "confidence": bound.confidence,
        }
    noted = note_of_pair(analysis.study, task, a, b)
    if noted is not None:
        return _noted(*noted)
    return {"call": Call.NOT_COMPARABLE.value} if measured else None


def _noted(ratio: NotedRatio, note: Note) -> dict[str, Any]:
    one_sided = ratio.log_ratio is None
    return {
        "evidence": "noted",
        "log_ratio": ratio.log_ratio,
        "ratio": None if ratio.log_ratio is None else math.exp(ratio.log_ratio),
        "at_least": math.exp(ratio.lo) if one_sided and ratio.lo is not None else None,
        "at_most": math.exp(ratio.hi) if one_sided and ratio.hi is not None else None,
        "lo": ratio.lo,
        "hi": ratio.hi,
        "call": "noted",
        "source": note.source,
    }


def _note(analysis: Analysis, judged: JudgedNote) -> dict[str, Any]:
    study, note = analysis.study, judged.note
    return {
        "task": study.tasks[note.task].name,
        "a": study.setups[note.a],
        "b": study.setups[note.b],
        "log_ratio": note.ratio.log_ratio,
        "lo": note.ratio.lo,
        "hi": note.ratio.hi,
        "source": note.source,
        "status": judged.status.value,
        "agrees": judged.agrees,
    }


def _settle(analysis: Analysis, comparison: Comparison, margin: Margin) -> int | None:
    if margin.call is not Call.OPEN or comparison.task is None:
        return None
    return settling_of(analysis, comparison.task, margin).runs_each


def _fastest(analysis: Analysis, comparison: Comparison, i: int, j: int) -> dict[str, Any] | None:
    if comparison.task is None:
        return None
    found = fastest_margin(analysis.cells, comparison.pairs, comparison.task, i, j)
    if found is None:
        return None
    return {
        "log_ratio": found.log_ratio,
        "se": found.se,
        "lo": found.lo,
        "hi": found.hi,
        "call": found.call.value,
    }


def off_rows(analysis: Analysis, comparison: Comparison) -> list[dict[str, Any]]:
    study = analysis.study
    rows = [
        {
            "setup": study.setups[off.setup],
            "lacks": sorted(study.tasks[t].name for t in off.lacks),
            "cannot": sorted(study.tasks[t].name for t in off.cannot),
            "bounds": sorted(study.tasks[t].name for t in off.bounds),
            "noted": sorted(study.tasks[t].name for t in off.noted),
            "no_bridge": off.no_bridge,
        }
        for off in comparison.standing.off
    ]
    return sorted(rows, key=lambda row: str(row["setup"]))


def flag_row(analysis: Analysis, flag: Flag) -> dict[str, Any]:
    study = analysis.study
    return {
        "setup": study.setups[flag.setup],
        "task": study.tasks[flag.task].name,
        "round": study.rounds[flag.round],
        "order": None if flag.run is None else int(study.runs.order[flag.run]),
        "check": flag.check.value,
    }


def flag_key(row: dict[str, Any]) -> tuple[Any, ...]:
    order = -1 if row["order"] is None else row["order"]
    return (row["setup"], row["task"], row["round"], order, row["check"])
