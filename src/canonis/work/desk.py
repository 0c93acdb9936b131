"""Kernel jobs of the web application; they run inside a kernel child, on models kept warm by their hash."""

import json
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from canonis.core.drafting import (
    Draft,
    apply_command,
    carried,
    carry_over,
    kept_choices,
    link_title,
    read_command,
    scene_for,
)
from canonis.core.faults import BadInput
from canonis.core.features import measure_model
from canonis.core.output import (
    flag_print,
    screen_pages,
    sheet_files,
    write_csv,
    write_list,
    write_pdf,
    write_png,
    write_svg,
)
from canonis.core.proof import check_sheet
from canonis.core.sheet import Scene, SheetDocument, compile_sheet, read_document
from canonis.core.solid import inspect, mesh_of
from canonis.core.source import Specification, bring, inspect_print, read_specification, read_stored, work_out_in
from canonis.core.study import Station, as_places, relinked
from canonis.work.jobs import Loaded, drafted, open_model, wish_from

__all__ = ["JOBS"]


def _source(spec: str, station: dict[str, Any]) -> tuple[Specification, float | None]:
    """The source as read, and the density (g/cm³) that it and the job's own materials give."""
    read = read_specification(spec)
    return read, Station.model_validate(station).common_density(read)


def study(progress: Any, *, model: dict[str, Any], spec: str, station: dict[str, Any]) -> dict[str, Any]:
    """Measure a model and tessellate it for the screen; the meshes as JSON text, which nobody on the way looks into."""
    loaded = open_model(model, progress)
    progress("Measuring and recognising features")
    report = measure_model(loaded.model, _source(spec, station)[1])
    progress("Preparing the picture of the solid")
    return {"report": report, "meshes": json.dumps([mesh_of(s) for s in loaded.model.solids])}


def first_sheet(
    progress: Any,
    *,
    model: dict[str, Any],
    spec: str,
    station: dict[str, Any],
    options: dict[str, Any],
    before: dict[str, Any] | None = None,
    links: dict[str, str | None] | None = None,
) -> dict[str, Any]:
    """Draft a sheet, keeping the choices and the added dimensions of the one `before`, and the places that persons chose
    (`links`, by number of the line); the document as plain data, and the links as they stand on it."""
    loaded = open_model(model, progress)
    read, density = _source(spec, station)
    old = None if before is None else read_document(before)
    wanted = {"views": "auto", **(kept_choices(old, str(options.get("style") or "")) if old else {}), **options}
    matches = loaded.known_matches(progress)
    matched = matches.count
    wish = replace(wish_from(wanted, read, density), frame=_frame_of(station))
    known = loaded.known(progress)
    proven = len(known)
    made = drafted(loaded, wish, read, progress, known, as_places(links or {}, old))
    loaded.keep_matches(progress, matched)
    loaded.keep_known(progress, proven)
    loaded.projections.update(made.scene.projections)
    loaded.keep(progress)
    document = made.document if old is None else carry_over(old, made)
    return {"document": document.model_dump(mode="json"), "links": relinked(links or {}, old, document)}


def _frame_of(station: dict[str, Any]) -> tuple[str, ...]:
    """The faces, or the round face, of the frame that a job measures its first solid from; none of points or corners."""
    frame = Station.model_validate(station).frame
    return tuple(frame.refs) if frame.kind in ("sharp-corner", "faces", "axis") and frame.solid == 0 else ()


def _opened(document: dict[str, Any], loaded: Loaded) -> SheetDocument:
    """A stored document on its model.

    Raises BadInput when the model has too few solids for it.
    """
    made = read_document(document)
    if any(p.solid >= len(loaded.model.solids) for p in made.pages):
        raise BadInput("The model has fewer solids than the sheet shows; draft the sheet again.")
    return made


def _linked(
    document: SheetDocument, loaded: Loaded, spec: Specification, density: float | None, progress: Any
) -> Scene:
    """A document with title block and notes as the source and the model have them now, on its solids."""
    masses = [None if density is None else s.mass.volume * density / 1000 for s in loaded.model.solids]
    made = link_title(document, spec, masses)
    scene = scene_for(made, loaded.model.solids, loaded.features, loaded.projections)
    loaded.keep(progress)
    return scene


def show(
    progress: Any, *, model: dict[str, Any], document: dict[str, Any], spec: str, station: dict[str, Any]
) -> dict[str, Any]:
    """The compiled pages of a stored document, as JSON text."""
    loaded = open_model(model, progress)
    scene = _linked(_opened(document, loaded), loaded, *_source(spec, station), progress)
    return {"pages": json.dumps(screen_pages(scene), ensure_ascii=False)}


def edit(
    progress: Any,
    *,
    model: dict[str, Any],
    document: dict[str, Any],
    command: dict[str, Any],
    spec: str,
    station: dict[str, Any],
) -> dict[str, Any]:
    """Apply one command; the new document and its pages as JSON text."""
    loaded = open_model(model, progress)
    made = _opened(document, loaded)
    made = apply_command(made, read_command(command), loaded.model.solids, loaded.features, loaded.projections)
    scene = _linked(made, loaded, *_source(spec, station), progress)
    return {"document": made.model_dump(mode="json"), "pages": json.dumps(screen_pages(scene), ensure_ascii=False)}


