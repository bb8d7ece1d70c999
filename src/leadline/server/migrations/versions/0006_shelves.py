"""Shelves of stock."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "shelves",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("sort", sa.String(20), nullable=False),
        sa.Column("shipped", sa.String(20), unique=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("gone", sa.Boolean, nullable=False),
        sa.Column("rows", JSONB, nullable=False),
        sa.Column("changed", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("shelves")
