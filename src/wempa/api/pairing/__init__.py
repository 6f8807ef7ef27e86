"""Tablets and phones of the same network: paired by a code that the laptop shows, listed, removed."""
