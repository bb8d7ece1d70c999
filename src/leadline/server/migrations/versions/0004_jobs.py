"""Jobs that any machine on the database may take: the tables of the job package."""

import psycopg
from alembic import op
from procrastinate.schema import SchemaManager

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    connection = op.get_bind().connection.dbapi_connection
    assert isinstance(connection, psycopg.Connection)
    connection.execute(
        SchemaManager.get_schema().encode()
    )  # as it stands: it has signs that stand for parameters elsewhere


def downgrade() -> None:
    for kind, names in {
        "table": ("periodic_defers", "events", "jobs", "workers"),
        "type": ("job_to_defer_v1", "job_event_type", "job_status"),
    }.items():
        for name in names:
            op.execute(f"drop {kind} if exists procrastinate_{name} cascade")
