"""Bottles stand in a place."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Give each filling the place of its vessel, where bottles stood until now."""
    with op.batch_alter_table("bottling") as table:
        table.add_column(sa.Column("place_id", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_bottling_place_id_place"), "place", ["place_id"], ["id"])
    op.execute(
        "UPDATE bottling SET place_id = (SELECT vessel.place_id FROM brew JOIN vessel ON vessel.id = brew.vessel_id"
        " WHERE brew.id = bottling.brew_id)"
    )
