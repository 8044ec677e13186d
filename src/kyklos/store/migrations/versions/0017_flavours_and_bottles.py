"""Flavours kept by name, own ingredients, the larder, infusions, bench trials, scores; a park of bottles."""

from collections.abc import Sequence
from typing import Any

import sqlalchemy as sa
from alembic import op

from kyklos.store.records.base import UtcTime

revision = '0017'
down_revision = '0016'

#: Ingredients got the names by which kitchens call them; what was one is two where juice and pieces differ.
RENAMED = {
    'apple': 'apple-juice', 'pear': 'pear-juice', 'grape': 'grape-juice', 'orange': 'orange-juice',
    'grapefruit': 'grapefruit-juice', 'lemon': 'lemon-juice', 'sea-buckthorn': 'sea-buckthorn-juice',
    'pomegranate': 'pomegranate-juice', 'carrot': 'carrot-juice', 'ginger': 'ginger-root', 'syrup': 'simple-syrup',
}
#: How each was held to drive the yeast until now: what was closed then keeps its forecast.
FORMS = {
    'juice': ('apple', 'pear', 'damson', 'mango', 'orange', 'grapefruit', 'lemon', 'sea-buckthorn', 'elderberry', 'grape',
              'pomegranate', 'carrot', 'jam'),
    'pieces': ('quince', 'plum', 'cherry', 'apricot', 'peach', 'pineapple', 'rhubarb', 'strawberry', 'raspberry', 'blackberry',
               'blueberry', 'blackcurrant', 'redcurrant', 'gooseberry', 'fig', 'beetroot', 'cucumber', 'raisins'),
    'ginger': ('ginger',),
    'herbs': ('herbs',),
}


def _table(
    name: str,
    *columns: sa.Column[Any],
    keys: Sequence[tuple[str, str]] = (),
    indexes: Sequence[str] = (),
    unique: Sequence[str] = (),
) -> None:
    """Make a table with its number, its foreign keys and its indexes, named by the house's rule."""
    op.create_table(
        name,
        *columns,
        sa.Column('id', sa.Integer(), nullable=False),
        *(sa.ForeignKeyConstraint([own], [f'{other}.id'], name=op.f(f'fk_{name}_{own}_{other}')) for own, other in keys),
        *(sa.UniqueConstraint(one, name=op.f(f'uq_{name}_{one}')) for one in unique),
        sa.PrimaryKeyConstraint('id', name=op.f(f'pk_{name}')),
    )
    for one in indexes:
        op.create_index(op.f(f'ix_{name}_{one}'), name, [one], unique=False)


def _text(name: str) -> sa.Column[str]:
    return sa.Column(name, sa.String(), nullable=False, server_default='')


def upgrade() -> None:
    """New tables first; then what bottles and their kinds know more; then the names of ingredients."""
    _flavours()
    _jars_and_trials()
    _scores()
    _kinds_and_bottles()
    _fillings()
    _names()


def _flavours() -> None:
    _table(
        'own_ingredient',
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('form', sa.String(), nullable=False),
        sa.Column('sugar', sa.Float(), nullable=False),
        sa.Column('acid_g_per_l', sa.Float(), nullable=True),
        sa.Column('ph', sa.Float(), nullable=True),
        sa.Column('abv', sa.Float(), nullable=False),
        sa.Column('preserved', sa.Boolean(), nullable=False),
        sa.Column('unit', sa.String(), nullable=False),
        sa.Column('unit_g', sa.Float(), nullable=False),
        sa.Column('piece_mm', sa.Float(), nullable=False),
        sa.Column('months', sa.JSON(), nullable=False),
        sa.Column('allergens', sa.String(), nullable=False),
        sa.Column('note', sa.String(), nullable=False),
        sa.Column('retired', sa.Boolean(), nullable=False),
    )
    _table(
        'flavour',
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('note', sa.String(), nullable=False),
        sa.Column('priming_g_per_l', sa.Float(), nullable=False),
        sa.Column('hours', sa.Float(), nullable=True),
        sa.Column('retired', sa.Boolean(), nullable=False),
        sa.Column('kept_at', UtcTime(), nullable=False),
        sa.Column('version', sa.Integer(), nullable=False),
    )
    _table(
        'flavour_part',
        sa.Column('flavour_id', sa.Integer(), nullable=False),
        sa.Column('ingredient', sa.String(), nullable=False),
        sa.Column('form', sa.String(), nullable=False),
        sa.Column('moment', sa.String(), nullable=False),
        sa.Column('g_per_l', sa.Float(), nullable=False),
        keys=[('flavour_id', 'flavour')],
        indexes=['flavour_id'],
    )
    _table(
        'larder_item',
        sa.Column('ingredient', sa.String(), nullable=False),
        sa.Column('where', sa.String(), nullable=False),
        sa.Column('grams', sa.Float(), nullable=True),
        sa.Column('since', UtcTime(), nullable=False),
        sa.Column('gone_at', UtcTime(), nullable=True),
        indexes=['gone_at'],
    )


