"""The ``wempa`` command: predict, panel, plan, fit, sheet, photo, simulate, backup, serve, demo."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from wempa import __version__
from wempa.craft.limits import JOURNAL_DAYS, JOURNAL_MEGABYTES

DEFAULT_PORT = 8765
OWN_FILE, DEMO_FILE = "workspace.wempa", "demo.wempa"
_BAD_INPUT = 2
_LAMPS = {"daylight": "D65", "warm": "A", "led": "LED-B3"}


def main(argv: Sequence[str] | None = None) -> int:
    """Run the command; returns the exit code, 2 for bad input."""
    # Small matrices on many threads are slower than on one; set before NumPy loads.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    args = _parser().parse_args(argv)
    try:
        code: int = args.run(args)
    except BrokenPipeError:
        # The reader of our output has gone (`wempa predict … | head`); there is nobody to tell.
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

    panel = commands.add_parser("panel", help="plan the one panel of a workspace file and print it as JSON")
    panel.add_argument(
        "file", metavar="FILE.json|-", help="a workspace file (docs/stash-formats.md); - reads standard input"
    )
    panel.add_argument("--png", type=Path, default=None, metavar="OUT", help="write its front at 300 dots per inch")
    panel.add_argument("--pdf", type=Path, default=None, metavar="OUT", help="write the plan for the table")
    panel.set_defaults(run=_panel)

    plan = commands.add_parser("plan", help="plan an evening with the panels and overlaps of a workspace file")
    plan.add_argument(
        "file", metavar="FILE.json|-", help="a workspace file (docs/stash-formats.md); - reads standard input"
    )
    plan.add_argument("--pdf", type=Path, default=None, metavar="OUT", help="write the steps as pages to print")
    plan.set_defaults(run=_plan)

    fit = commands.add_parser("fit", help="learn from logged swatches (docs/job-format.md) and print it as JSON")
    fit.add_argument("log", metavar="LOG.json|-", help="observations, and swatches to ask about; - reads stdin")
    fit.set_defaults(run=_fit)

    sheet = commands.add_parser("sheet", help="write the printed swatch sheet and where everything on it lies")
    sheet.add_argument("--page", choices=("a4", "letter"), default="a4")
    sheet.add_argument("--large", action="store_true", help="few large squares")
    sheet.add_argument("--pdf", type=Path, required=True, metavar="OUT.pdf")
    sheet.add_argument("--json", type=Path, required=True, metavar="OUT.json")
    sheet.set_defaults(run=_sheet)

    photo = commands.add_parser("photo", help="read a photo of the swatch sheet and print its colours as JSON")
    photo.add_argument("file", type=Path, metavar="FILE", help="JPEG, PNG, HEIC or DNG")
    photo.add_argument("--lamp", choices=tuple(_LAMPS), default=None, help="light of the photo (default: it tells)")
    photo.add_argument("--page", choices=("a4", "letter"), default=None, help="paper size (default: it is seen)")
    photo.add_argument("--known", type=Path, default=None, metavar="KNOWN.json", help="known colours by square")
    photo.set_defaults(run=_photo)

    simulate = commands.add_parser("simulate", help="the simulated camera or colour reader")
    devices = simulate.add_subparsers(required=True, metavar="DEVICE")
    camera = devices.add_parser("camera", help="photograph a swatch sheet as JPEG")
    camera.add_argument("out", type=Path, metavar="OUT.jpg")
    camera.add_argument("--inks", type=Path, metavar="INKS.csv", help="inks on it (default: twelve made-up ones)")
    camera.add_argument("--lamp", choices=("daylight", "warm lamp", "led lamp"), default="daylight")
    camera.add_argument("--uneven", type=float, default=0.25, help="loss of light across the sheet, 0–0.6")
    camera.add_argument("--page", choices=("a4", "letter"), default="a4")
    camera.add_argument("--large", action="store_true", help="a sheet with few large squares")
    camera.add_argument("--phone", choices=("plain camera", "phone", "old phone"), default="plain camera")
    camera.add_argument("--seed", type=int, default=1)
    camera.set_defaults(run=_camera)
    reader = devices.add_parser("reader", help="measure inks into a CGATS.17 file")
    reader.add_argument("out", type=Path, metavar="OUT.txt")
    reader.add_argument("--inks", type=Path, metavar="INKS.csv", help="inks to measure (default: twelve made-up ones)")
    reader.add_argument("--seed", type=int, default=1)
    reader.set_defaults(run=_reader)

    backup = commands.add_parser("backup", help="copy a workspace, photos included, as it is now")
    backup.add_argument("--data", type=Path, default=None, help=f"workspace file (default {data_folder() / OWN_FILE})")
    backup.add_argument("--to", type=Path, default=None, metavar="FILE", help="where to (default: among its copies)")
    backup.set_defaults(run=_backup)

    serve = commands.add_parser("serve", help="serve Wempa with your own workspace")
    demo = commands.add_parser("demo", help="serve Wempa with the demo stash, in a file of its own")
    for command, file in ((serve, OWN_FILE), (demo, DEMO_FILE)):
        command.add_argument("--host", default=None, help="address to listen on (default 127.0.0.1)")
        command.add_argument("--port", type=int, default=DEFAULT_PORT, help="port, 0 for any (default %(default)s)")
        command.add_argument("--data", type=Path, default=None, help=f"workspace file (default {data_folder() / file})")
        command.add_argument(
            "--lan", action="store_true", help="for tablets of your own network too; each is asked for a code"
        )
        command.add_argument("--certfile", type=Path, default=None, metavar="PEM", help="certificate, for HTTPS")
        command.add_argument("--keyfile", type=Path, default=None, metavar="PEM", help="its key, if it is apart")
        command.add_argument(
            "--journal-days", type=_least(1), default=JOURNAL_DAYS, help="days of changes kept (default %(default)s)"
        )
        command.add_argument(
            "--journal-mb", type=_least(1), default=JOURNAL_MEGABYTES, help="megabytes of them (default %(default)s)"
        )
        command.set_defaults(run=_serve, file=file, demo=command is demo)
    return parser


def _least(least: float) -> Callable[[str], float]:
    def number(text: str) -> float:
        value = float(text)
        if not least <= value < 1e9:
            raise argparse.ArgumentTypeError(f"must be {least:g} at least, not {text}")
        return value

    return number


def data_folder() -> Path:
    """Where workspaces are kept unless told otherwise."""
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local/share"
    return Path(base) / "wempa"


def _predict(args: argparse.Namespace) -> int:
    import json

    from wempa.craft.errors import JobError
    from wempa.formats.job import error_text
    from wempa.formats.job_result import predict_text

    try:
        text = _read(args.job)
    except OSError as error:
        return _fail(f"cannot read {args.job}: {error.strerror}")
    try:
        results, listed = predict_text(text)
    except JobError as error:
        return _fail(error_text(error))
    dumped = [each.model_dump(mode="json") for each in results]
    print(json.dumps(dumped if listed else dumped[0], indent=1, ensure_ascii=False))
    return 0


def _read(given: str) -> bytes:
    return sys.stdin.buffer.read() if given == "-" else Path(given).read_bytes()


def _panel(args: argparse.Namespace) -> int:
    import json

    from wempa.api.panels.planned import made_from_file, planned
    from wempa.craft.errors import WempaError
    from wempa.formats.job import error_text

    try:
        text = _read(args.file)
    except OSError as error:
        return _fail(f"cannot read {args.file}: {error.strerror}")
    try:
        made = made_from_file(text)
        told = planned(made).model_dump(mode="json", by_alias=True)
        if args.png or args.pdf:
            from wempa.api.panels.drawing import PICTURE, plan_page, png, shown_of
            from wempa.formats.drawn_forms import pdf

            if args.png:
                args.png.write_bytes(png(shown_of(made, PICTURE, False)))
            if args.pdf:
                args.pdf.write_bytes(pdf(plan_page(made)))
    except WempaError as error:
        return _fail(error_text(error))
    except OSError as error:
        return _fail(f"cannot write {error.filename}: {error.strerror}")
    print(json.dumps(told, ensure_ascii=False))
    return 0


def _plan(args: argparse.Namespace) -> int:
    import json

    from wempa.api.table.from_file import plan_file
    from wempa.craft.errors import WempaError
    from wempa.formats.job import error_text
    from wempa.formats.table.plan_result import plan_result

    try:
        text = _read(args.file)
    except OSError as error:
        return _fail(f"cannot read {args.file}: {error.strerror}")
    try:
        plan = plan_file(text)
        if args.pdf:
            from wempa.formats.drawn_forms import pdf_pages
            from wempa.formats.table.step_sheet import pages

            args.pdf.write_bytes(pdf_pages(pages(plan)))
    except WempaError as error:
        return _fail(error_text(error))
    except OSError as error:
        return _fail(f"cannot write {error.filename}: {error.strerror}")
    print(json.dumps(plan_result(plan).model_dump(mode="json"), ensure_ascii=False))
    return 0


def _fit(args: argparse.Namespace) -> int:
    import json

    from wempa.craft.errors import WempaError
    from wempa.formats.job import error_text
    from wempa.formats.log.fit_file import fit_text

    try:
        text = _read(args.log)
    except OSError as error:
        return _fail(f"cannot read {args.log}: {error.strerror}")
    try:
        told = fit_text(text)
    except WempaError as error:
        return _fail(error_text(error))
    print(json.dumps(told, indent=1, ensure_ascii=False))
    return 0


def _samples(inks: Path | None) -> list[tuple[str, Any]]:
    """Names and true spectra of the inks before a simulated device.

    Raises
    ------
    ValueError
        The file of inks cannot be read; one sentence.
    """
    from wempa.craft.job import Colour
    from wempa.craft.prediction.spectra import spectrum_of
    from wempa.demo.penny_halt import LOOSE

    if inks is None:
        return [(name, spectrum_of(Colour(hex=code), "D65")[0]) for name, _, code in LOOSE]
    from wempa.formats.stash.inks_csv import read_inks

    found = []
    for row in read_inks(inks.read_bytes()):
        if row.item is None:
            raise ValueError(row.problem)
        found.append((row.name, spectrum_of(row.item.ink.swatch.to_core().colour, "D65")[0]))
    return found


def _sheet(args: argparse.Namespace) -> int:
    import json

    from wempa.craft.stash.swatch_sheet import sheet_layout
    from wempa.craft.vocabulary import Page
    from wempa.formats.drawn_forms import pdf
    from wempa.formats.stash.swatch_sheet import draw, layout_json

    sheet = sheet_layout(Page(args.page), args.large)
    try:
        args.pdf.write_bytes(pdf(draw(sheet)))
        args.json.write_text(json.dumps(layout_json(sheet), indent=1) + "\n", encoding="utf-8")
    except OSError as error:
        return _fail(f"cannot write {error.filename}: {error.strerror}")
    return 0


def _photo(args: argparse.Namespace) -> int:
    import json

    from wempa.craft.errors import WempaError
    from wempa.formats.job import error_text
    from wempa.formats.stash.sheet_photo import read_sheet_photo

    try:
        data = args.file.read_bytes()
        known = None if args.known is None else args.known.read_bytes()
    except OSError as error:
        return _fail(f"cannot read {error.filename}: {error.strerror}")
    try:
        told = read_sheet_photo(data, args.page, None if args.lamp is None else _LAMPS[args.lamp], known)
    except WempaError as error:
        return _fail(error_text(error))
    names = {value: name for name, value in _LAMPS.items()}
    print(json.dumps({**told, "lamp": names.get(told["lamp"], "daylight")}, ensure_ascii=False))
    return 0


def _camera(args: argparse.Namespace) -> int:
    from dataclasses import replace

    from wempa.craft.job import Colour
    from wempa.craft.limits import WHITE_CARD
    from wempa.craft.prediction.spectra import spectrum_of
    from wempa.craft.stash.swatch_sheet import sheet_layout
    from wempa.craft.vocabulary import Page
    from wempa.demo.camera import PHONES, photograph

    try:
        samples = _samples(args.inks)
        sheet = sheet_layout(Page(args.page), args.large)
        if len(samples) > len(sheet.squares):
            return _fail(f"a sheet has {len(sheet.squares)} squares, not {len(samples)}")
        if not 0 <= args.uneven <= 0.6:
            return _fail(f"--uneven must lie between 0 and 0.6, not {args.uneven:g}")
        scene = replace(PHONES[args.phone], lamp=args.lamp, uneven=args.uneven, seed=args.seed)
        card = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
        args.out.write_bytes(photograph(sheet, [true for _, true in samples], card, scene))
    except (OSError, ValueError) as error:
        return _fail(str(error))
    return 0


def _reader(args: argparse.Namespace) -> int:
    from wempa.demo.reader import measure

    try:
        args.out.write_text(measure(_samples(args.inks), args.seed), encoding="utf-8")
    except (OSError, ValueError) as error:
        return _fail(str(error))
    return 0


def _backup(args: argparse.Namespace) -> int:
    from wempa.craft.vocabulary import CopyReason
    from wempa.store import Copies, StoreError, Workspace

    path: Path = args.data or data_folder() / OWN_FILE
    if not path.is_file():
        return _fail(f"there is no workspace {path}")
    to: Path | None = args.to
    if to is not None and to.exists():
        return _fail(f"{to} is there already; nothing was copied")
    try:
        workspace = Workspace(path)
        try:
            if to is None:
                copies = Copies(workspace)
                to = copies.folder / copies.make(CopyReason.ASKED).name
            else:
                workspace.copy_to(to)
        finally:
            workspace.close()
    except StoreError as error:
        return _fail(str(error))
    except OSError as error:
        return _fail(f"cannot write {to}: {error.strerror or error}")
    print(f"Copied {path} to {to}")
    return 0


def _serve(args: argparse.Namespace) -> int:
    # What is loaded now stays for good, and looking for garbage among it takes 0.1 s. `look_less` turns it on
    # again.
    gc.disable()
    from wempa.api.app import JournalKept, worker_app
    from wempa.api.heavy.nursery import Nursery
    from wempa.api.serving import ListenAt, serve
    from wempa.store import StoreError, Workspace

    path = args.data or data_folder() / args.file
    # It has to be made before there is an open file or a thread.
    nursery = Nursery.start(worker_app)
    try:
        workspace = Workspace(path)
        if args.demo:
            from wempa.demo.penny_halt import fill, is_demo

            if not is_demo(workspace):
                return _fail(f"{path} holds a stash of your own; the demo does not touch it. Give another --data.")
            fill(workspace)
        elif workspace.first_change() is None:
            from wempa.formats.stash.standard_shelf import FIRST_CHANGE, standard_shelf

            shelf = [(kind, None, item, None) for kind, item in standard_shelf()]
            workspace.take_in(shelf, what=FIRST_CHANGE, undoable=False)
        journal = JournalKept(args.journal_days, args.journal_mb)
        place = ListenAt(args.host, args.port, args.lan, args.certfile, args.keyfile)
        serve(workspace, place, lambda text: print(text, flush=True), nursery, journal)
    except StoreError as error:
        return _fail(str(error))
    finally:
        if nursery is not None:
            nursery.close()
    return 0


def _fail(message: str) -> int:
    print(f"wempa: {message}", file=sys.stderr)
    return _BAD_INPUT


if __name__ == "__main__":
    sys.exit(main())
