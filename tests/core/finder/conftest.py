"""What the tests of the finder share."""

from __future__ import annotations

import pytest
from tests.core.finder.asking import known_of

from uptide.catalogue.catalogue import Catalogue
from uptide.core.finder.known import Known


@pytest.fixture
def known(catalogue: Catalogue) -> Known:
    return known_of(catalogue)
