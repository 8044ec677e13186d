"""Instruments, photos, overrules, put-offs, absences, planned days; more to a reading and a tasting."""

import sqlalchemy as sa
from alembic import op

from kyklos.store import records as models

revision = '0005'
down_revision = '0004'


def _first_tables() -> None:
    """Absences, blind tastings, instruments, contents of photos, what is put off."""
    op.create_table('away',
    sa.Column('leaves', sa.Date(), nullable=False),
    sa.Column('returns', sa.Date(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('back_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_away'))
    )
    op.create_table('blind_tasting',
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('brews', sa.JSON(), nullable=False),
    sa.Column('sheets', sa.JSON(), nullable=False),
    sa.Column('revealed_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_blind_tasting'))
    )
    op.create_table('instrument',
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('error', sa.Float(), nullable=True),
    sa.Column('interval_days', sa.Float(), nullable=True),
    sa.Column('retired_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_instrument'))
    )
    op.create_table('photo_content',
    sa.Column('sha', sa.String(), nullable=False),
    sa.Column('large', sa.LargeBinary(), nullable=False),
    sa.Column('small', sa.LargeBinary(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_photo_content')),
    sa.UniqueConstraint('sha', name=op.f('uq_photo_content_sha'))
    )
    op.create_table('put_off',
    sa.Column('what', sa.String(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('until', models.UtcTime(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_put_off'))
    )
    with op.batch_alter_table('put_off', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_put_off_what'), ['what'], unique=False)


def _of_brews() -> None:
    """Calibrations, notes, the brewer's own verdicts."""
    op.create_table('calibration',
    sa.Column('instrument_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('at_seven', sa.Boolean(), nullable=False),
    sa.Column('at_four', sa.Boolean(), nullable=False),
    sa.Column('off_by', sa.Float(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_calibration_instrument_id_instrument')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_calibration'))
    )
    with op.batch_alter_table('calibration', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_calibration_instrument_id'), ['instrument_id'], unique=False)

    op.create_table('note',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('text', sa.String(), nullable=False),
    sa.Column('struck', sa.Boolean(), nullable=False),
    sa.Column('struck_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_note_brew_id_brew')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_note'))
    )
    with op.batch_alter_table('note', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_note_brew_id'), ['brew_id'], unique=False)

    op.create_table('overrule',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('was', sa.String(), nullable=False),
    sa.Column('word', sa.String(), nullable=False),
    sa.Column('reason', sa.String(), nullable=False),
    sa.Column('against', sa.JSON(), nullable=False),
    sa.Column('struck', sa.Boolean(), nullable=False),
    sa.Column('struck_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_overrule_brew_id_brew')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_overrule'))
    )
    with op.batch_alter_table('overrule', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_overrule_brew_id'), ['brew_id'], unique=False)


def _days_and_pictures() -> None:
    """Planned days, loggers' files, photos."""
    op.create_table('planned_day',
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('vessel_id', sa.Integer(), nullable=False),
    sa.Column('brew_id', sa.Integer(), nullable=True),
    sa.Column('day', sa.Date(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('done_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_planned_day_brew_id_brew')),
    sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_planned_day_vessel_id_vessel')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_planned_day'))
    )
    op.create_table('temperature_log',
    sa.Column('brew_id', sa.Integer(), nullable=True),
    sa.Column('place_id', sa.Integer(), nullable=True),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('points', sa.JSON(), nullable=False),
    sa.Column('struck', sa.Boolean(), nullable=False),
    sa.Column('struck_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_temperature_log_brew_id_brew')),
    sa.ForeignKeyConstraint(['place_id'], ['place.id'], name=op.f('fk_temperature_log_place_id_place')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_temperature_log'))
    )
    with op.batch_alter_table('temperature_log', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_temperature_log_brew_id'), ['brew_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_temperature_log_place_id'), ['place_id'], unique=False)

    op.create_table('photo',
    sa.Column('brew_id', sa.Integer(), nullable=False),
    sa.Column('look_id', sa.Integer(), nullable=True),
    sa.Column('at', models.UtcTime(), nullable=False),
    sa.Column('sha', sa.String(), nullable=False),
    sa.Column('width', sa.Integer(), nullable=False),
    sa.Column('height', sa.Integer(), nullable=False),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('struck', sa.Boolean(), nullable=False),
    sa.Column('struck_at', models.UtcTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['brew_id'], ['brew.id'], name=op.f('fk_photo_brew_id_brew')),
    sa.ForeignKeyConstraint(['look_id'], ['look.id'], name=op.f('fk_photo_look_id_look')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_photo'))
    )
    with op.batch_alter_table('photo', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_photo_brew_id'), ['brew_id'], unique=False)


def _more_of_brews() -> None:
    """More to a brew, a household, a look."""
    with op.batch_alter_table('brew', schema=None) as batch_op:
        batch_op.add_column(sa.Column('labelled_at', models.UtcTime(), nullable=True))

    with op.batch_alter_table('household', schema=None) as batch_op:
        batch_op.add_column(sa.Column('quiet_from', sa.Integer(), nullable=False, server_default='21'))
        batch_op.add_column(sa.Column('quiet_to', sa.Integer(), nullable=False, server_default='7'))
        batch_op.add_column(sa.Column('feed_key', sa.String(), nullable=False, server_default=''))

    with op.batch_alter_table('look', schema=None) as batch_op:
        batch_op.add_column(sa.Column('struck', sa.Boolean(), nullable=False, server_default='0'))
        batch_op.add_column(sa.Column('struck_at', models.UtcTime(), nullable=True))


def _more_of_readings() -> None:
    """More to a reading, a tasting, a vessel."""
    with op.batch_alter_table('reading', schema=None) as batch_op:
        batch_op.add_column(sa.Column('instrument_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('low_c', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('high_c', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('gravity', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('gravity_by', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('ta_g_per_l', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('titration', sa.JSON(), nullable=False, server_default='{}'))
        batch_op.add_column(sa.Column('depth', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('struck_at', models.UtcTime(), nullable=True))
        batch_op.add_column(sa.Column('replaces_id', sa.Integer(), nullable=True))
        batch_op.create_foreign_key(batch_op.f('fk_reading_replaces_id_reading'), 'reading', ['replaces_id'], ['id'])
        batch_op.create_foreign_key(batch_op.f('fk_reading_instrument_id_instrument'), 'instrument', ['instrument_id'], ['id'])

    with op.batch_alter_table('tasting', schema=None) as batch_op:
        batch_op.add_column(sa.Column('tea', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('yeast', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('again', sa.Boolean(), nullable=True))
        batch_op.add_column(sa.Column('after', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('note', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('blind', sa.Boolean(), nullable=False, server_default='0'))
        batch_op.add_column(sa.Column('struck_at', models.UtcTime(), nullable=True))


    with op.batch_alter_table('vessel', schema=None) as batch_op:
        batch_op.add_column(sa.Column('heater_c', sa.Float(), nullable=True))
    op.execute("UPDATE brew SET labelled_at = pitched_at")


def upgrade() -> None:
    """Earlier readings and tastings have none of the new; quiet hours are from nine to seven."""
    _first_tables()
    _of_brews()
    _days_and_pictures()
    _more_of_brews()
    _more_of_readings()
