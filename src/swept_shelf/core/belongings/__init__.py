"""Candidate places, claims and proofs, sharing, kinds, personal content, left behind, shared stores."""
