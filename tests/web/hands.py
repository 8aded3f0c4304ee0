"""What tests of the API do again and again."""

import html
import re
import time
from unittest import mock

from madidus.report import pdf

__all__ = ["of", "report_words", "settled"]


def of(project: dict) -> str:
    """Where the routes of the option in view lie. project : as the server answers with it."""
    return f"/api/projects/{project['id']}/options/{project['document']['in_view']}"


def settled(client, project: dict) -> dict:
    """The answer to the option in view, once its run has ended."""
    for _ in range(600):
        answer = client.get(f"{of(project)}/answer").json()
        if answer["state"] != "running":
            return answer
        time.sleep(0.1)
    raise AssertionError("the run does not end")


class _NotLaidOut:
    def __init__(self, string, url_fetcher):
        self._string = string

    def write_pdf(self):
        return self._string.encode()


def report_words(client, project: dict, **asked: str) -> str:
    """What the report of the option in view says, without its pages: laying them out takes ten seconds."""
    with mock.patch.object(pdf, "HTML", _NotLaidOut):
        answer = client.get(f"{of(project)}/report.pdf", params=asked)
    assert answer.status_code == 200
    body = answer.text[answer.text.index("<body>") :]
    return " ".join(html.unescape(re.sub("<[^>]*>", " ", body)).split())
