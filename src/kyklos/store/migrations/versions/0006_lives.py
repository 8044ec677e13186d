"""Lives of things: discs parted, measured and ended; stays and feeds of the hotel; gifts."""

import sqlalchemy as sa
from alembic import op

from kyklos.store import records as models

revision = '0006'
down_revision = '0005'


def _tables() -> None:
    """Gifts, stays and feeds."""
    op.create_table('gift',
    sa.Column('culture_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('outward', sa.Boolean(), nullable=False),
    sa.Column('disc_id', sa.Integer(), nullable=True),
    sa.Column('lot_id', sa.Integer(), nullable=True),
    sa.Column('litres', sa.Float(), nullable=False),
    sa.Column('who', sa.String(), nullable=False),
    sa.Column('still_holds', sa.Boolean(), nullable=False),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['culture_id'], ['culture.id'], name=op.f('fk_gift_culture_id_culture')),
    sa.ForeignKeyConstraint(['disc_id'], ['disc.id'], name=op.f('fk_gift_disc_id_disc')),
    sa.ForeignKeyConstraint(['lot_id'], ['starter_lot.id'], name=op.f('fk_gift_lot_id_starter_lot')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_gift'))
    )
    with op.batch_alter_table('gift', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_gift_culture_id'), ['culture_id'], unique=False)

    op.create_table('hotel_stay',
    sa.Column('disc_id', sa.Integer(), nullable=False),
    sa.Column('vessel_id', sa.Integer(), nullable=False),
    sa.Column('since', models.UtcTime(), nullable=False),
    sa.Column('until', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['disc_id'], ['disc.id'], name=op.f('fk_hotel_stay_disc_id_disc')),
    sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_hotel_stay_vessel_id_vessel')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_hotel_stay'))
    )
    with op.batch_alter_table('hotel_stay', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_hotel_stay_disc_id'), ['disc_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_hotel_stay_vessel_id'), ['vessel_id'], unique=False)

    op.create_table('hotel_feed',
    sa.Column('vessel_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('litres', sa.Float(), nullable=False),
    sa.Column('of', sa.String(), nullable=False),
    sa.Column('brew_id', sa.Integer(), nullable=True),
    sa.Column('ph', sa.Float(), nullable=True),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_hotel_feed_brew_id_brew')),
    sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_hotel_feed_vessel_id_vessel')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_hotel_feed'))
    )
    with op.batch_alter_table('hotel_feed', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_hotel_feed_vessel_id'), ['vessel_id'], unique=False)


def _columns() -> None:
    """More to a line, a disc, a starter."""
    with op.batch_alter_table('culture', schema=None) as batch_op:
        batch_op.add_column(sa.Column('parent_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('passport', sa.JSON(), nullable=False, server_default='{}'))
        batch_op.add_column(sa.Column('passport_key', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('backups_wanted', sa.Integer(), nullable=False, server_default='1'))
        batch_op.create_foreign_key(batch_op.f('fk_culture_parent_id_culture'), 'culture', ['parent_id'], ['id'])

    with op.batch_alter_table('disc', schema=None) as batch_op:
        batch_op.add_column(sa.Column('parent_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('made_at', models.UtcTime(), nullable=True))
        batch_op.add_column(sa.Column('thickness_mm', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('diameter_cm', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('ended_as', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('ended_note', sa.String(), nullable=False, server_default=''))
        batch_op.create_foreign_key(batch_op.f('fk_disc_parent_id_disc'), 'disc', ['parent_id'], ['id'])

    with op.batch_alter_table('starter_lot', schema=None) as batch_op:
        batch_op.add_column(sa.Column('kept_in', sa.String(), nullable=False, server_default='shelf'))
        batch_op.add_column(sa.Column('lost_l', sa.Float(), nullable=False, server_default='0'))
    op.execute("UPDATE disc SET ended_as = 'discarded' WHERE ended_at IS NOT NULL")


def upgrade() -> None:
    """Discs that ended before were discarded with their brew."""
    _tables()
    _columns()
