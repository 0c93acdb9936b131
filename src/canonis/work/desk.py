"""Kernel jobs of the web application; they run inside a kernel child, on models kept warm by their hash."""

from collections.abc import Callable
from typing import Any

from canonis.core.drafting.carry import carry_over, kept_choices
from canonis.core.drafting.draft import Draft, draft_model, scene_for
from canonis.core.drafting.notes import link_title
from canonis.core.drafting.revise import apply_command
from canonis.core.faults import BadInput
from canonis.core.features.report import measure_model
from canonis.core.output.pdf import write_pdf
from canonis.core.output.screen import screen_pages
from canonis.core.output.sheet_json import sheet_files, write_csv
from canonis.core.output.source_pdf import flag_print, write_list
from canonis.core.output.svg import write_svg
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import SheetDocument
from canonis.core.solid.mesh import mesh_of
from canonis.core.source.prints import inspect_print
from canonis.core.source.specification import Specification, read_specification
from canonis.work.jobs import Loaded, Progress, density_from, load, wish_from

__all__ = ["DESK"]


def _open(model: dict[str, Any], progress: Progress) -> Loaded:
    return load(model["data"], model["name"], progress, key=model["sha256"])


def _spec(text: str | None) -> Specification | None:
    return read_specification(text) if text else None


def study(progress: Progress, *, model: dict[str, Any], spec: str | None = None) -> dict[str, Any]:
    """Measure a model and tessellate it for the screen."""
    loaded = _open(model, progress)
    progress("Measuring and recognising features")
    report = measure_model(loaded.model, density_from(None, None, _spec(spec)))
    progress("Preparing the picture of the solid")
    return {"report": report, "meshes": [mesh_of(s) for s in loaded.model.solids]}


def first_sheet(progress: Progress, *, model: dict[str, Any], spec: str, options: dict[str, Any],
                before: dict[str, Any] | None = None) -> dict[str, Any]:  # fmt: skip
    """Draft a sheet, keeping the choices and the added dimensions of the one `before`; the document as plain data."""
    loaded = _open(model, progress)
    read = _spec(spec)
    density = density_from(None, None, read)
    old = None if before is None else SheetDocument.model_validate(before)
    wanted = {**(kept_choices(old) if old else {}), **options}
    made = draft_model(loaded.model, wish_from(wanted, read, density), progress, loaded.features)
    loaded.projections.update(made.scene.projections)
    document = made.document if old is None else carry_over(old, made)
    return document.model_dump(mode="json")


def _fits(document: SheetDocument, loaded: Loaded) -> SheetDocument:
    if any(p.solid >= len(loaded.model.solids) for p in document.pages):
        raise BadInput("The model has fewer solids than the sheet shows; draft the sheet again.")
    return document


def relink(document: SheetDocument, loaded: Loaded, spec: Specification | None) -> SheetDocument:
    """Title block and notes as the source and the model have them now."""
    density = density_from(None, None, spec)
    volume = loaded.model.solids[document.pages[0].solid].mass.volume
    return link_title(document, spec.header if spec else {}, None if density is None else volume * density / 1000)


def show(
    progress: Progress, *, model: dict[str, Any], document: dict[str, Any], spec: str | None = None
) -> dict[str, Any]:
    """The compiled pages of a stored document."""
    loaded = _open(model, progress)
    made = relink(_fits(SheetDocument.model_validate(document), loaded), loaded, _spec(spec))
    scene = scene_for(made, loaded.model.solids, loaded.features, loaded.projections)
    return {"pages": screen_pages(scene)}


def edit(progress: Progress, *, model: dict[str, Any], document: dict[str, Any], command: dict[str, Any],
         spec: str | None = None) -> dict[str, Any]:  # fmt: skip
    """Apply one command; the new document and its pages."""
    loaded = _open(model, progress)
    made = _fits(SheetDocument.model_validate(document), loaded)
    made = apply_command(made, command, loaded.model.solids, loaded.features, loaded.projections)
    linked = relink(made, loaded, _spec(spec))
    scene = scene_for(linked, loaded.model.solids, loaded.features, loaded.projections)
    return {"document": made.model_dump(mode="json"), "pages": screen_pages(scene)}


def prove(progress: Progress, *, model: dict[str, Any], document: dict[str, Any], spec: str | None,
          links: dict[str, str | None]) -> dict[str, Any]:  # fmt: skip
    """Prove a document on a model and against the source."""
    loaded = _open(model, progress)
    made = _fits(SheetDocument.model_validate(document), loaded)
    progress("Proving every statement")
    read = _spec(spec)
    density = density_from(None, None, read)
    return check_sheet(made, loaded.model.solids, loaded.features, read, density=density, links=links).as_json()


def export(progress: Progress, *, model: dict[str, Any], document: dict[str, Any], spec: str | None, kind: str,
           sheet: int = 1) -> bytes:  # fmt: skip
    """One file of a sheet: pdf, svg, csv or json."""
    loaded = _open(model, progress)
    read = _spec(spec)
    made = relink(_fits(SheetDocument.model_validate(document), loaded), loaded, read)
    scene = scene_for(made, loaded.model.solids, loaded.features, loaded.projections)
    if kind in ("pdf", "svg"):
        drawing = compile_sheet(scene)
        if kind == "pdf":
            return write_pdf(drawing)
        if not 1 <= sheet <= len(drawing.pages):
            raise BadInput(f"The drawing has {len(drawing.pages)} sheets; there is no sheet {sheet}.")
        return write_svg(drawing.pages[sheet - 1], drawing.title).encode()
    check = check_sheet(made, loaded.model.solids, loaded.features, read, density=density_from(None, None, read))
    if kind == "csv":
        return write_csv(scene, check).encode()
    return sheet_files(Draft(scene, ()), check)["sheet.json"]


def list_pdf(progress: Progress, *, spec: str) -> bytes:
    """The list of characteristics as PDF."""
    return write_list(read_specification(spec))


def inspect_source_print(progress: Progress, *, data: bytes, name: str, limit: int) -> dict[str, Any]:
    """Kind and pages of a print."""
    return inspect_print(data, name, limit)


def flag_source_print(progress: Progress, *, data: bytes, kind: str, pages: list[dict[str, Any]],
                      flags: list[dict[str, Any]]) -> bytes:  # fmt: skip
    """A print with its flags, as PDF."""
    return flag_print(data, kind, pages, flags)


DESK: dict[str, Callable[..., Any]] = {
    "study": study, "first_sheet": first_sheet, "show": show, "edit": edit, "prove": prove, "export": export,
    "list_pdf": list_pdf, "inspect_print": inspect_source_print, "flag_print": flag_source_print,
}  # fmt: skip
