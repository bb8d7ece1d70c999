"""Nothing that was acknowledged is lost when processes die or are paused, and all works again by itself."""

import pytest

from tests.server.faults import FAULTS, edits_under, house


@pytest.fixture(scope="module")
def own_house(tmp_path_factory):
    with house(tmp_path_factory.mktemp("house")) as made:
        yield made


@pytest.mark.parametrize("fault", FAULTS, ids=lambda f: f.title.replace(" ", "-"))
def test_edits_survive(own_house, fault):
    edits_under(own_house, fault, edits=12, strikes=1)
