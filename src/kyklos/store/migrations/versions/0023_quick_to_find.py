"""Indexes by which the last brews, readings and bottles are found without reading all that ever were."""

from alembic import op

revision = '0023'
down_revision = '0022'


def upgrade() -> None:
    """Replace three indexes by longer ones, and add what was missing."""
    with op.batch_alter_table('brew', schema=None) as batch_op:
        batch_op.drop_index('ix_brew_culture_id')
        batch_op.drop_index('ix_brew_vessel_id')
        batch_op.create_index('ix_brew_culture_pitched', ['culture_id', 'pitched_at'])
        batch_op.create_index('ix_brew_vessel_ended', ['vessel_id', 'ended_at'])
        batch_op.create_index('ix_brew_pitched_at', ['pitched_at'])
        batch_op.create_index('ix_brew_ended_at', ['ended_at'])
    with op.batch_alter_table('bottle', schema=None) as batch_op:
        batch_op.drop_index('ix_bottle_state')
        batch_op.create_index('ix_bottle_state_gone', ['state', 'gone_at'])
    with op.batch_alter_table('standing', schema=None) as batch_op:
        batch_op.drop_index('ix_standing_vessel_id')
        batch_op.create_index('ix_standing_vessel_until', ['vessel_id', 'until'])
    with op.batch_alter_table('reading', schema=None) as batch_op:
        batch_op.create_index('ix_reading_at', ['at'])
