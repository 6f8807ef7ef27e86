"""The workspace: one SQLite file, plain SQL, every change journalled."""

from .workspace import Conflict, NotFound, StoreError, Workspace

__all__ = ["Conflict", "NotFound", "StoreError", "Workspace"]
