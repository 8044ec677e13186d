"""A form that a device kept while nothing answered is written once, however often it is sent."""

import sqlalchemy as sa
from alembic import op

revision = '0015'
down_revision = '0014'


def upgrade() -> None:
    """The key that a device gave; empty: an ordinary form."""
    with op.batch_alter_table('change', schema=None) as batch_op:
        batch_op.add_column(sa.Column('sent_as', sa.String(), nullable=True))
        batch_op.create_unique_constraint(batch_op.f('uq_change_sent_as'), ['sent_as'])
