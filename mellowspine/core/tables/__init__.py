"""Tables made from the structure. One module for each kind of table; to add one, write it and import it here."""

from . import contents

__all__ = ["contents"]
