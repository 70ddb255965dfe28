"""acts of pages, by which one that arrives twice is carried out once"""

from alembic import op
import sqlalchemy as sa

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "acts",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("refused", sa.Text()),
        sa.Column("moved", sa.Boolean(), nullable=False, server_default=sa.false()),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.create_index("ix_acts_created_at", "acts", ["created_at"])


def downgrade() -> None:
    op.drop_table("acts")
