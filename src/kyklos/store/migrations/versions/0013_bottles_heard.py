"""How bottles sounded when they were burped or squeezed."""

import sqlalchemy as sa
from alembic import op

from kyklos.store.records.base import UtcTime

revision = '0013'
down_revision = '0012'


def upgrade() -> None:
    """A table of its own: a bottle may be burped many times."""
    op.create_table(
        'hearing',
        sa.Column('bottle_id', sa.Integer(), nullable=False),
        sa.Column('at', UtcTime(), nullable=False),
        sa.Column('how', sa.String(), nullable=False),
        sa.Column('hiss', sa.Integer(), nullable=True),
        sa.Column('id', sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(['bottle_id'], ['bottle.id'], name=op.f('fk_hearing_bottle_id_bottle')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_hearing')),
    )
    op.create_index(op.f('ix_hearing_bottle_id'), 'hearing', ['bottle_id'], unique=False)
