"""Tables made from the structure. One module for each kind of table; to add one, write it and import it here."""

from . import captions, contents, styled

__all__ = ["captions", "contents", "styled"]
