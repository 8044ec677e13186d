"""A day of several vessels is walked step by step; what was done, and when, is kept."""

import sqlalchemy as sa
from alembic import op

revision = '0024'
down_revision = '0023'


def upgrade() -> None:
    """Make room for days in the kitchen."""
    op.create_table(
        'kitchen_day',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('walk', sa.JSON(), nullable=False),
        sa.Column('done', sa.JSON(), nullable=False),
        sa.Column('began_at', sa.DateTime(), nullable=False),
        sa.Column('ended_at', sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_kitchen_day')),
    )
    with op.batch_alter_table('kitchen_day', schema=None) as batch_op:
        batch_op.create_index('ix_kitchen_day_ended_at', ['ended_at'])
