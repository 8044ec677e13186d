"""A lesson keeps how the leaf buffered, and how that and both vigours are unsure together."""

import sqlalchemy as sa
from alembic import op

revision = '0021'
down_revision = '0020'


def upgrade() -> None:
    """Not known yet: each lesson is learned anew, and serves as it is until then."""
    with op.batch_alter_table('lesson', schema=None) as batch_op:
        batch_op.add_column(sa.Column('buffer', sa.Float(), nullable=True))
        batch_op.add_column(sa.Column('covariance', sa.JSON(), nullable=False, server_default='[]'))
