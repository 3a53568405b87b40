"""The room's view as browsers hold it, in TypeScript: made from the followers. ``make types`` writes it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import is_dataclass
from typing import Any, NamedTuple

from mellowspine.server.typescript import Module, comment, docs_of, name_of, own_doc

from .followers import FOLLOWERS
from .followers.shown import ListOf, MapOf, PagesOf, Part, Parts, Single, as_sent

HEAD = """/** What the server computes from the text, as it is sent: made by `make types` from `server/rooms/followers`, never by hand. */
import { asItIs, list, map, mapOf, parts, single, type ChangesOf } from "./wire";"""


class Crossing(NamedTuple):
    """How a value crosses: the type of what browsers hold, and the expression that makes their ``Part``, which takes in changes."""

    value: str
    part: str


def typescript() -> str:
    module = Module(HEAD)
    shown = {name: (one.compute.__doc__, one.shown) for name, one in FOLLOWERS.items() if one.shown}
    crossings = {name: _crossing(module, part) for name, (_, part) in shown.items()}
    docs = {name: _doc(doc, part) for name, (doc, part) in shown.items()}
    values, parts = _fields(crossings, docs)
    pages = "".join(f'  {part.of}: "{name}",\n' for name, (_, part) in shown.items() if isinstance(part, PagesOf))
    module.add(
        f"/** All that is sent of a report, by name of what computes it. */\nexport interface Values {{\n{values}}}"
    )
    module.add(f"export const PARTS = {{\n{parts}}};")
    module.add(
        "/** What is sent after each edit, and when the room is entered. */\nexport type Changes = ChangesOf<typeof PARTS>;"
    )
    module.add(
        f"/** The lists whose rows have a page each, and under which name that is sent. */\nexport const PAGES = {{\n{pages}}} as const;"
    )
    return str(module)


def _fields(crossings: Mapping[str, Crossing], docs: Mapping[str, str]) -> tuple[str, str]:
    """The fields of an interface, and those of the object with their parts."""
    values = (
        comment(docs.get(name, ""), "  ") + f"  readonly {name}: {one.value};\n" for name, one in crossings.items()
    )
    return "".join(values), "".join(f"  {name}: {one.part},\n" for name, one in crossings.items())


def _doc(doc: str | None, part: Part | None) -> str:
    return doc or (f"The page of each of `{part.of}`, counted from 1." if isinstance(part, PagesOf) else "")


def _crossing(module: Module, part: Part) -> Crossing:
    match part:
        case Single(type=hint, empty=empty):
            value, start = module.value(hint), _json(empty)
            if is_dataclass(hint):
                start, declared = f"EMPTY_{value.upper()}", f"export const EMPTY_{value.upper()}: {value} = {start};"
                if module.once(declared):
                    module.add(declared)
            return Crossing(value, f"single<{value}, {module.row(hint)}>({_reader(module, hint)}, {start})")
        case ListOf(row=hint):
            return Crossing(f"readonly {module.value(hint)}[]", f"list({_reader(module, hint)})")
        case MapOf(value=Parts() as inner):
            of = _crossing(module, inner)
            return Crossing(f"ReadonlyMap<string, {of.value}>", f"mapOf({of.part})")
        case MapOf(value=hint):
            return Crossing(f"ReadonlyMap<string, {module.value(hint)}>", f"map({_reader(module, hint)})")
        case Parts():
            _declare(module, part)
            return Crossing(name_of(part.type), f"PARTS_OF_{name_of(part.type).upper()}")
    raise TypeError(f"There is no TypeScript for {part!r}.")


def _json(value: Any) -> str:
    return json.dumps(as_sent(value), ensure_ascii=False)


def _reader(module: Module, hint: Any) -> str:
    return module.reader(hint) or f"asItIs<{module.value(hint)}>"


def _declare(module: Module, part: Parts) -> None:
    """Declares the interface of what is described in parts, and what takes in its changes."""
    if not module.once(part.type):
        return
    name = name_of(part.type)
    crossings = {field: _crossing(module, one) for field, one in part.parts.items()}
    values, parts = _fields(crossings, docs_of(part.type))
    module.add(f"{comment(own_doc(part.type))}export interface {name} {{\n{values}}}")
    module.add(f"const PARTS_OF_{name.upper()} = parts({{\n{parts}}});")
