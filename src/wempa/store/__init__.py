"""The workspace: one SQLite file, plain SQL, every change journalled."""

from .connection import Conflict, NotFound, StoreError, Unavailable
from .copies import Copies, Copy
from .devices import Device, Devices
from .journal import AUTHOR, Author
from .tables import Item, Kind
from .workspace import Change, Workspace

__all__ = [
    "AUTHOR",
    "Author",
    "Change",
    "Conflict",
    "Copies",
    "Copy",
    "Device",
    "Devices",
    "Item",
    "Kind",
    "NotFound",
    "StoreError",
    "Unavailable",
    "Workspace",
]
