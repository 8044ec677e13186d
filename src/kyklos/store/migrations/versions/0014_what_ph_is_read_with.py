"""What a household reads pH with, asked once."""

import sqlalchemy as sa
from alembic import op

revision = '0014'
down_revision = '0013'


def upgrade() -> None:
    """One more column of the household; empty: not told."""
    op.add_column('household', sa.Column('reads_ph', sa.String(), nullable=False, server_default=''))
