"""Planned evenings as JSON and on paper, and how they are stored."""
