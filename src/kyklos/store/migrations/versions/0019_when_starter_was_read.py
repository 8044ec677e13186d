"""A starter's pH or acidity has the day on which it was read: what stood for weeks is not what it read then."""

import sqlalchemy as sa
from alembic import op

revision = '0019'
down_revision = '0018'


def upgrade() -> None:
    """Nothing told: read when it was made."""
    with op.batch_alter_table('starter_lot', schema=None) as batch_op:
        batch_op.add_column(sa.Column('read_at', sa.DateTime(), nullable=True))
