"""Wempa predicts how inks of different formulas blend on cardstock."""

__version__ = "0.1.0"
