"""drafts that are never overwritten, runs that outlive their workers, what happens to what belongs together

Every edit of a shot is a row of `drafts`; steps of undo are groups of them. Of a run it is known where workers died. Engines
that were disconnected stay known. Every foreign key says what a deletion does, and has an index.
"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

_KEYS = (
    ("readings", "picture_sha256", "pictures", "sha256", "CASCADE"),
    ("characters", "story_id", "stories", "id", "CASCADE"),
    ("anchors", "character_id", "characters", "id", "CASCADE"),
    ("anchors", "picture_sha256", "pictures", "sha256", "RESTRICT"),
    ("anchors", "take_id", "takes", "id", "SET NULL"),
    ("outfits", "character_id", "characters", "id", "CASCADE"),
    ("scenes", "story_id", "stories", "id", "CASCADE"),
    ("shots", "story_id", "stories", "id", "CASCADE"),
    ("shots", "scene_id", "scenes", "id", "SET NULL"),
    ("shots", "character_id", "characters", "id", "SET NULL"),
    ("shots", "outfit_id", "outfits", "id", "SET NULL"),
    ("runs", "shot_id", "shots", "id", "CASCADE"),
    ("runs", "recipe_sha256", "recipes", "sha256", "RESTRICT"),
    ("previews", "run_id", "runs", "id", "CASCADE"),
    ("takes", "shot_id", "shots", "id", "CASCADE"),
    ("takes", "run_id", "runs", "id", "CASCADE"),
    ("takes", "picture_sha256", "pictures", "sha256", "RESTRICT"),
    ("measures", "take_id", "takes", "id", "CASCADE"),
    ("entries", "picture_sha256", "pictures", "sha256", "RESTRICT"),
    ("entries", "story_id", "stories", "id", "SET NULL"),
    ("entries", "take_id", "takes", "id", "CASCADE"),
    ("entries", "source_sha256", "pictures", "sha256", "RESTRICT"),
    ("presets", "character_id", "characters", "id", "CASCADE"),
)
_INDEXES = (
    ("anchors", "picture_sha256"),
    ("anchors", "take_id"),
    ("shots", "scene_id"),
    ("shots", "character_id"),
    ("shots", "outfit_id"),
    ("runs", "recipe_sha256"),
    ("takes", "picture_sha256"),
    ("entries", "source_sha256"),
)


def _keys(said: bool) -> None:
    for table, column, other, target, action in _KEYS:
        name = f"{table}_{column}_fkey"
        op.drop_constraint(name, table, type_="foreignkey")
        op.create_foreign_key(name, table, other, [column], [target], ondelete=action if said else None)


def upgrade() -> None:
    op.add_column("drafts", sa.Column("step", sa.Integer()))
    op.add_column("drafts", sa.Column("after", sa.Integer()))
    op.add_column("drafts", sa.Column("page", sa.String(16), nullable=False, server_default=""))
    op.add_column("drafts", sa.Column("things", postgresql.ARRAY(sa.Text()), nullable=False, server_default="{}"))
    op.execute("update drafts set step = number, after = nullif(number - 1, 0)")
    # what stands on a table is its latest draft, also where something was undone or the cast's words have changed
    op.execute(
        "insert into drafts (shot_id, number, step, after, body, created_at)"
        " select s.id, coalesce(max(d.number), 0) + 1, s.draft_number, nullif(s.draft_number - 1, 0), s.draft, now()"
        " from shots s left join drafts d on d.shot_id = s.id group by s.id"
    )
    op.execute("update shots set revision = (select max(number) from drafts where shot_id = shots.id)")
    op.alter_column("drafts", "step", nullable=False)
    op.alter_column("drafts", "page", server_default=None)
    op.alter_column("drafts", "things", server_default=None)
    op.drop_column("shots", "draft_number")

    op.drop_column("runs", "given_back")
    op.add_column("runs", sa.Column("died_at", sa.String(40), nullable=False, server_default=""))
    for column in ("pulse", "deaths", "step_deaths", "errors"):
        op.add_column("runs", sa.Column(column, sa.Integer(), nullable=False, server_default="0"))
    for column in ("died_at", "pulse", "deaths", "step_deaths", "errors"):
        op.alter_column("runs", column, server_default=None)
    op.add_column("runs", sa.Column("dismissed_at", sa.DateTime(timezone=True)))
    # what failed before there was a way to dismiss it is not brought up again
    op.execute("update runs set dismissed_at = coalesce(finished_at, created_at) where state = 'failed'")
    op.create_index("runs_of_shot", "runs", ["shot_id", sa.text("id desc")])
    op.create_index("troubled_runs", "runs", ["shot_id"], postgresql_where=sa.text("state in ('held', 'failed') and dismissed_at is null"))
    # a demo story whose making was cut off: its runs were known by their message
    op.execute("update runs set state = 'drawing', message = '' where message = 'The Rainward Roofs' and state in ('waiting', 'running')")
    op.add_column("engines", sa.Column("away_since", sa.DateTime(timezone=True)))
    op.create_table(
        "maps",
        sa.Column("key", sa.String(160), primary_key=True),
        sa.Column("version", sa.String(80), nullable=False),
        sa.Column("png", sa.LargeBinary(), nullable=False),
        sa.Column("facts", postgresql.JSONB(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()),
    )
    op.execute("alter table maps alter column png set storage external")
    _keys(said=True)
    op.create_index(
        "entries_of_story",
        "entries",
        ["story_id", sa.text("created_at desc"), sa.text("id desc")],
        postgresql_where=sa.text("removed_at is null"),
    )
    for table, column in _INDEXES:
        op.create_index(f"ix_{table}_{column}", table, [column])


def downgrade() -> None:
    op.drop_index("entries_of_story", "entries")
    for table, column in _INDEXES:
        op.drop_index(f"ix_{table}_{column}", table)
    _keys(said=False)
    op.drop_table("maps")
    op.drop_column("engines", "away_since")
    op.drop_index("troubled_runs", "runs")
    op.drop_index("runs_of_shot", "runs")
    for column in ("dismissed_at", "errors", "step_deaths", "deaths", "pulse", "died_at"):
        op.drop_column("runs", column)
    op.add_column("runs", sa.Column("given_back", sa.Integer(), nullable=False, server_default="0"))
    op.alter_column("runs", "given_back", server_default=None)
    op.add_column("shots", sa.Column("draft_number", sa.Integer(), nullable=False, server_default="1"))
    op.execute("update shots set draft_number = revision")
    op.alter_column("shots", "draft_number", server_default=None)
    for column in ("things", "page", "after", "step"):
        op.drop_column("drafts", column)
