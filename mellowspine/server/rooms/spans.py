"""Stretches of what a shared document is made of; and what of an update came to stand nowhere, or was gone already."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Sequence

from .gate import Parts, Span


class Spans:
    """Stretches of structs, by client."""

    def __init__(self, spans: Iterable[Span]) -> None:
        by_client: dict[int, list[tuple[int, int]]] = {}
        for client, clock, length in spans:
            by_client.setdefault(client, []).append((clock, clock + length))
        self._joined = {client: joined(found) for client, found in by_client.items()}

    def without(self, span: Span) -> Iterator[Span]:
        """What of a span is in none of these."""
        client, clock, length = span
        end = clock + length
        stretches = self._joined.get(client, [])
        for start, stop in stretches[max(0, bisect_right(stretches, (clock, _LAST)) - 1) :]:
            if start >= end:
                break
            if start > clock:
                yield client, clock, start - clock
            clock = max(clock, stop)
        if clock < end:
            yield client, clock, end - clock

    def outside(self, spans: Iterable[Span]) -> list[Span]:
        """What of some spans is in none of these."""
        return [rest for span in spans for rest in self.without(span)]

    def holds_any(self, clocks: Iterable[tuple[int, int]]) -> bool:
        """Whether any of some structs is in these, by client and clock."""
        return any(self.covers((client, clock, 1)) for client, clock in clocks)

    def inside(self, spans: Sequence[Span]) -> list[Span]:
        """What of some spans is in these."""
        return Spans(self.outside(spans)).outside(spans)

    def covers(self, span: Span) -> bool:
        return not any(self.without(span))


_LAST = 2**60


def joined(stretches: Iterable[tuple[int, int]]) -> list[tuple[int, int]]:
    """The same stretches in order, with those in one that touch each other."""
    found: list[tuple[int, int]] = []
    for start, end in sorted(stretches):
        if found and start <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((start, end))
    return found


def lost_words(update: Parts, new: Sequence[Parts]) -> set[Span]:
    """The words of an update that came to stand nowhere, since what they were meant for is gone.

    ``new``: what was new in it to the document that took it in. What the update itself deletes again is not meant.
    """
    gone = Spans(span for one in new for span in one.gone)
    own = Spans(update.deleted)
    return {span for span, _ in update.words if gone.covers(span) and not own.covers(span)}


def gone_already(update: Parts, new: Sequence[Parts]) -> list[Span]:
    """What an update takes out that the document did not have any more."""
    return Spans(span for one in new for span in one.deleted).outside(update.deleted)


def gone_beyond(update: Parts, new: Sequence[Parts]) -> list[Span]:
    """What an update took out of a document without naming it: what its author had not heard of, in something they took out."""
    known = Spans([*update.deleted, *update.structs, *update.gone])
    return known.outside(span for one in new for span in one.deleted)
