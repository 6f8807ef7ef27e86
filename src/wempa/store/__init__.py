"""The workspace: one SQLite file, plain SQL, every change journalled."""

from .connection import Conflict, NotFound, StoreError, Unavailable
from .copies import Copies, Copy
from .tables import Item, Kind
from .workspace import Change, Workspace

__all__ = ["Change", "Conflict", "Copies", "Copy", "Item", "Kind", "NotFound", "StoreError", "Unavailable", "Workspace"]
