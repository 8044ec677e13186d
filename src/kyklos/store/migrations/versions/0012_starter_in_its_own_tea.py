"""What the starter of each brew was brewed with: its source brew's tea and water, else the brew's tea in soft water; gas, mistakes, pH of what is flavoured."""

import sqlalchemy as sa
from alembic import op

revision = '0012'
down_revision = '0011'

#: The brew that a brew's first known starter was reserved from.
SOURCE = """
    SELECT source.{column} FROM transfer AS pitched
    JOIN transfer AS reserved ON reserved.target_id = pitched.source_id AND reserved.how = 'reserved'
    JOIN brew AS source ON source.liquid_id = reserved.source_id
    WHERE pitched.target_id = brew.liquid_id AND pitched.how = 'pitched' ORDER BY pitched.id LIMIT 1
"""


def upgrade() -> None:
    """Columns; of each brew what is known."""
    op.add_column('brew', sa.Column('starter_tea', sa.String(), nullable=False, server_default='black'))
    op.add_column('brew', sa.Column('starter_leaf_g_per_l', sa.Float(), nullable=False, server_default='6.0'))
    op.add_column('brew', sa.Column('starter_alkalinity_meq_per_l', sa.Float(), nullable=False, server_default='0.5'))
    op.add_column('reading', sa.Column('degassed', sa.Boolean(), nullable=False, server_default='0'))
    op.add_column('look', sa.Column('mistaken', sa.String(), nullable=False, server_default=''))
    op.add_column('bottling', sa.Column('ph_after', sa.Float(), nullable=True))
    op.add_column('bottling', sa.Column('overruled', sa.String(), nullable=False, server_default=''))
    op.execute("UPDATE brew SET starter_tea = tea, starter_leaf_g_per_l = leaf_g_per_l")
    for column in ('tea', 'leaf_g_per_l', 'alkalinity_meq_per_l'):
        found = SOURCE.format(column=column)
        op.execute(f"UPDATE brew SET starter_{column} = COALESCE(({found}), starter_{column})")
