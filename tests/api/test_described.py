"""Requests out of the API's own description, valid and not: no fault of the server, and every refusal in the one
shape. The long form is in bench/hardness.py."""

import re

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error

from imbuto.api.app import create_app
from imbuto.api.request_bodies import ErrorBody
from tests.demo import demo_copy

SLOW = re.compile(r"events$|/pack|\\.pdf|papers|frontier|proposal|/run|everyday|keeping|worth")
HERE = {"host": "localhost"}
GIVEN = {"home_id": "saltgrass-house", "plan": "ten-place", "outage": "november-windstorm"}


def test_what_is_asked_is_answered_or_refused(tmp_path):
    planner = demo_copy(tmp_path)
    described = schemathesis.openapi.from_asgi("/api/openapi.json", create_app(planner), headers=HERE)
    asked = 0
    for operation in (found.ok() for found in described.get_all_operations()):
        if SLOW.search(operation.path) or (
            operation.method.upper() == "DELETE" and operation.path.endswith("{home_id}")
        ):
            continue

        @given(case=operation.as_strategy())
        @settings(max_examples=3, deadline=None, database=None, suppress_health_check=list(HealthCheck))
        def answered(case):
            nonlocal asked
            for at in (case.path_parameters, case.query):
                for key in set(at or {}) & set(GIVEN):
                    at[key] = GIVEN[key]
            answer = case.call(headers=HERE, timeout=120)
            case.validate_response(answer, checks=[not_a_server_error])
            if answer.status_code >= 400:
                assert ErrorBody.model_validate(answer.json()).sentence
            asked += 1

        answered()
    assert asked > 150
    planner.database.close()
