"""The workspace: one SQLite file, plain SQL, every change journalled."""

from .copies import Copies, Copy
from .tables import Item, Kind
from .workspace import Change, Conflict, NotFound, StoreError, Workspace

__all__ = ["Change", "Conflict", "Copies", "Copy", "Item", "Kind", "NotFound", "StoreError", "Workspace"]