def replay(
    progress: Any,
    *,
    model: dict[str, Any],
    document: dict[str, Any],
    steps: list[tuple[dict[str, Any], dict[str, Any]]],
    spec: str,
    station: dict[str, Any],
) -> dict[str, Any]:
    """Edits that were made while a sheet was drafted anew, made on the new draft as well: each `step` is a command and
    the document that it was made on. The document after them, and what of them could not be carried over, in words."""
    loaded = open_model(model, progress)
    made = _opened(document, loaded)
    left = []
    for raw, before in steps:
        command = read_command(raw)
        again = carried(command, read_document(before), made)
        try:
            if again is None:
                raise BadInput("what it changed is not there any more")
            made = apply_command(made, again, loaded.model.solids, loaded.features, loaded.projections)
        except BadInput:
            left.append(command.told)
    loaded.keep(progress)
    return {"document": made.model_dump(mode="json"), "left": left}


def prove(
    progress: Any,
    *,
    model: dict[str, Any],
    document: dict[str, Any],
    spec: str,
    station: dict[str, Any],
    links: dict[str, str | None],
    ticked: dict[str, str] | None = None,
    rivals: bool = True,
) -> dict[str, Any]:
    """Prove a document on a model and against the source; without `rivals` none are looked for where they are not known."""
    loaded = open_model(model, progress)
    made = _opened(document, loaded)
    progress("Proving every statement")
    read, density = _source(spec, station)
    known, matches = loaded.known(progress), loaded.known_matches(progress)
    before, matched = len(known), matches.count
    check = check_sheet(
        made,
        loaded.model.solids,
        read,
        density=density,
        hints=loaded.hints,
        links=links,
        known=known,
        memory=matches,
        progress=progress,
        rivals=rivals,
        ticked=ticked,
    )
    loaded.keep_known(progress, before)
    loaded.keep_matches(progress, matched)
    return check.as_json()


def export(
    progress: Any,
    *,
    model: dict[str, Any],
    document: dict[str, Any],
    spec: str,
    station: dict[str, Any],
    kind: str,
    sheet: int = 1,
    dpi: float = 200.0,
) -> bytes:
    """One file of a sheet: pdf, svg, png (at `dpi`), csv or json."""
    loaded = open_model(model, progress)
    read, density = _source(spec, station)
    scene = _linked(_opened(document, loaded), loaded, read, density, progress)
    if kind in ("pdf", "svg", "png"):
        drawing = compile_sheet(scene)
        if kind == "pdf":
            return write_pdf(drawing)
        if not 1 <= sheet <= len(drawing.pages):
            raise BadInput(f"The drawing has {len(drawing.pages)} sheets; there is no sheet {sheet}.")
        if kind == "png":
            return write_png(write_pdf(drawing), sheet, dpi)
        return write_svg(drawing.pages[sheet - 1], drawing.title, drawing.views).encode()
    check = check_sheet(
        scene.document,
        loaded.model.solids,
        read,
        density=density,
        hints=loaded.hints,
        memory=loaded.matches,
        progress=progress,
    )
    if kind == "csv":
        return write_csv(scene, check).encode()
    return sheet_files(Draft(scene, ()), check)["sheet.json"]


def check_step(progress: Any, *, data: bytes, name: str, limit: int) -> None:
    """Look through the text of a STEP file before it is stored."""
    inspect(data, name, limit)


def read_source(progress: Any, *, source: dict[str, Any], spec: str) -> str:
    """A stored source with everything it means, as JSON text."""
    return json.dumps(read_stored(source, spec), ensure_ascii=False)


def bring_source(progress: Any, *, text: str, name: str) -> dict[str, Any]:
    """A list that somebody brings: the lines of a CSV file, or the source of a specification."""
    return bring(text, name).model_dump()


def work_out(progress: Any, *, spec: str, expression: str) -> dict[str, Any]:
    """An expression worked out in a job."""
    return work_out_in(spec, expression)


def list_pdf(progress: Any, *, spec: str, ticks: dict[str, str]) -> bytes:
    """The list of characteristics as PDF, with who ticked which line and when."""
    return write_list(read_specification(spec), ticks)


def inspect_source_print(progress: Any, *, data: bytes, name: str, limit: int) -> dict[str, Any]:
    """Kind and pages of a print."""
    return inspect_print(data, name, limit)


def flag_source_print(
    progress: Any, *, data: bytes, kind: str, pages: list[dict[str, Any]], flags: list[dict[str, Any]]
) -> bytes:
    """A print with its flags, as PDF."""
    return flag_print(data, kind, pages, flags)


JOBS: dict[str, Callable[..., Any]] = {
    "study": study,
    "first_sheet": first_sheet,
    "show": show,
    "edit": edit,
    "replay": replay,
    "prove": prove,
    "export": export,
    "check_step": check_step,
    "read_source": read_source,
    "bring_source": bring_source,
    "work_out": work_out,
    "list_pdf": list_pdf,
    "inspect_print": inspect_source_print,
    "flag_print": flag_source_print,
}
