"""Kills at any moment, first starts that are broken off, a disk that is full."""

from __future__ import annotations

import random
import shutil
import subprocess
import threading
import time
from contextlib import suppress
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np

from wempa.api.services import Services
from wempa.demo.penny_halt import is_demo
from wempa.store import NotFound, StoreError, Workspace
from wempa.store.tables import KINDS

from .service import Service, begin, ready, running


@dataclass
class Stored:
    """What the service said was stored."""

    tools: list[str] = field(default_factory=list)
    gone: list[str] = field(default_factory=list)
    photos: list[str] = field(default_factory=list)
    imports: int = 0
    writes: int = 0


def kills(folder: Path, count: int, seed: int = 1) -> Stored:
    """Kill a service `count` times while it stores things, photos and whole files among them.

    Raises
    ------
    AssertionError
        Something that was said to be stored is not there, or something is half there.
    """
    lot = random.Random(seed)
    path = folder / "kills.wempa"
    stored = Stored()
    with running(path) as service:
        whole = service.ask("GET", "/api/export/workspace.json")[1]
    for n in range(count):
        service = ready(begin(path))
        end = threading.Event()
        writers = [
            threading.Thread(target=_write, args=(service, stored, whole, f"{seed}-{n}-{k}", end)) for k in range(3)
        ]
        for writer in writers:
            writer.start()
        time.sleep(lot.uniform(0.05, 3.0))
        service.kill()
        end.set()
        for writer in writers:
            writer.join(60)
        check_whole(path, stored)
    return stored


def _write(service: Service, stored: Stored, whole: bytes, name: str, end: threading.Event) -> None:
    lot = random.Random(name)
    n = 0
    while not end.is_set():
        n += 1
        with suppress(OSError):
            what = lot.random()
            if what < 0.55:
                tool = f"T {name} {n}"
                change = {"kind": "tool", "item": {"name": tool, "tool": "brush"}}
                status, _ = service.ask("POST", "/api/stash/changes", {"what": "soak", "changes": [change]})
                if status == 200:
                    stored.tools.append(tool)
            elif what < 0.75:
                status, text = service.ask("POST", "/api/photos", _jpeg(lot.randrange(10**6)))
                if status == 201:
                    stored.photos.append(text.decode().split('"photo":"')[1][:64])
            elif what < 0.85:
                status, _ = service.ask("POST", "/api/import/workspace?apply=true", whole)
                stored.imports += status == 200
            else:
                status, _ = service.ask("PUT", "/api/panels/1", _panel(service))
            stored.writes += status < 300


def _panel(service: Service) -> Any:
    import json

    _, text = service.ask("GET", "/api/panels/open?panel=1")
    panel = json.loads(text)["panel"]
    return {key: value for key, value in panel.items() if key not in ("id", "revision")}


def _jpeg(seed: int) -> bytes:
    from PIL import Image

    small = np.random.default_rng(seed).integers(0, 255, (6, 8, 3), dtype=np.uint8)
    out = BytesIO()
    Image.fromarray(small).resize((800, 600)).save(out, "JPEG")
    return out.getvalue()


def check_whole(path: Path, stored: Stored) -> None:
    """Everything that was said to be stored is there, and all that is there can be read."""
    workspace = Workspace(path)
    try:
        assert workspace._db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert workspace._db.execute("PRAGMA foreign_key_check").fetchall() == []
        services = Services(workspace)
        unreadable = services.checks.unreadable()
        for kind in KINDS:
            for item in workspace.read_all(kind):
                assert not unreadable(kind, item), f"{kind} {item['name']} cannot be read"
        there = {tool["name"] for tool in workspace.read_all("tool")}
        missing = [name for name in stored.tools if name not in there]
        assert not missing, f"said to be stored, and not there: {missing[:3]}"
        # The newest forty stay.
        for digest in stored.photos[-20:]:
            workspace.photo(digest)
        steps = workspace._db.execute(
            "SELECT count(*) FROM journal WHERE json_valid(coalesce(after, 'null')) = 0"
        ).fetchone()[0]
        assert steps == 0
    except NotFound as error:
        raise AssertionError(f"said to be stored: {error}") from error
    finally:
        workspace.close()


def first_starts(folder: Path, count: int, seed: int = 1) -> int:
    """Break off the very first start `count` times; returns how often there was a file already.

    Raises
    ------
    AssertionError
        The next start did not make a whole demo of it.
    """
    lot = random.Random(seed)
    begun = 0
    for n in range(count):
        path = folder / f"first-{n}.wempa"
        process = begin(path)
        # The file is begun when the modules are there.
        limit = time.monotonic() + 30
        while not path.exists() and time.monotonic() < limit and process.poll() is None:
            time.sleep(0.002)
        time.sleep(lot.uniform(0, 0.7))
        process.kill()
        process.wait()
        if process.stdout is not None:
            process.stdout.close()
        begun += path.exists()
        with running(path) as service:
            assert len(service.json("GET", "/api/stash")["inks"]) == 40
        workspace = Workspace(path)
        assert is_demo(workspace)
        workspace.close()
        check_whole(path, Stored())
    return begun


def full_disk(folder: Path, megabytes: int = 6) -> tuple[int, str]:
    """Fill a small disk of its own; returns how many photos it held and what was said then.

    Raises
    ------
    OSError
        This user may not make a disk.
    AssertionError
        Something was lost, or it was not well again once there was room.
    """
    disk = folder / "disk"
    disk.mkdir()
    made = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "tmpfs", str(disk)], capture_output=True, check=False
    )
    if made.returncode != 0:
        raise OSError(made.stderr.decode().strip())
    try:
        ballast = disk / "ballast"
        ballast.write_bytes(b"\0" * 600_000)
        path = disk / "full.wempa"
        stored, said, status = Stored(), "", 201
        with running(path) as service:
            for n in range(2000):
                status, text = service.ask("POST", "/api/photos", _jpeg(n))
                if status != 201:
                    said = text.decode()
                    break
                stored.photos.append(text.decode().split('"photo":"')[1][:64])
                tool = {"kind": "tool", "item": {"name": f"Brush {n}", "tool": "brush"}}
                code, _ = service.ask("POST", "/api/stash/changes", {"what": "soak", "changes": [tool]})
                if code == 200:
                    stored.tools.append(f"Brush {n}")
            assert status == 503, f"{status}: {said}"
            assert service.ask("GET", "/api/stash")[0] == 200
            ballast.unlink()
            # The copies beside it took the rest.
            shutil.rmtree(disk / "full-copies", ignore_errors=True)
            tool = {"kind": "tool", "item": {"name": "Room again", "tool": "brush"}}
            service.json("POST", "/api/stash/changes", {"what": "soak", "changes": [tool]})
            stored.tools.append("Room again")
        check_whole(path, stored)
        return len(stored.photos), said
    finally:
        with suppress(StoreError):
            subprocess.run(["umount", "-l", str(disk)], check=False)
