"""Devices that send readings by themselves, and calibrations with slope and offset."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = '0029'
down_revision = '0028'


def _table(name: str, *parts: Any) -> None:
    op.create_table(name, sa.Column('id', sa.Integer(), nullable=False), *parts, sa.PrimaryKeyConstraint('id', name=op.f(f'pk_{name}')))


def _to(table: str, column: str, other: str, **more: Any) -> Any:
    return sa.ForeignKeyConstraint([column], [f'{other}.id'], name=op.f(f'fk_{table}_{column}_{other}'), **more)


def _index(table: str, *names: str, **indexes: list[str]) -> None:
    with op.batch_alter_table(table, schema=None) as batch_op:
        for name in names:
            batch_op.create_index(f'ix_{table}_{name}', [name])
        for name, columns in indexes.items():
            batch_op.create_index(name, columns)


def _paired() -> None:
    """What is paired, where it stood, how warm it is to keep, what is doubted."""
    _table(
        'device',
        sa.Column('kind', sa.String(), nullable=False), sa.Column('name', sa.String(), nullable=False), sa.Column('serial', sa.String(), nullable=False),
        sa.Column('instrument_id', sa.Integer(), nullable=True), sa.Column('paired_at', sa.DateTime(), nullable=False), sa.Column('ended_at', sa.DateTime(), nullable=True),
        sa.Column('version', sa.Integer(), nullable=False), _to('device', 'instrument_id', 'instrument'),
    )
    _index('device', 'instrument_id')
    _table(
        'device_standing',
        sa.Column('device_id', sa.Integer(), nullable=False), sa.Column('vessel_id', sa.Integer(), nullable=True), sa.Column('place_id', sa.Integer(), nullable=True),
        sa.Column('since', sa.DateTime(), nullable=False), sa.Column('until', sa.DateTime(), nullable=True),
        _to('device_standing', 'device_id', 'device'), _to('device_standing', 'vessel_id', 'vessel'), _to('device_standing', 'place_id', 'place'),
    )
    _index('device_standing', 'device_id', 'place_id', ix_device_standing_vessel=['vessel_id', 'until'])
    _table(
        'device_doubt',
        sa.Column('device_id', sa.Integer(), nullable=False), sa.Column('since', sa.DateTime(), nullable=False), sa.Column('until', sa.DateTime(), nullable=False),
        sa.Column('why', sa.String(), nullable=False), _to('device_doubt', 'device_id', 'device'),
    )
    _index('device_doubt', 'device_id')
    _table(
        'set_point',
        sa.Column('device_id', sa.Integer(), nullable=False), sa.Column('at', sa.DateTime(), nullable=False), sa.Column('celsius', sa.Float(), nullable=True),
        sa.Column('how', sa.String(), nullable=False), sa.Column('until', sa.DateTime(), nullable=True), _to('set_point', 'device_id', 'device'),
    )
    _index('set_point', 'device_id')
    _table(
        'buffer_bottle',
        sa.Column('buffer', sa.Integer(), nullable=False), sa.Column('opened_on', sa.Date(), nullable=True), sa.Column('best_before', sa.Date(), nullable=True),
        sa.Column('ended_at', sa.DateTime(), nullable=True),
    )


def _sent() -> None:
    """What devices send, outside the journal."""
    _table(
        'pairing',
        sa.Column('secret_sum', sa.String(), nullable=False), sa.Column('code', sa.String(), nullable=False), sa.Column('name', sa.String(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False), sa.Column('serial', sa.String(), nullable=False), sa.Column('asked_at', sa.DateTime(), nullable=False),
        sa.Column('asked_by', sa.String(), nullable=False), sa.Column('state', sa.String(), nullable=False), sa.Column('device_id', sa.Integer(), nullable=True),
        _to('pairing', 'device_id', 'device', ondelete='SET NULL'), sa.UniqueConstraint('secret_sum', name=op.f('uq_pairing_secret_sum')),
    )
    _index('pairing', 'asked_at', 'code')
    _table(
        'device_state',
        sa.Column('device_id', sa.Integer(), nullable=False), sa.Column('token_sum', sa.String(), nullable=True), sa.Column('seen_at', sa.DateTime(), nullable=True),
        sa.Column('read_at', sa.DateTime(), nullable=True), sa.Column('battery', sa.Float(), nullable=True), sa.Column('skew_s', sa.Float(), nullable=False),
        sa.Column('interval_s', sa.Float(), nullable=True), sa.Column('celsius', sa.Float(), nullable=True), sa.Column('ph', sa.Float(), nullable=True),
        sa.Column('millivolts', sa.Float(), nullable=True), sa.Column('grams', sa.Float(), nullable=True), sa.Column('still', sa.Boolean(), nullable=False),
        sa.Column('followed', sa.JSON(), nullable=False), sa.Column('outlook', sa.JSON(), nullable=False),
        _to('device_state', 'device_id', 'device', ondelete='CASCADE'),
        sa.UniqueConstraint('device_id', name=op.f('uq_device_state_device_id')), sa.UniqueConstraint('token_sum', name=op.f('uq_device_state_token_sum')),
    )
    _table(
        'device_reading',
        sa.Column('device_id', sa.Integer(), nullable=False), sa.Column('at_s', sa.Float(), nullable=False), sa.Column('celsius', sa.Float(), nullable=True),
        sa.Column('ph', sa.Float(), nullable=True), sa.Column('millivolts', sa.Float(), nullable=True), sa.Column('grams', sa.Float(), nullable=True),
    )
    _index('device_reading', ix_device_reading_device=['device_id', 'at_s'])
    _table('known_reading')
    _table('device_landing', sa.Column('name', sa.String(), nullable=False), sa.Column('number', sa.Integer(), nullable=False))


def upgrade() -> None:
    """Make room for devices, what they send, and what a calibration told."""
    _paired()
    _sent()
    with op.batch_alter_table('calibration', schema=None) as batch_op:
        batch_op.add_column(sa.Column('slope', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('offset_mv', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('judged', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('points', sa.JSON(), nullable=False, server_default='[]'))
        batch_op.add_column(sa.Column('sets_it', sa.Boolean(), nullable=False, server_default='1'))
    with op.batch_alter_table('temperature_log', schema=None) as batch_op:
        batch_op.add_column(sa.Column('device_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('doubtful', sa.JSON(), nullable=False, server_default='[]'))
        batch_op.create_foreign_key('fk_temperature_log_device_id_device', 'device', ['device_id'], ['id'])
        batch_op.create_index('ix_temperature_log_device_id', ['device_id'])
    with op.batch_alter_table('reading', schema=None) as batch_op:
        batch_op.add_column(sa.Column('device_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('millivolts', sa.Float(), nullable=True))
        batch_op.create_foreign_key('fk_reading_device_id_device', 'device', ['device_id'], ['id'])
    with op.batch_alter_table('vessel', schema=None) as batch_op:
        batch_op.add_column(sa.Column('tare_g', sa.Float(), nullable=True))
    with op.batch_alter_table('household', schema=None) as batch_op:
        batch_op.add_column(sa.Column('raw_days', sa.Float(), nullable=False, server_default='90'))
