"""What the API answers is what its description says, whatever is asked of it in that shape."""

from __future__ import annotations

import tempfile
from typing import Any

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.specs.openapi.checks import positive_data_acceptance

from uptide.web.app import create_app

PATIENCE = 300.0  # s: a slow machine makes no test fail
DESCRIBED = create_app(f"sqlite:///{tempfile.mkdtemp()}/api.db", ("testserver", "localhost"))
SCHEMA = schemathesis.openapi.from_asgi("/api/openapi.json", DESCRIBED)


@SCHEMA.include(path_regex="^/api/(assess|find)").include(path_regex="^/api", method="GET").parametrize()
@settings(max_examples=6, suppress_health_check=list(HealthCheck))
def test_what_is_answered_keeps_to_its_description(case: schemathesis.Case[Any]) -> None:
    case.call_and_validate(timeout=PATIENCE)


# What cannot be is refused with 400 in words; the shape alone does not say what that is.
MEANT: list[Any] = [positive_data_acceptance]


@SCHEMA.include(path_regex="^/api/(blends|lots|batches|jars)", method=["POST", "PUT"]).parametrize()
@settings(max_examples=6, suppress_health_check=list(HealthCheck))
def test_what_is_written_keeps_to_its_description(case: schemathesis.Case[Any]) -> None:
    case.call_and_validate(excluded_checks=MEANT, timeout=PATIENCE)
