"""first tables"""

from alembic import op
import sqlalchemy as sa
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "pictures",
        sa.Column("sha256", sa.String(length=64), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("thumbnail", sa.LargeBinary(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=160), nullable=False),
        sa.Column("origin", sa.String(length=16), nullable=False),
        sa.Column("notes", postgresql.ARRAY(sa.Text()), server_default="{}", nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.PrimaryKeyConstraint("sha256"),
    )
    # PNG and JPEG do not compress: keep them out of line and untouched
    op.execute("alter table pictures alter data set storage external, alter thumbnail set storage external")
    op.create_table(
        "recipes",
        sa.Column("sha256", sa.String(length=64), nullable=False),
        sa.Column("body", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.PrimaryKeyConstraint("sha256"),
    )
    op.create_table(
        "stories",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=160), nullable=False),
        sa.Column("summary", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "characters",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("story_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=160), nullable=False),
        sa.Column("traits", sa.Text(), nullable=False),
        sa.Column("summary", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["story_id"],
            ["stories.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_characters_story_id"), "characters", ["story_id"], unique=False)
    op.create_table(
        "scenes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("story_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=160), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["story_id"],
            ["stories.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_scenes_story_id"), "scenes", ["story_id"], unique=False)
    op.create_table(
        "outfits",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("character_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=160), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["character_id"],
            ["characters.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_outfits_character_id"), "outfits", ["character_id"], unique=False)
    op.create_table(
        "shots",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("story_id", sa.Integer(), nullable=False),
        sa.Column("scene_id", sa.Integer(), nullable=True),
        sa.Column("character_id", sa.Integer(), nullable=True),
        sa.Column("outfit_id", sa.Integer(), nullable=True),
        sa.Column("name", sa.String(length=160), nullable=False),
        sa.Column("draft", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["character_id"],
            ["characters.id"],
        ),
        sa.ForeignKeyConstraint(
            ["outfit_id"],
            ["outfits.id"],
        ),
        sa.ForeignKeyConstraint(
            ["scene_id"],
            ["scenes.id"],
        ),
        sa.ForeignKeyConstraint(
            ["story_id"],
            ["stories.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_shots_story_id"), "shots", ["story_id"], unique=False)
    op.create_table(
        "runs",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("shot_id", sa.Integer(), nullable=False),
        sa.Column("recipe_sha256", sa.String(length=64), nullable=False),
        sa.Column("seeds", postgresql.ARRAY(sa.BigInteger()), nullable=False),
        sa.Column("state", sa.String(length=16), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("steps", sa.Integer(), nullable=False),
        sa.Column("message", sa.Text(), nullable=False),
        sa.Column("sparks", sa.Float(), nullable=False),
        sa.Column("expected_seconds", sa.Float(), nullable=False),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("worker", sa.String(length=80), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("started_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("finished_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(
            ["recipe_sha256"],
            ["recipes.sha256"],
        ),
        sa.ForeignKeyConstraint(
            ["shot_id"],
            ["shots.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_runs_shot_id"), "runs", ["shot_id"], unique=False)
    op.create_index(op.f("ix_runs_state"), "runs", ["state"], unique=False)
    op.create_table(
        "previews",
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["run_id"],
            ["runs.id"],
        ),
        sa.PrimaryKeyConstraint("run_id"),
    )
    op.create_table(
        "takes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("shot_id", sa.Integer(), nullable=False),
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("picture_sha256", sa.String(length=64), nullable=False),
        sa.Column("seconds", sa.Float(), nullable=False),
        sa.Column("kept", sa.Boolean(), nullable=False),
        sa.Column("put_aside", sa.Boolean(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(
            ["picture_sha256"],
            ["pictures.sha256"],
        ),
        sa.ForeignKeyConstraint(
            ["run_id"],
            ["runs.id"],
        ),
        sa.ForeignKeyConstraint(
            ["shot_id"],
            ["shots.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("run_id", "place"),
        sa.UniqueConstraint("shot_id", "number"),
    )
    op.create_index(op.f("ix_takes_run_id"), "takes", ["run_id"], unique=False)
    op.create_index(op.f("ix_takes_shot_id"), "takes", ["shot_id"], unique=False)
    op.create_index("one_kept_take", "takes", ["shot_id"], unique=True, postgresql_where=sa.text("kept"))
    op.create_table(
        "anchors",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("character_id", sa.Integer(), nullable=False),
        sa.Column("picture_sha256", sa.String(length=64), nullable=False),
        sa.Column("take_id", sa.Integer(), nullable=True),
        sa.Column("lead", sa.Boolean(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(
            ["character_id"],
            ["characters.id"],
        ),
        sa.ForeignKeyConstraint(
            ["picture_sha256"],
            ["pictures.sha256"],
        ),
        sa.ForeignKeyConstraint(
            ["take_id"],
            ["takes.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("character_id", "picture_sha256"),
    )
    op.create_index(op.f("ix_anchors_character_id"), "anchors", ["character_id"], unique=False)
    op.create_index("one_lead_anchor", "anchors", ["character_id"], unique=True, postgresql_where=sa.text("lead"))


def downgrade() -> None:
    op.drop_index("one_lead_anchor", table_name="anchors", postgresql_where=sa.text("lead"))
    op.drop_index(op.f("ix_anchors_character_id"), table_name="anchors")
    op.drop_table("anchors")
    op.drop_index("one_kept_take", table_name="takes", postgresql_where=sa.text("kept"))
    op.drop_index(op.f("ix_takes_shot_id"), table_name="takes")
    op.drop_index(op.f("ix_takes_run_id"), table_name="takes")
    op.drop_table("takes")
    op.drop_table("previews")
    op.drop_index(op.f("ix_runs_state"), table_name="runs")
    op.drop_index(op.f("ix_runs_shot_id"), table_name="runs")
    op.drop_table("runs")
    op.drop_index(op.f("ix_shots_story_id"), table_name="shots")
    op.drop_table("shots")
    op.drop_index(op.f("ix_outfits_character_id"), table_name="outfits")
    op.drop_table("outfits")
    op.drop_index(op.f("ix_scenes_story_id"), table_name="scenes")
    op.drop_table("scenes")
    op.drop_index(op.f("ix_characters_story_id"), table_name="characters")
    op.drop_table("characters")
    op.drop_table("stories")
    op.drop_table("recipes")
    op.drop_table("pictures")
