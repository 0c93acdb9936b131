"""The files of a drafted sheet: sheet.json, SVG, PDF, check.json, dimensions.csv, lines.json."""

import csv
import io
import json
from typing import Any

import shapely

from canonis.core.drafting import Draft
from canonis.core.faults import BadInput
from canonis.core.layout import layout_report
from canonis.core.output.pdf import write_pdf
from canonis.core.output.svg import write_svg
from canonis.core.plain import cell
from canonis.core.proof import Check, PartProof, StatementProof, value_in
from canonis.core.quantity import Unit, from_mm
from canonis.core.sheet import (
    MUTE,
    Annotation,
    Drawing,
    Linear,
    Ordinate,
    Scene,
    SheetDocument,
    View,
    compile_sheet,
    read_document,
    scale_text,
    size_mm,
    view_name,
    worded,
)
from canonis.core.solid import Vec

__all__ = ["document_of", "dump", "lines_json", "sheet_files", "sheet_json", "write_csv"]


def dump(data: Any) -> str:
    """JSON text that is the same for the same data."""
    return json.dumps(data, ensure_ascii=False, indent=1, default=float) + "\n"


def _part_value(part: PartProof, value: Any, unit: Unit) -> Any:
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return value
    if part.name == "count":
        return round(value)
    return round(value if part.name.endswith("angle") else from_mm(value, unit), 9)


def _measured(proof: StatementProof | None, unit: Unit) -> float | None:
    main = proof.main if proof else None
    if main is None or not isinstance(main.measured, float):
        return None
    return float(_part_value(main, main.measured, unit))


def _box_of(drawing: Drawing, owner: str) -> list[float] | None:
    boxes = [t.box() for t in drawing.texts_of(owner) if t.text.strip()]
    if not boxes:
        return None
    return [
        round(v, 3)
        for v in (
            min(b[0] for b in boxes),
            min(b[1] for b in boxes),
            max(b[2] for b in boxes),
            max(b[3] for b in boxes),
        )
    ]


def _statement(
    document: SheetDocument, drawing: Drawing, mark: Annotation, proof: StatementProof | None
) -> dict[str, Any]:
    """A statement with its value and what was measured."""
    main = proof.main if proof else None
    angle = main is not None and main.name.endswith("angle")
    count = proof.part("count") if proof else None
    unit = document.unit
    return {
        "id": mark.id,
        "sheet": mark.sheet,
        "view": mark.view,
        "kind": mark.kind,
        "direction": mark.direction if isinstance(mark, Linear | Ordinate) else None,
        "text": mark.text,
        "value": None if isinstance(mark, MUTE) else value_in(unit, main),
        "measured": None if isinstance(mark, MUTE) else _measured(proof, unit),
        "unit": "deg" if angle else str(unit),
        "count": round(count.stated) if count and isinstance(count.stated, float) else 1,
        "reference": mark.reference,
        "feature": mark.feature,
        "refs": list(mark.refs),
        "parts": [
            {
                "name": p.name,
                "stated": _part_value(p, p.stated, unit),
                "measured": _part_value(p, p.measured, unit),
            }
            for p in proof.parts
        ]
        if proof and len(proof.parts) > 1
        else [],
        "state": proof.state if proof else None,
        "box_mm": _box_of(drawing, mark.id),
    }


def _view(scene: Scene, view: View) -> dict[str, Any]:
    """A view, where it stands, and how much it shows."""
    seen = scene.projection(view)
    return {
        "id": view.id,
        "sheet": view.sheet,
        "kind": view.kind,
        "label": view.label,
        "scale": view.scale,
        "origin": list(view.origin),
        "right": list(view.right),
        "up": list(view.up),
        "at_mm": list(view.at),
        "box_mm": [round(c, 4) for c in scene.box(view)],
        "visible_length_mm": round(seen.length("visible"), 6),
        "hidden_length_mm": round(seen.length("hidden"), 6),
        "hidden_shown": view.hidden and view.kind != "pictorial",
        "name": view_name(view),
        "parent": view.parent,
        "reason": view.reason,
        "cut_area_mm2": round(sum(c.region.area for c in seen.cut), 6) if seen.cut else None,
    }


