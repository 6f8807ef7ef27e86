"""Which tab of the browser makes a change, and that no tab undoes another's newer work unasked."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from threading import Lock

from cachetools import LRUCache
from starlette.datastructures import Headers
from starlette.types import ASGIApp, Receive, Scope, Send

from wempa.store import AUTHOR, Author, Item

HEADER = "x-wempa-tab"
"""Names the tab: letters and figures of its own choice."""
_MOST_LETTERS = 64
# How many tabs are remembered.
_TABS = 1000


class Tabs:
    """Since when each tab has been there, by the clock of the workspace."""

    def __init__(self, clock: Callable[[], int]) -> None:
        self._clock = clock
        self._lock = Lock()
        self._since: LRUCache[str, int] = LRUCache(_TABS)

    def seen(self, tab: str) -> None:
        """Note that a tab asks for something. It knows what was done before; what others do later is theirs."""
        with self._lock:
            if tab not in self._since:
                self._since[tab] = self._clock()

    def others(self, step: Item) -> str:
        """Why the asking tab should not undo a step unasked; empty if it may."""
        author = AUTHOR.get()
        if not author.tab or step["tab"] == author.tab:
            return ""
        with self._lock:
            since = self._since.get(author.tab, 0)
        if step["touched"] <= since:
            return ""
        where = "by another program"
        if step["tab"]:
            where = "in another tab" if step["device"] == author.device else f"on {step['device'] or 'the laptop'}"
        if step["state"] == "undone":
            # Nobody wrote down when that was.
            return f"“{step['what']}” was taken back {where}"
        at = datetime.fromisoformat(step["at"]).astimezone().strftime("%H:%M")
        return f"“{step['what']}” was done {where} at {at}"


class Authors:
    """ASGI middleware: what is stored on the way says which tab and device it came from."""

    def __init__(self, app: ASGIApp, tabs: Tabs) -> None:
        self.app = app
        self.tabs = tabs

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self.app(scope, receive, send)
            return
        tab = Headers(scope=scope).get(HEADER, "")
        if not (tab.isascii() and tab.isalnum() and len(tab) <= _MOST_LETTERS):
            tab = ""
        device = str(scope.get("state", {}).get("device", ""))
        token = AUTHOR.set(Author(tab, device))
        try:
            if tab:
                self.tabs.seen(tab)
            await self.app(scope, receive, send)
        finally:
            AUTHOR.reset(token)
