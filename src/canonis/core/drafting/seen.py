"""Which view shows each feature true and visible, and which features no view shows."""

from collections import defaultdict
from weakref import WeakKeyDictionary

from canonis.core.features import Feature
from canonis.core.sheet import MUTE, Detail, Parallel, Pictorial, Scene, Section, SheetPage, View, shown
from canonis.core.view import Line, Projection

__all__ = ["feature_views", "lines_of", "spare_views", "unseen_features"]


def _faces(found: Feature) -> dict[str, tuple[int, ...]]:
    """The faces of every feature by its name; a hole's by its first member."""
    out: dict[str, tuple[int, ...]] = {}
    for group in found.holes:
        out[group.id] = group.first.faces
    for blend in found.blends:
        out[blend.id] = blend.faces
    for slot in found.slots:
        out[slot.id] = slot.faces
    for shaft in found.shafts:
        out[shaft.id] = shaft.faces
    for form in found.forms:
        out[form.id] = form.first.faces
    return out


def feature_views(scene: Scene, page: SheetPage, found: Feature) -> dict[str, tuple[str, ...]]:
    """For each feature, the views of its sheets in which one of its faces is seen true."""
    views = [
        v
        for v in scene.document.views
        if not isinstance(v, Pictorial)
        and next(p for p in scene.document.pages if p.number == v.sheet).solid == page.solid
    ]
    out = {}
    for name, faces in _faces(found).items():
        looks = ((v.id, shown(scene, v, f)) for v in views for f in faces)
        out[name] = tuple(dict.fromkeys(v for v, s in looks if s.true and s.visible))
    return out


def unseen_features(scene: Scene, page: SheetPage, found: Feature) -> list[str]:
    """Features that no view shows true and visible."""
    return [name for name, views in feature_views(scene, page, found).items() if not views]


def spare_views(scene: Scene, features: tuple[Feature, ...]) -> list[View]:
    """Views that could go: they alone show no feature, no statement stands in them, and no other view hangs on them."""
    document = scene.document
    stated = {a.view for a in document.annotations if not isinstance(a, MUTE)}
    parents = {v.parent for v in document.views if not isinstance(v, Parallel)}
    alone: set[str] = set()
    for page in document.pages:
        for views in feature_views(scene, page, features[page.solid]).values():
            alone |= set(views) if len(views) == 1 else set()
    return [
        v
        for v in document.views
        if not isinstance(v, Pictorial | Section | Detail)
        and v.kind != "front"
        and v.id not in stated | parents | alone
    ]


#: The visible lines of every projection by the faces that they border or outline.
_lines: WeakKeyDictionary[Projection, dict[int, list[Line]]] = WeakKeyDictionary()


def lines_of(scene: Scene, view: View, face: int) -> list[Line]:
    """The visible lines of a view that border, outline or cut a face of its solid."""
    seen = scene.projection(view)
    if seen not in _lines:
        solid = scene.solids[scene.solid_of(view.sheet)]
        table: dict[int, list[Line]] = defaultdict(list)
        for line in seen.visible:
            for f in {*line.faces, *(f for e in line.edges for f in solid.edges[e].faces)}:
                table[f].append(line)
        _lines[seen] = dict(table)
    return _lines[seen].get(face, [])
