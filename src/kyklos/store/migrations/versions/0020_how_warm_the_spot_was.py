"""How warm it was where bottles were put is written down at filling."""

import sqlalchemy as sa
from alembic import op

revision = '0020'
down_revision = '0019'


def upgrade() -> None:
    """Nothing was told before."""
    op.create_table(
        'spot_reading',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('place_id', sa.Integer(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('celsius', sa.Float(), nullable=False),
        sa.ForeignKeyConstraint(['place_id'], ['place.id'], name=op.f('fk_spot_reading_place_id_place')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_spot_reading')),
    )
    op.create_index(op.f('ix_spot_reading_place_id'), 'spot_reading', ['place_id'])
