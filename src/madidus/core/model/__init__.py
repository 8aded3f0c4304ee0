"""The project document as Pydantic models, SI units throughout."""

from ..elements import Link, Node
from ..rainfall.methods import Rainfall
from ..rainfall.rain import Rain
from ..rainfall.shapes import Shape
from ..rules import Brief, Rule
from .network import Catchment, Network
from .project import Option, Project, canonical_json, fingerprint, parse_project

__all__ = [
    "Brief", "Catchment", "Link", "Network", "Node", "Option", "Project", "Rain", "Rainfall", "Rule", "Shape",
    "canonical_json", "fingerprint", "parse_project",
]  # fmt: skip