def _jars_and_trials() -> None:
    _table(
        'infusion',
        sa.Column('liquid_id', sa.Integer(), nullable=False),
        sa.Column('brew_id', sa.Integer(), nullable=False),
        sa.Column('flavour_id', sa.Integer(), nullable=True),
        sa.Column('name', sa.String(), nullable=False),
        sa.Column('place_id', sa.Integer(), nullable=False),
        sa.Column('cover', sa.String(), nullable=False),
        sa.Column('began_at', UtcTime(), nullable=False),
        sa.Column('hours', sa.Float(), nullable=False),
        sa.Column('strained_at', UtcTime(), nullable=True),
        sa.Column('ended_at', UtcTime(), nullable=True),
        sa.Column('start', sa.JSON(), nullable=False),
        sa.Column('vigour', sa.Float(), nullable=False),
        sa.Column('ph_after', sa.Float(), nullable=True),
        sa.Column('note', sa.String(), nullable=False),
        keys=[('liquid_id', 'liquid'), ('brew_id', 'brew'), ('flavour_id', 'flavour'), ('place_id', 'place')],
        indexes=['brew_id', 'flavour_id', 'place_id', 'ended_at'],
        unique=['liquid_id'],
    )
    _table(
        'trial',
        sa.Column('brew_id', sa.Integer(), nullable=False),
        sa.Column('ingredient', sa.String(), nullable=False),
        sa.Column('at', UtcTime(), nullable=False),
        sa.Column('glass_g', sa.Float(), nullable=False),
        sa.Column('best_g', sa.Float(), nullable=True),
        sa.Column('flavour_id', sa.Integer(), nullable=True),
        sa.Column('ended_at', UtcTime(), nullable=True),
        keys=[('brew_id', 'brew'), ('flavour_id', 'flavour')],
        indexes=['brew_id', 'flavour_id'],
    )
    _table(
        'trial_step',
        sa.Column('trial_id', sa.Integer(), nullable=False),
        sa.Column('taster_id', sa.Integer(), nullable=True),
        sa.Column('grams', sa.Float(), nullable=False),
        sa.Column('score', sa.Integer(), nullable=False),
        sa.Column('word', sa.String(), nullable=False),
        keys=[('trial_id', 'trial'), ('taster_id', 'taster')],
        indexes=['trial_id', 'taster_id'],
    )


