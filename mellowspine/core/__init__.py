"""The rules of the job: structure, pages, tables, formats.

Pure functions over frozen values. Nothing here knows Django, HTTP, a database, the clock or global state.
"""
