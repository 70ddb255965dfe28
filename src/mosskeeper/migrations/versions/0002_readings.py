"""readings"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "readings",
        sa.Column("picture_sha256", sa.String(length=64), nullable=False),
        sa.Column("version", sa.String(length=40), nullable=False),
        sa.Column("body", postgresql.JSONB(), nullable=False),
        sa.Column("arrays", sa.LargeBinary(), nullable=False),
        sa.Column("placed", postgresql.JSONB(), nullable=True),
        sa.Column("depth", sa.LargeBinary(), nullable=True),
        sa.ForeignKeyConstraint(["picture_sha256"], ["pictures.sha256"]),
        sa.PrimaryKeyConstraint("picture_sha256"),
    )
    op.execute("alter table readings alter arrays set storage external, alter depth set storage external")


def downgrade() -> None:
    op.drop_table("readings")
