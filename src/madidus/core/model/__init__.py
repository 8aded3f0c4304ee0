"""The project document as Pydantic models, SI units throughout."""

from .brief import Brief, Criterion
from .network import Catchment, Link, Network, Node
from .project import Option, Project, canonical_json, fingerprint, parse_project
from .rain import Rain, Rainfall, Shape

__all__ = [
    "Brief", "Catchment", "Criterion", "Link", "Network", "Node", "Option", "Project", "Rain", "Rainfall", "Shape",
    "canonical_json", "fingerprint", "parse_project",
]  # fmt: skip
