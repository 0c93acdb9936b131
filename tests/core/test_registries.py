"""Nothing but the registries has a list of kinds: a kind is entered where it is made, read, found, stated and measured."""

import ast
from pathlib import Path

import pytest

from canonis.core.callout.callout import enter, kind_of, kinds
from canonis.core.drafting import revise as revise
from canonis.core.drafting.edit import Edit
from canonis.core.drafting.edits.registry import DOES, does
from canonis.core.drafting.kinds import of_faces, of_features
from canonis.core.features.registry import finders
from canonis.core.proof.known import is_known, meant_by, measures_of, thing_of
from canonis.core.proof.registry import Meant, meant, measures, thing

CORE = Path(__file__).parents[2] / "src" / "canonis" / "core"
#: Folders that are handed kinds and must not know them by name; what an earlier form of the document called things is history.
HELD = ("sheet", "layout", "proof", "drafting", "features", "study", "output")
FREE = ("sheet/upgrade.py", "proof/kinds/")
FEATURES = {
    "arc-slot", "bend", "boss", "chamfer", "cylinder", "draft", "fillet", "groove", "hole", "keyway", "lug", "pocket", "rib", "shaft", "slot",
    "sphere", "spline", "taper", "thread", "wall",
}  # fmt: skip
KINDS = FEATURES | {k.name for k in kinds()} | {k.noted for k in kinds()} | {"note"}
#: Names of parts that are names of kinds as well.
PARTS = {p for k in kinds() for p in k.parts}


def words(node):
    """The strings of a literal tuple, list, set, frozenset or of the keys of a dict, where it holds nothing else."""
    if (
        isinstance(node, ast.Call)
        and isinstance(node.func, ast.Name)
        and node.func.id in ("frozenset", "set", "tuple")
        and node.args
    ):
        return words(node.args[0])
    items = (
        node.elts
        if isinstance(node, ast.Tuple | ast.List | ast.Set)
        else node.keys
        if isinstance(node, ast.Dict)
        else []
    )
    found = [x.value for x in items if isinstance(x, ast.Constant) and isinstance(x.value, str)]
    return set(found) if len(found) == len(items) and len(found) > 1 else set()


def lists_of_kinds(tree):
    """The lines at which a kind is looked for in a literal list, or a module keeps such a list."""
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.Compare)
            and isinstance(node.left, ast.Attribute)
            and node.left.attr in ("kind", "states")
        ):
            yield from (node.lineno for c in node.comparators if (said := words(c)) and said <= KINDS)
    for node in tree.body:
        if isinstance(node, ast.Assign | ast.AnnAssign) and node.value is not None:
            said = words(node.value)
            if said and said <= KINDS and said - PARTS:
                yield node.lineno


def test_no_list_of_kinds_stands_outside_the_registries():
    found = []
    for folder in HELD:
        for path in sorted((CORE / folder).rglob("*.py")):
            name = path.relative_to(CORE).as_posix()
            if not name.startswith(FREE):
                found += [f"{name}:{line}" for line in lists_of_kinds(ast.parse(path.read_text()))]
    assert found == []


def test_the_search_for_lists_finds_them():
    text = 'KEPT = ("groove", "keyway", "slot")\ndef f(x):\n    return x.kind in ("hole", "thread") or x.name in ("hole", "thread")\n'
    assert sorted(lists_of_kinds(ast.parse(text))) == [1, 3]


def test_every_kind_that_a_sheet_states_is_measured_and_every_feature_is_known():
    # What says where a seat or a keyway is has no note of its own: seats stand in hole notes, keyways are dimensioned.
    unmeasured = {k.name for k in kinds() if measures_of(k.name) is None and not k.of_the_part}
    assert unmeasured == {"length", "seat", "keyway"}
    assert all(is_known(name) for name in FEATURES)
    assert len(of_features()) == len(set(of_features())) and len(of_faces()) == len(set(of_faces()))
    assert len(finders()) == len(set(finders()))


def test_every_edit_of_a_sheet_is_carried_out_by_a_function_of_its_own_and_tells_what_it_did():
    def leaves(edit):
        return [x for sub in edit.__subclasses__() for x in leaves(sub)] or [edit]

    edits = leaves(Edit)
    assert len(edits) == 22 and set(edits) == set(DOES)
    with pytest.raises(ValueError, match="two functions"):
        does(edits[0])(lambda *_: None)
    assert all(e.told.fget is not Edit.told.fget for e in edits)


def test_a_kind_is_entered_once_and_an_unknown_one_means_nothing():
    with pytest.raises(ValueError, match="two kinds"):
        enter(kind_of("hole"))
    with pytest.raises(ValueError, match="twice"):
        meant("hole")
    with pytest.raises(ValueError, match="twice"):
        thing("hole")
    with pytest.raises(ValueError, match="two functions"):
        measures("hole")(lambda *_: [])
    assert (
        meant_by("wobble") == Meant("wobble", places="") and thing_of("wobble").plain == () and not is_known("wobble")
    )
