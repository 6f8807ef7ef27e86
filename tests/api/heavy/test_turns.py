"""Heavy work in turns: the order, the limit, and that who hangs up is not worked for."""

from __future__ import annotations

import asyncio
import threading
import time
from pathlib import Path
from typing import Any

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient
from starlette.routing import Route
from starlette.types import ASGIApp, Message

from tests.loops import looped
from tests.pace import slowness
from wempa.api.app import create_app
from wempa.api.heavy.lanes import WAITING, Busy, HeavyWork, Lane, heavy
from wempa.api.heavy.turns import Turns
from wempa.api.replies import PREFIX
from wempa.optics.parallel import Stopped, go_on, in_chunks, stoppable
from wempa.store import Workspace

# -- lanes ---------------------------------------------------------------------


def test_turns_come_in_the_order_of_asking_and_so_many_at_a_time() -> None:
    async def work() -> None:
        lane, order, most = Lane(2, 10), list[int](), [0, 0]

        async def one(n: int) -> None:
            async with lane.turn():
                order.append(n)
                most[0] += 1
                most[1] = max(most)
                await asyncio.sleep(0.01)
                most[0] -= 1

        await asyncio.gather(*(one(n) for n in range(8)))
        assert order == list(range(8))
        assert most[1] == 2

    looped(work())


def test_who_would_wait_behind_too_many_is_told_so() -> None:
    async def work() -> None:
        lane = Lane(1, 1)
        async with lane.turn():
            waiting = asyncio.create_task(_through(lane))
            await asyncio.sleep(0)
            with pytest.raises(Busy):
                await _through(lane)
        await waiting
        await _through(lane)

    looped(work())


async def _through(lane: Lane) -> None:
    async with lane.turn():
        pass


@pytest.mark.parametrize("just_given", [False, True])
def test_who_leaves_the_queue_holds_up_nobody(just_given: bool) -> None:
    async def work() -> None:
        lane = Lane(1, 5)
        first = lane.turn()
        await first.__aenter__()
        leaver = asyncio.create_task(_through(lane))
        follower = asyncio.create_task(_through(lane))
        await asyncio.sleep(0)
        if just_given:
            await first.__aexit__(None, None, None)
            leaver.cancel()
        else:
            leaver.cancel()
            await asyncio.sleep(0)
            await first.__aexit__(None, None, None)
        await asyncio.gather(leaver, return_exceptions=True)
        await follower
        await _through(lane)

    looped(work())


def test_a_lane_serves_several_loops() -> None:
    lane, seen = Lane(1, 20), list[int]()

    def loop(n: int) -> None:
        async def work() -> None:
            for _ in range(20):
                async with lane.turn():
                    seen.append(n)
                    await asyncio.sleep(0)

        asyncio.run(asyncio.wait_for(work(), 20))

    threads = [threading.Thread(target=loop, args=(n,)) for n in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    assert sorted(seen) == [0] * 20 + [1] * 20 + [2] * 20


# -- stopping ------------------------------------------------------------------


def test_what_is_stopped_ends_at_the_next_chunk() -> None:
    done: list[int] = []
    with stoppable(lambda: len(done) >= 3), pytest.raises(Stopped):
        in_chunks(lambda rows: done.append(rows.start), 1000, 1)
    assert 3 <= len(done) < 20
    go_on()
    in_chunks(lambda rows: done.append(rows.start), 10, 10)


# -- the middleware -------------------------------------------------------------


class Asked:
    """One request by hand: what is sent, and a hanging up."""

    def __init__(self, app: ASGIApp, path: str = "/api/slow", body: bytes = b"", length: int | None = None) -> None:
        headers = [(b"content-length", str(len(body) if length is None else length).encode())]
        self.scope = {"type": "http", "method": "POST", "path": path, "headers": headers, "query_string": b""}
        self.app, self.heard = app, list[Message]()
        self.coming: asyncio.Queue[Message] = asyncio.Queue()
        if length is None:
            self.coming.put_nowait({"type": "http.request", "body": body, "more_body": False})

    async def go(self) -> None:
        async def send(message: Message) -> None:
            self.heard.append(message)

        await self.app(self.scope, self.coming.get, send)

    def hang_up(self) -> None:
        self.coming.put_nowait({"type": "http.disconnect"})

    @property
    def status(self) -> int:
        return int(self.heard[0]["status"])


class Slow:
    """An application with one slow route, that says how far it got."""

    def __init__(self, steps: int = 400) -> None:
        self.begun, self.ended, self.bodies = 0, 0, list[bytes]()
        self._steps = steps
        self.app = Turns(self._answer, [Route("/api/slow", _marked, methods=["POST"])], "/api", None)

    async def _answer(self, scope: Any, receive: Any, send: Any) -> None:
        self.begun += 1
        self.bodies.append((await receive())["body"])
        await asyncio.to_thread(self._work)
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b"done"})
        self.ended += 1

    def _work(self) -> None:
        for _ in range(self._steps):
            go_on()
            time.sleep(0.005)


@heavy(HeavyWork.QUICK)
async def _drawn(request: Any) -> Any: ...


def test_a_long_list_of_jobs_does_not_hold_up_what_somebody_looks_at() -> None:
    async def work() -> None:
        slow = Slow(steps=60)
        slow.app = Turns(slow._answer, [Route("/api/slow", _drawn, methods=["POST"])], "/api", None)
        many = Asked(slow.app, body=b"x" * 100_001, length=None)
        going = [asyncio.create_task(many.go()) for _ in range(1)]
        going += [asyncio.create_task(Asked(slow.app).go()) for _ in range(2)]
        await asyncio.sleep(0.1)
        assert slow.begun >= 2
        await asyncio.gather(*going)
        assert slow.ended == 3

    looped(work())


