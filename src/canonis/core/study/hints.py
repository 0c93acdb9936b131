"""What the recogniser found, handed to the proof as data."""

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import numpy as np

from canonis.core.features import Feature, Form, HoleGroup
from canonis.core.slips import taken
from canonis.core.solid import Found, Hints, Member
from canonis.core.solid.hints import Lump
from canonis.core.study.made import bore_of

__all__ = ["hints_of"]


def hints_of(found: Feature) -> Hints:
    """Hole axes by their labels, what each hole takes away, and every feature with its faces."""
    axes = {}
    lumps = []
    for group in found.holes:
        x, y, z = (float(c) for c in group.first.start)
        axes[group.id] = (x, y, z)
        words = f"{group.id} (⌀{group.first.diameter:.4g} mm"
        lumps.append(Lump(group.id, words, taken(bore_of(group.first))[0], len(group.holes)))
    return Hints(axes, tuple(lumps), tuple(_features(found)))


def _triple(v: Any) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in v)
    return x, y, z


def _plain(data: Mapping[str, Any]) -> tuple[dict[str, float], dict[str, str]]:
    """Sizes and words of a feature's entry, by the names that a line of the source uses."""
    sizes: dict[str, float] = {}
    words: dict[str, str] = {}
    for key, value in data.items():
        name = key.removesuffix("_mm").removesuffix("_deg").replace("_", "-")
        if isinstance(value, bool):
            words[name] = "yes" if value else ""
        elif isinstance(value, int | float):
            sizes[name] = float(value)
        elif isinstance(value, str):
            words[name] = value
        elif key == "pitch_mm" and isinstance(value, list):
            sizes |= {"pitch": float(value[0]), "pitch-b": float(value[1])}
    return sizes, words


def _hole(group: HoleGroup) -> Found:
    members = tuple(Member(_triple(h.start), _triple(h.axis), h.faces, h.main_faces) for h in group.holes)
    sizes: dict[str, float] = {"length": group.first.length}
    words: dict[str, str] = {}
    if group.pattern is not None:
        words["pattern"] = group.pattern.kind
        more, _ = _plain({k: v for k, v in group.pattern.data.items() if k not in ("count", "missing")})
        sizes |= {"pitch-circle" if k == "diameter" else k: v for k, v in more.items()}
    return Found(group.id, "hole", members, sizes, words)


def _form(form: Form) -> Found:
    sizes, words = _plain(form.first.data)
    members = tuple(Member(_triple(p.place), _triple(p.axis), p.faces) for p in form.pieces)
    if form.pattern is not None:
        words["pattern"] = form.pattern.kind
    return Found(form.id, form.kind, members, sizes, words)


def _inner_grooves(group: HoleGroup) -> Iterator[Found]:
    """The grooves inside equal bores, each sort a feature of its own."""
    for k, ((width, depth, diameter), places) in enumerate(group.inner_grooves):
        members = tuple(Member(_triple(h.start), _triple(h.axis), faces) for h, faces in places)
        sizes = {"width": width, "depth": depth, "diameter": diameter}
        yield Found(f"{group.id} groove" + (f" {k + 1}" if k else ""), "groove", members, sizes, {"on": "bore"})


def _features(found: Feature) -> Iterator[Found]:
    for group in found.holes:
        yield _hole(group)
        yield from _inner_grooves(group)
    for slot in found.slots:
        sizes = {"width": slot.width, "centres": slot.centres, "length": slot.centres + slot.width}
        if slot.depth is not None:
            sizes["depth"] = slot.depth
        middle = (slot.ends[0] + slot.ends[1]) / 2
        member = Member(_triple(middle), _triple(slot.axis), slot.faces, slot.end_faces)
        yield Found(slot.id, "slot", (member,), sizes, {"through": "yes" if slot.through else ""})
    for blend in found.blends:
        sizes = (
            {"radius": blend.size}
            if blend.kind == "fillet"
            else {"leg": blend.size, "leg-b": blend.size_b, "angle": blend.angle}
        )
        yield Found(blend.id, blend.kind, _faces_alone(blend.faces), sizes, {"convex": "yes" if blend.convex else ""})
    for shaft in found.shafts:
        member = Member(_triple((shaft.base + shaft.top) / 2), _triple(shaft.axis), shaft.faces)
        kind = "boss" if shaft.boss else "shaft"
        yield Found(shaft.id, kind, (member,), {"diameter": shaft.diameter, "height": shaft.height})
    for form in found.forms:
        yield _form(form)


def _faces_alone(faces: Iterable[int]) -> tuple[Member, ...]:
    nowhere = _triple(np.zeros(3))
    return tuple(Member(nowhere, nowhere, (f,)) for f in faces)
