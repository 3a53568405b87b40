"""One module for each kind of block. It says how the block is kept, and what it asks of the page.

Whoever imports anything of the core has them all. To add one, write a module that calls ``add_kind``, registers
what it is to ``measure`` and ``draw``, and import it here.
"""

from . import data_table, page_break, paragraph, part_start, picture, placed_table, thematic_break

__all__ = ["data_table", "page_break", "paragraph", "part_start", "picture", "placed_table", "thematic_break"]
