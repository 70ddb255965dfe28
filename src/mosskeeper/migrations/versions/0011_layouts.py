"""layouts of one's own; what was told in making a take"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import ARRAY, JSONB

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "layouts",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("boxes", JSONB(), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True)),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.add_column("takes", sa.Column("says", ARRAY(sa.Text()), nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("takes", "says")
    op.drop_table("layouts")
