"""Every call of the API with made-up and malformed input: refused in words or served, never broken."""

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error

from madidus.core.model import parse_project
from madidus.report.signature import Signer
from madidus.runs.runs import Runs
from madidus.runs.scheduler import Local
from madidus.store.issues import Issues
from madidus.store.results import Results
from madidus.web.app import make_app

HERE = {"Host": "localhost"}


@pytest.fixture(scope="module")
def made_up_calls(engine, projects, cache, demo_document, tmp_path_factory):
    """The application on the tests' database; what the calls leave on the projects is taken off again."""
    projects.create(parse_project(demo_document | {"name": "For made-up calls"}))
    before = {row.id for row in projects.list(most=1000)[1]}
    signer = Signer(tmp_path_factory.mktemp("signing"))
    app = make_app(projects, Issues(engine), signer, Runs(projects, Results(engine), cache, Local(2)), None)
    yield schemathesis.openapi.from_asgi("/openapi.json", app, headers=HERE)
    for row in projects.list(most=1000)[1]:
        if row.id not in before or row.name == "For made-up calls":
            projects.remove(row.id)


def test_no_call_breaks_the_server(made_up_calls):
    tried = 0
    for result in made_up_calls.get_all_operations():
        operation = result.ok()

        @given(case=operation.as_strategy())
        @settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
        def call(case):
            answered = case.call_and_validate(checks=[not_a_server_error], headers=HERE)
            assert answered.status_code != 421

        call()
        tried += 1
    assert tried > 15
