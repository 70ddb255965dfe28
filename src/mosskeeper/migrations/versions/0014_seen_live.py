"""live pictures as they were seen, each with the step of the history that its board was"""

from alembic import op
import sqlalchemy as sa

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "seen_live",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("shot_id", sa.Integer(), sa.ForeignKey("shots.id", ondelete="CASCADE"), nullable=False),
        sa.Column("draft", sa.Integer(), nullable=False),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.create_index("ix_seen_live_shot", "seen_live", ["shot_id", "id"])


def downgrade() -> None:
    op.drop_table("seen_live")
