"""Wattikos: the computation. No Django, no HTTP; each room is a package with one obvious entry point."""
