"""Enough to drink: purchases, counts of the cupboard, the shopping list, wishes; money's name and the shop's price; days put in by the plan."""

import sqlalchemy as sa
from alembic import op

revision = '0025'
down_revision = '0024'


def upgrade() -> None:
    """Make room for what is bought and wished for."""
    _bought()
    _listed()
    _wished()
    _more_columns()
    op.execute("UPDATE planned_day SET done_at = at WHERE done_at IS NULL AND brew_id IS NULL AND EXISTS "
               "(SELECT 1 FROM brew WHERE brew.vessel_id = planned_day.vessel_id AND brew.pitched_at > planned_day.at)")


def _bought() -> None:
    op.create_table(
        'purchase',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('key', sa.String(), nullable=False),
        sa.Column('amount', sa.Float(), nullable=False),
        sa.Column('price', sa.Float(), nullable=True),
        sa.Column('day', sa.Date(), nullable=False),
        sa.Column('best_before', sa.Date(), nullable=True),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('version', sa.Integer(), nullable=False),
        sa.CheckConstraint('amount > 0', name=op.f('ck_purchase_amount')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_purchase')),
    )
    with op.batch_alter_table('purchase', schema=None) as batch_op:
        batch_op.create_index('ix_purchase_good', ['kind', 'key'])
        batch_op.create_index('ix_purchase_day', ['day'])
        batch_op.create_index('ix_purchase_best_before', ['best_before'])
    op.create_table(
        'cupboard_count',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('key', sa.String(), nullable=False),
        sa.Column('amount', sa.Float(), nullable=False),
        sa.Column('day', sa.Date(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.CheckConstraint('amount >= 0', name=op.f('ck_cupboard_count_amount')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_cupboard_count')),
    )
    with op.batch_alter_table('cupboard_count', schema=None) as batch_op:
        batch_op.create_index('ix_cupboard_count_good', ['kind', 'key'])


def _listed() -> None:
    op.create_table(
        'list_item',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('key', sa.String(), nullable=False),
        sa.Column('amount', sa.Float(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('ended_at', sa.DateTime(), nullable=True),
        sa.Column('purchase_id', sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(['purchase_id'], ['purchase.id'], name=op.f('fk_list_item_purchase_id_purchase')),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_list_item')),
    )
    with op.batch_alter_table('list_item', schema=None) as batch_op:
        batch_op.create_index('ix_list_item_ended_at', ['ended_at'])


def _wished() -> None:
    op.create_table(
        'wished',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('kind', sa.String(), nullable=False),
        sa.Column('day', sa.Date(), nullable=False),
        sa.Column('until', sa.Date(), nullable=True),
        sa.Column('litres', sa.Float(), nullable=False),
        sa.Column('people', sa.Integer(), nullable=True),
        sa.Column('glasses', sa.Float(), nullable=True),
        sa.Column('words', sa.String(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('ended_at', sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_wished')),
    )
    with op.batch_alter_table('wished', schema=None) as batch_op:
        batch_op.create_index('ix_wished_until', ['until'])


def _more_columns() -> None:
    with op.batch_alter_table('household', schema=None) as batch_op:
        batch_op.add_column(sa.Column('currency', sa.String(), nullable=False, server_default=''))
        batch_op.add_column(sa.Column('shop_price', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('shop_ml', sa.Float(), nullable=True))
    with op.batch_alter_table('household', schema=None) as batch_op:
        batch_op.alter_column('currency', server_default=None)
    with op.batch_alter_table('planned_day', schema=None) as batch_op:
        batch_op.add_column(sa.Column('litres', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('by_plan', sa.Boolean(), nullable=False, server_default=sa.false()))
    with op.batch_alter_table('planned_day', schema=None) as batch_op:
        batch_op.alter_column('by_plan', server_default=None)
