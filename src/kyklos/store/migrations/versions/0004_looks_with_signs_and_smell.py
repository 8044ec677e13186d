"""Looks with signs and smell."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Earlier looks saw a surface only, and nobody smelled."""
    for column in (
        sa.Column("signs", sa.JSON(), nullable=False, server_default="[]"),
        sa.Column("smell", sa.String(), nullable=False, server_default=""),
        sa.Column("note", sa.String(), nullable=False, server_default=""),
    ):
        op.add_column("look", column)
