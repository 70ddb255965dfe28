"""Measures of takes, sweeps, remote engines, daily allowance, history of shots.

Revision ID: 0003
Revises: 0002
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "measures",
        sa.Column("take_id", sa.Integer(), sa.ForeignKey("takes.id"), primary_key=True),
        sa.Column("version", sa.String(200), nullable=False),
        sa.Column("body", postgresql.JSONB(), nullable=False),
    )
    op.add_column("readings", sa.Column("face_check", postgresql.JSONB()))
    op.add_column("runs", sa.Column("dials", postgresql.JSONB(), nullable=False, server_default="[]"))
    op.add_column("runs", sa.Column("wait_until", sa.DateTime(timezone=True)))
    op.create_table(
        "engines",
        sa.Column("key", sa.String(60), primary_key=True),
        sa.Column("url", sa.Text(), nullable=False, unique=True),
        sa.Column("told", postgresql.JSONB(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.add_column("stories", sa.Column("allowance", sa.Float()))
    op.create_table(
        "drafts",
        sa.Column("shot_id", sa.Integer(), sa.ForeignKey("shots.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("body", postgresql.JSONB(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    op.add_column("shots", sa.Column("draft_number", sa.Integer(), nullable=False, server_default="1"))
    op.execute("insert into drafts (shot_id, number, body) select id, 1, draft from shots")


def downgrade() -> None:
    op.drop_column("shots", "draft_number")
    op.drop_table("drafts")
    op.drop_column("stories", "allowance")
    op.drop_table("engines")
    op.drop_column("runs", "wait_until")
    op.drop_column("runs", "dials")
    op.drop_column("readings", "face_check")
    op.drop_table("measures")
