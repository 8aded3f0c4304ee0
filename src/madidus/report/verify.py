"""Whether a report is one that was issued, and belongs to a model: by its SHA-256, its signature, its fingerprint."""

import hashlib
import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Literal

from ..core.errors import ModelError
from ..core.hydraulics.version import SOLVER
from ..core.model.project import Project
from .pages import words_of
from .signature import signature_of

__all__ = ["Sealed", "Verified", "verified"]

_BORNE = re.compile(r"inputs ([0-9a-f]{64}), option ([0-9a-f-]{36}), solver (\w+)")
_PRINTED = re.compile(r"inputs([0-9A-F]{12})")  # without spaces: of drawings every letter may be read as a line
_NUMBERED = re.compile(r", issue (.{1,40})$")


State = Literal["issued", "superseded", "differs", "not proven", "foreign"]


@dataclass(frozen=True)
class Sealed:
    """What is kept of an issued report to know it again: its number, its inputs, the SHA-256 of its PDF."""

    number: str
    fingerprint: str
    sha256: str


@dataclass(frozen=True)
class Verified:
    """What a report is.

    state 'issued': an issue, byte for byte, of the project as it is; 'superseded': an issue, byte for byte, and the
    project has changed since; 'differs': it bears the number or the inputs of an issue and is not its file, its pages
    do not agree or its signature does not fit; 'not proven': it bears the fingerprint of the project as it is, is not
    signed by a key that is known, and no issue is kept that its content could be held against; 'foreign': none of
    these. said : in a sentence; signed : likewise, of its signature; remarks : what differs besides.
    """

    state: State
    said: str
    signed: str
    sha256: str
    inputs: str
    option: str
    pages: int
    remarks: tuple[str, ...]


def verified(
    content: bytes, project: Project, now: str, issues: Sequence[Sealed], known: Collection[str] = ()
) -> Verified:
    """Hold a report against the issues that are kept, and its fingerprint against a project.

    now : fingerprint of the project's inputs, as reports of it bear it. known : SHA-256 of the certificates by which
    issued reports are signed.

    Only a SHA-256 or a signature proves what a file holds: a fingerprint is text, and stays where pages are painted
    over.

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
    sha256 = hashlib.sha256(content).hexdigest()
    numbered = _NUMBERED.search(keywords)
    same = next((one for one in issues if one.sha256 == sha256), None)
    like = next((one for one in issues if numbered and one.number == numbered[1]), None) or next(
        (one for one in issues if one.fingerprint == inputs), None
    )
    foreign = _foreign_pages(pages, inputs)
    signature = signature_of(content)
    ours = signature.state == "whole" and signature.by in known
    current = inputs == now
    remarks = []
    if foreign:
        remarks.append(f"pages {', '.join(map(str, foreign[:10]))} bear another fingerprint, or none")
    if option not in project.options:
        remarks.append("it tells of an option that the project no longer has")
    if solver != SOLVER:
        remarks.append(f"its results are of solver {solver}, this program's is {SOLVER}")
    state: State
    if same is not None:
        state = "issued" if current else "superseded"
        said = f"It is issue {same.number}, byte for byte" + ("." if current else "; the project has changed since.")
    elif like is not None:
        state = "differs"
        bears = "number" if numbered and numbered[1] == like.number else "fingerprint"
        said = f"It bears the {bears} of issue {like.number}, and is not the issued file."
    elif signature.state == "broken":
        state, said = "differs", "It was changed after it was signed."
    elif foreign:
        state, said = "differs", "Its pages do not belong together."
    elif current and ours:
        state = "issued"
        said = f"It is issue {numbered[1] if numbered else ''}, as it was signed. No record of it is kept here."
    elif current:
        state = "not proven"
        said = (
            "It bears the fingerprint of the project as it is now. "
            "No issue is kept that its content could be held against."
        )
    else:
        state, said = "foreign", "It does not belong to the project as it is now, and no issue of it is kept."
    signed = {
        "none": "It is not signed.",
        "broken": "Its signature does not fit its content.",
        "whole": f"It is signed with a certificate that is {'' if ours else 'not '}known here ({signature.by[:16]} …).",
    }[signature.state]  # fmt: skip
    return Verified(state, said, signed, sha256, inputs, option, len(pages), tuple(remarks))


def _foreign_pages(pages: list[str], inputs: str) -> list[int]:
    """Pages, from 1, whose printed fingerprint is not that of the document."""
    found = []
    for k, text in enumerate(pages, start=1):
        printed = _PRINTED.findall("".join(text.split()))
        if not printed or any(one.lower() != inputs[:12] for one in printed):
            found.append(k)
    return found
