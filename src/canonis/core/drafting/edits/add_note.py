"""Notes and datums added by hand: what somebody types, at a line or a centre of a view."""

import re

from canonis.core.drafting.commands import AddNote
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.letters import LETTERS, taken_letters
from canonis.core.drafting.pointing import face_at, with_exact_sizes
from canonis.core.faults import BadInput
from canonis.core.sheet import DatumMark, Leader, Pictorial, View, meaning
from canonis.core.solid import face_reference, parse

__all__ = ["add_note"]

_DATUM = re.compile(r"\s*datum(?:\s+([A-Za-z]))?\s*", re.I)


@does(AddNote)
def add_note(editor: Editor, command: AddNote) -> None:
    """A note with a leader to the faces that were picked, or with `DATUM A` the indicator of a datum on the first of them."""
    view = editor.view(command.view)
    if isinstance(view, Pictorial):
        raise BadInput("A pictorial view carries no notes; pick the line in another view.")
    text = command.text.strip()
    if not text:
        raise BadInput("Type what the note says.")
    for ref in command.refs:
        parse(ref)
    scene = editor.scene()
    faces = [face_at(scene, view, ref) for ref in command.refs]
    if None in faces:
        raise BadInput("What was picked is no longer there; pick again.")
    solid = editor.solids[scene.solid_of(view.sheet)]
    refs = tuple(dict.fromkeys(face_reference(solid.faces[f]) for f in faces if f is not None))
    datum = _DATUM.fullmatch(text)
    name = editor.new_id()
    if datum:
        _datum(editor, view, refs[0], (datum[1] or "").upper())
    else:
        unit = editor.document.unit
        editor.put(
            Leader(
                id=name,
                sheet=view.sheet,
                view=view.id,
                refs=refs,
                says=meaning(text, unit),
                unit=unit,
                notation=editor.document.notation,
                feature="added",
                target=refs[0],
            )
        )
        editor.document = with_exact_sizes(editor.document, editor.scene())
        editor.write_notes()
    editor.refresh(view.sheet, new=(name,))


def _datum(editor: Editor, view: View, ref: str, wished: str) -> None:
    taken = taken_letters(editor.document)
    if wished and (wished in taken or wished not in LETTERS):
        why = "could be taken for a figure" if wished not in LETTERS else "is on the sheet already"
        raise BadInput(f"The letter {wished} {why}; take another.")
    letter = wished or next((c for c in LETTERS if c not in taken), "")
    if not letter:
        raise BadInput("All letters for datums are taken.")
    numbers = [int(a.id[1:]) for a in editor.document.annotations if a.id[:1] == "M" and a.id[1:].isdigit()]
    mark = DatumMark(
        id=f"M{1 + max(numbers, default=0)}",
        sheet=view.sheet,
        view=view.id,
        refs=(ref,),
        letter=letter,
        feature="added",
    )
    editor.put(mark)
