"""Whether a report belongs to a model: the fingerprint that it bears against that of the inputs."""

import re
from dataclasses import dataclass

from ..core.errors import ModelError
from ..core.hydraulics.version import SOLVER
from ..core.model.project import Project, fingerprint
from .pages import words_of

__all__ = ["Verified", "verified"]

_BORNE = re.compile(r"inputs ([0-9a-f]{64}), option ([0-9a-f-]{36}), solver (\S+)")
_PRINTED = re.compile(r"inputs ([0-9A-F]{12})")


@dataclass(frozen=True)
class Verified:
    """belongs : inputs and every page agree. said : in a sentence; remarks : what differs besides."""

    belongs: bool
    said: str
    inputs: str
    option: str
    pages: int
    remarks: tuple[str, ...]


def verified(content: bytes, project: Project) -> Verified:
    """Read a report's fingerprint, from its properties and from every page, and hold it against a project.

    Raises
    ------
    ModelError
        When the file is no PDF, or no report of ours.
    """
    keywords, pages = words_of(content)
    borne = _BORNE.search(keywords)
    if borne is None:
        raise ModelError("file", "report", "bears no fingerprint of inputs", "choose a report that Madidus has written")
    inputs, option, solver = borne.groups()
    foreign = _foreign_pages(pages, inputs)
    now = fingerprint(project.model_dump(mode="json"))
    remarks = []
    if foreign:
        remarks.append(f"pages {', '.join(map(str, foreign[:10]))} bear another fingerprint, or none")
    if option not in project.options:
        remarks.append("it tells of an option that the project no longer has")
    if solver != SOLVER:
        remarks.append(f"its results are of solver {solver}, this program's is {SOLVER}")
    belongs = inputs == now and not foreign
    name = project.options[option].name if option in project.options else ""
    said = (
        f"The report belongs to this project{f', option {name}' if name else ''}." if belongs
        else "The report does not belong to the project as it is now."
    )  # fmt: skip
    return Verified(belongs, said, inputs, option, len(pages), tuple(remarks))


def _foreign_pages(pages: list[str], inputs: str) -> list[int]:
    """Pages, from 1, whose printed fingerprint is not that of the document."""
    found = []
    for k, text in enumerate(pages, start=1):
        printed = _PRINTED.findall(text)
        if not printed or any(one.lower() != inputs[:12] for one in printed):
            found.append(k)
    return found
