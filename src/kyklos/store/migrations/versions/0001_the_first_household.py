"""The first household."""

import sqlalchemy as sa
from alembic import op

from kyklos.store import records as models

revision = '0001'
down_revision = None


def _change() -> None:
    op.create_table('change',
    sa.Column('action', sa.String(), nullable=False),
    sa.Column('says', sa.String(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('undone_at', models.UtcTime(), nullable=True),
    sa.Column('rows', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_change'))
    )


def _culture() -> None:
    op.create_table('culture',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('diet', sa.String(), nullable=False),
    sa.Column('origin', sa.String(), nullable=False),
    sa.Column('story', sa.String(), nullable=False),
    sa.Column('started_at', models.UtcTime(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_culture'))
    )


def _household() -> None:
    op.create_table('household',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('units', sa.String(), nullable=False),
    sa.Column('zone', sa.String(), nullable=False),
    sa.Column('theme', sa.String(), nullable=False),
    sa.Column('sample', sa.Boolean(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_household'))
    )


def _place() -> None:
    op.create_table('place',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('celsius', sa.Float(), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_place'))
    )


def _taster() -> None:
    op.create_table('taster',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_taster'))
    )


def _disc() -> None:
    op.create_table('disc',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('culture_id', sa.Integer(), nullable=False),
    sa.Column('born_brew_id', sa.Integer(), nullable=True),
    sa.Column('ended_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['born_brew_id'], ['brew.id'], name=op.f('fk_disc_born_brew_id_brew'), use_alter=True),
    sa.ForeignKeyConstraint(['culture_id'], ['culture.id'], name=op.f('fk_disc_culture_id_culture')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_disc'))
    )


def _starter_lot() -> None:
    op.create_table('starter_lot',
    sa.Column('culture_id', sa.Integer(), nullable=False),
    sa.Column('source_brew_id', sa.Integer(), nullable=True),
    sa.Column('made_at', models.UtcTime(), nullable=False),
    sa.Column('volume_l', sa.Float(), nullable=False),
    sa.Column('left_l', sa.Float(), nullable=False),
    sa.Column('ph', sa.Float(), nullable=True),
    sa.Column('instrument', sa.String(), nullable=False),
    sa.Column('estimated_ph', sa.Float(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.CheckConstraint('left_l >= 0 AND left_l <= volume_l', name=op.f('ck_starter_lot_left')),
    sa.ForeignKeyConstraint(['culture_id'], ['culture.id'], name=op.f('fk_starter_lot_culture_id_culture')),
    sa.ForeignKeyConstraint(['source_brew_id'], ['brew.id'], name=op.f('fk_starter_lot_source_brew_id_brew'), use_alter=True),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_starter_lot'))
    )


def _vessel() -> None:
    op.create_table('vessel',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('nominal_l', sa.Float(), nullable=False),
    sa.Column('usable_l', sa.Float(), nullable=False),
    sa.Column('diameter_cm', sa.Float(), nullable=False),
    sa.Column('material', sa.String(), nullable=False),
    sa.Column('tapped', sa.Boolean(), nullable=False),
    sa.Column('place_id', sa.Integer(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.CheckConstraint('usable_l > 0 AND usable_l <= nominal_l', name=op.f('ck_vessel_usable')),
    sa.ForeignKeyConstraint(['place_id'], ['place.id'], name=op.f('fk_vessel_place_id_place')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_vessel'))
    )


def _brew() -> None:
    op.create_table('brew',
    sa.Column('vessel_id', sa.Integer(), nullable=False),
    sa.Column('culture_id', sa.Integer(), nullable=False),
    sa.Column('starter_lot_id', sa.Integer(), nullable=True),
    sa.Column('disc_id', sa.Integer(), nullable=True),
    sa.Column('tea', sa.String(), nullable=False),
    sa.Column('leaf_g_per_l', sa.Float(), nullable=False),
    sa.Column('sugar_g_per_l', sa.Float(), nullable=False),
    sa.Column('honey_share', sa.Float(), nullable=False),
    sa.Column('alkalinity_meq_per_l', sa.Float(), nullable=False),
    sa.Column('starter_fraction', sa.Float(), nullable=False),
    sa.Column('starter_ph', sa.Float(), nullable=False),
    sa.Column('starter_instrument', sa.String(), nullable=False),
    sa.Column('final_l', sa.Float(), nullable=False),
    sa.Column('plan', sa.JSON(), nullable=False),
    sa.Column('pitched_at', models.UtcTime(), nullable=False),
    sa.Column('status', sa.String(), nullable=False),
    sa.Column('no_next_brew', sa.Boolean(), nullable=False),
    sa.Column('ended_at', models.UtcTime(), nullable=True),
    sa.Column('end_note', sa.String(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['culture_id'], ['culture.id'], name=op.f('fk_brew_culture_id_culture')),
    sa.ForeignKeyConstraint(['disc_id'], ['disc.id'], name=op.f('fk_brew_disc_id_disc')),
    sa.ForeignKeyConstraint(['starter_lot_id'], ['starter_lot.id'], name=op.f('fk_brew_starter_lot_id_starter_lot')),
    sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_brew_vessel_id_vessel')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_brew'))
    )


def _bottling() -> None:
    op.create_table('bottling',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('flavour', sa.String(), nullable=False),
    sa.Column('flavour_g_per_l', sa.Float(), nullable=False),
    sa.Column('sugar_g_per_l', sa.Float(), nullable=False),
    sa.Column('added_sugar_g_per_l', sa.Float(), nullable=False),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('start', sa.JSON(), nullable=False),
    sa.Column('vigour', sa.Float(), nullable=False),
    sa.Column('celsius', sa.Float(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_bottling_brew_id_brew')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_bottling'))
    )
    with op.batch_alter_table('bottling', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_bottling_brew_id'), ['brew_id'], unique=False)


def _look() -> None:
    op.create_table('look',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('surface', sa.String(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_look_brew_id_brew')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_look'))
    )
    with op.batch_alter_table('look', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_look_brew_id'), ['brew_id'], unique=False)


def _reading() -> None:
    op.create_table('reading',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('ph', sa.Float(), nullable=True),
    sa.Column('instrument', sa.String(), nullable=False),
    sa.Column('celsius', sa.Float(), nullable=True),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('struck', sa.Boolean(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_reading_brew_id_brew')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_reading'))
    )
    with op.batch_alter_table('reading', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_reading_brew_id'), ['brew_id'], unique=False)


def _tasting() -> None:
    op.create_table('tasting',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('taster_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('score', sa.Integer(), nullable=False),
    sa.Column('struck', sa.Boolean(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_tasting_brew_id_brew')),
    sa.ForeignKeyConstraint(['taster_id'], ['taster.id'], name=op.f('fk_tasting_taster_id_taster')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_tasting'))
    )
    with op.batch_alter_table('tasting', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_tasting_brew_id'), ['brew_id'], unique=False)


def _bottle() -> None:
    op.create_table('bottle',
    sa.Column('bottling_id', sa.Integer(), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('volume_ml', sa.Float(), nullable=False),
    sa.Column('limit_bar', sa.Float(), nullable=False),
    sa.Column('headspace_fraction', sa.Float(), nullable=False),
    sa.Column('state', sa.String(), nullable=False),
    sa.Column('gone_at', models.UtcTime(), nullable=True),
    sa.Column('hiss', sa.Integer(), nullable=True),
    sa.Column('taste', sa.String(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['bottling_id'], ['bottling.id'], name=op.f('fk_bottle_bottling_id_bottling')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_bottle'))
    )
    with op.batch_alter_table('bottle', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_bottle_bottling_id'), ['bottling_id'], unique=False)


def _bottle_move() -> None:
    op.create_table('bottle_move',
    sa.Column('bottle_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('celsius', sa.Float(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['bottle_id'], ['bottle.id'], name=op.f('fk_bottle_move_bottle_id_bottle')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_bottle_move'))
    )
    with op.batch_alter_table('bottle_move', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_bottle_move_bottle_id'), ['bottle_id'], unique=False)


def upgrade() -> None:
    """Make every table of the first version."""
    _change()
    _culture()
    _household()
    _place()
    _taster()
    _disc()
    _starter_lot()
    _vessel()
    _brew()
    _bottling()
    _look()
    _reading()
    _tasting()
    _bottle()
    _bottle_move()
