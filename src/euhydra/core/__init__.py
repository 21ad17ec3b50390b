"""The trade's computation: SI numbers in, SI numbers out.

Nothing here knows of files, documents, pages, clocks or databases. Modules are cut by
physical subject. Names and units are those of ``docs/glossary.md``.
"""
