"""What taking in a file would do to the network: proposed first, then applied as one step."""

import json
import uuid
from collections.abc import Iterator
from typing import Any, Literal, TypeGuard

from pydantic import BaseModel, TypeAdapter, ValidationError

from ..core.elements.document import ElementId
from ..core.model.project import Project
from ..core.model.refused import problem_in
from ..core.quantities import Quantity, Units, said
from .existing import Book, Outlines
from .field_units import FIELDS
from .incoming import GROUPS, KNOWN, REFERENCES, Fields, Group, Incoming, Remark
from .sameness import same, without_rounding

__all__ = ["Entry", "FieldChange", "Proposal", "propose"]

Found = Literal["id", "name", "place"]
_ALL_KINDS = {kind for kinds in KNOWN.values() for kind in kinds}
_SAME_GROUND, _ON_THE_GROUND = 0.95, 0.5  # of the ground of two outlines together, that both cover
_TAGS = ("shape", "kind")
# by the unit that we keep: in which people read it, and its factor
_READ = {"m": ("m", 1.0), "m2": ("m²", 1.0), "m3/s": ("L/s", 1e3), "m0.5/s": ("m½/s", 1.0)}
_ID = TypeAdapter(ElementId)


class FieldChange(BaseModel):
    """A field that would change. was : at the last time this file was imported, where that is known.

    take : the file's value; 'here' where only this side has changed it since; 'ask' where both have. assumed : the
    file does not state it.
    """

    field: str
    now: str
    new: str
    was: str | None = None
    take: Literal["file", "here", "ask"] = "file"
    assumed: bool = False


class Instead(BaseModel):
    """What an element may be taken as instead, in words, and the patch that does it."""

    does: str
    patch: list[dict[str, Any]]


class Entry(BaseModel):
    """One element of the file. patch : JSON Patch (RFC 6902) relative to the network; empty unless something changes.

    matched : by what an existing element was recognised. why : of a conflict, with its remedy. Of an update, each
    operation of the patch belongs to the field at its place. instead : another way to take it in, where there is one.
    """

    action: Literal["create", "update", "same", "conflict"]
    group: Group
    kind: str
    name: str
    element: str | None = None
    matched: Found | None = None
    fields: list[FieldChange] = []
    why: str = ""
    patch: list[dict[str, Any]] = []
    instead: Instead | None = None


class Proposal(BaseModel):
    """What taking in a file would do. left : names of elements that the file does not hold, by group; absent : their
    ids, in the same order.

    What the file holds and could not be read, or stands against something here, is not among them.
    """

    entries: list[Entry]
    left: dict[Group, list[str]]
    absent: dict[Group, list[str]]
    remarks: list[Remark]


def propose(project: Project, incoming: Incoming, tolerance: float = 0.5, before: Incoming | None = None) -> Proposal:
    """Match the elements of a file with those of the shown option: by id, then by name, then by place.

    tolerance : m within which two nodes are at the same place. Two links are the same when they join the same nodes.
    before : the same file as it was imported last, so that changes here and in the file are told apart.
    """
    merge = _Merge(project, incoming, tolerance, before)
    merge.recognise(incoming.nodes)
    entries = [
        merge.entry(group, key, dict(fields))
        for group in GROUPS
        for key, fields in getattr(incoming, group).items()
    ]  # fmt: skip
    remarks = incoming.remarks + [
        Remark(where=name, what=f"is not used ({count} time{'s' if count > 1 else ''}) and is dropped")
        for name, count in sorted(incoming.dropped.items())
    ]
    not_held = {
        group: sorted(
            (book.elements[id_].name, id_) for id_ in book.free
            if not merge.mentioned(group, id_, book.elements[id_].name)
            and getattr(book.elements[id_], "kind", "") not in incoming.unsaid
        )
        for group, book in merge.books.items()
    }  # fmt: skip
    return Proposal(
        entries=entries, remarks=remarks,
        left={group: [name for name, _ in held] for group, held in not_held.items()},
        absent={group: [id_ for _, id_ in held] for group, held in not_held.items()},
    )  # fmt: skip


