"""The command line: the same core without a browser. See README for the contract."""

import contextlib
import json
import math
import os
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Annotated, Any

import typer

from canonis.core.faults import BadInput
from canonis.settings import settings

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    help="Drafts a drawing from a solid model and proves every statement on it.",
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)

File = Annotated[Path, typer.Argument(help="A STEP file (.step, .stp)")]
Limit = Annotated[float, typer.Option("--time-limit", help="Seconds one stage may take")]


def _run(action: Callable[[], None]) -> None:
    """Run an action; one plain line and exit code 2 for bad input, 3 for a fault of the program."""
    try:
        action()
    except BadInput as fault:
        print(" ".join(str(fault).split()), file=sys.stderr)
        raise typer.Exit(2) from None
    except (typer.Exit, KeyboardInterrupt):
        raise
    except BrokenPipeError:
        os._exit(0)
    except Exception as fault:
        if settings().debug:
            raise
        print(
            f"Canonis failed: {type(fault).__name__}: {str(fault).splitlines()[0] if str(fault) else ''}",
            file=sys.stderr,
        )
        raise typer.Exit(3) from None


def _bytes(path: Path) -> bytes:
    try:
        size = path.stat().st_size
        limit = settings().max_file_mb * 1048576
        if size > limit:
            raise BadInput(
                f"“{path.name}” has {math.ceil(size / 104857.6) / 10:.1f} MB and the limit is {limit / 1048576:g} MB."
            )
        return path.read_bytes()
    except FileNotFoundError:
        raise BadInput(f"There is no file “{path}”.") from None
    except IsADirectoryError:
        raise BadInput(f"“{path}” is a folder; give a file.") from None
    except OSError as fault:
        raise BadInput(f"“{path}” cannot be read: {fault.strerror}.") from None


def _text(path: Path | None) -> str | None:
    if path is None:
        return None
    try:
        return _bytes(path).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadInput(f"“{path.name}” is not UTF-8 text; save it as UTF-8.") from None


@contextlib.contextmanager
def kept_child() -> Iterator[None]:
    """Let commands that run in this process share one kernel child, which stays warm, until the block ends."""
    from canonis.work.kernel import KernelChild

    _kept.append(KernelChild())
    try:
        yield
    finally:
        _kept.pop().stop()


_kept: list[Any] = []


def _kernel(job: str, arguments: dict[str, Any], limit: float) -> Any:
    if _kept:
        return _kept[-1].run(job, arguments, stage_limit=limit)
    with kept_child():
        return _kernel(job, arguments, limit)


def _print(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1))


def _write_all(folder: Path, files: dict[str, bytes]) -> None:
    """Write every file or none: first beside their places, then moved in."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, data in files.items():
            (folder / f".{name}.part").write_bytes(data)
        for name in files:
            (folder / f".{name}.part").replace(folder / name)
    except OSError as fault:
        for name in files:
            (folder / f".{name}.part").unlink(missing_ok=True)
        raise BadInput(f"“{folder}” cannot be written: {fault.strerror}.") from None


@app.command()
def measure(
    file: File,
    density: Annotated[float | None, typer.Option(help="g/cm³")] = None,
    material: Annotated[str | None, typer.Option(help="A name from the built-in list")] = None,
    frame: Annotated[str | None, typer.Option(help="ORIGIN[;XDIR;YDIR], mm and vectors")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="JSON (the default)")] = True,
    time_limit: Limit = 60.0,
) -> None:
    """A solid's measurements and features as JSON."""
    _run(
        lambda: _print(
            _kernel(
                "measure",
                {"data": _bytes(file), "name": file.name, "density": density, "material": material, "frame": frame},
                time_limit,
            )
        )
    )


_CHOICES = {
    "style": ("iso", "asme"),
    "projection": ("first", "third"),
    "unit": ("mm", "in"),
    "views": ("all", "auto"),
    "front": ("-x", "+x", "-y", "+y", "-z", "+z"),
}


def _allowed(**options: str | None) -> None:
    """Raise BadInput for an option that is none of its choices."""
    for what, value in options.items():
        if value is not None and value not in _CHOICES[what]:
            raise BadInput(f"The {what} “{value}” is not one of {', '.join(_CHOICES[what])}.")


