"""How answers are written: models, files, bytes behind a head, lines as they are made, refusals."""

from __future__ import annotations

import struct
from collections.abc import AsyncIterator, Callable, Generator
from typing import TYPE_CHECKING, Any

from fastapi import APIRouter, FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, StreamingResponse
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from wempa.craft.errors import JobError, WempaError
from wempa.formats.complaints import complaint
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.job import error_text, place_text
from wempa.optics.parallel import Stopped
from wempa.store import Conflict, NotFound, StoreError, Unavailable

if TYPE_CHECKING:
    from reportlab.graphics.shapes import Drawing

STATUS: dict[type[WempaError], int] = {NotFound: 404, Conflict: 409, Unavailable: 503, WempaError: 422}
"""The HTTP status of each class of refusal; a class that is not listed takes its parent's."""


OURS = "Wempa made a mistake here, and wrote it down where it was started; what is stored is as it was"
"""What a fault of ours is answered with."""


class Problem(BaseModel):
    """One sentence, and the place in the job where there is one."""

    error: str
    place: str | None = None


_WHY = {
    400: "The Host cannot be read, or is none that this service answers to.",
    401: "A device of the network that is not paired.",
    403: "It comes from a page of another site, or may be done at the laptop only.",
    404: "There is no such thing.",
    408: "Its body did not come.",
    409: "It was changed elsewhere in the meantime, or would take back what somebody else did.",
    413: "It is too large.",
    422: "Something in it is wrong; the sentence says what, and `place` where.",
    500: "A mistake of ours.",
    503: "The file cannot be written or read now, or there is more to do than can be.",
}
# Only the names go into the schema. Given as a model, FastAPI would prepare a check of a thousand answers that are
# never checked.
_SCHEMA = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
PROBLEMS: dict[int | str, dict[str, Any]] = {
    status: {"description": why, "content": _SCHEMA} for status, why in _WHY.items()
}
"""What any route may answer with."""
PREFIX = "/api"
"""Where all routes are but those of the pages."""


def api_router(prefix: str = "", responses: dict[int | str, dict[str, Any]] | None = None) -> APIRouter:
    """A router of a room, whole as it stands.

    The application takes its routes as they are: FastAPI would make all of them anew for one that is included, at
    the first request (0.4 s).
    """
    return APIRouter(prefix=PREFIX + prefix, responses=PROBLEMS | (responses or {}))


class JsonLines(StreamingResponse):
    """Lines of JSON, one after the other."""

    media_type = "application/x-ndjson"


class Framed(Response):
    """The length of a head in four bytes, the head as JSON, and bytes that it explains."""

    media_type = "application/octet-stream"


def sent_as(kind: type[Response], model: type[BaseModel]) -> dict[int | str, dict[str, Any]]:
    """What a route says of its answer where that is no plain JSON: the kind, and the model of its head or lines."""
    return {200: {"model": model, "content": {str(kind.media_type): {}}}}


def written(model: BaseModel, status: int = 200) -> Response:
    """Send a model as it is. The framework would check all of it again, which takes as long as a prediction."""
    return Response(model.model_dump_json(), status, media_type="application/json")


def nothing() -> Response:
    """JSON's null, where there is nothing yet."""
    return Response("null", media_type="application/json")


def download(content: str | bytes, media: str, name: str) -> Response:
    """A file to be saved under a name, in which a dash stands for everything that is no letter or figure."""
    stem, _, ending = name.rpartition(".")
    safe = "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in stem.lower()).strip("-")
    shown = f'attachment; filename="{safe}.{ending}"'
    return Response(content, media_type=media, headers={"content-disposition": shown})


def drawn(drawing: Drawing, form: DrawnForm, name: str) -> Response:
    """A drawing as a file in a form, under a name without its ending."""
    return download(form.row.render(drawing), form.row.media, f"{name}.{form}")


def framed(head: BaseModel, *parts: bytes) -> Response:
    """Length of the head in four bytes, the head as JSON, and what follows it.

    Not packed: on the same machine that takes longer than sending.
    """
    text = head.model_dump_json().encode()
    # Padded, so that what follows begins at a multiple of four, where a reader can lay an array of numbers over it.
    text += b" " * (-len(text) % 4)
    content = b"".join([struct.pack("<I", len(text)), text, *parts])
    return Framed(content, headers={"content-encoding": "identity"})


def lines(
    first: BaseModel | None, rest: Generator[BaseModel], refused: Callable[[JobError], BaseModel] | None
) -> JsonLines:
    """Lines of JSON as they are made, on a thread; whoever hangs up ends the making of them.

    `first` is a line that was made already, so that what is wrong with the question was said in time;
    `refused` makes a last line of a refusal on the way.
    """

    async def sent() -> AsyncIterator[str]:
        line = first
        try:
            while line is not None:
                yield line.model_dump_json() + "\n"
                try:
                    line = await run_in_threadpool(next, rest, None)
                except JobError as error:
                    line = None
                    if refused is not None:
                        yield refused(error).model_dump_json() + "\n"
        finally:
            # The generator is closed at once, and not only when Python collects it.
            rest.close()

    return JsonLines(sent(), headers={"content-encoding": "identity"})


def revision_of(if_match: str | None) -> int | None:
    """The revision in an `If-Match` header; raises `StoreError` if it is none."""
    if if_match is None:
        return None
    text = if_match.strip().strip('"')
    if not text.isdecimal():
        raise StoreError("If-Match must be the revision that was read, a whole number")
    return int(text)


def status_of(error: WempaError) -> int:
    """HTTP status of a refusal, by its class."""
    return next(STATUS[kind] for kind in type(error).__mro__ if kind in STATUS)


def handle_errors(app: FastAPI) -> None:
    """Answer every refusal with one sentence and, in a job, its place."""

    @app.exception_handler(WempaError)
    def refusal(_: Request, error: WempaError) -> JSONResponse:
        return JSONResponse({"error": error_text(error), "place": place_text(error.place) or None}, status_of(error))

    @app.exception_handler(HTTPException)
    def http_error(_: Request, error: HTTPException) -> JSONResponse:
        if error.status_code == 400:
            # The bytes are not even text. Text that is no JSON is refused with its place instead.
            return JSONResponse({"error": "this is not JSON in UTF-8", "place": None}, 422)
        return JSONResponse({"error": f"{error.detail}.", "place": None}, error.status_code, error.headers)

    @app.exception_handler(Stopped)
    def stopped(_: Request, __: Stopped) -> JSONResponse:
        # The client has gone, so nobody hears the answer.
        return JSONResponse({"error": "this was stopped, because nobody waited for it any more", "place": None}, 503)

    @app.exception_handler(RequestValidationError)
    def request_error(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        place = place_text(tuple(part for part in first["loc"] if part != "body"))
        text = complaint(first)
        return JSONResponse({"error": f"{place}: {text}" if place else text, "place": place or None}, 422)