class _Merge:
    def __init__(self, project: Project, incoming: Incoming, tolerance: float, before: Incoming | None):
        self._before, self._assumed, self._incoming = before, incoming.assumed, incoming
        self._unread = {name.casefold() for name in incoming.unread}
        self._mentioned: dict[Group, set[str]] = {}  # ids and names of the file's elements
        network = project.option.network
        self.network, self.tolerance, self.roughness = network, tolerance, project.defaults.roughness
        self.books: dict[Group, Book] = {group: Book(getattr(network, group)) for group in GROUPS}
        self._outlines = Outlines({id_: c.polygon for id_, c in network.catchments.items() if len(c.polygon) > 2})
        self._by_ends: dict[tuple[str, str], list[str]] = {}
        for id_, link in network.links.items():
            self._by_ends.setdefault((link.upstream, link.downstream), []).append(id_)
        self._id_of: dict[str, str] = {}  # of nodes, existing or new, by key of the file
        self._nodes: dict[str, tuple[str | None, Found]] = {}  # existing node by key of the file, and how it was found
        self._names = {id_: node.name for id_, node in network.nodes.items()}
        self._units = Units(project.units, project.flow_unit)
        ways = incoming.links.values()
        self._ends = incoming.open_ended & {str(w.get("downstream")) for w in ways} - {
            str(w.get("upstream")) for w in ways
        }

    def mentioned(self, group: Group, id_: str, name: str) -> bool:
        """Whether the file holds this element, read or not."""
        if group not in self._mentioned:
            elements = getattr(self._incoming, group)
            names = {str(v).casefold() for key, f in elements.items() for v in (key, f.get("id"), f.get("name"))}
            self._mentioned[group] = names | self._unread
        return not {id_, name.casefold()}.isdisjoint(self._mentioned[group])

    def recognise(self, nodes: dict[str, Fields]) -> None:
        """Give every node of the file its id, so that others may refer to it in any order."""
        taken: set[str] = set()
        for key, fields in nodes.items():
            try:
                found, how = self._find("nodes", key, fields)
            except LookupError:
                continue
            if found in taken and how == "place":
                found = None  # a neighbour that has its own counterpart in the file
            if found is None:
                wanted = fields.get("id")
                self._id_of[key] = wanted if _is_id(wanted) else str(uuid.uuid4())
            else:
                taken.add(found)
                self._id_of[key] = found
            self._nodes[key] = (found, how)

    def entry(self, group: Group, key: str, fields: Fields) -> Entry:
        entry = Entry(
            action="conflict", group=group, kind=str(fields.get("kind", group[:-1])), name=str(fields.get("name", key))
        )
        for reference in REFERENCES:
            if fields.get(reference) is None:
                continue
            target = self._node(str(fields[reference]))
            if target is None:
                entry.why = self._unknown(reference, str(fields[reference]))
                return entry
            fields[reference] = target
        try:
            found, how = self._nodes[key] if group == "nodes" and key in self._nodes else self._find(group, key, fields)
        except LookupError:
            entry.why = f"several {group} are called {entry.name}; give each its own name first"
            return entry
        if found is not None and found not in self.books[group].free:
            entry.why = "is the same as another element of the file; take one of them out"
            self._id_of.pop(key, None)
            return entry
        wanted = fields.pop("id", None)
        if found is not None:
            entry.matched = how
            self._update(entry, key, found, fields, self._at_import(group, key))
            return entry
        entry.element = self._id_of[key] if group == "nodes" else wanted if _is_id(wanted) else str(uuid.uuid4())
        created = self._create(entry, key, fields)
        if created and group == "nodes":
            self._names[entry.element] = entry.name
        elif group == "nodes":
            del self._id_of[key]
        return entry

    def _node(self, key: str) -> str | None:
        """Id of a node that the file refers to: one of its own, or else one that is here already."""
        book = self.books["nodes"]
        try:
            return self._id_of.get(key) or book.by_id(key) or book.by_name(key)
        except LookupError:
            return None

    def _unknown(self, reference: str, key: str) -> str:
        """Why a reference leads nowhere."""
        if key in self._incoming.nodes:
            return f"{reference} {key} is in the file and cannot be imported, as it says there; mend that one"
        if key.casefold() in self._unread:
            return f"{reference} {key} is in the file and was left out, as is said below; mend that one"
        return f"{reference} {key} names no one node of the file or the project; mend the file"

    def _find(self, group: Group, key: str, fields: Fields) -> tuple[str | None, Found]:
        """The existing element that one of the file is, and by what it was recognised."""
        book = self.books[group]
        if (found := book.by_id(fields.get("id"))) is not None:
            return found, "id"
        made_up = "name" in self._assumed.get((group, key), {})
        if not made_up and (found := book.by_name(str(fields.get("name", key)))) is not None:
            return found, "name"
        if group == "nodes":
            return book.by_place(fields, self.tolerance), "place"
        if group == "links":
            joined = self._by_ends.get((fields.get("upstream", ""), fields.get("downstream", "")), [])
            same = [id_ for id_ in joined if id_ in book.free and book.elements[id_].kind == fields.get("kind")]
            return (same[0] if len(same) == 1 else None), "place"
        found = self._outlines.over(fields.get("polygon"), _SAME_GROUND)
        return (found if found in book.free else None), "place"

    def _lies_on(self, group: Group, fields: Fields) -> str | None:
        """Name of the existing element over which a new one would lie: ground twice, or a link beside its twin."""
        if group == "catchments":
            found = self._outlines.over(fields.get("polygon"), _ON_THE_GROUND)
            return None if found is None else self.books[group].elements[found].name
        if group == "links":
            joined = self._by_ends.get((fields.get("upstream", ""), fields.get("downstream", "")), [])
            same = [id_ for id_ in joined if self.books[group].elements[id_].kind == fields.get("kind")]
            if len(same) > 1 and all(id_ in self.books[group].free for id_ in same):
                return ", ".join(self.books[group].elements[id_].name for id_ in same)
        return None

    def _valid(self, entry: Entry, fields: Fields) -> Fields | None:
        """The element with all its fields; None, and the reason on the entry, where they make none."""
        try:
            element = GROUPS[entry.group].validate_python(fields)
        except ValidationError as error:
            entry.why = "; ".join(self._units.words(reason) for reason in _reasons(error))
            return None
        if entry.group == "links" and element.upstream == element.downstream:
            entry.why = "both ends are the same node; mend the file"
            return None
        found: Fields = element.model_dump(mode="json")
        return found

    def _create(self, entry: Entry, key: str, fields: Fields) -> bool:
        assumed = self._assumed.get((entry.group, key), {})
        stated = fields
        fields = {**assumed, **fields}
        fields.setdefault("name", key)
        if entry.group == "nodes":
            fields = {"x": 0.0, "y": 0.0, **fields}  # where no place is stated, and said so
        if fields["name"] == assumed.get("name"):
            fields["name"] = self.books[entry.group].free_name(fields["name"])
        there = self._lies_on(entry.group, fields)
        if there is not None:
            entry.why = f"lies where {there} lies, and is not the same; give it the name of that one, or move it"
            return False
        if entry.kind == "pipe":
            fields.setdefault("roughness", self.roughness)
        value = self._valid(entry, fields)
        if value is None:
            return False
        entry.action, entry.name = "create", value["name"]
        if entry.group == "nodes" and key in self._incoming.sumps and entry.kind in ("manhole", "junction", "inlet"):
            depth = Quantity(self._incoming.sumps[key], "m", 3)
            what = said("has its floor ", depth, " below its lowest pipe: water counts as stored there; a sump that "
                        "stands full stores none, so raise its invert to that of the pipe")  # fmt: skip
            self._incoming.remarks.append(Remark(where=entry.name, what=self._units.words(what)))
        entry.fields = [
            FieldChange(field=name, now="", new=self._shown(name, value[name]), assumed=name not in stated)
            for name in fields
            if name in value and name not in ("name", "kind")
        ]
        entry.patch = [{"op": "add", "path": f"/{entry.group}/{entry.element}", "value": value}]
        if entry.group == "nodes" and key in self._ends and entry.kind != "outfall":
            where = {name: value[name] for name in ("name", "x", "y", "invert")}
            outfall = self._valid(entry, {**where, "kind": "outfall", "ground": value.get("cover")})
            if outfall is not None:
                patch = [{"op": "add", "path": f"/nodes/{entry.element}", "value": outfall}]
                entry.instead = Instead(does="nothing leads on from here: take it as an outfall", patch=patch)
        return True

    def _at_import(self, group: Group, key: str) -> Fields:
        """What the file said of an element when it was imported last; references are ids of ours."""
        if self._before is None:
            return {}
        fields = dict(getattr(self._before, group).get(key, {}))
        for reference in REFERENCES:
            if fields.get(reference) is not None:
                fields[reference] = self._node(str(fields[reference]))
        fields.pop("id", None)
        return fields

    def _update(self, entry: Entry, key: str, found: str, fields: Fields, before: Fields) -> None:
        self.books[entry.group].free.discard(found)
        entry.element = found
        element = self.books[entry.group].elements[found]
        now: Fields = element.model_dump(mode="json")
        if "name" not in fields:
            entry.name = now["name"]
        if (entry.group, key) in self._incoming.guessed:
            if unfit := sorted(fields.keys() - now.keys()):
                what = f"is of kind {now['kind']} here, which has no {', '.join(unfit)}; that is not used"
                self._incoming.remarks.append(Remark(where=entry.name, what=what))
            fields = {name: value for name, value in fields.items() if name in now and name != "kind"}
        fields = without_rounding(now, fields)
        if fields.get("kind", now.get("kind")) != now.get("kind"):
            kinds = f"of kind {now['kind']} here and of kind {fields['kind']} in the file"
            entry.why = f"is {kinds}; remove the wrong one first"
            return
        if "polygon" in fields and not same("polygon", now.get("polygon"), [list(p) for p in fields["polygon"]]):
            # the area goes with its outline
            fields = {"area": self._assumed.get((entry.group, key), {}).get("area", now.get("area")), **fields}
        new = self._valid(entry, {**now, **fields})
        if new is None:
            return
        changed = [name for name in new if not same(name, now.get(name), new[name])]
        entry.action, entry.kind = ("update" if changed else "same"), now.get("kind", entry.kind)
        was = self._valid(entry, {**now, **before}) if before else None
        entry.why = ""  # an older file that makes no element is no reason against this one
        for name in changed:
            change = FieldChange(field=name, now=self._shown(name, now.get(name)), new=self._shown(name, new[name]))
            if was is not None and name in before:
                change.was = self._shown(name, was[name])
                if not same(name, was[name], now.get(name)):
                    change.take = "here" if same(name, was[name], new[name]) else "ask"
            entry.fields.append(change)
        entry.patch = [
            {"op": "replace", "path": f"/{entry.group}/{found}/{name}", "value": new[name]} for name in changed
        ]

    def _shown(self, name: str, value: Any) -> str:
        """A field's value as people read it, in their units."""
        if isinstance(value, int | float) and not isinstance(value, bool):
            unit = _READ.get(FIELDS.get(name, ""))
            return f"{value:.10g}" if unit is None else self._units.words(said(Quantity(value * unit[1], unit[0])))
        if isinstance(value, str):
            return self._names.get(value, value)
        if isinstance(value, dict):
            return ", ".join(
                f"{self._shown(k, v)}" if k in _TAGS else f"{k} {self._shown(f'{name}.{k}', v)}"
                for k, v in value.items()
            )
        if isinstance(value, list) and value and isinstance(value[0], dict):
            return f"{len(value)} of {', '.join(value[0])}"
        return "none" if value is None else json.dumps(value, ensure_ascii=False)[:120]


def _is_id(text: Any) -> TypeGuard[str]:
    try:
        _ID.validate_python(text)
    except ValidationError:
        return False
    return True


def _reasons(error: ValidationError) -> Iterator[str]:
    for problem in error.errors(include_url=False)[:3]:
        where = ".".join(str(part) for part in problem["loc"] if part not in _ALL_KINDS) or "element"
        if problem["type"] == "missing":
            yield f"no {where} was read from the file; add it there, or match what holds it"
        else:
            yield said(f"{where} ", problem_in(problem))
