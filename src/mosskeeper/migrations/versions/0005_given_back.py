"""how often a worker let go of a run

So that a run whose engine was busy, or whose worker was restarted, is not taken for one that kills its workers.
"""

from alembic import op
import sqlalchemy as sa

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("runs", sa.Column("given_back", sa.Integer(), nullable=False, server_default="0"))
    op.alter_column("runs", "given_back", server_default=None)


def downgrade() -> None:
    op.drop_column("runs", "given_back")
