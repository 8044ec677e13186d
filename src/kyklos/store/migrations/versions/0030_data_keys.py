"""Keys that read the live tables and nothing else."""

import sqlalchemy as sa
from alembic import op

revision = '0030'
down_revision = '0029'


def upgrade() -> None:
    """Make room for keys of data."""
    op.create_table(
        'data_key',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('key_sum', sa.String(), nullable=False),
        sa.Column('made_at', sa.DateTime(), nullable=False),
        sa.Column('used_at', sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_data_key')),
        sa.UniqueConstraint('key_sum', name=op.f('uq_data_key_key_sum')),
    )
