"""local features of pictures, by which copies are recognised; traits as artists corrected them; files of pictures scaled down"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import JSONB

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("readings", sa.Column("features", sa.LargeBinary()))
    op.add_column("readings", sa.Column("corrected", JSONB()))
    op.create_table(
        "original_files",
        sa.Column("picture_sha256", sa.String(64), sa.ForeignKey("pictures.sha256", ondelete="CASCADE"), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
    )
    op.execute("alter table original_files alter column data set storage external")
    op.execute("alter table readings alter column features set storage external")


def downgrade() -> None:
    op.drop_table("original_files")
    op.drop_column("readings", "corrected")
    op.drop_column("readings", "features")
