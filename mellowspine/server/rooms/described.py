"""The room's view as browsers hold it, in TypeScript: made from the followers. ``make types`` writes it."""

from __future__ import annotations

import json
from dataclasses import is_dataclass
from typing import Any

from mellowspine.server.typescript import Module, comment, docs_of, name_of, own_doc

from .followers import FOLLOWERS
from .followers.shown import ListOf, MapOf, PagesOf, Part, Parts, Single, as_sent

HEAD = """/** What the server computes from the text, as it is sent: made by `make types` from `server/rooms/followers`, never by hand. */
import { asItIs, list, map, mapOf, parts, single, type ChangesOf } from "./wire";"""


def typescript() -> str:
    module = Module(HEAD)
    shown = {name: one for name, one in FOLLOWERS.items() if one.shown}
    values = "".join(
        comment(_doc(name, one.compute.__doc__, one.shown), "  ") + f"  readonly {name}: {_value(module, one.shown)};\n"
        for name, one in shown.items()
        if one.shown
    )
    said = "".join(f"  {name}: {_part(module, one.shown)},\n" for name, one in shown.items() if one.shown)
    pages = {name: one.shown.of for name, one in shown.items() if isinstance(one.shown, PagesOf)}
    on = "".join(f'  {of}: "{name}",\n' for name, of in pages.items())
    module.add(
        f"/** All that is sent of a report, by name of what computes it. */\nexport interface Values {{\n{values}}}"
    )
    module.add(f"export const PARTS = {{\n{said}}};")
    module.add(
        "/** What is sent after each edit, and when the room is entered. */\nexport type Changes = ChangesOf<typeof PARTS>;"
    )
    module.add(
        f"/** The lists whose rows have a page each, and under which name that is sent. */\nexport const PAGES = {{\n{on}}} as const;"
    )
    return str(module)


def _doc(name: str, doc: str | None, part: Part | None) -> str:
    return doc or (f"The page of each of `{part.of}`, counted from 1." if isinstance(part, PagesOf) else "")


def _value(module: Module, part: Part | None) -> str:
    """The type of what browsers hold."""
    match part:
        case Single(type=hint):
            return module.value(hint)
        case ListOf(row=hint):
            return f"readonly {module.value(hint)}[]"
        case MapOf(value=Parts() as inner):
            return f"ReadonlyMap<string, {_value(module, inner)}>"
        case MapOf(value=hint):
            return f"ReadonlyMap<string, {module.value(hint)}>"
        case Parts():
            _declare(module, part)
            return name_of(part.type)
    raise TypeError(f"There is no TypeScript for {part!r}.")


def _part(module: Module, part: Part | None) -> str:
    """An expression that makes the browser's ``Part``, which takes in changes."""
    match part:
        case Single(type=hint, empty=empty):
            value, start = module.value(hint), _json(empty)
            if is_dataclass(hint):
                start, declared = f"EMPTY_{value.upper()}", f"export const EMPTY_{value.upper()}: {value} = {start};"
                if module.once(declared):
                    module.add(declared)
            return f"single<{value}, {module.row(hint)}>({_reader(module, hint)}, {start})"
        case ListOf(row=hint):
            return f"list({_reader(module, hint)})"
        case MapOf(value=Parts() as inner):
            return f"mapOf({_part(module, inner)})"
        case MapOf(value=hint):
            return f"map({_reader(module, hint)})"
        case Parts():
            _declare(module, part)
            return f"PARTS_OF_{name_of(part.type).upper()}"
    raise TypeError(f"There is no TypeScript for {part!r}.")


def _json(value: Any) -> str:
    return json.dumps(as_sent(value), ensure_ascii=False)


def _reader(module: Module, hint: Any) -> str:
    return module.reader(hint) or f"asItIs<{module.value(hint)}>"


def _declare(module: Module, part: Parts) -> None:
    """Declares the interface of what is described in parts, and what takes in its changes."""
    if not module.once(part.type):
        return
    docs = docs_of(part.type)
    fields = "".join(
        comment(docs.get(name, ""), "  ") + f"  readonly {name}: {_value(module, one)};\n"
        for name, one in part.parts.items()
    )
    made = "".join(f"  {name}: {_part(module, one)},\n" for name, one in part.parts.items())
    name = name_of(part.type)
    module.add(f"{comment(own_doc(part.type))}export interface {name} {{\n{fields}}}")
    module.add(f"const PARTS_OF_{name_of(part.type).upper()} = parts({{\n{made}}});")
