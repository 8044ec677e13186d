"""How somebody's practice stands."""

import sqlalchemy as sa
from alembic import op

revision = '0033'
down_revision = '0032'


def upgrade() -> None:
    """Make room for cards, what is taken for what, and a season in the practice kitchen."""
    op.create_table(
        'practice_card',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('person', sa.Integer(), nullable=False),
        sa.Column('deck', sa.String(), nullable=False),
        sa.Column('card', sa.String(), nullable=False),
        sa.Column('box', sa.Integer(), nullable=False),
        sa.Column('due', sa.Integer(), nullable=False),
        sa.Column('seen', sa.Integer(), nullable=False),
        sa.Column('unsafe', sa.Boolean(), nullable=False),
        sa.Column('answers', sa.Integer(), nullable=False),
        sa.Column('misses', sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_practice_card')),
        sa.UniqueConstraint('person', 'deck', 'card', name=op.f('uq_practice_card_person')),
    )
    op.create_table(
        'practice_mix',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('person', sa.Integer(), nullable=False),
        sa.Column('deck', sa.String(), nullable=False),
        sa.Column('was', sa.String(), nullable=False),
        sa.Column('taken_for', sa.String(), nullable=False),
        sa.Column('times', sa.Integer(), nullable=False),
        sa.Column('unsafe', sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_practice_mix')),
        sa.UniqueConstraint('person', 'deck', 'was', 'taken_for', name=op.f('uq_practice_mix_person')),
    )
    op.create_table(
        'practice_season',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('person', sa.Integer(), nullable=False),
        sa.Column('seed', sa.Integer(), nullable=False),
        sa.Column('moves', sa.String(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_practice_season')),
        sa.UniqueConstraint('person', name=op.f('uq_practice_season_person')),
    )
