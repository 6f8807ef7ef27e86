"""Tablets and phones of the same network: paired by a code that is shown on the laptop, listed, let go."""
