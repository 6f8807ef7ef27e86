"""Ninety-five more statements, and ours: identities, limits, continuity, order, treatments, warnings, reasons, fixes."""

from . import laying, ours, showing
from .asking import STATEMENTS, tried_more

__all__ = ["STATEMENTS", "laying", "ours", "showing", "tried_more"]
