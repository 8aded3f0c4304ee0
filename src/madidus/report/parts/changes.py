"""What changed since the last issue: verdict by verdict, element by element."""

from collections.abc import Iterator
from typing import Any

from ...core.model.report import Changes
from ...exchange.fields import flat
from ..blocks import Block, Table, Text
from ..reported import Before, Reported
from ..words import state_in_words
from .front import MARKS

__all__ = ["changed_elements", "changes", "verdicts_in_words"]

_UNSEEN = {"bends", "polygon", "x", "y"}
_INPUTS = ("rain", "run", "brief")


def verdicts_in_words(of: Reported) -> dict[str, str]:
    """Every verdict in words, by the name of its rule and its place."""
    labels = {s.key: s.label for s in of.plan.storms}
    found = {}
    for k, v in enumerate(of.verdicts, start=1):
        margin = f"{v.governing.value:+.4g}" if v.governing else "–"
        said = f"{MARKS[v.state]} {state_in_words(v, of.units)}".strip()
        found[f"{k}. {v.criterion.name}"] = f"{said}, margin {margin}, {labels.get(v.storm or '', 'no storm')}"
    return found


def changes(of: Reported, _: Changes) -> list[Block]:
    """Against what was issued last, where something was."""
    if of.before is None:
        return [Text("Nothing was issued before.")]
    before, now = of.before, verdicts_in_words(of)
    rules = [
        [name, before.verdicts.get(name, "was not there"), now.get(name, "is gone")]
        for name in dict.fromkeys([*before.verdicts, *now]) if before.verdicts.get(name) != now.get(name)
    ]  # fmt: skip
    return [
        Text(f"Since issue {before.number} of {before.day}."),
        Table("Verdicts that changed", ["Rule", f"Issue {before.number}", "Now"], rules),
        Table("Elements that changed", ["Element", "Field", f"Issue {before.number}", "Now"],
              list(changed_elements(before, of))),
        Table("Other inputs that changed", ["Input", "Is"], _inputs(before, of)),
    ]  # fmt: skip


def changed_elements(before: Before, of: Reported) -> Iterator[list[str]]:
    """Every field of every element that differs, new and removed elements included; SI as the document keeps it."""
    old, new = before.project.option.network, of.project.option.network
    for group in ("nodes", "links", "catchments"):
        was, there = getattr(old, group), getattr(new, group)
        for id_ in dict.fromkeys([*was, *there]):
            a, b = was.get(id_), there.get(id_)
            name = (b or a).name
            kind = getattr(b or a, "word", "catchment")
            if a is None or b is None:
                yield [f"{kind} {name}", "", "" if a is None else "was there", "is gone" if b is None else "new"]
                continue
            fields_a, fields_b = flat(a.model_dump(mode="json")), flat(b.model_dump(mode="json"))
            moved = [f for f in dict.fromkeys([*fields_a, *fields_b]) if fields_a.get(f) != fields_b.get(f)]
            drawn = sorted(set(moved) & _UNSEEN)
            if drawn:
                yield [f"{kind} {name}", "place on the plan", "", "moved"]
            for field in moved:
                if field not in _UNSEEN:
                    yield [f"{kind} {name}", field, _short(fields_a.get(field)), _short(fields_b.get(field))]


def _short(value: Any) -> str:
    said = "–" if value is None else f"{value:g}" if isinstance(value, float) else str(value)
    return said if len(said) <= 60 else f"{said[:57]} …"


def _inputs(before: Before, of: Reported) -> list[list[Any]]:
    return [
        [name, "changed"] for name in _INPUTS if getattr(before.project, name) != getattr(of.project, name)
    ]  # fmt: skip
