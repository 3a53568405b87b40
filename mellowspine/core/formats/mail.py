"""Bare addresses of mail in Markdown (GFM 0.29, 6.9) with underscores in their names.

The library looks for the name among the words that it has read since the last sign that might be emphasis: of ``ann_weir@lido.org``
it would take ``weir@lido.org``. Here such signs are words again, once an address follows.
"""

from __future__ import annotations

import re

from markdown_it import MarkdownIt
from markdown_it.rules_inline import StateInline
from mdit_py_plugins.gfm_autolink import index

_NAME = re.compile(r"[A-Za-z0-9.+_-]+$")
_MOST = 254
"""Characters that an address may have (RFC 5321, 4.5.3.1.3): no name is as long."""


def whole_addresses_plugin(parser: MarkdownIt) -> None:
    """Takes the place of the library's rule. To be used after it."""
    parser.inline.ruler.at("gfm_autolink_email", _rule)


def _rule(state: StateInline, silent: bool) -> bool:
    if silent or state.src[state.pos] != "@":
        return False
    name = _NAME.search(state.src, max(0, state.pos - _MOST), state.pos)
    if name and len(name[0]) == _MOST:
        return False  # no address is so long, and half of one is somebody else's
    if name:
        _taken_back(state, name[0].lstrip("_"))  # in front of a word it is emphasis
    return index._email_rule(state, silent)


def _taken_back(state: StateInline, name: str) -> None:
    """Makes what was read of a name words that wait to be one again, if all of it is words and such signs."""
    tokens, pending = [*state.tokens], state.pending
    while len(pending) < len(name) and tokens and tokens[-1].type == "text" and tokens[-1].content:
        pending = tokens.pop().content + pending
    if len(tokens) == len(state.tokens) or not pending.endswith(name):
        return
    state.tokens[len(tokens) :] = []
    state.tokens_meta[len(tokens) :] = []
    state.delimiters[:] = [one for one in state.delimiters if one.token < len(tokens)]
    state.pending = pending
