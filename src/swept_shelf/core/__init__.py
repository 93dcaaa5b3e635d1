"""Everything Swept Shelf knows and does, without interface code.

Folders import only from those above them: documents, grammars, machine, tree, registries, applications, references,
belongings, use, survey, orders, carry, clearance; ledger and reports import documents only, demo documents
and machine only.
"""
