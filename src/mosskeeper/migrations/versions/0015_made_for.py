"""shots that are made for a character, and stand on no story board: sheets, and pictures that get the anchor's face"""

from alembic import op
import sqlalchemy as sa

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("shots", sa.Column("made_for", sa.String(20), server_default="", nullable=False))


def downgrade() -> None:
    op.drop_column("shots", "made_for")
