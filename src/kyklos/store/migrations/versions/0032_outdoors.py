"""How warm it was outdoors, hour by hour."""

import sqlalchemy as sa
from alembic import op

revision = '0032'
down_revision = '0031'


def upgrade() -> None:
    """Make room for hours outdoors."""
    op.create_table(
        'outdoor_hour',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('hour', sa.Integer(), nullable=False),
        sa.Column('celsius', sa.Float(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_outdoor_hour')),
        sa.UniqueConstraint('hour', name=op.f('uq_outdoor_hour_hour')),
    )
