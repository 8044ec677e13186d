"""An instrument has a version like all that is changed: a second window does not write over the first."""

import sqlalchemy as sa
from alembic import op

revision = '0018'
down_revision = '0017'


def upgrade() -> None:
    """Each begins with its first."""
    with op.batch_alter_table('instrument', schema=None) as batch_op:
        batch_op.add_column(sa.Column('version', sa.Integer(), nullable=False, server_default='1'))
