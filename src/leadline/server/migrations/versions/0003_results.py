"""Results of builds are kept; blobs have a checksum and the time of their last use."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "results",
        sa.Column("part_id", sa.String(36), sa.ForeignKey("parts.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("engine", sa.String(64), nullable=False),
        sa.Column("result", postgresql.JSONB, nullable=False),
    )
    op.execute("delete from blobs")  # they can be made again
    op.add_column("blobs", sa.Column("digest", sa.LargeBinary, nullable=False))
    op.add_column("blobs", sa.Column("used", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()))
    op.drop_column("blobs", "created")
    op.create_index("ix_blobs_used", "blobs", ["used"])


def downgrade() -> None:
    op.drop_table("results")
    op.drop_index("ix_blobs_used", "blobs")
    op.execute("delete from blobs")
    op.drop_column("blobs", "digest")
    op.drop_column("blobs", "used")
    op.add_column("blobs", sa.Column("created", sa.DateTime(timezone=True), nullable=False))
