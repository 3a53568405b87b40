"""Tables made from the structure. One module for each kind of table; to add one, write it and import it here."""

from . import authorities, captions, contents, index, styled

__all__ = ["authorities", "captions", "contents", "index", "styled"]
