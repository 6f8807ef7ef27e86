"""Panels as they are stored and printed."""