@heavy(HeavyWork.SEARCH)
async def _marked(request: Any) -> Any: ...


@pytest.mark.timed
def test_who_hangs_up_is_not_worked_for_any_longer() -> None:
    async def work() -> None:
        slow = Slow()
        asked = Asked(slow.app)
        going = asyncio.create_task(asked.go())
        await asyncio.sleep(0.1)
        asked.hang_up()
        start = time.monotonic()
        await going
        assert time.monotonic() - start < 0.5 * slowness()
        assert (slow.begun, slow.ended) == (1, 0)
        assert asked.heard == []

    looped(work())


def test_who_hangs_up_while_waiting_is_never_worked_for() -> None:
    async def work() -> None:
        slow = Slow(steps=60)
        first, second, third = Asked(slow.app), Asked(slow.app), Asked(slow.app, body=b"third")
        tasks = [asyncio.create_task(each.go()) for each in (first, second, third)]
        await asyncio.sleep(0.05)
        second.hang_up()
        await tasks[1]
        assert slow.begun == 1
        await asyncio.gather(*tasks)
        assert slow.bodies == [b"", b"third"]
        assert second.heard == []
        assert third.status == 200

    looped(work())


def test_a_long_body_waits_where_it_is_until_there_is_a_place() -> None:
    async def work() -> None:
        slow = Slow(steps=40)
        first, long = Asked(slow.app), Asked(slow.app, length=500_000)
        going = [asyncio.create_task(first.go()), asyncio.create_task(long.go())]
        long.coming.put_nowait({"type": "http.request", "body": b"x" * 300_000, "more_body": True})
        await asyncio.sleep(0.05)
        assert long.coming.qsize() == 1
        long.coming.put_nowait({"type": "http.request", "body": b"x" * 200_000, "more_body": False})
        await asyncio.gather(*going)
        assert len(slow.bodies[1]) == 500_000

    looped(work())


def test_who_breaks_off_a_long_body_is_forgotten() -> None:
    async def work() -> None:
        slow = Slow(steps=1)
        long, next_one = Asked(slow.app, length=500_000), Asked(slow.app)
        long.coming.put_nowait({"type": "http.request", "body": b"x", "more_body": True})
        long.hang_up()
        await long.go()
        await next_one.go()
        assert slow.bodies == [b""]

    looped(work())


def test_too_many_are_told_to_come_again(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(WAITING, HeavyWork.SEARCH, 1)

    async def work() -> None:
        slow = Slow(steps=30)
        asked = [Asked(slow.app) for _ in range(3)]
        await asyncio.gather(*(each.go() for each in asked))
        assert [each.status for each in asked] == [200, 200, 503]
        heads = dict(asked[2].heard[0]["headers"])
        assert heads[b"retry-after"] == b"3"
        assert b"more to do than it can" in asked[2].heard[1]["body"]

    looped(work())


def test_light_requests_pass_beside(monkeypatch: pytest.MonkeyPatch) -> None:
    async def work() -> None:
        slow = Slow(steps=50)
        first, light = Asked(slow.app), Asked(slow.app, "/api/other")
        going = asyncio.create_task(first.go())
        await asyncio.sleep(0.02)
        await asyncio.gather(light.go(), going)
        # The other route is not heavy, so both were begun at once.
        assert slow.begun == 2

    looped(work())


def test_every_route_that_draws_searches_or_takes_files_is_marked(tmp_path: Path) -> None:
    app = create_app(Workspace(tmp_path / "w.wempa"), copies=False)
    marked: dict[str, str] = {}
    for route in app.routes:
        if isinstance(route, APIRoute) and route.path.startswith(PREFIX):
            for method in route.methods or ():
                way = getattr(route.endpoint, "wempa_way", "")
                marked[f"{method} {route.path.removeprefix(PREFIX)}"] = str(way)
    heavy_ones = {
        "POST /predict": "quick",
        "POST /chart": "quick",
        "POST /panels/picture": "quick",
        "POST /panels/{item_id}/edit": "quick",
        "POST /match": "search",
        "GET /reserve": "search",
        "POST /log/learn": "search",
        "POST /log/adopt": "search",
        "POST /evenings": "search",
        "POST /photos": "files",
        "GET /panels/{item_id}/export.{form}": "files",
        "GET /export/workspace.zip": "files",
        "POST /import/workspace": "files",
    }
    assert {key: marked[key] for key in heavy_ones} == heavy_ones
    light = {key for key, way in marked.items() if not way}
    assert {"GET /stash", "GET /table", "GET /run", "POST /undo", "GET /log/guess"} <= light
    # Whatever gives a page, a picture or a whole workspace takes memory.
    assert [key for key in light if key.endswith((".{form}", ".pdf", ".png", ".zip", ".svg"))] == []


def test_a_prediction_through_its_turn_is_the_same(tmp_path: Path) -> None:
    client = TestClient(create_app(Workspace(tmp_path / "w.wempa"), copies=False))
    job = {"wempa": 1, "cardstock": {"colour": {"hex": "#ffffff"}}, "inks": {}, "stack": []}
    assert client.post("/api/predict", json=job).json()["verdict"]["kind"] == "clean"
