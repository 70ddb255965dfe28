"""the scenes that pictures were drawn from

Pictures made before have none: they are read where one is needed.
"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "explanations",
        sa.Column("picture_sha256", sa.String(), sa.ForeignKey("pictures.sha256", ondelete="CASCADE"), primary_key=True),
        sa.Column("body", JSONB(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("explanations")
