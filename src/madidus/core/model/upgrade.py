"""Documents of earlier format versions in the form of the present one."""

from typing import Any

__all__ = ["upgraded"]

_DOCUMENT = {"sights": "saved_views", "parts": "catalogue", "usual": "check_limits"}
_LIMITS = {
    "cover_depth": "cover", "slowest": "min_velocity", "fastest": "max_velocity", "smoothest": "min_roughness",
    "roughest": "max_roughness", "farthest": "max_distance",
}  # fmt: skip
_LIMIT = {"flood_volume": "limit", "outflow": "limit"}
_NODE = {"ponded_slope": "ponded_side_slope", "cover_voids": "cover_porosity", "capture": "capacity"}


def upgraded(document: dict[str, Any]) -> dict[str, Any]:
    """A document in the present format; what is not known to be an earlier one comes back as it is."""
    found = _from_1(document) if document.get("version") == 1 else document
    return _from_2(found) if found.get("version") == 2 else found


def _from_2(document: dict[str, Any]) -> dict[str, Any]:
    """Version 2 had criteria, each for one return period, and another word for the limit of some."""
    found = {**document, "version": 3}
    if isinstance(brief := document.get("brief"), dict) and "criteria" in brief:
        told = {key: value for key, value in brief.items() if key != "criteria"}
        rules = brief["criteria"]
        rules = (
            [_rule(rule) if isinstance(rule, dict) else rule for rule in rules] if isinstance(rules, list) else rules
        )
        found["brief"] = {**told, "rules": rules}
    return found


def _rule(criterion: dict[str, Any]) -> dict[str, Any]:
    at: dict[str, Any] = {key: criterion[key] for key in ("return_period", "allowance") if key in criterion}
    name = _LIMIT.get(str(criterion.get("kind")), "clearance")
    at["value"] = criterion.get(name, 0.3 if criterion.get("kind") == "freeboard" else 0.0)
    kept = {key: value for key, value in criterion.items() if key not in (*at, name)}
    return {**kept, "limits": [at]}


def _from_1(document: dict[str, Any]) -> dict[str, Any]:
    """Version 1 showed and ran the option that was first by name, and had other words for some fields.

    Whatever has not the shape that it should is left as it is, for the validation to name.
    """
    found = {**_renamed(document, _DOCUMENT), "version": 2}
    found.update(order=[], in_view="")
    for key, words in (("check_limits", _LIMITS), ("defaults", {"ground_over": "cover"})):
        if key in found:
            found[key] = _renamed(found[key], words)
    if isinstance(brief := found.get("brief"), dict):
        found["brief"] = _each(brief, "criteria", _criterion)
    if isinstance(mappings := found.get("mappings"), dict):
        found["mappings"] = _each(mappings, "tables", _columns)
    if not isinstance(options := found.get("options"), dict):
        return found
    found["options"] = options = {id_: _option(option) for id_, option in options.items()}
    order = sorted(options, key=lambda id_: str(options[id_].get("name")) if isinstance(options[id_], dict) else "")
    _tell_apart([options[id_] for id_ in order])
    found.update(order=order, in_view=order[0] if order else "")
    if "saved_views" in found:
        found = _each(found, "saved_views", lambda view: _view(view, found["in_view"]))
    return found


def _view(view: dict[str, Any], option: str) -> dict[str, Any]:
    shown = {"view": "3d"} if view.get("view") == "depth" else {}
    return {**view, **shown, "option": option}


def _renamed(part: Any, words: dict[str, str]) -> Any:
    return {words.get(key, key): value for key, value in part.items()} if isinstance(part, dict) else part


def _each(part: dict[str, Any], key: str, change: Any) -> dict[str, Any]:
    rows = part.get(key)
    if not isinstance(rows, list):
        return part
    return {**part, key: [change(row) if isinstance(row, dict) else row for row in rows]}


def _criterion(criterion: dict[str, Any]) -> dict[str, Any]:
    return (
        {**criterion, "formula": _renamed(criterion["formula"], {"yearly_rain": "mean_annual_rainfall"})}
        if "formula" in criterion
        else criterion
    )


def _columns(table: dict[str, Any]) -> dict[str, Any]:
    columns = table.get("columns")
    if not isinstance(columns, dict):
        return table
    kept = {
        heading: {**column, "field": _NODE.get(str(column.get("field")), column.get("field"))}
        for heading, column in columns.items() if isinstance(column, dict)
    }  # fmt: skip
    return {**table, "columns": {**columns, **kept}}


def _option(option: Any) -> Any:
    if not isinstance(option, dict):
        return option
    network = option.get("network")
    nodes = network.get("nodes") if isinstance(network, dict) else None
    if not isinstance(network, dict) or not isinstance(nodes, dict):
        return dict(option)
    renamed = {id_: _renamed(node, _NODE) for id_, node in nodes.items()}
    return {**option, "network": {**network, "nodes": renamed}}


def _tell_apart(options: list[Any]) -> None:
    """Number options of the same name: names were free in version 1."""
    known: set[str] = set()
    for option in options:
        if isinstance(option, dict) and isinstance(option.get("name"), str):
            name, k = option["name"].strip(), 1
            while option["name"].strip() in known:
                k += 1
                option["name"] = f"{name[:70]} ({k})"
            known.add(option["name"].strip())
