"""Liquids, transfers and additions take the place of stored volumes; what was measured and tasted is of a liquid."""

import json
from collections import defaultdict
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = '0009'
down_revision = '0008'

OF_BREWS = ('reading', 'tasting', 'look', 'photo', 'note')
LITTLE = 1e-6  #: Less is rounding. [L]
EMPTY_L = 0.005  #: A liquid of so little has ended. [L]
LONG_AGO = '2000-01-01 00:00:00.000000'


def _rows(query: str, **more: Any) -> list[Any]:
    return list(op.get_bind().execute(sa.text(query), more).mappings())


def _write(table: str, **values: Any) -> int:
    names, marks = ', '.join(values), ', '.join(f':{name}' for name in values)
    done = op.get_bind().execute(sa.text(f'INSERT INTO "{table}" ({names}) VALUES ({marks})'), values)
    return int(done.lastrowid)


def _set(table: str, number: int, **values: Any) -> None:
    sets = ', '.join(f'{name} = :{name}' for name in values)
    op.get_bind().execute(sa.text(f'UPDATE "{table}" SET {sets} WHERE id = :number'), {**values, 'number': number})


def _tables() -> None:
    """The new tables."""
    op.create_table('liquid',
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('began_at', sa.DateTime(), nullable=False),
    sa.Column('ended_at', sa.DateTime(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_liquid'))
    )
    op.create_index(op.f('ix_liquid_ended_at'), 'liquid', ['ended_at'], unique=False)
    op.create_table('transfer',
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('litres', sa.Float(), nullable=False),
    sa.Column('source_id', sa.Integer(), nullable=True),
    sa.Column('target_id', sa.Integer(), nullable=True),
    sa.Column('how', sa.String(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('lively', sa.String(), nullable=False),
    sa.Column('ph', sa.Float(), nullable=True),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.CheckConstraint('litres >= 0', name=op.f('ck_transfer_litres')),
    sa.CheckConstraint('source_id IS NOT NULL OR target_id IS NOT NULL', name=op.f('ck_transfer_ends')),
    sa.ForeignKeyConstraint(['source_id'], ['liquid.id'], name=op.f('fk_transfer_source_id_liquid')),
    sa.ForeignKeyConstraint(['target_id'], ['liquid.id'], name=op.f('fk_transfer_target_id_liquid')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_transfer'))
    )
    op.create_index(op.f('ix_transfer_source_id'), 'transfer', ['source_id'], unique=False)
    op.create_index(op.f('ix_transfer_target_id'), 'transfer', ['target_id'], unique=False)
    op.create_table('addition',
    sa.Column('liquid_id', sa.Integer(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('what', sa.String(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('litres', sa.Float(), nullable=False),
    sa.Column('grams', sa.Float(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.CheckConstraint('litres >= 0 AND grams >= 0', name=op.f('ck_addition_amounts')),
    sa.ForeignKeyConstraint(['liquid_id'], ['liquid.id'], name=op.f('fk_addition_liquid_id_liquid')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_addition'))
    )
    op.create_index(op.f('ix_addition_liquid_id'), 'addition', ['liquid_id'], unique=False)
    op.create_table('bottle_type',
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('volume_ml', sa.Float(), nullable=False),
    sa.Column('limit_bar', sa.Float(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_bottle_type')),
    sa.UniqueConstraint('kind', 'volume_ml', 'limit_bar', name=op.f('uq_bottle_type_kind'))
    )


def _columns() -> None:
    """New columns, empty at first."""
    for table in ('brew', 'starter_lot', 'bottling', 'vessel', *OF_BREWS):
        op.add_column(table, sa.Column('liquid_id', sa.Integer(), nullable=True))
    op.add_column('bottle', sa.Column('type_id', sa.Integer(), nullable=True))
    op.add_column('brew', sa.Column('starter_ta_g_per_l', sa.Float(), nullable=True))
    op.add_column('hotel_feed', sa.Column('addition_id', sa.Integer(), nullable=True))
    op.add_column('hotel_feed', sa.Column('transfer_id', sa.Integer(), nullable=True))
    op.add_column('gift', sa.Column('transfer_id', sa.Integer(), nullable=True))


class _Flows:
    """What goes in and out of each liquid, gathered, then written in order of time so that nothing falls below nothing."""

    def __init__(self) -> None:
        """Start with none."""
        self.flows: dict[int, list[tuple[str, int, float]]] = defaultdict(list)  # moment, order, litres

    def liquid(self, kind: str, began: str, ended: str | None = None) -> int:
        """Write a liquid; gives its number."""
        return _write('liquid', kind=kind, began_at=began, ended_at=ended)

    def move(self, at: str, litres: float, source: int | None, target: int | None, how: str, **more: Any) -> int:
        """Write a transfer; gives its number."""
        told = {'name': '', 'lively': '', 'ph': None, **more}
        if source is not None:
            self.flows[source].append((at, 1, -litres))
        if target is not None:
            self.flows[target].append((at, 0, litres))
        return _write('transfer', at=at, litres=litres, source_id=source, target_id=target, how=how, **told)

    def add(self, liquid: int, at: str, what: str, litres: float, grams: float = 0.0, name: str = '') -> int:
        """Write an addition; gives its number."""
        self.flows[liquid].append((at, 0, litres))
        return _write('addition', liquid_id=liquid, at=at, what=what, name=name, litres=litres, grams=grams)

    def mend(self, liquid: int, until: str = '9') -> None:
        """Where more went out than had come in, more was there than was told: write it down at that moment."""
        stands = 0.0
        for at, _, litres in sorted(self.flows[liquid]):
            if at > until:
                return
            stands += litres
            if stands < -LITTLE:
                self.move(at, -stands, None, liquid, 'found')
                stands = 0.0

    def left(self, liquid: int, until: str = '9') -> float:
        """Sum what is left at a moment."""
        return sum(litres for at, _, litres in self.flows[liquid] if at <= until)


def _added_later() -> dict[int, tuple[str, Any]]:
    """Find in the journal which portions were added to held brews: by number, the moment and the brew before."""
    out: dict[int, tuple[str, Any]] = {}
    for change in _rows("SELECT at, rows FROM change WHERE action = 'add_starter' AND undone_at IS NULL ORDER BY at, id"):
        rows = json.loads(change['rows']) or []
        before = next((old for table, _, old, _ in rows if table == 'brew' and old is not None), None)
        for table, number, old, _ in rows:
            if table == 'starter_portion' and old is None:
                out[number] = (str(change['at']), before)
    return out


def _brews(flows: _Flows) -> dict[int, int]:
    """Each brew is started with its sweet tea and its starters; what was added later came at its own moment."""
    later = _added_later()
    portions: dict[int, list[Any]] = defaultdict(list)
    for row in _rows('SELECT * FROM starter_portion ORDER BY id'):
        portions[row['brew_id']].append(row)
    out: dict[int, int] = {}
    for brew in _rows('SELECT * FROM brew ORDER BY id'):
        at, own = str(brew['pitched_at']), portions[brew['id']]
        out[brew['id']] = liquid = flows.liquid('brew', at, brew['ended_at'])
        _set('brew', brew['id'], liquid_id=liquid)
        added = [p for p in own if p['id'] in later]
        first = later[added[0]['id']][1] if added else None
        final, share = (first['final_l'], first['starter_fraction']) if first else (brew['final_l'], brew['starter_fraction'])
        if first:
            _set('brew', brew['id'], starter_fraction=share)
        starting = sum(p['litres'] for p in own if p['id'] not in later)
        told = bool(own) or brew['starter_lot_id'] is not None
        outside = 0.0 if told else share * final
        if outside > LITTLE:
            flows.move(at, outside, None, liquid, 'pitched', ph=brew['starter_ph'])
        lost = brew['starter_lot_id'] is not None and not any(p['lot_id'] == brew['starter_lot_id'] for p in own)
        starting += share * final if lost and not own else 0.0
        flows.add(liquid, at, 'sweet tea', max(0.0, final - starting - outside))
    return out


def _lots(flows: _Flows, brews: dict[int, int], hotels: dict[int, int]) -> dict[int, int]:
    """Each starter came from a brew, a hotel, other starters or outside."""
    poured = {row['target_id'] for row in _rows('SELECT DISTINCT target_id FROM lot_pour')}
    gifts = {row['lot_id']: row['id'] for row in _rows('SELECT id, lot_id FROM gift WHERE NOT outward AND lot_id IS NOT NULL')}
    out: dict[int, int] = {}
    for lot in _rows('SELECT * FROM starter_lot ORDER BY id'):
        out[lot['id']] = liquid = flows.liquid('starter', str(lot['made_at']))
        _set('starter_lot', lot['id'], liquid_id=liquid)
        if lot['id'] in poured:
            continue
        source, how = None, 'received'
        if lot['source_brew_id'] is not None:
            source, how = brews[lot['source_brew_id']], 'reserved'
        elif lot['vessel_id'] is not None:
            source, how = hotels[lot['vessel_id']], 'drawn'
        told = lot['ph'] if lot['ph'] is not None else lot['estimated_ph']
        number = flows.move(str(lot['made_at']), lot['volume_l'], source, liquid, how, ph=told)
        if lot['id'] in gifts:
            _set('gift', gifts[lot['id']], transfer_id=number)
    for row in _rows('SELECT * FROM lot_pour ORDER BY id'):
        flows.move(str(row['at']), row['litres'], out[row['source_id']], out[row['target_id']], 'merged')
    return out


def _into_brews(flows: _Flows, brews: dict[int, int], lots: dict[int, int]) -> None:
    """Portions of starter become transfers; vinegar is something put in."""
    later = _added_later()
    seen = set()
    for p in _rows('SELECT p.*, b.pitched_at, b.starter_lot_id FROM starter_portion AS p JOIN brew AS b ON b.id = p.brew_id ORDER BY p.id'):
        seen.add((p['brew_id'], p['lot_id']))
        at = later[p['id']][0] if p['id'] in later else str(p['pitched_at'])
        if p['kind'] == 'vinegar':
            flows.add(brews[p['brew_id']], at, 'vinegar', p['litres'])
            continue
        how = 'added' if p['id'] in later else 'pitched'
        source = None if p['lot_id'] is None else lots[p['lot_id']]
        flows.move(at, p['litres'], source, brews[p['brew_id']], how, name=p['name'], lively=p['kind'], ph=p['ph'])
    for b in _rows('SELECT * FROM brew WHERE starter_lot_id IS NOT NULL ORDER BY id'):
        if (b['id'], b['starter_lot_id']) not in seen:
            litres = b['starter_fraction'] * b['final_l'] if not any(n == b['id'] for n, _ in seen) else 0.0
            flows.move(str(b['pitched_at']), litres, lots[b['starter_lot_id']], brews[b['id']], 'pitched', ph=b['starter_ph'])


def _out_of_lots(flows: _Flows, lots: dict[int, int]) -> None:
    """Losses and gifts; then each starter has left just what it had before."""
    for row in _rows('SELECT * FROM lot_loss ORDER BY id'):
        flows.move(str(row['at']), row['litres'], lots[row['lot_id']], None, 'lost')
    for row in _rows('SELECT * FROM gift WHERE outward AND lot_id IS NOT NULL AND litres > 0 ORDER BY id'):
        _set('gift', row['id'], transfer_id=flows.move(str(row['at']), row['litres'], lots[row['lot_id']], None, 'given'))
    for lot in _rows('SELECT * FROM starter_lot ORDER BY id'):
        liquid = lots[lot['id']]
        flows.mend(liquid)
        last = max(at for at, _, _ in flows.flows[liquid]) if flows.flows[liquid] else str(lot['made_at'])
        more = flows.left(liquid) - lot['left_l']
        if more > LITTLE:
            flows.move(last, more, liquid, None, 'lost')
        elif more < -LITTLE:
            flows.move(last, -more, None, liquid, 'found')
        if lot['left_l'] <= EMPTY_L:
            _set('liquid', liquid, ended_at=last)


def _fillings(flows: _Flows, brews: dict[int, int]) -> None:
    """Bottles filled alike hold one liquid; each bottle that went took its share along."""
    types: dict[tuple[Any, ...], int] = {}
    bottles: dict[int, list[Any]] = defaultdict(list)
    for row in _rows('SELECT * FROM bottle ORDER BY id'):
        bottles[row['bottling_id']].append(row)
        key = (row['kind'], row['volume_ml'], row['limit_bar'])
        if key not in types:
            types[key] = _write('bottle_type', kind=key[0], volume_ml=key[1], limit_bar=key[2])
        _set('bottle', row['id'], type_id=types[key])
    for group in _rows('SELECT * FROM bottling ORDER BY id'):
        at, share = str(group['at']), 1 / (1 + group['flavour_g_per_l'] / 1000)
        liquid = flows.liquid('filling', at)
        _set('bottling', group['id'], liquid_id=liquid)
        full = [b['volume_ml'] / 1000 * (1 - b['headspace_fraction']) for b in bottles[group['id']]]
        flows.move(at, sum(full) * share, brews[group['brew_id']], liquid, 'bottled')
        if group['flavour_g_per_l']:
            grams = sum(full) * share * group['flavour_g_per_l']
            flows.add(liquid, at, 'flavour', sum(full) * (1 - share), grams, group['flavour'])
        if group['sugar_g_per_l']:
            flows.add(liquid, at, 'sugar', 0.0, sum(full) * group['sugar_g_per_l'])
        for bottle, litres in zip(bottles[group['id']], full, strict=True):
            if bottle['state'] == 'gone':
                how = 'gone' if bottle['hiss'] is None else 'drunk'
                flows.move(str(bottle['gone_at'] or at), litres, liquid, None, how)
        if bottles[group['id']] and all(b['state'] == 'gone' for b in bottles[group['id']]):
            _set('liquid', liquid, ended_at=max(str(b['gone_at'] or at) for b in bottles[group['id']]))


def _hotels(flows: _Flows) -> dict[int, int]:
    """Each hotel holds one liquid since it is known."""
    out: dict[int, int] = {}
    for row in _rows("SELECT v.id, MIN(s.since) AS since FROM vessel AS v LEFT JOIN standing AS s ON s.vessel_id = v.id WHERE v.kind = 'hotel' GROUP BY v.id"):
        fed = [str(f['at']) for f in _rows('SELECT at FROM hotel_feed WHERE vessel_id = :v', v=row['id'])]
        out[row['id']] = flows.liquid('hotel', min([*fed, str(row['since'] or LONG_AGO)]))
        _set('vessel', row['id'], liquid_id=out[row['id']])
    return out


def _feeds(flows: _Flows, brews: dict[int, int], hotels: dict[int, int]) -> None:
    """Feeds go in; a level told tells the difference from what had gone in and out until then."""
    for feed in _rows('SELECT * FROM hotel_feed ORDER BY at, id'):
        hotel, at = hotels.get(feed['vessel_id']), str(feed['at'])
        if hotel is None:
            continue
        if feed['of'] == 'brew' and feed['brew_id'] is not None:
            number = flows.move(at, feed['litres'], brews[feed['brew_id']], hotel, 'fed')
            _set('hotel_feed', feed['id'], transfer_id=number)
        elif feed['of'] != 'nothing':
            _set('hotel_feed', feed['id'], addition_id=flows.add(hotel, at, 'sweet tea', feed['litres']))
        if feed['level_l'] is not None:
            flows.mend(hotel, at)
            more = feed['level_l'] - flows.left(hotel, at)
            source, target = (None, hotel) if more >= 0 else (hotel, None)
            flows.move(at, abs(more), source, target, 'counted')
    for hotel in hotels.values():
        flows.mend(hotel)


def _ends(flows: _Flows, brews: dict[int, int]) -> None:
    """What an ended brew had left when its vessel was emptied went then."""
    for brew in _rows('SELECT * FROM brew ORDER BY id'):
        liquid = brews[brew['id']]
        flows.mend(liquid)
        if brew['ended_at'] is not None:
            rest = flows.left(liquid)
            how = 'discarded' if brew['status'] == 'discarded' else 'left over'
            if rest > LITTLE:
                flows.move(str(brew['ended_at']), rest, liquid, None, how)


def _closed() -> None:
    """Nothing is empty that must not be; what is told anew is told nowhere else."""
    for table in OF_BREWS:
        op.execute(f'UPDATE {table} SET liquid_id = (SELECT liquid_id FROM brew WHERE brew.id = {table}.brew_id)')
        with op.batch_alter_table(table, schema=None) as batch_op:
            batch_op.drop_index(batch_op.f(f'ix_{table}_brew_id'))
            batch_op.drop_constraint(batch_op.f(f'fk_{table}_brew_id_brew'), type_='foreignkey')
            batch_op.drop_column('brew_id')
            batch_op.alter_column('liquid_id', existing_type=sa.Integer(), nullable=False)
            batch_op.create_foreign_key(batch_op.f(f'fk_{table}_liquid_id_liquid'), 'liquid', ['liquid_id'], ['id'])
            batch_op.create_index(batch_op.f(f'ix_{table}_liquid_id'), ['liquid_id'], unique=False)
    dropped = {
        'brew': (('starter_lot_id', 'final_l'), ('fk_brew_starter_lot_id_starter_lot',)),
        'starter_lot': (
            ('source_brew_id', 'vessel_id', 'volume_l', 'left_l', 'lost_l'),
            ('fk_starter_lot_source_brew_id_brew', 'fk_starter_lot_vessel_id_vessel'),
        ),
        'bottling': ((), ()),
        'vessel': ((), ()),
    }
    for table, (columns, keys) in dropped.items():
        with op.batch_alter_table(table, schema=None) as batch_op:
            if table == 'starter_lot':
                batch_op.drop_constraint(batch_op.f('ck_starter_lot_left'), type_='check')
            for key in keys:
                batch_op.drop_constraint(batch_op.f(key), type_='foreignkey')
            for column in columns:
                batch_op.drop_column(column)
            if table != 'vessel':
                batch_op.alter_column('liquid_id', existing_type=sa.Integer(), nullable=False)
            batch_op.create_unique_constraint(batch_op.f(f'uq_{table}_liquid_id'), ['liquid_id'])
            batch_op.create_foreign_key(batch_op.f(f'fk_{table}_liquid_id_liquid'), 'liquid', ['liquid_id'], ['id'])
    with op.batch_alter_table('bottle', schema=None) as batch_op:
        for column in ('kind', 'volume_ml', 'limit_bar'):
            batch_op.drop_column(column)
        batch_op.alter_column('type_id', existing_type=sa.Integer(), nullable=False)
        batch_op.create_foreign_key(batch_op.f('fk_bottle_type_id_bottle_type'), 'bottle_type', ['type_id'], ['id'])
    with op.batch_alter_table('hotel_feed', schema=None) as batch_op:
        batch_op.drop_constraint(batch_op.f('fk_hotel_feed_brew_id_brew'), type_='foreignkey')
        for column in ('brew_id', 'litres', 'of', 'level_l'):
            batch_op.drop_column(column)
        batch_op.create_foreign_key(batch_op.f('fk_hotel_feed_addition_id_addition'), 'addition', ['addition_id'], ['id'])
        batch_op.create_foreign_key(batch_op.f('fk_hotel_feed_transfer_id_transfer'), 'transfer', ['transfer_id'], ['id'])
    with op.batch_alter_table('gift', schema=None) as batch_op:
        batch_op.drop_constraint(batch_op.f('fk_gift_lot_id_starter_lot'), type_='foreignkey')
        for column in ('lot_id', 'litres'):
            batch_op.drop_column(column)
        batch_op.create_foreign_key(batch_op.f('fk_gift_transfer_id_transfer'), 'transfer', ['transfer_id'], ['id'])
    for table in ('starter_portion', 'lot_pour', 'lot_loss'):
        op.drop_table(table)


def upgrade() -> None:
    """Every volume of before is a sum of what passed, to the last drop."""
    _tables()
    _columns()
    flows = _Flows()
    brews, hotels = _brews(flows), _hotels(flows)
    lots = _lots(flows, brews, hotels)
    _into_brews(flows, brews, lots)
    _out_of_lots(flows, lots)
    _fillings(flows, brews)
    _feeds(flows, brews, hotels)
    _ends(flows, brews)
    _closed()
