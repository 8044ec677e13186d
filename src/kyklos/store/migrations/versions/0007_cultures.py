"""Cultures: events of discs, discs that share a jar, starter poured together, cut links, quarantines, conversions."""

import sqlalchemy as sa
from alembic import op

from kyklos.store import records as models

revision = '0007'
down_revision = '0006'


def _tracing() -> None:
    """What a trace and a conversion keep."""
    op.create_table('cut_link',
    sa.Column('source_kind', sa.String(), nullable=False),
    sa.Column('source_id', sa.Integer(), nullable=False),
    sa.Column('target_kind', sa.String(), nullable=False),
    sa.Column('target_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('reason', sa.String(), nullable=False),
    sa.Column('opened_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_cut_link'))
    )
    op.create_table('quarantine',
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('since', models.UtcTime(), nullable=False),
    sa.Column('reason', sa.String(), nullable=False),
    sa.Column('lifted_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_quarantine'))
    )
    op.create_table('conversion',
    sa.Column('culture_id', sa.Integer(), nullable=False),
    sa.Column('target', sa.String(), nullable=False),
    sa.Column('step', sa.Float(), nullable=False),
    sa.Column('started_at', models.UtcTime(), nullable=False),
    sa.Column('ended_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['culture_id'], ['culture.id'], name=op.f('fk_conversion_culture_id_culture')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_conversion'))
    )
    with op.batch_alter_table('conversion', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_conversion_culture_id'), ['culture_id'], unique=False)



def _discs() -> None:
    """What happens to discs and starters."""
    op.create_table('disc_event',
    sa.Column('disc_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('thickness_mm', sa.Float(), nullable=True),
    sa.Column('diameter_cm', sa.Float(), nullable=True),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['disc_id'], ['disc.id'], name=op.f('fk_disc_event_disc_id_disc')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_disc_event'))
    )
    with op.batch_alter_table('disc_event', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_disc_event_disc_id'), ['disc_id'], unique=False)

    op.create_table('lot_loss',
    sa.Column('lot_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('litres', sa.Float(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['lot_id'], ['starter_lot.id'], name=op.f('fk_lot_loss_lot_id_starter_lot')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_lot_loss'))
    )
    with op.batch_alter_table('lot_loss', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_lot_loss_lot_id'), ['lot_id'], unique=False)

    op.create_table('lot_pour',
    sa.Column('source_id', sa.Integer(), nullable=False),
    sa.Column('target_id', sa.Integer(), nullable=False),
    sa.Column('litres', sa.Float(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['source_id'], ['starter_lot.id'], name=op.f('fk_lot_pour_source_id_starter_lot')),
    sa.ForeignKeyConstraint(['target_id'], ['starter_lot.id'], name=op.f('fk_lot_pour_target_id_starter_lot')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_lot_pour'))
    )
    with op.batch_alter_table('lot_pour', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_lot_pour_source_id'), ['source_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_lot_pour_target_id'), ['target_id'], unique=False)

    op.create_table('brew_disc',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('disc_id', sa.Integer(), nullable=False),
    sa.Column('since', models.UtcTime(), nullable=False),
    sa.Column('until', models.UtcTime(), nullable=True),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_brew_disc_brew_id_brew')),
    sa.ForeignKeyConstraint(['disc_id'], ['disc.id'], name=op.f('fk_brew_disc_disc_id_disc')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_brew_disc'))
    )
    with op.batch_alter_table('brew_disc', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_brew_disc_brew_id'), ['brew_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_brew_disc_disc_id'), ['disc_id'], unique=False)



def _columns() -> None:
    """More to a brew, a feed, a stay, a starter."""
    with op.batch_alter_table('brew', schema=None) as batch_op:
        batch_op.add_column(sa.Column('starter_yeast', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('starter_bacteria', sa.Float(), nullable=True))

    with op.batch_alter_table('hotel_feed', schema=None) as batch_op:
        batch_op.add_column(sa.Column('level_l', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('fresh_cover', sa.Boolean(), nullable=False, server_default=sa.false()))

    with op.batch_alter_table('hotel_stay', schema=None) as batch_op:
        batch_op.add_column(sa.Column('position', sa.Integer(), nullable=False, server_default='1'))

    with op.batch_alter_table('starter_lot', schema=None) as batch_op:
        batch_op.add_column(sa.Column('kind', sa.String(), nullable=False, server_default='fresh'))
        batch_op.add_column(sa.Column('vessel_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('ta_g_per_l', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('ripe_since', models.UtcTime(), nullable=True))
        batch_op.add_column(sa.Column('doubt', sa.String(), nullable=False, server_default=''))
        batch_op.create_foreign_key(batch_op.f('fk_starter_lot_vessel_id_vessel'), 'vessel', ['vessel_id'], ['id'])


def _kept() -> None:
    """Carry over what the columns of old told: losses without a day, discs thrown out."""
    op.execute("UPDATE disc SET ended_as = 'discarded' WHERE ended_at IS NOT NULL AND ended_as = ''")
    op.execute(
        "INSERT INTO lot_loss (lot_id, at, litres) SELECT lot.id, lot.made_at, lot.lost_l - COALESCE(g.litres, 0) "
        "FROM starter_lot AS lot LEFT JOIN (SELECT lot_id, SUM(litres) AS litres FROM gift GROUP BY lot_id) AS g "
        "ON g.lot_id = lot.id WHERE lot.lost_l - COALESCE(g.litres, 0) > 0.000001"
    )


def upgrade() -> None:
    """A disc whose size was told keeps it as its first measurement; a line that is being led keeps being led."""
    _tracing()
    _discs()
    _columns()
    _kept()
    op.execute(
        "INSERT INTO disc_event (disc_id, at, kind, thickness_mm, diameter_cm, note) "
        "SELECT disc.id, COALESCE(disc.made_at, culture.started_at), 'measured', disc.thickness_mm, disc.diameter_cm, '' "
        "FROM disc JOIN culture ON culture.id = disc.culture_id "
        "WHERE disc.thickness_mm IS NOT NULL OR disc.diameter_cm IS NOT NULL"
    )
    op.execute(
        "INSERT INTO conversion (culture_id, target, step, started_at, ended_at) "
        "SELECT id, 'jun', 0.2, started_at, NULL FROM culture WHERE origin = 'converted' AND diet = 'sugar'"
    )
