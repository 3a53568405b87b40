"""TypeScript made from types of Python, so that what crosses to browsers is written down once.

In TypeScript a type has its name of Python, without ``Shown`` at its end; fields have their names of Python. A tuple with
names crosses as a list of what it holds (its *row*), and is read into an object; a dataclass crosses as an object.
"""

from __future__ import annotations

import ast
import inspect
import json
import textwrap
from collections.abc import Mapping, Sequence, Set
from dataclasses import is_dataclass
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

_PLAIN: dict[Any, str] = {
    str: "string",
    int: "number",
    float: "number",
    bool: "boolean",
    NoneType: "null",
    Any: "unknown",
}
_LISTS = (list, tuple, set, frozenset, Sequence, Set)


class Module:
    """One file of TypeScript. Types that a type needs are declared before it, once."""

    def __init__(self, head: str) -> None:
        self._declared: set[object] = set()
        self._parts = [head]

    def add(self, text: str) -> None:
        self._parts.append(text)

    def __str__(self) -> str:
        return "\n\n".join(self._parts) + "\n"

    def once(self, what: object) -> bool:
        """Whether something has not been declared here yet; from now on it has."""
        new = what not in self._declared
        self._declared.add(what)
        return new

    def value(self, hint: Any) -> str:
        """A type as browsers hold its values. Raises TypeError for one that does not cross."""
        return self._type_of(hint, row=False)

    def row(self, hint: Any) -> str:
        """A type as its values are sent."""
        return self._type_of(hint, row=True)

    def _type_of(self, hint: Any, row: bool) -> str:
        origin, inner = get_origin(hint), get_args(hint)
        if hint in _PLAIN:
            return _PLAIN[hint]
        if origin is Annotated:
            return self._type_of(inner[0], row)
        if origin is Literal:
            return " | ".join(json.dumps(one) for one in inner)
        if origin in (Union, UnionType):
            return " | ".join(self._type_of(one, row) for one in inner)
        if origin in _LISTS:
            if origin is tuple and inner[-1] is not Ellipsis:
                return f"readonly [{', '.join(self._type_of(one, row) for one in inner)}]"
            element = self._type_of(inner[0], row)
            return f"readonly ({element})[]" if " " in element else f"readonly {element}[]"
        if origin is Mapping or origin is dict:
            return f"Readonly<Record<{self._type_of(inner[0], row)}, {self._type_of(inner[1], row)}>>"
        if isinstance(hint, type):
            self.declare(hint)
            return f"{name_of(hint)}Row" if row and _is_row(hint) else name_of(hint)
        raise TypeError(f"There is no TypeScript for {hint!r}.")

    def declare(self, hint: type) -> None:
        """Declares a type with fields: its interface; and for a tuple with names its row, and how that is read."""
        if not _is_row(hint) and not is_dataclass(hint):
            raise TypeError(f"There is no TypeScript for {hint!r}: it is neither a tuple with names nor a dataclass.")
        if not self.once(hint):
            return
        name, hints, docs = name_of(hint), fields_of(hint), docs_of(hint)
        said = "".join(
            comment(docs.get(field, ""), "  ") + f"  readonly {field}: {self.value(one)};\n"
            for field, one in hints.items()
        )
        text = comment(own_doc(hint)) + f"export interface {name} {{\n{said}}}"
        if _is_row(hint):
            sent = ", ".join(f"{field}: {self.row(one)}" for field, one in hints.items())
            read = ", ".join(
                f"{field}: {self.applied(one, field)}" if _holds_rows(one) else field for field, one in hints.items()
            )
            text += f"\nexport type {name}Row = readonly [{sent}];"
            text += f"\nexport const {reader_of(hint)} = ([{', '.join(hints)}]: {name}Row): {name} => ({{ {read} }});"
        elif any(map(_holds_rows, hints.values())):
            raise TypeError(f"{name} crosses as it is, and so must all that it holds.")
        self._parts.append(text)

    def reader(self, hint: Any) -> str | None:
        """A function that reads a value of this type from its row; None where both are the same."""
        self.row(hint)  # declares what it needs
        if _is_row(hint):
            return reader_of(hint)
        return f"(row: {self.row(hint)}) => {self.applied(hint, 'row')}" if _holds_rows(hint) else None

    def applied(self, hint: Any, row: str) -> str:
        """An expression that reads ``row``, which is one too."""
        origin, inner = get_origin(hint), get_args(hint)
        if not _holds_rows(hint):
            return row
        if isinstance(hint, type):
            return f"{self.reader(hint)}({row})"
        if origin in (Union, UnionType) and NoneType in inner and len(inner) == 2:
            other = next(one for one in inner if one is not NoneType)
            return f"{row} && {self.applied(other, row)}"
        if origin in _LISTS and (origin is not tuple or inner[-1] is Ellipsis):
            return f"{row}.map({self.reader(inner[0])})"
        raise TypeError(f"There is no reader for {hint!r}.")


def _is_row(hint: Any) -> bool:
    return isinstance(hint, type) and issubclass(hint, tuple) and hasattr(hint, "_fields")


def _holds_rows(hint: Any) -> bool:
    return _is_row(hint) or any(_holds_rows(one) for one in get_args(hint) if get_origin(hint) is not Literal)


def name_of(hint: type) -> str:
    return hint.__name__.lstrip("_").removesuffix("Shown")


def reader_of(hint: type) -> str:
    return f"read{name_of(hint)}"


def fields_of(hint: type) -> dict[str, Any]:
    """The types of its fields, by name."""
    return get_type_hints(hint, include_extras=True)


def docs_of(hint: type) -> dict[str, str]:
    """What is written beneath the fields of a class, by name."""
    (made,) = ast.parse(textwrap.dedent(inspect.getsource(hint))).body
    assert isinstance(made, ast.ClassDef)
    found = {}
    for field, beneath in zip(made.body, made.body[1:], strict=False):
        match field, beneath:
            case ast.AnnAssign(target=ast.Name(id=name)), ast.Expr(value=ast.Constant(value=str(doc))):
                found[name] = inspect.cleandoc(doc)
    return found


def own_doc(hint: type) -> str:
    """What a class says of itself; nothing for what dataclasses and tuples with names say by themselves."""
    doc = inspect.cleandoc(hint.__doc__ or "")
    return "" if doc.startswith(f"{hint.__name__}(") else doc


def comment(doc: str, indent: str = "") -> str:
    """A comment of JSDoc, on a line of its own; nothing for nothing."""
    words = " ".join(doc.split()).replace("``", "`").replace("*/", "* /")
    return f"{indent}/** {words} */\n" if words else ""
