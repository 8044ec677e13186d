"""What was said of a spreadsheet, remembered for the next one with the same heads."""

import sqlalchemy as sa
from alembic import op

revision = '0031'
down_revision = '0030'


def upgrade() -> None:
    """Make room for shapes of spreadsheets."""
    op.create_table(
        'sheet_shape',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('shape', sa.String(), nullable=False),
        sa.Column('said', sa.JSON(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_sheet_shape')),
        sa.UniqueConstraint('shape', name=op.f('uq_sheet_shape_shape')),
    )
