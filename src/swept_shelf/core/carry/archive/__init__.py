"""A holding shelf as one open file: a tar (POSIX.1-2001, pax) with Zstandard (RFC 8878), that can be put back from.

archive.json              what it is: machine, order, people, every thing
NNNN/manifest.json        the record of thing NNNN, as on the shelf, without its seal
NNNN/item, NNNN/...       the thing itself: owner, mode, times, links, extended attributes
originals/...             originals of packages (.deb), each with its record
digests.json              SHA-256 of every member's header and content, and the seal of the carrier that made it
"""
