"""A note's photo, and the experiment that a brew day is for."""

import sqlalchemy as sa
from alembic import op

revision = '0028'
down_revision = '0027'


def upgrade() -> None:
    """Make room for a photo beside a note, and for brewing twice."""
    with op.batch_alter_table('note', schema=None) as batch_op:
        batch_op.add_column(sa.Column('photo_sha', sa.String(), nullable=True))
        batch_op.create_index('ix_note_photo_sha', ['photo_sha'])
    with op.batch_alter_table('brew_day', schema=None) as batch_op:
        batch_op.add_column(sa.Column('experiment_id', sa.Integer(), nullable=True))
        batch_op.create_foreign_key('fk_brew_day_experiment_id_experiment', 'experiment', ['experiment_id'], ['id'])
