"""Standings: where vessels and bottles stood, and since when; places that are fridges; changes that know their layout."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = '0008'
down_revision = '0007'

FRIDGE_BELOW_C = 12.0
LONG_AGO = '2000-01-01 00:00:00.000000'


def _mend_0007() -> None:
    """Files made while 0007 was still being written lack a table, a column and what was carried over with them."""
    inspector = sa.inspect(op.get_bind())
    if 'lot_loss' not in inspector.get_table_names():
        op.create_table('lot_loss',
        sa.Column('lot_id', sa.Integer(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('litres', sa.Float(), nullable=False),
        sa.Column('id', sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(['lot_id'], ['starter_lot.id'], name=op.f('fk_lot_loss_lot_id_starter_lot')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_lot_loss'))
        )
        with op.batch_alter_table('lot_loss', schema=None) as batch_op:
            batch_op.create_index(batch_op.f('ix_lot_loss_lot_id'), ['lot_id'], unique=False)
        op.execute("UPDATE disc SET ended_as = 'discarded' WHERE ended_at IS NOT NULL AND ended_as = ''")
        op.execute(
            "INSERT INTO lot_loss (lot_id, at, litres) SELECT lot.id, lot.made_at, lot.lost_l - COALESCE(g.litres, 0) "
            "FROM starter_lot AS lot LEFT JOIN (SELECT lot_id, SUM(litres) AS litres FROM gift WHERE outward "
            "GROUP BY lot_id) AS g ON g.lot_id = lot.id WHERE lot.lost_l - COALESCE(g.litres, 0) > 0.000001"
        )
    if 'ripe_since' not in {column['name'] for column in inspector.get_columns('starter_lot')}:
        with op.batch_alter_table('starter_lot', schema=None) as batch_op:
            batch_op.add_column(sa.Column('ripe_since', sa.DateTime(), nullable=True))


def _tables() -> None:
    """The new table, and columns with what all of today's rows have."""
    op.create_table('standing',
    sa.Column('vessel_id', sa.Integer(), nullable=True),
    sa.Column('bottle_id', sa.Integer(), nullable=True),
    sa.Column('place_id', sa.Integer(), nullable=False),
    sa.Column('heater_c', sa.Float(), nullable=True),
    sa.Column('since', sa.DateTime(), nullable=False),
    sa.Column('until', sa.DateTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.CheckConstraint('(vessel_id IS NULL) <> (bottle_id IS NULL)', name=op.f('ck_standing_whose')),
    sa.ForeignKeyConstraint(['bottle_id'], ['bottle.id'], name=op.f('fk_standing_bottle_id_bottle')),
    sa.ForeignKeyConstraint(['place_id'], ['place.id'], name=op.f('fk_standing_place_id_place')),
    sa.ForeignKeyConstraint(['vessel_id'], ['vessel.id'], name=op.f('fk_standing_vessel_id_vessel')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_standing'))
    )
    with op.batch_alter_table('standing', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_standing_bottle_id'), ['bottle_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_standing_place_id'), ['place_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_standing_vessel_id'), ['vessel_id'], unique=False)
    with op.batch_alter_table('place', schema=None) as batch_op:
        batch_op.add_column(sa.Column('kind', sa.String(), nullable=False, server_default='room'))
    with op.batch_alter_table('change', schema=None) as batch_op:
        batch_op.add_column(sa.Column('layout', sa.String(), nullable=False, server_default=''))


def _rows(query: str, **more: object) -> list[Any]:
    return [tuple(row) for row in op.get_bind().execute(sa.text(query), more)]


def _moved() -> dict[int, list[tuple[str, Any, Any]]]:
    """Read out of the journal when vessels were moved or their heaters set: moment, before, after."""
    out: dict[int, list[tuple[str, Any, Any]]] = {}
    changes = _rows("SELECT at, rows FROM change WHERE undone_at IS NULL AND rows LIKE '%\"vessel\"%' ORDER BY at, id")
    for at, rows in changes:
        for table, number, before, after in json.loads(rows) or []:
            if table != 'vessel' or after is None:
                continue
            stood = [None if row is None else (row.get('place_id'), row.get('heater_c')) for row in (before, after)]
            if stood[0] != stood[1]:
                out.setdefault(number, []).append((at, stood[0], stood[1]))
    return out


def _stand(vessel: int | None, bottle: int | None, place: int, heater: float | None, since: str, until: str | None) -> None:
    op.get_bind().execute(
        sa.text(
            "INSERT INTO standing (vessel_id, bottle_id, place_id, heater_c, since, until) "
            "VALUES (:vessel, :bottle, :place, :heater, :since, :until)"
        ),
        {"vessel": vessel, "bottle": bottle, "place": place, "heater": heater, "since": since, "until": until},
    )


def _vessels() -> None:
    """Where the journal tells of moves they are dated; else a vessel has always stood where it stands."""
    moved = _moved()
    places = {number for (number,) in _rows("SELECT id FROM place")}
    for number, place, heater in _rows("SELECT id, place_id, heater_c FROM vessel ORDER BY id"):
        told = [m for m in moved.get(number, []) if m[2][0] in places and (m[1] is None or m[1][0] in places)]
        first = min([at for (at,) in _rows("SELECT pitched_at FROM brew WHERE vessel_id = :v", v=number)], default=None)
        made = next((at for at, before, _ in told if before is None), None)
        since = min([at for at in (first, made) if at is not None], default=LONG_AGO)
        here = told[0][2] if told and told[0][1] is None else told[0][1] if told else (place, heater)
        for at, before, after in told:
            if before is not None and at > since:
                _stand(number, None, here[0], here[1], since, at)
                here, since = after, at
        _stand(number, None, place, heater, since, None)


def _fridge() -> int:
    """Find the household's fridge by its warmth or name, or write one down as cold as most are."""
    cold = _rows("SELECT id FROM place WHERE celsius < :c OR lower(name) LIKE '%fridge%' ORDER BY position, id", c=FRIDGE_BELOW_C - 3)
    if cold:
        op.get_bind().execute(sa.text("UPDATE place SET kind = 'fridge' WHERE id = :n"), {"n": cold[0][0]})
        return int(cold[0][0])
    last = _rows("SELECT COALESCE(MAX(position), -1) + 1 FROM place")[0][0]
    made = op.get_bind().execute(
        sa.text(
            "INSERT INTO place (name, kind, celsius, light, reach, rivals, position) "
            "VALUES ('Fridge', 'fridge', 6.0, 'dark', 'easy', 0, :position)"
        ),
        {"position": last},
    )
    return int(made.lastrowid)


def _bottles() -> None:
    """A bottle stood where it was filled, then in the fridge, then back, as its moves tell."""
    moves: dict[int, list[tuple[str, float]]] = {}
    for bottle, at, celsius in _rows("SELECT bottle_id, at, celsius FROM bottle_move ORDER BY bottle_id, at, id"):
        moves.setdefault(bottle, []).append((at, celsius))
    filled = _rows(
        "SELECT b.id, g.at, COALESCE(g.place_id, v.place_id), g.celsius FROM bottle AS b JOIN bottling AS g ON g.id = b.bottling_id "
        "JOIN brew ON brew.id = g.brew_id JOIN vessel AS v ON v.id = brew.vessel_id ORDER BY b.id"
    )
    fridge = _fridge() if moves or any(celsius < FRIDGE_BELOW_C for *_, celsius in filled) else 0
    for bottle, at, place, celsius in filled:
        here, since = (fridge if celsius < FRIDGE_BELOW_C else place), at
        for moved_at, to in moves.get(bottle, []):
            there = fridge if to < FRIDGE_BELOW_C else place
            if there != here:
                _stand(None, bottle, here, None, since, max(since, moved_at))
                here, since = there, max(since, moved_at)
        _stand(None, bottle, here, None, since, None)


def _dropped() -> None:
    """What standings tell is told nowhere else."""
    with op.batch_alter_table('vessel', schema=None) as batch_op:
        batch_op.drop_constraint(batch_op.f('fk_vessel_place_id_place'), type_='foreignkey')
        batch_op.drop_column('place_id')
        batch_op.drop_column('heater_c')
    with op.batch_alter_table('bottling', schema=None) as batch_op:
        batch_op.drop_constraint(batch_op.f('fk_bottling_place_id_place'), type_='foreignkey')
        batch_op.drop_column('place_id')
        batch_op.drop_column('celsius')
    op.drop_table('bottle_move')


def upgrade() -> None:
    """Every vessel and bottle has its standings, the past ones too as far as the file knows them."""
    _mend_0007()
    _tables()
    _vessels()
    _bottles()
    _dropped()