def sheet_json(scene: Scene, drawing: Drawing, check: Check) -> dict[str, Any]:
    """`sheet.json`, with the document itself under `document` so that it can be checked and edited again."""
    document = scene.document
    proofs = {p.id: p for p in check.statements}
    return {
        "schema": "canonis.sheet/1",
        "style": document.style,
        "projection": document.projection,
        "unit": str(document.unit),
        "sheets": [
            {
                "number": p.number,
                "size": p.size,
                "size_mm": list(size_mm(p.size)),
                "scale": scale_text(p.scale),
                "solid": p.solid,
                "count": p.copies,
            }
            for p in document.pages
        ],
        "views": [_view(scene, v) for v in document.views],
        "annotations": [_statement(document, drawing, a, proofs.get(a.id)) for a in document.annotations],
        "complete": check.complete,
        "layout": layout_report(scene, drawing),
        "withdrawn": [w.model_dump(mode="json") for w in document.withdrawn],
        "front_reason": document.front_reason,
        "document": document.model_dump(mode="json"),
    }


def document_of(data: Any) -> SheetDocument:
    """The document inside a sheet.json, with the texts of its annotations as they stand there.

    Raises BadInput when it is not one of ours.
    """
    if not isinstance(data, dict) or data.get("schema") != "canonis.sheet/1" or "document" not in data:
        raise BadInput(
            "The sheet must be a sheet.json with “schema”: “canonis.sheet/1”, as the draft command writes it."
        )
    try:
        document = read_document(data["document"])
    except ValueError as fault:
        raise BadInput(f"The sheet.json is damaged: {str(fault).splitlines()[0]}.") from None
    # What the sheet says is its texts: one changed in the list of annotations is what gets proved.
    listed = {a.get("id"): a for a in data.get("annotations", []) if isinstance(a, dict)}
    marks = []
    for a in document.annotations:
        row = listed.get(a.id)
        if data.get("annotations") is not None and row is None:
            continue
        text = str(row.get("text", a.text)) if row else a.text
        refs = tuple(str(r) for r in row.get("refs", a.refs)) if row else a.refs
        marks.append(worded(a, text).model_copy(update={"refs": refs}))
    return document.model_copy(update={"annotations": tuple(marks)})


def _rings(part: shapely.Polygon, origin: Vec) -> list[list[list[float]]]:
    """A cut face as its outline and its holes, closed."""
    return [
        [[round(float(x - origin[0]), 6), round(float(y - origin[1]), 6)] for x, y in ring.coords]
        for ring in (part.exterior, *part.interiors)
    ]


def lines_json(scene: Scene) -> dict[str, Any]:
    """Polylines of every view, within 0.001 mm, at 1:1 with the view's origin at 0,0."""
    out = []
    for view in scene.document.views:
        seen, origin = scene.projection(view), scene.origin(view)
        entry: dict[str, Any] = {"id": view.id}
        for name in ("visible", "hidden", "smooth", *(["thread"] if seen.thread else [])):
            entry[name] = [
                [[round(float(c), 6) for c in p] for p in line.polyline(0.0008) - origin]
                for line in getattr(seen, name)
            ]
        if seen.cut:
            entry["cut"] = [
                _rings(part, origin)
                for c in seen.cut
                for part in shapely.get_parts(c.region)
                if part.geom_type == "Polygon"
            ]
        out.append(entry)
    return {"schema": "canonis.lines/1", "views": out}


def write_csv(scene: Scene, check: Check) -> str:
    """All statements of the sheet as CSV."""
    buffer = io.StringIO()
    table = csv.writer(buffer, lineterminator="\n")
    table.writerow(["id", "sheet", "view", "kind", "text", "value", "measured", "unit", "count", "state", "feature"])
    by_id = {a.id: a for a in scene.document.annotations}
    for p in check.statements:
        a = by_id[p.id]
        main, count = p.main, p.part("count")
        unit = "deg" if main and main.name.endswith("angle") else str(scene.document.unit)
        table.writerow(
            [
                p.id,
                a.sheet,
                cell(a.view or ""),
                p.kind,
                cell(p.text),
                value_in(scene.document.unit, main),
                _measured(p, scene.document.unit),
                unit,
                count.stated if count else 1,
                p.state,
                cell(a.feature or ""),
            ]
        )
    return buffer.getvalue()


def sheet_files(draft: Draft, check: Check, lines: bool = False) -> dict[str, bytes]:
    """Every file of the draft command, by name."""
    drawing = compile_sheet(draft.scene)
    files = {
        "sheet.json": dump(sheet_json(draft.scene, drawing, check)).encode(),
        "sheet.pdf": write_pdf(drawing),
        "check.json": dump(check.as_json()).encode(),
        "dimensions.csv": write_csv(draft.scene, check).encode(),
    }
    for page in drawing.pages:
        files[f"sheet-{page.number}.svg"] = write_svg(page, drawing.title, drawing.views).encode()
    if lines:
        files["lines.json"] = json.dumps(lines_json(draft.scene), separators=(",", ":")).encode()
    return files
