"""The ``wempa`` command: predict, serve, demo."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from wempa import __version__

DEFAULT_PORT = 8765
_BAD_INPUT = 2


def main(argv: Sequence[str] | None = None) -> int:
    """Run the command; returns the exit code, 2 for bad input."""
    # Small matrices on many threads are slower than on one; set before NumPy loads.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    args = _parser().parse_args(argv)
    try:
        code: int = args.run(args)
    except BrokenPipeError:
        # The reader went away (`wempa predict … | head`); nothing to tell it.
        sys.stderr.close()
        return 0
    except KeyboardInterrupt:
        return 130
    return code


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="wempa", description="Predicts how inks blend on cardstock.")
    parser.add_argument("--version", action="version", version=f"wempa {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    predict = commands.add_parser("predict", help="predict a job (docs/job-format.md) and print the result as JSON")
    predict.add_argument("job", metavar="JOB.json|-", help="a job or a list of jobs; - reads standard input")
    predict.set_defaults(run=_predict)

    serve = commands.add_parser("serve", help="serve Wempa with your own workspace")
    demo = commands.add_parser("demo", help="serve Wempa with the demo stash, in a file of its own")
    for command, file in ((serve, "workspace.wempa"), (demo, "demo.wempa")):
        command.add_argument("--host", default="127.0.0.1", help="address to listen on (default %(default)s)")
        command.add_argument("--port", type=int, default=DEFAULT_PORT, help="port, 0 for any (default %(default)s)")
        command.add_argument("--data", type=Path, default=None, help=f"workspace file (default {data_folder() / file})")
        command.set_defaults(run=_serve, file=file, demo=command is demo)
    return parser


def data_folder() -> Path:
    """Where workspaces are kept unless told otherwise."""
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local/share"
    return Path(base) / "wempa"


def _predict(args: argparse.Namespace) -> int:
    import json

    from wempa.craft.job import JobError
    from wempa.formats.job import error_text
    from wempa.formats.result import predict_text

    try:
        text = sys.stdin.buffer.read() if args.job == "-" else Path(args.job).read_bytes()
    except OSError as error:
        return _fail(f"cannot read {args.job}: {error.strerror}")
    try:
        results, listed = predict_text(text)
    except JobError as error:
        return _fail(error_text(error))
    dumped = [each.model_dump(mode="json") for each in results]
    print(json.dumps(dumped if listed else dumped[0], indent=1, ensure_ascii=False))
    return 0


def _serve(args: argparse.Namespace) -> int:
    import socket

    import uvicorn

    from wempa.api.app import LOOPBACK, create_app
    from wempa.store import StoreError, Workspace

    path = args.data or data_folder() / args.file
    try:
        workspace = Workspace(path)
        if args.demo:
            from wempa.demo.penny_halt import fill, is_demo

            if not is_demo(workspace):
                return _fail(f"{path} holds a stash of your own; the demo does not touch it. Give another --data.")
            fill(workspace)
    except StoreError as error:
        return _fail(str(error))
    family = socket.AF_INET6 if ":" in args.host else socket.AF_INET
    # asyncio turns Nagle's delay off only for sockets that say they are TCP: 40 ms an answer.
    listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((args.host, args.port))
        # From here on a browser that follows the address waits instead of failing.
        listener.listen(128)
    except (OSError, OverflowError) as error:
        return _fail(f"cannot listen on {args.host} port {args.port}: {error}")
    shown = f"[{args.host}]" if ":" in args.host else args.host
    print(f"Wempa is at http://{shown}:{listener.getsockname()[1]}/  (workspace {path}; stop with Ctrl+C)", flush=True)
    app = create_app(workspace, hosts=LOOPBACK | {args.host})
    server = uvicorn.Server(uvicorn.Config(app, log_level="warning", server_header=False))
    server.run(sockets=[listener])
    return 0


def _fail(message: str) -> int:
    print(f"wempa: {message}", file=sys.stderr)
    return _BAD_INPUT


if __name__ == "__main__":
    sys.exit(main())
