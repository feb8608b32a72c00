"""The database's rules, the pack and the web list the choices of the core, and no others."""

from __future__ import annotations

import re
from typing import get_args

import pytest
from sqlalchemy import text

from true_margin.core.choices import (
    CardKind,
    CountedRuns,
    InquiryKind,
    JobState,
    Operation,
    PlaybackQuality,
    PriceKind,
    ReportState,
    RuleName,
    TaskMeasure,
    TrialGrade,
    TrialKind,
    TroubleKind,
)
from true_margin.core.out_of_line import FindingKind
from true_margin.core.published import FigureKind
from true_margin.core.study import RunStatus
from true_margin.desk.packs.registry import REGISTRY
from true_margin.desk.publish.card_facts import CARDS
from true_margin.exchange.pack_schemas import SCHEMAS
from true_margin.publish.card_data import Card
from true_margin.publish.cards import DRAWERS
from true_margin.store.base import Base
from true_margin.store.database import Database

RULES = {
    "ck_shootouts_price_kind_known": PriceKind,
    "ck_prices_kind_known": PriceKind,
    "ck_tasks_measure_known": TaskMeasure,
    "ck_tasks_operation_known": Operation,
    "ck_runs_status_known": RunStatus,
    "ck_inquiries_counts_known": CountedRuns,
    "ck_published_figures_kind_known": FigureKind,
    "ck_jobs_state_known": JobState,
    "ck_playbacks_quality_known": PlaybackQuality,
    "ck_trials_kind_known": TrialKind,
    "ck_trials_grade_known": TrialGrade,
    "ck_troubles_kind_known": TroubleKind,
    "ck_cards_kind_known": CardKind,
    "ck_reports_state_known": ReportState,
    "ck_viewers_rule_known": RuleName,
}
WORDS = re.compile(r"'([^']*)'")


def migrated(database: Database) -> dict[str, set[str]]:
    """Values by the name of each rule, as the migrations made it."""
    query = text(
        "select conname, pg_get_constraintdef(oid) from pg_constraint where conname like '%_known'"
    )
    with database.transaction() as session:
        return {name: set(WORDS.findall(rule)) for name, rule in session.execute(query)}


def test_the_migrated_rules_list_the_choices_of_the_core(database: Database) -> None:
    found = migrated(database)
    for name, choice in RULES.items():
        assert found[name] == {member.value for member in choice}, name


def test_the_tables_state_the_rules_that_the_migrations_make(database: Database) -> None:
    stated = {
        str(rule.name): set(WORDS.findall(str(rule.sqltext)))  # type: ignore[attr-defined]
        for table in Base.metadata.tables.values()
        for rule in table.constraints
        if str(rule.name).endswith("_known")
    }
    found = migrated(database)
    assert stated
    assert {name: found[name] for name in stated} == stated
    assert set(RULES) <= set(stated)


def test_what_may_be_looked_into_is_what_the_core_finds_or_anything_else() -> None:
    assert {kind.value for kind in InquiryKind} == {kind.value for kind in FindingKind} | {"other"}


def test_every_kind_of_card_is_gathered_and_drawn() -> None:
    assert set(CARDS) == set(CardKind)
    assert set(DRAWERS) == set(get_args(Card))


def test_every_table_of_a_pack_has_one_entry() -> None:
    names = [table.name for table in REGISTRY]
    assert sorted([*names, "shootout"]) == sorted(SCHEMAS)


@pytest.mark.parametrize("table", REGISTRY, ids=lambda table: table.name)
def test_a_table_stands_after_those_that_its_rows_name(table: object) -> None:
    order = [each.name for each in REGISTRY if each.add is not None]
    name = table.name  # type: ignore[attr-defined]
    if name not in order:
        return
    for link in SCHEMAS[name].links:
        if link.table in order and link.table != name:
            assert order.index(link.table) < order.index(name)
