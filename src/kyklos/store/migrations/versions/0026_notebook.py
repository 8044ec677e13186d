"""The notebook: an index of words over all that was written or named, and lessons that are kept."""

import sqlalchemy as sa
from alembic import op

revision = '0026'
down_revision = '0025'


def upgrade() -> None:
    """Make room for what is found again."""
    op.create_table(
        'kept_lesson',
        sa.Column('id', sa.Integer(), nullable=False),
        sa.Column('key', sa.String(), nullable=False),
        sa.Column('text', sa.String(), nullable=False),
        sa.Column('standing', sa.String(), nullable=False),
        sa.Column('applies', sa.JSON(), nullable=False),
        sa.Column('evidence', sa.JSON(), nullable=False),
        sa.Column('helped', sa.Integer(), nullable=False),
        sa.Column('at', sa.DateTime(), nullable=False),
        sa.Column('version', sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint('id', name=op.f('pk_kept_lesson')),
    )
    with op.batch_alter_table('kept_lesson', schema=None) as batch_op:
        batch_op.create_index('ix_kept_lesson_key', ['key'])
        batch_op.create_index('ix_kept_lesson_standing', ['standing'])
    op.execute("CREATE VIRTUAL TABLE found USING fts5(title, body, kind UNINDEXED, number UNINDEXED, at UNINDEXED, about UNINDEXED, "
               "about_id UNINDEXED, tokenize = 'porter unicode61 remove_diacritics 2')")
    op.execute("CREATE VIRTUAL TABLE found_words USING fts5vocab(found, row)")
