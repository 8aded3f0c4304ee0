"""Elements as flat rows: every field of an element under a heading of its own, nested ones with dots."""

import json
import re
from typing import Any

from ..core.model.network import Network
from .field_units import DIMENSIONS, FIELDS, UNITS, Usual
from .incoming import KNOWN, Fields, Group

__all__ = [
    "FIELDS",
    "GROUP_OF",
    "UNITS",
    "WORDS",
    "factor",
    "flat",
    "guessed_field",
    "guessed_unit",
    "nested",
    "rows_of",
]

GROUP_OF: dict[str, Group] = {
    **{kind: group for group, kinds in KNOWN.items() for kind in kinds if kind}, "catchment": "catchments",
}  # fmt: skip
"""Group by kind of row; a catchment's kind is its own word here."""

WORDS = frozenset({"name", "kind", "id", "material", "upstream", "downstream", "node", "bypass"})
"""Fields that are words whatever they look like."""

# words that people head their columns with, by field; the first that fits wins
_UP, _DOWN, _BED = r"(us|u/s|upstream|start|up)", r"(ds|d/s|downstream|end|down)", r"(il|invert|bed)"
_SPOKEN: list[tuple[str, str]] = [
    ("name", r"(pipe|node|manhole|mh|link|catchment|area)?\s*(name|no|nr|number|ref|reference|label)"),
    ("name", r"pipe|manhole|mh|catchment"),
    ("id", r"id|uuid|guid"),
    ("upstream", rf"(from|{_UP})(\s*(node|manhole|mh|name))?"),
    ("downstream", rf"(to|{_DOWN})(\s*(node|manhole|mh|name))?"),
    ("upstream_invert", rf"{_UP}\s*{_BED}(\s*level)?|{_BED}\s*(level\s*)?{_UP}"),
    ("downstream_invert", rf"{_DOWN}\s*{_BED}(\s*level)?|{_BED}\s*(level\s*)?{_DOWN}"),
    ("length", r"(pipe\s*)?length|len"),
    ("section.diameter", r"(pipe\s*)?(dia|diam|diameter|dn|bore|size)"),
    ("section.width", r"width"),
    ("section.height", r"height"),
    ("roughness", r"n|manning('?s)?(\s*n)?|roughness"),
    ("material", r"(pipe\s*)?material"),
    ("x", r"x|east|easting|x\s*coord(inate)?"),
    ("y", r"y|north|northing|y\s*coord(inate)?"),
    ("kind", r"(kind|type)(\s*of\s*(node|link|structure))?|(node|link|structure)\s*(kind|type)"),
    ("initial_depth", r"permanent\s*water"),
    ("cover", r"(bank\s*or\s*cover|cover|ground|rim|lid|surface|top)(\s*(level|elevation|el))?|cl|gl"),
    ("invert", r"invert(\s*(level|elevation))?|il|bed(\s*level)?|sump"),
    ("diameter", r"(manhole\s*)?(dia|diam|diameter)|ring"),
    ("area", r"(plan\s*|contributing\s*|catchment\s*)?area"),
    ("impervious", r"impervious|paved|pimp|impermeable|runoff\s*share"),
    ("node", r"(drains?\s*to|node|outlet|receiving(\s*node)?)"),
    ("time_of_entry", r"time\s*of\s*entry|toe"),
]  # fmt: skip
_UNDER = re.compile(r"\bbelow\b|\bunder\b", re.IGNORECASE)  # the ground: a depth, no level
_BRACKETED = re.compile(r"[\[(]\s*([^\])]*)\s*[\])]\s*$|,\s*([^,]+)$")
_SPELT = {
    "m²": "m2", "sqm": "m2", "m^2": "m2", "l/s": "L/s", "lps": "L/s", "m³/s": "m3/s", "cumecs": "m3/s", "feet": "ft",
    "inch": "in", "inches": "in", "metres": "m", "meters": "m", "mm": "mm", "sec": "s", "percent": "%", "cfs": "ft3/s",
    "ft²": "ft2", "acres": "acre", "l/min": "L/min", "mins": "min", "minutes": "min",
}  # fmt: skip


def factor(field: str, unit: str) -> float:
    """What a figure in `unit` is multiplied by. Raises KeyError for a unit that the field has not."""
    return DIMENSIONS[FIELDS[field]][unit] if unit else 1.0


def guessed_unit(field: str, heading: str, figures: list[float], usual: Usual = Usual()) -> str:
    """The unit that a heading names; else that in which such figures are usually read."""
    kept = FIELDS.get(field)
    if kept is None:
        return ""
    found = _BRACKETED.search(heading)
    word = ((found.group(1) or found.group(2)) if found else heading.split()[-1]).strip().lower()
    word = _SPELT.get(word, word)
    known = {unit.lower(): unit for unit in DIMENSIONS[kept]}
    if word in known and not (not found and len(heading.split()) < 2):
        return known[word]
    return usual.of(field, figures)


def guessed_field(heading: str, kind: str) -> str:
    """The field that a heading speaks of, among those that the kind has; empty where it is anyone's guess."""
    plain = _BRACKETED.sub("", heading).strip()
    known = KNOWN[GROUP_OF[kind]]["" if kind == "catchment" else kind]
    if plain.split(".")[0] in known or plain == "id":
        return plain
    said = re.sub(r"[\s_\-]+", " ", plain).strip().casefold()
    if _UNDER.search(heading):
        return ""
    if said.replace(" ", "_") in known:
        return said.replace(" ", "_")
    for field, pattern in _SPOKEN:
        if field.split(".")[0] in known and re.fullmatch(pattern, said):
            return field
    return ""


def flat(fields: Fields) -> dict[str, Any]:
    """Nested objects as `section.diameter`; lists as JSON; nothing for what is not there."""
    found: dict[str, Any] = {}
    for name, value in fields.items():
        if isinstance(value, dict):
            found.update({f"{name}.{key}": inner for key, inner in flat(value).items()})
        elif isinstance(value, list):
            found[name] = json.dumps(value, ensure_ascii=False)
        elif value is not None:
            found[name] = value
    return found


def nested(row: dict[str, Any]) -> Fields:
    """The opposite of `flat`. A section with a diameter and no shape is round, one with a width rectangular."""
    found: Fields = {}
    for name, value in row.items():
        *path, last = name.split(".")
        inner = found
        for step in path:
            inner = inner.setdefault(step, {})
        inner[last] = json.loads(value) if isinstance(value, str) and value[:1] in ("[", "{") else value
    section = found.get("section")
    if isinstance(section, dict) and "shape" not in section:
        section["shape"] = "circular" if "diameter" in section else "rectangular"
    return found


def rows_of(network: Network) -> dict[str, list[dict[str, Any]]]:
    """Every element as a flat row, by kind; references by name where it is the only one of that name."""
    names: dict[str, int] = {}
    for node in network.nodes.values():
        names[node.name] = names.get(node.name, 0) + 1
    called = {id_: node.name if names[node.name] == 1 else id_ for id_, node in network.nodes.items()}
    found: dict[str, list[dict[str, Any]]] = {}
    for group in KNOWN:
        for id_, element in getattr(network, group).items():
            fields = element.model_dump(mode="json")
            for reference in ("upstream", "downstream", "node", "bypass"):
                if fields.get(reference):
                    fields[reference] = called[fields[reference]]
            kind = fields.pop("kind", "catchment")
            found.setdefault(kind, []).append({"id": id_, **flat(fields)})
    return found
