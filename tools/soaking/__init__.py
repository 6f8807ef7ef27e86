"""Wempa under load and in bad weather, tried with real processes: ``python -m tools.soak``."""
