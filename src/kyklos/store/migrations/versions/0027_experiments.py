"""Experiments, and the care of what the kitchen works with."""

import sqlalchemy as sa
from alembic import op

revision = '0027'
down_revision = '0026'


def upgrade() -> None:
    """Make room for questions that are tried, and for what is washed."""
    op.create_table(
        'experiment',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('question', sa.String(), nullable=False),
        sa.Column('changed', sa.String(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('arms', sa.JSON(), nullable=False),
        sa.Column('labels', sa.JSON(), nullable=False),
        sa.Column('sheets', sa.JSON(), nullable=False),
        sa.Column('triangles', sa.JSON(), nullable=False),
        sa.Column('started_at', sa.DateTime(), nullable=False),
        sa.Column('revealed_at', sa.DateTime(), nullable=True),
        sa.Column('ended_at', sa.DateTime(), nullable=True),
        sa.Column('lesson_id', sa.Integer(), nullable=True),
        sa.Column('version', sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(['lesson_id'], ['kept_lesson.id'], name=op.f('fk_experiment_lesson_id_kept_lesson')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_experiment')),
    )
    op.create_table(
        'care_rhythm',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('what', sa.String(), nullable=False),
        sa.Column('every_days', sa.Float(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_care_rhythm')),
        sa.UniqueConstraint('what', name=op.f('uq_care_rhythm_what')),
    )
    op.create_table(
        'care_done',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('what', sa.String(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('with_what', sa.String(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_care_done')),
    )
    with op.batch_alter_table('care_done', schema=None) as batch_op:
        batch_op.create_index('ix_care_done_what', ['what'])
