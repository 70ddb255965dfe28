"""local features of pictures, by which copies are recognised; traits of references as artists corrected them"""

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
    op.execute("alter table readings alter column features set storage external")


def downgrade() -> None:
    op.drop_column("readings", "corrected")
    op.drop_column("readings", "features")
