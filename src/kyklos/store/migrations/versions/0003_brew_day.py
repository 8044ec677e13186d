"""Brew day: kinds, portions of starter, tools, kept recipes, steps and timers; places by season."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"

NEW: dict[str, list[sa.Column[object]]] = {
    "household": [sa.Column("southern", sa.Boolean(), nullable=False, server_default=sa.false())],
    "place": [
        sa.Column("winter_c", sa.Float(), nullable=True),
        sa.Column("summer_c", sa.Float(), nullable=True),
        sa.Column("light", sa.String(), nullable=False, server_default="shade"),
        sa.Column("reach", sa.String(), nullable=False, server_default="easy"),
        sa.Column("rivals", sa.Boolean(), nullable=False, server_default=sa.false()),
    ],
    "vessel": [sa.Column("heel_l", sa.Float(), nullable=False, server_default="0")],
    "brew": [
        sa.Column("kind", sa.String(), nullable=False, server_default="batch"),
        sa.Column("base", sa.String(), nullable=False, server_default=""),
        sa.Column("invert_share", sa.Float(), nullable=False, server_default="0"),
        sa.Column("starter_kind", sa.String(), nullable=False, server_default="fresh"),
        sa.Column("facts", sa.JSON(), nullable=False, server_default="{}"),
    ],
}


def upgrade() -> None:
    """Add columns with what they mean for records made before, and the new tables."""
    for table, columns in NEW.items():
        for column in columns:
            op.add_column(table, column)
    _tools_and_recipes()
    _kitchen()
    _portions()


def _tools_and_recipes() -> None:
    op.create_table(
        "tool",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("litres", sa.Float(), nullable=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_tool")),
        sa.CheckConstraint("number >= 1", name=op.f("ck_tool_number")),
    )
    op.create_table(
        "recipe",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("card", sa.JSON(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("dropped_at", sa.DateTime(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recipe")),
    )


def _kitchen() -> None:
    op.create_table(
        "brew_day",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("vessel_id", sa.Integer(), nullable=False),
        sa.Column("culture_id", sa.Integer(), nullable=False),
        sa.Column("disc_id", sa.Integer(), nullable=True),
        sa.Column("brew_id", sa.Integer(), nullable=True),
        sa.Column("ask", sa.JSON(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("facts", sa.JSON(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["vessel_id"], ["vessel.id"], name=op.f("fk_brew_day_vessel_id_vessel")),
        sa.ForeignKeyConstraint(["culture_id"], ["culture.id"], name=op.f("fk_brew_day_culture_id_culture")),
        sa.ForeignKeyConstraint(["disc_id"], ["disc.id"], name=op.f("fk_brew_day_disc_id_disc")),
        sa.ForeignKeyConstraint(["brew_id"], ["brew.id"], name=op.f("fk_brew_day_brew_id_brew")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_brew_day")),
    )
    op.create_table(
        "timer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("day_id", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("started_at", sa.DateTime(), nullable=False),
        sa.Column("ends_at", sa.DateTime(), nullable=False),
        sa.Column("stopped_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["day_id"], ["brew_day.id"], name=op.f("fk_timer_day_id_brew_day")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_timer")),
    )
    op.create_index(op.f("ix_timer_day_id"), "timer", ["day_id"])


def _portions() -> None:
    op.create_table(
        "starter_portion",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("brew_id", sa.Integer(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=True),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("litres", sa.Float(), nullable=False),
        sa.Column("ph", sa.Float(), nullable=True),
        sa.ForeignKeyConstraint(["brew_id"], ["brew.id"], name=op.f("fk_starter_portion_brew_id_brew")),
        sa.ForeignKeyConstraint(["lot_id"], ["starter_lot.id"], name=op.f("fk_starter_portion_lot_id_starter_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_starter_portion")),
    )
    op.create_index(op.f("ix_starter_portion_brew_id"), "starter_portion", ["brew_id"])
    op.execute(
        "INSERT INTO starter_portion (brew_id, lot_id, name, kind, litres, ph)"
        " SELECT brew.id, lot.id, culture.name, 'fresh', brew.final_l * brew.starter_fraction, lot.ph"
        " FROM brew JOIN starter_lot lot ON lot.id = brew.starter_lot_id JOIN culture ON culture.id = lot.culture_id"
    )