def _scores() -> None:
    _table(
        'comparison',
        sa.Column('at', UtcTime(), nullable=False),
        sa.Column('glasses', sa.JSON(), nullable=False),
        sa.Column('question', sa.String(), nullable=False),
        sa.Column('revealed_at', UtcTime(), nullable=True),
    )
    _table(
        'score',
        sa.Column('at', UtcTime(), nullable=False),
        sa.Column('bottling_id', sa.Integer(), nullable=False),
        sa.Column('bottle_id', sa.Integer(), nullable=True),
        sa.Column('taster_id', sa.Integer(), nullable=False),
        sa.Column('comparison_id', sa.Integer(), nullable=True),
        sa.Column('liked', sa.Integer(), nullable=False),
        sa.Column('again', sa.Boolean(), nullable=True),
        sa.Column('sheet', sa.JSON(), nullable=False),
        sa.Column('word', sa.String(), nullable=False),
        sa.Column('next_time', sa.String(), nullable=False),
        keys=[('bottling_id', 'bottling'), ('bottle_id', 'bottle'), ('taster_id', 'taster'), ('comparison_id', 'comparison')],
        indexes=['at', 'bottling_id', 'bottle_id', 'taster_id', 'comparison_id'],
    )


def _kinds_and_bottles() -> None:
    with op.batch_alter_table('bottle_type', schema=None) as batch_op:
        batch_op.add_column(sa.Column('owned', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('retired', sa.Integer(), nullable=False, server_default='0'))
        batch_op.add_column(sa.Column('neck_mm', sa.Float(), nullable=True))
        batch_op.add_column(_text('closure'))
        batch_op.add_column(sa.Column('closure_since', UtcTime(), nullable=True))
        batch_op.add_column(sa.Column('washed_at', UtcTime(), nullable=True))
        batch_op.add_column(sa.Column('to_wash', sa.Integer(), nullable=False, server_default='0'))
        batch_op.add_column(_text('note'))
        batch_op.add_column(sa.Column('version', sa.Integer(), nullable=False, server_default='1'))
    with op.batch_alter_table('bottle', schema=None) as batch_op:
        batch_op.add_column(sa.Column('tester', sa.Boolean(), nullable=False, server_default=sa.false()))
        batch_op.add_column(_text('left_as'))
        batch_op.add_column(_text('cause'))
        batch_op.add_column(_text('to_whom'))
        batch_op.create_index(op.f('ix_bottle_type_id'), ['type_id'], unique=False)


def _fillings() -> None:
    with op.batch_alter_table('bottling', schema=None) as batch_op:
        batch_op.add_column(sa.Column('flavour_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('infusion_id', sa.Integer(), nullable=True))
        batch_op.add_column(sa.Column('form', sa.String(), nullable=False, server_default='none'))
        batch_op.add_column(sa.Column('pour_yeast', sa.Float(), nullable=False, server_default='1.0'))
        batch_op.add_column(sa.Column('added_ethanol_g_per_l', sa.Float(), nullable=False, server_default='0.0'))
        batch_op.add_column(sa.Column('volumes', sa.Float(), nullable=False, server_default='0.6'))
        batch_op.add_column(_text('wish'))
        batch_op.add_column(sa.Column('burps', sa.String(), nullable=False, server_default='never'))
        batch_op.create_foreign_key(op.f('fk_bottling_flavour_id_flavour'), 'flavour', ['flavour_id'], ['id'])
        batch_op.create_foreign_key(op.f('fk_bottling_infusion_id_infusion'), 'infusion', ['infusion_id'], ['id'])
        batch_op.create_index(op.f('ix_bottling_flavour_id'), ['flavour_id'], unique=False)
        batch_op.create_index(op.f('ix_bottling_infusion_id'), ['infusion_id'], unique=False)
        batch_op.create_index(op.f('ix_bottling_at'), ['at'], unique=False)


def _names() -> None:
    bottling = sa.table('bottling', sa.column('flavour', sa.String), sa.column('form', sa.String))
    addition = sa.table('addition', sa.column('name', sa.String), sa.column('what', sa.String))
    for form, flavours in FORMS.items():
        op.execute(bottling.update().where(bottling.c.flavour.in_(flavours)).values(form=form))
    for old, new in RENAMED.items():
        op.execute(bottling.update().where(bottling.c.flavour == old).values(flavour=new))
        op.execute(addition.update().where((addition.c.name == old) & (addition.c.what == 'flavour')).values(name=new))
    op.execute("UPDATE bottle SET left_as = 'drunk' WHERE state = 'gone' AND hiss IS NOT NULL")
