"""The commands behind `./moss`."""

from __future__ import annotations

import argparse
import asyncio
import contextlib
import gc
import logging
import sys
from collections.abc import Iterator
from pathlib import Path

from mosskeeper.settings import Settings
from mosskeeper.supervise import DEFAULT_PORT, database, next_free_port, port_is_free, running_database


def main() -> int:
    parser = _parser()
    arguments = parser.parse_args()
    logging.basicConfig(level=logging.INFO, format="%(asctime)s %(name)s %(message)s")
    logging.getLogger("alembic").setLevel(logging.WARNING)
    logging.getLogger("procrastinate").setLevel(logging.WARNING)
    logging.getLogger("httpx").setLevel(logging.WARNING)  # it would write the addresses of services into the log
    run = {
        "demo": _demo,
        "serve": _serve,
        "worker": _worker,
        "web": _web,
        "draw": _draw,
        "mend": _mend,
        "invert": _invert,
        "sheets": _sheets,
        "reset-demo": _reset_demo,
        "remote-stand-in": _stand_in,
        "backup": _backup,
        "restore": _restore,
    }[arguments.command]
    return run(arguments)


@contextlib.contextmanager
def _importing() -> Iterator[None]:
    """What is imported meanwhile stays for good: the collector does not look at it, neither now (a seventh of a start) nor ever again."""
    gc.disable()
    yield
    gc.freeze()
    gc.enable()


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="moss", description="Moss Keeper: a studio for character artists.")
    commands = parser.add_subparsers(dest="command", required=True)

    demo = commands.add_parser("demo", help="start everything, with the demo story")
    serve = commands.add_parser("serve", help="start web server and worker, without demo data")
    for p in (demo, serve):
        p.add_argument("--port", type=int, help=f"port of the web server (default {DEFAULT_PORT}, or the next free one)")
        p.add_argument("--workers", type=int, default=1, help="workers on this machine (default 1)")
    worker = commands.add_parser("worker", help="add a worker; MOSS_DATABASE_URL names another machine's database")
    worker.add_argument("--concurrency", type=int, default=1, help="runs at the same time (default 1)")
    web = commands.add_parser("web", help="only the web server, on MOSS_DATABASE_URL")
    web.add_argument("--port", type=int, default=DEFAULT_PORT)
    draw = commands.add_parser("draw", help="make the takes of a recipe without web or database")
    draw.add_argument("recipe", type=Path, help="a recipe as JSON, or a PNG that carries one")
    draw.add_argument("--seed", type=int, help="seed of the first take, in place of the recipe's")
    draw.add_argument("--out", type=Path, default=Path("out"), help="folder for the pictures (default ./out)")
    draw.add_argument("--cue", type=Path, action="append", default=[], help="a picture that the recipe's cues use; may be repeated")
    mend = commands.add_parser("mend", help="change a picture where a mask is white, without web or database")
    mend.add_argument("picture", type=Path, help="a take as it was downloaded or drawn, or any PNG, JPEG or WebP")
    mend.add_argument("--mask", type=Path, required=True, help="a picture, white where something may change")
    mend.add_argument("--words", default="", help="what should stand there; without words what the mask covers goes")
    mend.add_argument("--without", default="", help="what should not stand there any more")
    mend.add_argument("--strength", type=_share, default=1.0, help="0 the picture as it is … 1 all that is asked (default 1)")
    mend.add_argument("--feather", type=float, default=3.0, help="px inside the mask over which the change fades in (default 3)")
    mend.add_argument("--grown", action="store_true", help="open the mask to the outlines of what changes in it")
    mend.add_argument("--lights", action="store_true", help="what comes may light what lies outside the mask")
    mend.add_argument("--out", type=Path, default=Path("out/mended.png"), help="the mended picture (default ./out/mended.png)")
    invert = commands.add_parser("invert", help="the scene that explains a picture, as JSON, without web or database")
    invert.add_argument("picture", type=Path)
    invert.add_argument("--out", type=Path, default=Path("out/scene.json"), help="the scene (default ./out/scene.json)")
    sheets = commands.add_parser("sheets", help="contact sheets of everything that can be drawn")
    sheets.add_argument("names", nargs="*", help="which sheets; all without a name")
    sheets.add_argument("--out", type=Path, default=Path("out/sheets"), help="folder for the sheets (default ./out/sheets)")
    sheets.add_argument("--width", type=int, default=1400, help="width of a sheet in pixels (default 1400)")
    stand_in = commands.add_parser("remote-stand-in", help="a simulated remote engine, to connect and to try out")
    stand_in.add_argument("--port", type=int, default=8460)
    stand_in.add_argument("--temper", default="well", help="well, slow, busy, broken, nonsense, half, wrong-size or never (default well)")
    stand_in.add_argument("--busy-times", type=int, help="how often it is busy before it is well")
    backup = commands.add_parser("backup", help="write all that the studio holds into one file, while it runs")
    backup.add_argument("file", type=Path)
    restoring = commands.add_parser("restore", help="restore a backup into an empty studio")
    restoring.add_argument("file", type=Path)
    commands.add_parser("reset-demo", help="throw the demo story away and make it anew; other stories stay")
    return parser


def _demo(arguments: argparse.Namespace) -> int:
    return _start_all(arguments, with_demo=True)


def _serve(arguments: argparse.Namespace) -> int:
    return _start_all(arguments, with_demo=False)


