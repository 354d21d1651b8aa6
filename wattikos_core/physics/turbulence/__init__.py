"""The k-ω shear stress transport model: its closure, the layer next to walls, and how far cells are from them."""

from __future__ import annotations
