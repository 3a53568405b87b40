"""Settings in YAML before a text in Markdown: title, subtitle, authors, date and language (common practice, no source).

What is written is a few plain lines; of what others write, values on one line and lists of such are read.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import NamedTuple

from ..report.page import LANGUAGE
from .walk import About

_OURS = "Mellow Spine"
_KEY = re.compile(r"(\w[\w \t.-]*?)[ \t]*:(?:[ \t]+(.*))?$")
_ITEM = re.compile(r"[ \t]*-[ \t]+(.*)$")
_NAMES = {"title": "title", "subtitle": "subtitle", "author": "author", "authors": "author", "date": "date", "lang": "lang",
          "language": "lang", "generator": "generator"}  # fmt: skip


class FrontMatter(NamedTuple):
    """``others``: whether anything else is said there."""

    title: str = ""
    subtitle: str = ""
    authors: tuple[str, ...] = ()
    date: str = ""
    language: str = ""
    is_ours: bool = False
    """Whether this application wrote it: then authors and date are those of the file, and no words of the report."""
    others: bool = False


def front_matter(title: str, language: str, about: About) -> str:
    """The lines in front of a text."""
    lines = [f"title: {_quoted(title)}"]
    if about.authors:
        lines.append(f"author: [{', '.join(map(_quoted, about.authors))}]")
    if about.at:
        lines.append(f"date: {about.at.date().isoformat()}")
    return "\n".join(("---", *lines, f"lang: {language}", f"generator: {_OURS}", "---", "", ""))


def _quoted(words: str) -> str:
    """In quotation marks, as YAML and JSON both have them (YAML 1.2, 7.3.1)."""
    return json.dumps(" ".join(words.split()), ensure_ascii=False)


def read_front_matter(text: str) -> FrontMatter:
    """What the lines between those of three hyphens say."""
    found: dict[str, list[str]] = {}
    others, key = False, ""
    for line in text.splitlines():
        if (named := _KEY.match(line)) and not line[:1].isspace():
            key = _NAMES.get(named[1].lower(), "")
            others = others or not key
            found.setdefault(key, []).extend(_values(named[2] or ""))
        elif (item := _ITEM.match(line)) and key:
            found[key].extend(_values(item[1]))
        elif line.strip() and not line.lstrip().startswith("#"):
            others = True  # lines of something deeper
    one = {name: (found.get(name) or [""])[0] for name in ("title", "subtitle", "date", "lang", "generator")}
    language = one["lang"].replace("_", "-") if LANGUAGE.fullmatch(one["lang"].replace("_", "-")) else ""
    return FrontMatter(
        one["title"][:200],
        one["subtitle"],
        tuple(found.get("author", ())),
        one["date"],
        language,
        one["generator"] == _OURS,
        others or (bool(one["lang"]) and not language),
    )


def _values(said: str) -> Iterator[str]:
    """A value, or those of a list on one line."""
    said = said.strip()
    if said.startswith("[") and said.endswith("]"):
        try:
            given = json.loads(said)
        except ValueError:
            given = said[1:-1].split(",")
        yield from (words for one in given if isinstance(one, str) and (words := _value(one)))
    elif words := _value(said):
        yield words


def _value(said: str) -> str:
    said = said.strip()
    if len(said) > 1 and said[0] == said[-1] == '"':
        try:
            said = json.loads(said)
        except ValueError:
            said = said[1:-1]
    elif len(said) > 1 and said[0] == said[-1] == "'":
        said = said[1:-1].replace("''", "'")
    elif said in ("|", ">", "|-", ">-"):
        return ""
    return " ".join(said.split())
