"""Measured speed; see README.md beside this file."""