@app.command()
def draft(
    file: File,
    *,
    out: Annotated[Path, typer.Option("--out", help="Folder for the files")],
    style: Annotated[str | None, typer.Option(help="iso or asme")] = None,
    projection: Annotated[str | None, typer.Option(help="first or third")] = None,
    size: str = "auto",
    scale: str = "auto",
    material: str | None = None,
    density: float | None = None,
    spec: Annotated[Path | None, typer.Option(help="A source specification")] = None,
    unit: Annotated[str | None, typer.Option(help="mm or in")] = None,
    datum: str = "auto",
    title: str | None = None,
    views: Annotated[str, typer.Option(help="auto or all")] = "auto",
    front: Annotated[str | None, typer.Option(help="Side the front view looks from: -y, +x, …")] = None,
    section: Annotated[
        list[str] | None,
        typer.Option(help="VIEW:x=MM or VIEW:y=MM: a section along a level from the datum; repeatable"),
    ] = None,
    detail: Annotated[
        list[str] | None, typer.Option(help="VIEW:X,Y,R[,N:M]: a detail about a point from the datum; repeatable")
    ] = None,
    helices: Annotated[bool, typer.Option("--helices", help="Draw modelled threads with all their helices")] = False,
    lines: Annotated[bool, typer.Option("--lines", help="Also write lines.json")] = False,
    time_limit: Limit = 60.0,
) -> None:
    """A first complete drawing of a solid, as files in a folder."""

    def action() -> None:
        _allowed(style=style, projection=projection, unit=unit, views=views, front=front)
        options = {
            "style": style,
            "projection": projection,
            "size": size,
            "scale": scale,
            "material": material,
            "density": density,
            "unit": unit,
            "datum": datum,
            "title": title,
            "views": views,
            "front": front,
            "sections": section,
            "details": detail,
            "helices": helices,
        }
        files = _kernel(
            "draft",
            {"data": _bytes(file), "name": file.name, "options": options, "spec": _text(spec), "lines": lines},
            time_limit,
        )
        _write_all(out, files)

    _run(action)


@app.command()
def check(
    sheet: Annotated[Path, typer.Argument(help="A sheet.json")],
    model: Annotated[Path, typer.Option("--model", help="A STEP file")],
    spec: Annotated[Path | None, typer.Option(help="A source specification")] = None,
    state: Annotated[
        list[str] | None,
        typer.Option("--state", help="STEP=FILE: the model after a step of the source's checkpoints; repeatable"),
    ] = None,
    time_limit: Limit = 60.0,
) -> None:
    """Prove a sheet against a model and a source specification, and states of the model against its checkpoints."""

    def action() -> None:
        states = []
        for given in state or []:
            name, _, file = given.partition("=")
            if not name or not file:
                raise BadInput(f"“{given[:60]}” does not say which step it is; write --state STEP=FILE.")
            states.append((name, Path(file).name, _bytes(Path(file))))
        _print(
            _kernel(
                "check",
                {
                    "sheet": _text(sheet),
                    "data": _bytes(model),
                    "name": model.name,
                    "spec": _text(spec),
                    "states": states,
                },
                time_limit,
            )
        )

    _run(action)


@app.command()
def source(spec: Annotated[Path, typer.Argument(help="A source specification")]) -> None:
    """Read a source specification, do its arithmetic, look for contradictions."""
    from canonis.core.source import read_specification

    _run(lambda: _print(read_specification(_text(spec) or "").as_json()))


@app.command()
def build(
    recipe: Annotated[Path, typer.Argument(help="A recipe (JSON)")],
    out: Annotated[Path, typer.Option("--out", help="STEP file to write")],
    spec: Annotated[Path | None, typer.Option(help="A specification that #n refers to")] = None,
    each: Annotated[bool, typer.Option("--each", help="Also write the solid after every step")] = False,
    time_limit: Limit = 60.0,
) -> None:
    """Build a solid from a written list of steps; prints the mass ledger."""

    def action() -> None:
        if out.suffix.lower() not in (".step", ".stp"):
            raise BadInput(f"“{out.name}” is not named like a STEP file; end it in .step.")
        made = _kernel("build", {"recipe": _text(recipe), "spec": _text(spec), "each": each}, time_limit)
        files = {out.name: made["step"]}
        for k, (_, data) in enumerate(made["stages"], start=1):
            files[f"{out.stem}-{k:02d}{out.suffix}"] = data
        _write_all(out.parent, files)
        _print(made["ledger"])

    _run(action)


@app.command()
def demo(port: Annotated[int, typer.Option(help="Web port; another is picked when it is taken")] = 8470) -> None:
    """Start everything with the demo data; Ctrl+C stops all that it started."""
    from canonis.work.launch import run_application

    _run(lambda: run_application(demo=True, port=port))


@app.command()
def serve(
    port: Annotated[int, typer.Option(help="Web port; another is picked when it is taken")] = 8480,
    host: Annotated[str, typer.Option(help="Address to listen on")] = "127.0.0.1",
) -> None:
    """Start everything for real use."""
    from canonis.work.launch import run_application

    _run(lambda: run_application(demo=False, port=port, host=host))


@app.command()
def bench(
    name: Annotated[
        str,
        typer.Argument(
            help="draft FILE, measure [FILE …], proof (planted slips), load (20 people on 20 jobs) or kills (processes "
            "killed at random)"
        ),
    ],
    files: Annotated[list[Path] | None, typer.Argument(help="STEP files")] = None,
    quick: Annotated[bool, typer.Option("--quick", help="Fewer parts: a few minutes")] = False,
) -> None:
    """The project's benchmarks, each printing a table and a JSON line with ratios."""
    from canonis.bench.run import run_bench

    _run(lambda: run_bench(name, files or [], quick))


@app.command(name="test")
def run_tests() -> None:
    """Every check that CI runs (the launcher runs it; see tests/run)."""
    os.execv(str(Path(__file__).resolve().parents[2] / "tests" / "run"), ["run"])


if __name__ == "__main__":
    app()
