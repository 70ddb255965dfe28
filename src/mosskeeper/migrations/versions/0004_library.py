"""library, presets, palettes of characters

Every picture that was made or brought in gets an entry in the library.
"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "entries",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("picture_sha256", sa.String(64), sa.ForeignKey("pictures.sha256"), nullable=False, index=True),
        sa.Column("story_id", sa.Integer(), sa.ForeignKey("stories.id"), index=True),
        sa.Column("take_id", sa.Integer(), sa.ForeignKey("takes.id"), unique=True),
        sa.Column("source_sha256", sa.String(64), sa.ForeignKey("pictures.sha256")),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("name", sa.String(160), nullable=False),
        sa.Column("words", sa.Text(), nullable=False, server_default=""),
        sa.Column("tags", postgresql.ARRAY(sa.Text()), nullable=False, server_default="{}"),
        sa.Column("folder", sa.String(120), nullable=False, server_default=""),
        sa.Column("palette", sa.LargeBinary()),
        sa.Column("likeness", sa.LargeBinary()),
        sa.Column("likeness_version", sa.String(60), nullable=False, server_default=""),
        sa.Column("removed_at", sa.DateTime(timezone=True)),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )
    # array_to_string is only stable, as arrays of other types may print differently; of text it is immutable
    op.execute("""
        create function searched(name text, words text, tags text[]) returns tsvector language sql immutable parallel safe as $$
          select setweight(to_tsvector('simple', name || ' ' || array_to_string(tags, ' ')), 'A') || to_tsvector('simple', words)
        $$""")
    op.execute("alter table entries add searched tsvector generated always as (searched(name, words, tags)) stored")
    op.execute("create index entries_searched on entries using gin (searched)")
    op.execute("create index entries_newest on entries (created_at desc, id desc) where removed_at is null")
    op.execute("""
        insert into entries (picture_sha256, story_id, take_id, kind, name, words, created_at)
        select t.picture_sha256, s.story_id, t.id, 'take', p.name, concat_ws(', ', nullif(r.body ->> 'given', ''), r.body ->> 'words'), t.created_at
        from takes t join shots s on s.id = t.shot_id join pictures p on p.sha256 = t.picture_sha256
        join runs u on u.id = t.run_id join recipes r on r.sha256 = u.recipe_sha256""")
    op.execute("""
        insert into entries (picture_sha256, kind, name, created_at)
        select sha256, 'upload', name, created_at from pictures where origin = 'upload'""")
    op.add_column("characters", sa.Column("palette", postgresql.JSONB(), nullable=False, server_default="{}"))
    op.create_table(
        "presets",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("character_id", sa.Integer(), sa.ForeignKey("characters.id"), index=True),
        sa.Column("name", sa.String(160), nullable=False),
        sa.Column("body", postgresql.JSONB(), nullable=False),
        sa.Column("removed_at", sa.DateTime(timezone=True)),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("presets")
    op.drop_column("characters", "palette")
    op.drop_table("entries")
    op.execute("drop function searched(text, text, text[])")
