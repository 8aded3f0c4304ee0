"""Time to write, read and compare a large LandXML file."""

import time
from datetime import UTC, datetime

from madidus.core.model import Project
from madidus.exchange.imports import propose
from madidus.exchange.landxml import read_landxml
from madidus.exchange.landxml_writer import write_landxml

__all__ = ["landxml_round"]


def landxml_round(project: Project, empty: Project) -> dict[str, float]:
    """Seconds to write a network, to read it, and to propose it to its own project and to an empty one."""
    marks = [time.perf_counter()]

    def lap() -> float:
        marks.append(time.perf_counter())
        return marks[-1] - marks[-2]

    content = write_landxml(project.option.network, project.name, datetime.now(UTC))
    found = {"landxml_mb": len(content) / 1e6, "landxml_write_s": lap()}
    incoming = read_landxml(content)
    found["landxml_read_s"] = lap()
    propose(project, incoming)
    found["landxml_compare_s"] = lap()
    propose(empty, incoming)
    found["landxml_create_s"] = lap()
    return found
