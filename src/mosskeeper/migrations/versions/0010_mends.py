"""mends: stacks on pictures, every step of them, and the variants that were made"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects.postgresql import ARRAY, JSONB

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "stacks",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("shot_id", sa.Integer(), sa.ForeignKey("shots.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("base_sha256", sa.String(), sa.ForeignKey("pictures.sha256", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.UniqueConstraint("shot_id", "base_sha256"),
    )
    op.create_table(
        "stack_steps",
        sa.Column("stack_id", sa.Integer(), sa.ForeignKey("stacks.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("after", sa.Integer()),
        sa.Column("page", sa.String(16), nullable=False),
        sa.Column("thing", sa.String(40), nullable=False),
        sa.Column("body", JSONB(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.add_column("runs", sa.Column("stack_id", sa.Integer(), sa.ForeignKey("stacks.id", ondelete="CASCADE")))
    op.create_index("ix_runs_stack_id", "runs", ["stack_id"])
    op.add_column("runs", sa.Column("mend", sa.String(12), nullable=False, server_default=""))
    op.add_column("runs", sa.Column("redo", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.create_table(
        "variants",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("stack_id", sa.Integer(), sa.ForeignKey("stacks.id", ondelete="CASCADE"), nullable=False),
        sa.Column("mend", sa.String(12), nullable=False),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("runs.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("picture_sha256", sa.String(), sa.ForeignKey("pictures.sha256", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("made_by", sa.String(64), nullable=False, index=True),
        sa.Column("says", ARRAY(sa.Text()), nullable=False),
        sa.Column("seconds", sa.Float(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.UniqueConstraint("run_id", "place"),
    )
    op.create_index("variants_of_mend", "variants", ["stack_id", "mend"])
    op.create_table(
        "copied_mends",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("from_stack", sa.Integer(), sa.ForeignKey("stacks.id", ondelete="CASCADE"), nullable=False),
        sa.Column("mend", sa.String(12), nullable=False),
        sa.Column("to_stack", sa.Integer(), sa.ForeignKey("stacks.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("copy", sa.String(12), nullable=False),
    )
    op.create_index("copies_of_mend", "copied_mends", ["from_stack", "mend"])


def downgrade() -> None:
    op.drop_table("copied_mends")
    op.drop_table("variants")
    op.drop_index("ix_runs_stack_id", "runs")
    for column in ("redo", "mend", "stack_id"):
        op.drop_column("runs", column)
    op.drop_table("stack_steps")
    op.drop_table("stacks")
