"""What tests of the API do again and again."""

import time

__all__ = ["of", "settled"]


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
