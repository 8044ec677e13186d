"""A starter's pH has the day on which it was read; a tapped vessel's tasting keeps the acidity that it had then."""

import sqlalchemy as sa
from alembic import op

revision = '0019'
down_revision = '0018'


def upgrade() -> None:
    """Nothing told: read when it was made. What was tasted before is computed once more, as of its own moment."""
    with op.batch_alter_table('starter_lot', schema=None) as batch_op:
        batch_op.add_column(sa.Column('read_at', sa.DateTime(), nullable=True))
    op.create_table(
        'tasted_then',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('tasting_id', sa.Integer(), nullable=False),
        sa.Column('ta_g_per_l', sa.Float(), nullable=False),
        sa.Column('sd', sa.Float(), nullable=False),
        sa.ForeignKeyConstraint(
            ['tasting_id'], ['tasting.id'], name=op.f('fk_tasted_then_tasting_id_tasting'), ondelete='CASCADE'
        ),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_tasted_then')),
        sa.UniqueConstraint('tasting_id', name=op.f('uq_tasted_then_tasting_id')),
    )
