"""Files that parts take bodies from, each kept once by its content."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "files",
        sa.Column("digest", sa.String(64), primary_key=True),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("added", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()),
    )


def downgrade() -> None:
    op.drop_table("files")
