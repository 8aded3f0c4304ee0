"""What is wrong with a field, in a sentence: in one place for all of them, with figures in the units that are read."""

from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from typing import Any, Protocol

from ..elements.document import DocumentModel, description_of
from ..quantities import Quantity, said

__all__ = ["figure_of", "problem_in", "problem_of", "remedy_of"]

_UNITS = {"m": ("m", 1.0), "m2": ("m²", 1.0), "m3": ("m³", 1.0), "m3/s": ("L/s", 1e3), "m/s": ("m/s", 1.0),
          "mm": ("mm", 1.0), "mm/h": ("mm/h", 1.0), "m0.5/s": ("m½/s", 1.0)}  # fmt: skip
_SIZES = {"diameter", "diameters", "largest_pipe"}  # m, and read in mm
_BOUNDS = {
    "greater_than": ("gt", "must be more than ", ""), "greater_than_equal": ("ge", "can be ", " at least"),
    "less_than": ("lt", "must be less than ", ""), "less_than_equal": ("le", "can be ", " at most"),
}  # fmt: skip


class Refusal(Protocol):
    """What Pydantic raises, and what is raised of a request by it."""

    def errors(self) -> Sequence[Any]:
        """Each with type, loc, msg, input and ctx."""


def problem_of(error: Refusal) -> str:
    """The first thing that is wrong, to follow the name of its field: "is 300 %, and can be 100 % at most"."""
    return problem_in(error.errors()[0])


def problem_in(first: Any) -> str:
    """Likewise of one of the things that are wrong."""
    kind, context, given = first["type"], first.get("ctx", {}), first.get("input")
    field = next((str(step) for step in reversed(first["loc"]) if isinstance(step, str)), "")
    if kind in _BOUNDS:
        key, before, after = _BOUNDS[kind]
        bound = context[key]
        share = kind == "less_than_equal" and bound == 1
        return said("is ", figure_of(field, given, share), ", and ", before, figure_of(field, bound, share), after)
    told = _told(kind, context, given)
    return told or str(first["msg"]).removeprefix("Value error, ")


def remedy_of(error: Refusal) -> str:
    """What to do about it."""
    kinds = {"missing": "give it", "extra_forbidden": "take it out"}
    return kinds.get(error.errors()[0]["type"], "correct it")


def _told(kind: str, context: Mapping[str, Any], given: Any) -> str:
    """What is wrong besides bounds; empty for what says it itself."""
    shown = f"“{str(given)[:40]}”"
    match kind:
        case "missing":
            return "is missing"
        case "extra_forbidden":
            return "is no field that is known here"
        case "float_type" | "float_parsing" | "int_type" | "int_parsing" | "finite_number" | "int_from_float":
            return "is empty, and must be a number" if given in (None, "") else f"is {shown}, and must be a number"
        case "string_type":
            return f"is {shown}, and must be a text"
        case "bool_type" | "bool_parsing":
            return f"is {shown}, and must be yes or no"
        case "literal_error" | "enum":
            return f"is {shown}, and must be {context['expected']}"
        case "string_too_short":
            return "is empty" if not given else f"is {shown}, and needs {context['min_length']} letters"
        case "string_too_long":
            return f"has {len(given)} letters, and can have {context['max_length']} at most"
        case "too_short":
            return f"has {context['actual_length']} rows, and needs {context['min_length']}"
        case "too_long":
            return f"has more than the {context['max_length']} rows that it can have"
        case "union_tag_invalid":
            return f"is of kind {context['tag']}, and must be {context['expected_tags']}"
    return ""


def figure_of(field: str, value: Any, share: bool = False) -> str | Quantity:
    """A value of a field as it is read; with its percentage where it is a share of one."""
    unit = _units().get(field)
    if unit and isinstance(value, int | float):
        name, factor = ("mm", 1e3) if field in _SIZES else _UNITS[unit]
        return Quantity(value * factor, name)
    if share and isinstance(value, int | float):
        return f"{value:g} ({value:.0%})"
    return f"{value:g}" if isinstance(value, int | float) else str(value)[:40]


def _models(kind: type[DocumentModel]) -> Iterator[type[DocumentModel]]:
    for below in kind.__subclasses__():
        yield below
        yield from _models(below)


@lru_cache(maxsize=1)
def _units() -> dict[str, str]:
    """The unit of each field by its name, where all that are called so have the same one."""
    found: dict[str, set[str]] = {}
    for model in _models(DocumentModel):
        for name, field in model.model_fields.items():
            found.setdefault(name, set()).add(description_of(field).split(" ")[0].rstrip(",;:"))
    said_of = {name: units - {""} for name, units in found.items()}
    return {name: unit for name, units in said_of.items() if len(units) == 1 and (unit := next(iter(units))) in _UNITS}
