"""What all tests share: one BLAS thread, no time limits on properties, a fresh database on request.

Properties are tried on the same cases in every run, so that what passed once passes again, and a failing case is shown
as it is: making it smaller takes minutes where a case builds solids. ``LEADLINE_OTHER_CASES=1`` tries others.
"""

from __future__ import annotations

import os
import uuid
from collections.abc import Iterator

import pytest
from hypothesis import Phase, settings
from sqlalchemy import create_engine, text
from sqlalchemy.engine import make_url
from threadpoolctl import threadpool_limits

threadpool_limits(1)
settings.register_profile(
    "leadline",
    deadline=None,
    print_blob=True,
    derandomize=not os.environ.get("LEADLINE_OTHER_CASES"),
    phases=[Phase.explicit, Phase.generate],
)
settings.load_profile("leadline")


@pytest.fixture(scope="session")
def database_url() -> Iterator[str]:
    """A new, empty database on the cluster that ``./lead test`` started."""
    base = os.environ.get("LEADLINE_TEST_DB_URL")
    if base is None:
        pytest.fail("no database: run the tests with ./lead test")
    name = f"test_{uuid.uuid4().hex[:12]}"
    engine = create_engine(base, isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        connection.execute(text(f"create database {name}"))
    yield make_url(base).set(database=name).render_as_string(hide_password=False)
    with engine.connect() as connection:
        connection.execute(text(f"drop database {name} with (force)"))
    engine.dispose()
