"""Requests that are turned down, each with one sentence for the person."""

from __future__ import annotations


class Refusal(Exception):
    """Turned down; the message says why and what to do. ``status`` is the HTTP status."""

    def __init__(self, message: str, status: int = 400) -> None:
        super().__init__(message)
        self.status = status


def not_found() -> Refusal:
    return Refusal("There is no such report on your shelf; ask its owner to add you.", 404)


def not_allowed() -> Refusal:
    return Refusal("You can read this report, not change it; ask its owner to make you an editor.", 403)