def _start_all(arguments: argparse.Namespace, with_demo: bool) -> int:
    from mosskeeper import demo, supervise
    from mosskeeper.migrate import upgrade

    port = arguments.port or DEFAULT_PORT
    if not port_is_free(port):
        free = next_free_port(port)
        if arguments.port:
            print(f"Port {port} is taken. The next free one is {free}: ./moss {arguments.command} --port {free}", file=sys.stderr)
            return 1
        print(f"Port {port} is taken; {free} is used.")
        port = free
    settings = Settings.from_environment()
    with database(settings) as url:
        upgrade(url)
        if with_demo:
            demo.ensure(url, print)
        ready = f"Moss Keeper is ready: http://127.0.0.1:{port}/   (Ctrl-C stops it)"
        return supervise.serve(settings, url, port, arguments.workers, lambda: print(ready, flush=True))


def _worker(arguments: argparse.Namespace) -> int:
    import dataclasses

    with _importing():
        from mosskeeper.queue.worker import work

    settings = Settings.from_environment()
    url = running_database(settings)
    if url is None:
        print("No database is running here. Start ./moss demo first, or set MOSS_DATABASE_URL to the address of one.", file=sys.stderr)
        return 1
    asyncio.run(work(dataclasses.replace(settings, database_url=url), arguments.concurrency))
    return 0


def _web(arguments: argparse.Namespace) -> int:
    with _importing():
        import uvicorn

        from mosskeeper.web.app import create_app

    app = create_app(Settings.from_environment())
    uvicorn.run(app, host="127.0.0.1", port=arguments.port, log_level="warning", timeout_graceful_shutdown=3)
    return 0


def _draw(arguments: argparse.Namespace) -> int:
    from mosskeeper.commands.draw import draw_recipe
    from mosskeeper.core.errors import ArtistError

    try:
        for path in draw_recipe(
            arguments.recipe, arguments.seed, arguments.out, arguments.cue, lambda sentence: print(sentence, file=sys.stderr)
        ):
            print(path)
    except (ArtistError, OSError) as error:
        print(error, file=sys.stderr)
        return 1
    return 0


def _share(text: str) -> float:
    value = float(text)
    if not 0 <= value <= 1:
        raise argparse.ArgumentTypeError(f"{text} is not between 0 and 1")
    return value


def _mend(arguments: argparse.Namespace) -> int:
    from mosskeeper.commands.mend import Wish, mend_file
    from mosskeeper.core.errors import ArtistError
    from mosskeeper.core.mending.redraw.mend import Opening

    a = arguments
    wish = Wish(a.words, a.without, a.strength, Opening(a.feather, a.grown, a.lights))
    try:
        for sentence in mend_file(a.picture, a.mask, wish, a.out):
            print(sentence)
    except (ArtistError, OSError) as error:
        print(error, file=sys.stderr)
        return 1
    print(a.out)
    return 0


def _invert(arguments: argparse.Namespace) -> int:
    from mosskeeper.commands.mend import invert_file
    from mosskeeper.core.errors import ArtistError

    try:
        found = invert_file(arguments.picture, arguments.out)
    except (ArtistError, OSError) as error:
        print(error, file=sys.stderr)
        return 1
    print("explained: " + ", ".join(f"{name} {share:.0%}" for name, share in found.explains.items()))
    if found.unsure:
        print("unsure: " + ", ".join(found.unsure))
    print(arguments.out)
    return 0


def _sheets(arguments: argparse.Namespace) -> int:
    from mosskeeper.commands import mend_sheets, region_sheets, subject_sheets
    from mosskeeper.commands.sheets import SHEETS, make_sheets

    made = {"mend": mend_sheets.make, "regions": region_sheets.make, "subject": subject_sheets.make}
    names = arguments.names or [*SHEETS, *made]
    unknown = [name for name in names if name not in SHEETS and name not in made]
    if unknown:
        print(f"There is no sheet “{unknown[0]}”. There are: {', '.join([*SHEETS, *made])}.", file=sys.stderr)
        return 1
    for path in make_sheets(arguments.out, [name for name in names if name not in made], arguments.width):
        print(path)
    for name in made.keys() & set(names):
        for path in made[name](arguments.out, arguments.width):
            print(path)
    return 0


def _stand_in(arguments: argparse.Namespace) -> int:
    from mosskeeper.commands.remote_stand_in import TEMPERS, serve

    if arguments.temper not in TEMPERS:
        print(f"There is no temper “{arguments.temper}”. There are: {', '.join(TEMPERS)}.", file=sys.stderr)
        return 1
    serve(arguments.port, arguments.temper, arguments.busy_times)
    return 0


def _backup(arguments: argparse.Namespace) -> int:
    from mosskeeper.backup import BackupError, back_up

    settings = Settings.from_environment()
    try:
        running = running_database(settings)
        if running is not None:
            back_up(running, arguments.file)
        else:
            with database(settings) as url:
                back_up(url, arguments.file)
    except BackupError as error:
        print(error, file=sys.stderr)
        return 1
    print(f"{arguments.file}: {arguments.file.stat().st_size / 1e6:.1f} MB")
    return 0


def _restore(arguments: argparse.Namespace) -> int:
    from mosskeeper.backup import BackupError, restore

    settings = Settings.from_environment()
    if not settings.database_url and running_database(settings) is not None:
        print("The studio is running. Stop it first, then restore the backup.", file=sys.stderr)
        return 1
    try:
        with database(settings) as url:
            restore(url, arguments.file)
    except BackupError as error:
        print(error, file=sys.stderr)
        return 1
    print("Restored. ./moss serve starts the studio.")
    return 0


def _reset_demo(_arguments: argparse.Namespace) -> int:
    from mosskeeper import demo
    from mosskeeper.migrate import upgrade

    settings = Settings.from_environment()
    url = running_database(settings)
    if url is not None:  # it runs: leave it running
        demo.reset(url, print)
        return 0
    with database(settings) as url:
        upgrade(url)
        demo.reset(url, print)
    return 0


if __name__ == "__main__":
    sys.exit(main())
