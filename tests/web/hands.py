"""What tests of the API do again and again."""

import time

import pypdfium2

__all__ = ["of", "report_words", "settled"]


def of(project: dict) -> str:
    """Where the routes of the option in view lie. project : as the server answers with it."""
    return f"/api/projects/{project['id']}/options/{project['document']['in_view']}"


def settled(client, project: dict) -> dict:
    """The answer to the option in view, once its run has ended."""
    for _ in range(1800):
        answer = client.get(f"{of(project)}/answer").json()
        if answer["state"] != "running":
            return answer
        time.sleep(0.1)
    raise AssertionError("the run does not end")


def looked_at(client, project: dict) -> dict:
    """The answer once what the grid is worth is known as well: from then on nothing of it changes."""
    settled(client, project)
    for _ in range(1800):
        answer = client.get(f"{of(project)}/answer").json()
        if answer["worth"]["looking"] == "":
            return answer
        time.sleep(0.1)
    raise AssertionError("the grid is looked at for ever")


def report_words(client, project: dict, **asked: str) -> str:
    """What the report of the option in view says, page after page."""
    answer = client.get(f"{of(project)}/files/report.pdf", params=asked)
    assert answer.status_code == 200, answer.text
    document = pypdfium2.PdfDocument(answer.content)
    return " ".join(" ".join(page.get_textpage().get_text_range() for page in document).split())
