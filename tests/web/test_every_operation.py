"""Every operation of the API under requests made up from its own description: answers as described, no error of the server."""

from __future__ import annotations

from typing import Any, cast

import schemathesis
from django.conf import settings
from django.contrib.auth.models import User
from django.test import Client, LiveServerTestCase, tag
from hypothesis import HealthCheck, given
from hypothesis import settings as how
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import content_type_conformance, response_schema_conformance, status_code_conformance

from tests.web.test_api import finished_run, quick_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import Project

# Requests per operation: the first are the simplest, later ones are long, empty, or at the edges of what is allowed.
_REQUESTS, _MANY_REQUESTS = 3, 20
# Seconds that an answer may take where the machine is slow.
_PATIENCE = 120
_CHECKS = [not_a_server_error, response_schema_conformance, content_type_conformance, status_code_conformance]


class EveryOperation(LiveServerTestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_user("anna", password="a pass phrase")
        project = Project.objects.create(owner=self.user, name="Ferrow Dairy")
        record = create_case(project, quick_case())
        # What ids in paths stand for.
        self.ids = {"case": record.pk, "project": project.pk, "run": finished_run(record).pk}
        client = Client()
        client.force_login(self.user)
        self.schema = schemathesis.openapi.from_dict(client.get("/api/openapi.json").json())

    def signed_in(self) -> tuple[dict[str, str], dict[str, str]]:
        """Cookies and headers of a session of its own, since some requests end theirs."""
        client = Client()
        client.force_login(self.user)
        client.get("/api/session")
        cookies = {name: cookie.value for name, cookie in client.cookies.items()}
        return cookies, {"X-CSRFToken": cookies.get(settings.CSRF_COOKIE_NAME, "")}

    def test_answers_as_described(self) -> None:
        self.ask_all(_REQUESTS)

    @tag("slow")
    def test_answers_as_described_to_many_requests(self) -> None:
        self.ask_all(_MANY_REQUESTS)

    def ask_all(self, requests: int) -> None:
        for found in self.schema.get_all_operations():
            operation = cast(Any, found).ok()
            with self.subTest(operation.label):
                self.ask(operation, requests)

    def ask(self, operation: Any, requests: int) -> None:
        @given(case=operation.as_strategy())
        @how(max_examples=requests, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck))
        def ask(case: Any) -> None:
            for name, value in self.ids.items():
                if name in case.path_parameters and case.path_parameters[name] % 2:
                    case.path_parameters[name] = value
            cookies, headers = self.signed_in()
            response = case.call(base_url=self.live_server_url, cookies=cookies, headers=headers, timeout=_PATIENCE)
            case.validate_response(response, checks=_CHECKS)

        ask()
