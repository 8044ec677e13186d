"""A note may be about anything of the household, not only about a liquid, and says whose hand wrote it."""

import sqlalchemy as sa
from alembic import op

revision = '0022'
down_revision = '0021'


def upgrade() -> None:
    """A note on a liquid is a note on the brew or the filling that it is of; whose hand is not known."""
    with op.batch_alter_table('note', schema=None) as batch_op:
        batch_op.add_column(sa.Column('about', sa.String(), nullable=False, server_default='brew'))
        batch_op.add_column(sa.Column('about_id', sa.Integer(), nullable=False, server_default='0'))
        batch_op.add_column(sa.Column('taster_id', sa.Integer(), nullable=True))
    op.execute("UPDATE note SET about_id = (SELECT id FROM brew WHERE brew.liquid_id = note.liquid_id) "
               "WHERE EXISTS (SELECT 1 FROM brew WHERE brew.liquid_id = note.liquid_id)")
    op.execute("UPDATE note SET about = 'bottling', about_id = (SELECT id FROM bottling WHERE bottling.liquid_id = note.liquid_id) "
               "WHERE EXISTS (SELECT 1 FROM bottling WHERE bottling.liquid_id = note.liquid_id)")
    op.execute("UPDATE note SET about_id = (SELECT brew_id FROM infusion WHERE infusion.liquid_id = note.liquid_id) "
               "WHERE EXISTS (SELECT 1 FROM infusion WHERE infusion.liquid_id = note.liquid_id)")
    with op.batch_alter_table('note', schema=None) as batch_op:
        batch_op.drop_index('ix_note_liquid_id')
        batch_op.drop_constraint('fk_note_liquid_id_liquid', type_='foreignkey')
        batch_op.drop_column('liquid_id')
        batch_op.alter_column('about', server_default=None)
        batch_op.alter_column('about_id', server_default=None)
        batch_op.create_foreign_key('fk_note_taster_id_taster', 'taster', ['taster_id'], ['id'])
        batch_op.create_index('ix_note_about', ['about', 'about_id'])
