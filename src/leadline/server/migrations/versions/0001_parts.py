"""Parts, revisions and blobs."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "parts",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("head", sa.Integer, nullable=False),
        sa.Column("demo", sa.String(80), unique=True),
        sa.Column("picture", sa.LargeBinary),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "revisions",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("part_id", sa.String(36), sa.ForeignKey("parts.id", ondelete="CASCADE"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer),
        sa.Column("label", sa.String(120), nullable=False),
        sa.Column("document", postgresql.JSONB, nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("part_id", "number"),
    )
    op.create_index("ix_revisions_parent", "revisions", ["part_id", "parent"])
    op.create_table(
        "blobs",
        sa.Column("key", sa.String(120), primary_key=True),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("blobs")
    op.drop_table("revisions")
    op.drop_table("parts")
