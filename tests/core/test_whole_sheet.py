"""What a sheet states once for all: title block, notes, projection, scales, datums; and findings as causes and consequences."""

import math

import pytest

from canonis.core.drafting.notes import link_title
from canonis.core.faults import BadInput
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.document import Note, Ordinate
from canonis.core.sheet.wording import worded
from canonis.core.source.specification import read_specification
from canonis.core.study.checkpoints import checkpoint_entries
from canonis.core.study.hints import hints_of
from tests.conftest import block, draft_of, model_of, recipe

PLATE = recipe(
    block(90, 60, 10),
    {
        "op": "hole",
        "at": [[10, 10, 10], [80, 10, 10], [10, 50, 10], [80, 50, 10]],
        "axis": [0, 0, 1],
        "diameter": 6,
        "through": True,
    },
    {"op": "hole", "at": [[45, 30, 10]], "axis": [0, 0, 1], "diameter": 14, "through": True},
)
SPEC = (
    "number: WB-1209\ntitle: Pillar plate\nunit: mm\nmaterial: brass\ngeneral: ISO 2768-m\ndefault: edges 0.2\n"
    "[characteristics]\n1 | | 90\n"
)
SOLID = model_of(PLATE).solids[0]


@pytest.fixture(scope="module")
def linked():
    spec = read_specification(SPEC)
    document = link_title(draft_of(PLATE).document, spec, [SOLID.mass.volume * 8.5 / 1000])
    return document, spec


def rules(document, spec=None):
    # The sources here say little of the part on purpose.
    found = {f.rule for f in check_sheet(document, (SOLID,), spec, density=8.5).findings}
    return found - {"source.insufficient", "source.unexplained"}


def test_a_linked_sheet_is_clean(linked):
    assert rules(*linked) == set()


@pytest.mark.parametrize(
    ("field", "value", "rule"),
    [
        ("mass", "999.9 g", "title.mass"),
        ("material", "steel", "title.material"),
        ("general", "ISO 2768-c", "title.general"),
        ("number", "WB-1290", "title.number"),
        ("title", "Plate", "title.title"),
    ],
)
def test_typed_text_that_should_be_linked_is_found(linked, field, value, rule):
    document, spec = linked
    changed = document.model_copy(update={"title": document.title.model_copy(update={field: value})})
    assert rule in rules(changed, spec)


def test_a_material_that_the_list_does_not_know_is_said(linked):
    document, _ = linked
    named = document.model_copy(update={"title": document.title.model_copy(update={"material": "bell bronze X"})})
    found = {f.rule: f for f in check_sheet(named, (SOLID,), None, density=None).findings}
    assert "“bell bronze X” is not in the list" in found["material.unknown"].message
    # Whoever gives a density needs no list; a known material needs no density.
    assert "material.unknown" not in {f.rule for f in check_sheet(named, (SOLID,), None, density=8.8).findings}
    assert "material.unknown" not in {f.rule for f in check_sheet(document, (SOLID,), None, density=None).findings}


def test_notes_that_lost_a_line_or_name_another_unit_are_found(linked):
    document, spec = linked
    note = next(a for a in document.annotations if isinstance(a, Note) and not a.refs)

    def with_text(text):
        marks = tuple(worded(a, text) if a.id == note.id else a for a in document.annotations)
        return document.model_copy(update={"annotations": marks})

    assert rules(with_text(note.text.replace("MILLIMETRES", "INCHES")), spec) == {"note.unit"}
    assert rules(with_text(note.text.replace("edges 0.2", "")), spec) == {"note.missing"}


def test_views_that_stand_for_the_other_projection_are_found(linked):
    document, spec = linked
    flipped = document.model_copy(update={"projection": "third"})
    assert rules(flipped, spec) == {"projection.place"}
    side = next(v for v in document.views if v.kind == "left")
    swapped = tuple(v.model_copy(update={"kind": "right"}) if v.id == side.id else v for v in document.views)
    assert "projection.place" in rules(document.model_copy(update={"views": swapped}), spec)


def turned_block(angle):
    c, s = math.cos(angle), math.sin(angle)
    corners = [[0, 0], [80 * c, 80 * s], [80 * c - 50 * s, 80 * s + 50 * c], [-50 * s, 50 * c]]
    return recipe({"op": "extrude", "profile": {"plane": "XY", "outer": {"polygon": corners}}, "distance": 12})


def test_a_block_that_lies_turned_in_its_file_is_drawn_square():
    draft = draft_of(turned_block(0.3))
    check = check_sheet(draft.document, model_of(turned_block(0.3)).solids)
    assert check.complete["ok"] and {s.state for s in check.statements} == {"proven"} and not check.findings
    assert sorted(a.text for a in draft.document.annotations if a.feature == "overall") == ["12", "50", "80"]
    # Its outline is drawn as a rectangle: the two side lines of the front view run up and across.
    front = next(v for v in draft.document.views if v.kind == "front")
    x0, y0, x1, y1 = draft.scene.projection(front).box
    assert {round(x1 - x0, 6), round(y1 - y0, 6)} <= {80.0, 50.0, 12.0}


def test_views_along_the_axes_of_the_file_of_a_part_that_lies_turned_are_found():
    check = check_sheet(draft_of(turned_block(0.0)).document, model_of(turned_block(0.3)).solids)
    assert "view.askew" in {f.rule for f in check.findings}


def test_a_view_at_twice_the_scale_is_found(linked):
    document, spec = linked
    views = tuple(v.model_copy(update={"scale": 2 * v.scale}) if v.kind == "top" else v for v in document.views)
    assert rules(document.model_copy(update={"views": views}), spec) == {"scale.view"}


