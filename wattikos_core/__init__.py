"""Wattikos: the computation. No Django, no HTTP; each room is a package with one obvious entry point."""

from __future__ import annotations

import os

# NumPy's vectors are short here: more threads than one only stand in the way of those that factor matrices.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
