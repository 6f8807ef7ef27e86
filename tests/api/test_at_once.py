"""Reading and storing at once: nobody waits for somebody who waits for them."""

from __future__ import annotations

import threading
from pathlib import Path

from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace


def test_storing_and_reading_the_shelf_at_once_come_to_an_end(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    client = TestClient(create_app(workspace, copies=False))
    services = client.app.state.services  # type: ignore[attr-defined]
    overlap = workspace.read("overlap", 1)

    def store() -> None:
        for n in range(150):
            workspace.write("overlap", {**overlap, "name": f"Try {n}"}, item_id=1, what="Try")

    def read() -> None:
        for _ in range(600):
            services.shelf()

    workers = [threading.Thread(target=work, daemon=True) for work in (store, read, read)]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join(20)
    assert not any(worker.is_alive() for worker in workers)
    assert workspace.read("overlap", 1)["name"] == "Try 149"
