"""The rules of the job: structure, pages, tables, formats.

Pure functions over frozen values. Nothing here knows Django, HTTP, a database, the clock or global state.
"""

from . import kinds as kinds  # so that whoever uses any of it knows all kinds of block
