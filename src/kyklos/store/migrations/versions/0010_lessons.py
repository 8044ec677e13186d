"""Lessons of brews, kept; rows that changes touched; a start that is remembered roughly; versions of places and lines."""

import sqlalchemy as sa
from alembic import op

revision = '0010'
down_revision = '0009'


def _lesson() -> None:
    """What a brew taught. Each brew that ended is to be learned."""
    op.create_table('lesson',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('stale', sa.Boolean(), nullable=False),
    sa.Column('rules', sa.String(), nullable=False),
    sa.Column('fingerprint', sa.String(), nullable=False),
    sa.Column('revision', sa.Integer(), nullable=False),
    sa.Column('yeast_vigour', sa.Float(), nullable=True),
    sa.Column('bacteria_vigour', sa.Float(), nullable=True),
    sa.Column('yeast_sd', sa.Float(), nullable=True),
    sa.Column('bacteria_sd', sa.Float(), nullable=True),
    sa.Column('mean_c', sa.Float(), nullable=True),
    sa.Column('expected_day', sa.Float(), nullable=True),
    sa.Column('reached_day', sa.Float(), nullable=True),
    sa.Column('jun', sa.Boolean(), nullable=False),
    sa.Column('tasted', sa.JSON(), nullable=False),
    sa.Column('tests', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_lesson_brew_id_brew'), ondelete='CASCADE'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_lesson')),
    sa.UniqueConstraint('brew_id', name=op.f('uq_lesson_brew_id'))
    )
    with op.batch_alter_table('lesson', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_lesson_stale'), ['stale'], unique=False)
        batch_op.create_index(batch_op.f('ix_lesson_revision'), ['revision'], unique=False)
    op.execute(
        "INSERT INTO lesson (brew_id, stale, rules, fingerprint, revision, jun, tasted, tests) "
        "SELECT id, 1, '', '', 0, 0, '[]', '[]' FROM brew WHERE ended_at IS NOT NULL"
    )


def _touched() -> None:
    """Which rows a change touched; of older changes nothing is told, for they cannot be undone any more."""
    op.create_table('touched',
    sa.Column('change_id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('refers', sa.Boolean(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['change_id'], ['change.id'], name=op.f('fk_touched_change_id_change')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_touched'))
    )
    with op.batch_alter_table('touched', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_touched_change_id'), ['change_id'], unique=False)
        batch_op.create_index('ix_touched_row', ['name', 'number', 'change_id'], unique=False)


def upgrade() -> None:
    """New tables, and columns with what all of today's rows have."""
    _lesson()
    _touched()
    op.add_column('brew', sa.Column('start_doubt_days', sa.Float(), nullable=False, server_default='0'))
    op.add_column('place', sa.Column('version', sa.Integer(), nullable=False, server_default='1'))
    op.add_column('culture', sa.Column('version', sa.Integer(), nullable=False, server_default='1'))
    op.add_column('temperature_log', sa.Column('first_s', sa.Float(), nullable=False, server_default='0'))
    op.add_column('temperature_log', sa.Column('last_s', sa.Float(), nullable=False, server_default='0'))
    op.execute(
        "UPDATE temperature_log SET first_s = COALESCE(json_extract(points, '$[0][0]'), 0), "
        "last_s = COALESCE(json_extract(points, '$[#-1][0]'), 0)"
    )
    with op.batch_alter_table('temperature_log', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_temperature_log_last_s'), ['last_s'], unique=False)
    with op.batch_alter_table('brew', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_brew_culture_id'), ['culture_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_brew_vessel_id'), ['vessel_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_brew_status'), ['status'], unique=False)
    with op.batch_alter_table('bottle', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_bottle_state'), ['state'], unique=False)
        batch_op.create_index(batch_op.f('ix_bottle_gone_at'), ['gone_at'], unique=False)
    with op.batch_alter_table('transfer', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_transfer_at'), ['at'], unique=False)
    with op.batch_alter_table('change', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_change_at'), ['at'], unique=False)
        batch_op.create_index(batch_op.f('ix_change_undone_at'), ['undone_at'], unique=False)
