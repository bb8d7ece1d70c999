"""Parts know the token of their last change."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("parts", sa.Column("token", sa.String(40)))


def downgrade() -> None:
    op.drop_column("parts", "token")
