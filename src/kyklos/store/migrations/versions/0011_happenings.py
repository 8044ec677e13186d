"""Vessels in which a brew stood before; what passed when a brew was split or joined."""

import sqlalchemy as sa
from alembic import op

revision = '0011'
down_revision = '0010'


def upgrade() -> None:
    """A new table and a column that may be empty."""
    op.create_table('brew_stay',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('vessel_id', sa.Integer(), nullable=False),
    sa.Column('since', sa.DateTime(), nullable=False),
    sa.Column('until', sa.DateTime(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_brew_stay_brew_id_brew')),
    sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_brew_stay_vessel_id_vessel')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_brew_stay'))
    )
    with op.batch_alter_table('brew_stay', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_brew_stay_brew_id'), ['brew_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_brew_stay_vessel_id'), ['vessel_id'], unique=False)
    op.add_column('touched', sa.Column('made', sa.Boolean(), nullable=False, server_default='0'))
    op.add_column('transfer', sa.Column('start', sa.JSON(), nullable=True))