def test_two_datums_in_one_family_are_found(linked):
    document, spec = linked
    family = [
        a for a in document.annotations if isinstance(a, Ordinate) and a.direction == "x" and a.refs[0] != a.refs[1]
    ]
    a, b = family[0], family[-1]
    gap = f"{abs(float(a.text) - float(b.text)):g}"
    other = worded(b, gap).model_copy(update={"refs": (a.refs[1], b.refs[1])})
    marks = tuple(other if m.id == b.id else m for m in document.annotations)
    assert rules(document.model_copy(update={"annotations": marks}), spec) == {"datum.two"}


def test_one_face_that_moved_is_one_finding_with_its_consequences():
    moved = recipe(
        block(90, 60, 10),
        {
            "op": "hole",
            "at": [[12, 10, 10], [82, 10, 10], [12, 50, 10], [82, 50, 10]],
            "axis": [0, 0, 1],
            "diameter": 6,
            "through": True,
        },
        {"op": "hole", "at": [[47, 30, 10]], "axis": [0, 0, 1], "diameter": 14, "through": True},
    )
    # All holes 2 along x: the same as the left face 2 the other way.
    check = check_sheet(draft_of(PLATE).document, model_of(moved).solids)
    top = [f for f in check.findings if not f.under and f.severity == "error"]
    assert [f.rule for f in top] == ["geometry.shift"] and "differ by 2" in top[0].message
    ids = {f.id for f in check.findings}
    assert len(ids) == len(check.findings)
    under = [f for f in check.findings if f.under]
    assert under and all(f.under in ids for f in under)


def test_one_hole_missing_is_one_finding():
    three = recipe(block(90, 60, 10), {**PLATE["steps"][1], "at": PLATE["steps"][1]["at"][:3]}, PLATE["steps"][2])
    check = check_sheet(draft_of(PLATE).document, model_of(three).solids)
    top = [f for f in check.findings if not f.under and f.severity != "advice"]
    assert [f.rule for f in top] == ["count.model"]


SEATED = {**PLATE["steps"][1], "counterbore": {"diameter": 11, "depth": 3}}


@pytest.mark.parametrize("depth", [0.5, 3.0, 6.5])
def test_a_seated_hole_that_became_blind_is_one_finding_with_its_floors_and_seats(depth):
    through = recipe(block(90, 60, 10), SEATED)
    blind = {k: v for k, v in SEATED.items() if k != "through"} | {"depth": depth + 3, "point": 0}
    check = check_sheet(draft_of(through).document, model_of(recipe(block(90, 60, 10), blind)).solids)
    top = [f for f in check.findings if not f.under and f.severity != "advice"]
    assert [(f.rule, f.part) for f in top] == [("value.model", "through")]


def test_what_the_source_says_of_a_ring_is_told_under_what_the_sheet_says_of_it():
    def ring(radius):
        return recipe(
            block(90, 60, 10),
            {"op": "hole", "at": [[45 + radius, 30, 10]], "axis": [0, 0, 1], "diameter": 5, "through": True},
            {
                "op": "ring",
                "axis": {"point": [45, 30, 0], "direction": [0, 0, 1]},
                "steps": ["s1"],
                "count": 6,
                "angle": 360,
            },
        )

    lines = (
        "[characteristics]\n1 | | 6x ⌀5 THRU EQ SP ON ⌀36 PCD\n[checkpoints]\nfinished | 443.5 g | 45.0, 30.0, 6.0\n"
    )
    spec = read_specification("density: 8.5\n" + lines)
    solids = model_of(ring(19)).solids
    hints = tuple(hints_of(recognise(s)) for s in solids)
    check = check_sheet(draft_of(ring(18)).document, solids, spec, density=8.5, hints=hints)
    top = [f.id for f in check.findings if not f.under and f.severity == "error"]
    assert [t.split(":")[0] for t in top] == ["value.model", "mass.source"], top
    by_id = {f.id: f for f in check.findings}
    assert by_id["value.source:#1:pitch-circle"].under == top[0]
    assert by_id["centre.source:centre"].under == top[1]


STAGES = "density: 8.5\n[checkpoints]\nblank | 459.0 g\nfinished | 436.3 g | 45.0, 30.0, 5.0\n"


def entries(*states, model=PLATE):
    solid = model_of(model).solids[0]
    given = [(n, [model_of(p).solids[0]], [recognise(model_of(p).solids[0])]) for n, p in states]
    return checkpoint_entries(read_specification(STAGES).checkpoints, given, solid, recognise(solid), 8.5)


def test_checkpoints_are_compared_with_the_states_of_their_steps():
    volume = 90 * 60 * 10 - 4 * 3.141592653589793 * 90 - 3.141592653589793 * 490
    blank, finished = entries(("Blank", recipe(block(90, 60, 10))))
    assert blank["state"] == "proven" and blank["mass_g"] == pytest.approx(459.0)
    assert finished["volume_mm3"] == pytest.approx(volume) and finished["state"] == "proven"
    waiting, _ = entries()
    assert waiting["state"] == "no-state"
    wrong, _ = entries(("blank", recipe(block(90, 60, 11))))
    assert wrong["state"] == "differs" and "mass" in wrong["differs"]


def test_a_state_of_an_unknown_step_is_refused_by_name():
    with pytest.raises(BadInput, match="no checkpoint “milled”; it has “blank”, “finished”"):
        entries(("milled", PLATE))
