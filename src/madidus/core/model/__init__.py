"""The project document as Pydantic models, SI units throughout."""

from .brief import Brief, Criterion
from .links import Link
from .network import Catchment, Network
from .nodes import Node
from .project import Option, Project, canonical_json, fingerprint, parse_project
from .rain import Rain, Rainfall
from .shapes import Shape

__all__ = [
    "Brief", "Catchment", "Criterion", "Link", "Network", "Node", "Option", "Project", "Rain", "Rainfall", "Shape",
    "canonical_json", "fingerprint", "parse_project",
]  # fmt: skip
