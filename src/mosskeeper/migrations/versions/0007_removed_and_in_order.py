"""everything can be removed, brought back, and put in order

Stories, characters, outfits, scenes, shots and anchors are marked as removed, never deleted, and have a place among their like.
"""

from alembic import op
import sqlalchemy as sa

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

_ORDERED = ("stories", "characters", "outfits", "scenes", "shots")


def upgrade() -> None:
    for table in _ORDERED:
        op.add_column(table, sa.Column("position", sa.Integer(), nullable=False, server_default="0"))
        op.execute(f"update {table} set position = id")
        op.alter_column(table, "position", server_default=None)
    for table in (*_ORDERED, "anchors"):
        op.add_column(table, sa.Column("removed_at", sa.DateTime(timezone=True)))


def downgrade() -> None:
    for table in (*_ORDERED, "anchors"):
        op.drop_column(table, "removed_at")
    for table in _ORDERED:
        op.drop_column(table, "position")
