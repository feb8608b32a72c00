"""first tables."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = '0001'
down_revision = None
branch_labels = None
depends_on = None

KEPT = ("runs", "run_revisions", "marks")
KEEP_FUNCTION = """
create function keep_rows() returns trigger language plpgsql as $$
begin
    raise exception 'rows of % are never deleted', tg_table_name
        using errcode = 'restrict_violation', constraint = 'keep_rows';
end
$$
"""


def upgrade() -> None:
    """Apply."""
    op.create_table('shootouts',
    sa.Column('slug', sa.String(length=80), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('subject', sa.String(length=40), nullable=False),
    sa.Column('currency', sa.String(length=3), nullable=False),
    sa.Column('confidence', sa.Double(), nullable=False),
    sa.Column('materiality', sa.Double(), nullable=False),
    sa.Column('prior_df', sa.Double(), nullable=False),
    sa.Column('prior_cv', sa.Double(), nullable=False),
    sa.Column('update_prior_df', sa.Double(), nullable=False),
    sa.Column('update_prior_cv', sa.Double(), nullable=False),
    sa.Column('baseline_setup_id', sa.Uuid(), nullable=True),
    sa.Column('demo', sa.Boolean(), nullable=False),
    sa.Column('archived_at', sa.DateTime(timezone=True), nullable=True),
    sa.Column('revision', sa.Integer(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(timezone=True), server_default=sa.text('now()'), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_shootouts_name_filled')),
    sa.CheckConstraint("currency ~ '^[A-Z]{3}$'", name=op.f('ck_shootouts_currency_code')),
    sa.CheckConstraint('confidence > 0 AND confidence < 1', name=op.f('ck_shootouts_confidence_range')),
    sa.CheckConstraint('materiality >= 0 AND materiality <= 1', name=op.f('ck_shootouts_materiality_range')),
    sa.CheckConstraint('prior_df >= 0 AND prior_cv >= 0', name=op.f('ck_shootouts_prior_range')),
    sa.ForeignKeyConstraint(['baseline_setup_id'], ['setups.id'], name=op.f('fk_shootouts_baseline_setup_id'), ondelete='SET NULL', use_alter=True),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_shootouts')),
    sa.UniqueConstraint('slug', name=op.f('uq_shootouts_slug'))
    )
    op.create_table('apps',
    sa.Column('shootout_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_apps_name_filled')),
    sa.ForeignKeyConstraint(['shootout_id'], ['shootouts.id'], name=op.f('fk_apps_shootout_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_apps')),
    sa.UniqueConstraint('shootout_id', 'name', name=op.f('uq_apps_shootout_id_name'))
    )
    op.create_index(op.f('ix_apps_shootout_id'), 'apps', ['shootout_id'], unique=False)
    op.create_table('machines',
    sa.Column('shootout_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('form', sa.String(length=120), nullable=True),
    sa.Column('processor', sa.String(length=120), nullable=True),
    sa.Column('cores', sa.Integer(), nullable=True),
    sa.Column('clock_ghz', sa.Double(), nullable=True),
    sa.Column('graphics', sa.String(length=120), nullable=True),
    sa.Column('graphics_memory_gb', sa.Double(), nullable=True),
    sa.Column('memory_gb', sa.Double(), nullable=True),
    sa.Column('storage_gb', sa.Double(), nullable=True),
    sa.Column('system', sa.String(length=120), nullable=True),
    sa.Column('obtained', sa.String(length=40), nullable=True),
    sa.Column('note', sa.String(length=2000), nullable=True),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(timezone=True), server_default=sa.text('now()'), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_machines_name_filled')),
    sa.CheckConstraint('clock_ghz > 0', name=op.f('ck_machines_clock_positive')),
    sa.CheckConstraint('cores > 0', name=op.f('ck_machines_cores_positive')),
    sa.CheckConstraint('graphics_memory_gb > 0', name=op.f('ck_machines_graphics_memory_positive')),
    sa.CheckConstraint('memory_gb > 0', name=op.f('ck_machines_memory_positive')),
    sa.CheckConstraint('storage_gb > 0', name=op.f('ck_machines_storage_positive')),
    sa.ForeignKeyConstraint(['shootout_id'], ['shootouts.id'], name=op.f('fk_machines_shootout_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_machines')),
    sa.UniqueConstraint('shootout_id', 'name', name=op.f('uq_machines_shootout_id_name'))
    )
    op.create_index(op.f('ix_machines_shootout_id'), 'machines', ['shootout_id'], unique=False)
    op.create_table('rounds',
    sa.Column('shootout_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_rounds_name_filled')),
    sa.ForeignKeyConstraint(['shootout_id'], ['shootouts.id'], name=op.f('fk_rounds_shootout_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_rounds')),
    sa.UniqueConstraint('shootout_id', 'name', name=op.f('uq_rounds_shootout_id_name'))
    )
    op.create_index(op.f('ix_rounds_shootout_id'), 'rounds', ['shootout_id'], unique=False)
    op.create_table('timelines',
    sa.Column('shootout_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('length_s', sa.Double(), nullable=True),
    sa.Column('note', sa.String(length=2000), nullable=True),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_timelines_name_filled')),
    sa.CheckConstraint('length_s > 0', name=op.f('ck_timelines_length_positive')),
    sa.ForeignKeyConstraint(['shootout_id'], ['shootouts.id'], name=op.f('fk_timelines_shootout_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_timelines')),
    sa.UniqueConstraint('shootout_id', 'name', name=op.f('uq_timelines_shootout_id_name'))
    )
    op.create_index(op.f('ix_timelines_shootout_id'), 'timelines', ['shootout_id'], unique=False)
    op.create_table('app_versions',
    sa.Column('app_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=60), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_app_versions_name_filled')),
    sa.ForeignKeyConstraint(['app_id'], ['apps.id'], name=op.f('fk_app_versions_app_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_app_versions')),
    sa.UniqueConstraint('app_id', 'name', name=op.f('uq_app_versions_app_id_name'))
    )
    op.create_table('prices',
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=10), nullable=False),
    sa.Column('amount', sa.Numeric(precision=12, scale=2), nullable=False),
    sa.Column('currency', sa.String(length=3), nullable=False),
    sa.Column('dated', sa.Date(), nullable=False),
    sa.Column('source', sa.String(length=200), nullable=True),
    sa.Column('until', sa.Date(), nullable=True),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("currency ~ '^[A-Z]{3}$'", name=op.f('ck_prices_currency_code')),
    sa.CheckConstraint("kind IN ('list', 'street', 'paid', 'used')", name=op.f('ck_prices_kind_known')),
    sa.CheckConstraint('amount >= 0', name=op.f('ck_prices_amount_not_negative')),
    sa.ForeignKeyConstraint(['machine_id'], ['machines.id'], name=op.f('fk_prices_machine_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_prices'))
    )
    op.create_index(op.f('ix_prices_machine_id'), 'prices', ['machine_id'], unique=False)
    op.create_table('setups',
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('power', sa.String(length=120), nullable=True),
    sa.Column('clock_ghz', sa.Double(), nullable=True),
    sa.Column('memory_gb', sa.Double(), nullable=True),
    sa.Column('note', sa.String(length=2000), nullable=True),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(timezone=True), server_default=sa.text('now()'), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_setups_name_filled')),
    sa.CheckConstraint('clock_ghz > 0', name=op.f('ck_setups_clock_positive')),
    sa.CheckConstraint('memory_gb > 0', name=op.f('ck_setups_memory_positive')),
    sa.ForeignKeyConstraint(['machine_id'], ['machines.id'], name=op.f('fk_setups_machine_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_setups')),
    sa.UniqueConstraint('machine_id', 'name', name=op.f('uq_setups_machine_id_name'))
    )
    op.create_index(op.f('ix_setups_machine_id'), 'setups', ['machine_id'], unique=False)
    op.create_table('tasks',
    sa.Column('shootout_id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=200), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('timeline_id', sa.Uuid(), nullable=True),
    sa.Column('app_id', sa.Uuid(), nullable=False),
    sa.Column('operation', sa.String(length=120), nullable=True),
    sa.Column('settings', sa.String(length=500), nullable=True),
    sa.Column('measure', sa.String(length=10), nullable=False),
    sa.Column('work', sa.Double(), nullable=True),
    sa.Column('unit', sa.String(length=40), nullable=True),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(timezone=True), server_default=sa.text('now()'), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(name) <> ''", name=op.f('ck_tasks_name_filled')),
    sa.CheckConstraint("measure IN ('time', 'amount')", name=op.f('ck_tasks_measure_known')),
    sa.CheckConstraint('work > 0', name=op.f('ck_tasks_work_positive')),
    sa.ForeignKeyConstraint(['app_id'], ['apps.id'], name=op.f('fk_tasks_app_id'), ondelete='RESTRICT'),
    sa.ForeignKeyConstraint(['shootout_id'], ['shootouts.id'], name=op.f('fk_tasks_shootout_id'), ondelete='RESTRICT'),
    sa.ForeignKeyConstraint(['timeline_id'], ['timelines.id'], name=op.f('fk_tasks_timeline_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_tasks')),
    sa.UniqueConstraint('shootout_id', 'name', name=op.f('uq_tasks_shootout_id_name'))
    )
    op.create_index(op.f('ix_tasks_shootout_id'), 'tasks', ['shootout_id'], unique=False)
    op.create_table('round_versions',
    sa.Column('round_id', sa.Uuid(), nullable=False),
    sa.Column('app_version_id', sa.Uuid(), nullable=False),
    sa.ForeignKeyConstraint(['app_version_id'], ['app_versions.id'], name=op.f('fk_round_versions_app_version_id'), ondelete='RESTRICT'),
    sa.ForeignKeyConstraint(['round_id'], ['rounds.id'], name=op.f('fk_round_versions_round_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('round_id', 'app_version_id', name=op.f('pk_round_versions'))
    )
    op.create_table('runs',
    sa.Column('shootout_id', sa.Uuid(), nullable=False),
    sa.Column('setup_id', sa.Uuid(), nullable=False),
    sa.Column('task_id', sa.Uuid(), nullable=False),
    sa.Column('round_id', sa.Uuid(), nullable=False),
    sa.Column('place', sa.Integer(), nullable=False),
    sa.Column('status', sa.String(length=10), nullable=False),
    sa.Column('value', sa.Double(), nullable=True),
    sa.Column('typed', sa.String(length=60), nullable=True),
    sa.Column('resolution', sa.Double(), nullable=True),
    sa.Column('approximate', sa.Boolean(), nullable=False),
    sa.Column('bound', sa.Boolean(), nullable=False),
    sa.Column('method', sa.String(length=20), nullable=False),
    sa.Column('u', sa.Double(), nullable=False),
    sa.Column('reason', sa.String(length=500), nullable=True),
    sa.Column('note', sa.String(length=2000), nullable=True),
    sa.Column('started_at', sa.DateTime(timezone=True), nullable=True),
    sa.Column('who', sa.String(length=120), nullable=False),
    sa.Column('client_key', sa.String(length=80), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(timezone=True), server_default=sa.text('now()'), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("status <> 'ok' OR value IS NOT NULL", name=op.f('ck_runs_ok_has_value')),
    sa.CheckConstraint("status = 'ok' OR btrim(reason) <> ''", name=op.f('ck_runs_reason_given')),
    sa.CheckConstraint("status = 'ok' OR reason IS NOT NULL", name=op.f('ck_runs_reason_present')),
    sa.CheckConstraint("status IN ('ok', 'void', 'failed')", name=op.f('ck_runs_status_known')),
    sa.CheckConstraint("u >= 0 AND u < 'infinity'::float8", name=op.f('ck_runs_u_not_negative')),
    sa.CheckConstraint("value > 0 AND value < 'infinity'::float8", name=op.f('ck_runs_value_positive')),
    sa.CheckConstraint('resolution > 0', name=op.f('ck_runs_resolution_positive')),
    sa.ForeignKeyConstraint(['round_id'], ['rounds.id'], name=op.f('fk_runs_round_id'), ondelete='RESTRICT'),
    sa.ForeignKeyConstraint(['setup_id'], ['setups.id'], name=op.f('fk_runs_setup_id'), ondelete='RESTRICT'),
    sa.ForeignKeyConstraint(['shootout_id'], ['shootouts.id'], name=op.f('fk_runs_shootout_id'), ondelete='RESTRICT'),
    sa.ForeignKeyConstraint(['task_id'], ['tasks.id'], name=op.f('fk_runs_task_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_runs')),
    sa.UniqueConstraint('shootout_id', 'client_key', name=op.f('uq_runs_shootout_id_client_key'))
    )
    op.create_index(op.f('ix_runs_shootout_id'), 'runs', ['shootout_id'], unique=False)
    op.create_index('ix_runs_task_id_setup_id_round_id', 'runs', ['task_id', 'setup_id', 'round_id'], unique=False)
    op.create_table('marks',
    sa.Column('run_id', sa.Uuid(), nullable=False),
    sa.Column('elapsed_s', sa.Double(), nullable=False),
    sa.Column('fraction', sa.Double(), nullable=False),
    sa.Column('frames_per_s', sa.Double(), nullable=True),
    sa.Column('temperature_c', sa.Double(), nullable=True),
    sa.Column('power_w', sa.Double(), nullable=True),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint('elapsed_s >= 0', name=op.f('ck_marks_elapsed_not_negative')),
    sa.CheckConstraint('fraction >= 0 AND fraction <= 1', name=op.f('ck_marks_fraction_range')),
    sa.ForeignKeyConstraint(['run_id'], ['runs.id'], name=op.f('fk_marks_run_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_marks')),
    sa.UniqueConstraint('run_id', 'elapsed_s', name=op.f('uq_marks_run_id_elapsed_s'))
    )
    op.create_table('run_revisions',
    sa.Column('run_id', sa.Uuid(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('before', postgresql.JSONB(astext_type=sa.Text()), nullable=False),
    sa.Column('who', sa.String(length=120), nullable=False),
    sa.Column('why', sa.String(length=500), nullable=False),
    sa.Column('changed_at', sa.DateTime(timezone=True), server_default=sa.text('now()'), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.CheckConstraint("btrim(why) <> ''", name=op.f('ck_run_revisions_why_filled')),
    sa.ForeignKeyConstraint(['run_id'], ['runs.id'], name=op.f('fk_run_revisions_run_id'), ondelete='RESTRICT'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_run_revisions')),
    sa.UniqueConstraint('run_id', 'version', name=op.f('uq_run_revisions_run_id_version'))
    )
    op.create_foreign_key(
        "fk_shootouts_baseline_setup_id", "shootouts", "setups",
        ["baseline_setup_id"], ["id"], ondelete="SET NULL",
    )
    op.execute(KEEP_FUNCTION)
    for table in KEPT:
        op.execute(
            f"create trigger keep_{table} before delete on {table} "
            f"for each row execute function keep_rows()"
        )


def downgrade() -> None:
    """Take back."""
    for table in KEPT:
        op.execute(f"drop trigger keep_{table} on {table}")
    op.execute("drop function keep_rows()")
    op.drop_constraint("fk_shootouts_baseline_setup_id", "shootouts")
    op.drop_table('run_revisions')
    op.drop_table('marks')
    op.drop_index('ix_runs_task_id_setup_id_round_id', table_name='runs')
    op.drop_index(op.f('ix_runs_shootout_id'), table_name='runs')
    op.drop_table('runs')
    op.drop_table('round_versions')
    op.drop_index(op.f('ix_tasks_shootout_id'), table_name='tasks')
    op.drop_table('tasks')
    op.drop_index(op.f('ix_setups_machine_id'), table_name='setups')
    op.drop_table('setups')
    op.drop_index(op.f('ix_prices_machine_id'), table_name='prices')
    op.drop_table('prices')
    op.drop_table('app_versions')
    op.drop_index(op.f('ix_timelines_shootout_id'), table_name='timelines')
    op.drop_table('timelines')
    op.drop_index(op.f('ix_rounds_shootout_id'), table_name='rounds')
    op.drop_table('rounds')
    op.drop_index(op.f('ix_machines_shootout_id'), table_name='machines')
    op.drop_table('machines')
    op.drop_index(op.f('ix_apps_shootout_id'), table_name='apps')
    op.drop_table('apps')
    op.drop_table('shootouts')
