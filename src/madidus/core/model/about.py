"""What a field of the project document is, read from the models themselves: the page behind an error."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from .project import Project

__all__ = ["About", "about"]


@dataclass(frozen=True)
class About:
    """field : its name; of, of_says : what has it, what that is; says : meaning and unit; rules : what is allowed."""

    field: str
    of: str
    of_says: str
    says: str
    rules: tuple[str, ...]


_RULES = {
    "minimum": "at least {}", "maximum": "at most {}", "exclusiveMinimum": "more than {}",
    "exclusiveMaximum": "less than {}", "minLength": "at least {} characters", "maxLength": "at most {} characters",
    "minItems": "at least {} of them", "maxItems": "at most {} of them", "default": "{} where nothing is given",
    "const": "always {}",
}  # fmt: skip


@lru_cache(maxsize=1)
def _schema() -> dict[str, Any]:
    return Project.model_json_schema()


def _branches(schema: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """A schema and all that it may stand for."""
    if "$ref" in schema:
        yield from _branches(_schema()["$defs"][schema["$ref"].rsplit("/", 1)[-1]])
        return
    parts = [part for key in ("anyOf", "oneOf", "allOf") for part in schema.get(key, [])]
    if not parts:
        yield schema
    for part in parts:
        yield from _branches(part)


def _below(schema: dict[str, Any], step: str) -> Iterator[dict[str, Any]]:
    if step in schema.get("properties", {}):
        yield schema["properties"][step]
    elif step.isdigit() and "items" in schema:
        yield schema["items"]
    elif isinstance(schema.get("additionalProperties"), dict):
        yield schema["additionalProperties"]
    else:
        yield from schema.get("patternProperties", {}).values()


def about(path: str) -> list[About]:
    """The field at a path of the document such as `options/…/network/links/…/pipe/roughness`; empty where none is.

    Steps that name a kind are passed over; a field that several kinds have is told for each that differs.
    """
    owners = list(_branches(_schema()))
    found: list[About] = []
    steps = [step for step in path.split("/") if step]
    for k, step in enumerate(steps):
        of_kind = [owner for owner in owners if owner.get("properties", {}).get("kind", {}).get("const") == step]
        if of_kind and k < len(steps) - 1:
            owners = of_kind  # Pydantic puts the kind of a part into its paths
            continue
        below = [(owner, schema) for owner in owners for schema in _below(owner, step)]
        if not below:
            continue
        if k == len(steps) - 1:
            for owner, schema in below:
                one = _told(step, owner, schema)
                if one not in found:
                    found.append(one)
        owners = [branch for _, schema in below for branch in _branches(schema)]
    return found


def _told(step: str, owner: dict[str, Any], schema: dict[str, Any]) -> About:
    rules: list[str] = []
    for part in (schema, *_branches(schema)):
        for key, text in _RULES.items():
            value = part.get(key)
            if value is not None and not isinstance(value, dict | list):
                rules.append(text.format(f"{value:g}" if isinstance(value, float) else value))
        if "enum" in part:
            rules.append(f"one of {', '.join(map(str, part['enum']))}")
    says = schema.get("description", "")
    return About(
        step.replace("_", " "), owner.get("title", ""), " ".join(owner.get("description", "").split()), says,
        tuple(dict.fromkeys(rules)),
    )  # fmt: skip
