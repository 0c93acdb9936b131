"""What a kernel child can be asked to do. Runs inside the child; arguments and results are plain data."""

import json
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from typing import Any, Protocol

from canonis.core.drafting import Draft, DraftWish, Projections, Said, Scheme, linked_fields, with_views
from canonis.core.faults import BadInput
from canonis.core.features import Feature, measure_model, recognise
from canonis.core.house import House
from canonis.core.output import document_of, sheet_files
from canonis.core.proof import Known, MatchMemory, check_sheet, source_solid
from canonis.core.quantity import Unit
from canonis.core.recipe import build_recipe
from canonis.core.sheet import Scene, TitleBlock
from canonis.core.solid import (
    DEFAULT_LIMIT,
    Hints,
    Model,
    attach_shapes,
    density_of,
    pack_shapes,
    pack_tables,
    read_model,
    unpack_tables,
    write_step,
)
from canonis.core.source import Specification, read_specification, source_notes
from canonis.core.study import checkpoint_entries, draft_proven, hints_of, scheme_of

__all__ = ["JOBS", "Loaded", "Progress", "drafted", "load", "open_model"]


class Progress(Protocol):
    """Who asked for a job: told its stages; a caller with a shelf has files and packets for it (see `kernel.Shelf`)."""

    def __call__(self, stage: str, /) -> None:
        """Tell the stage that begins."""


class Loaded:
    """A model with its features and the projections made so far, as a child keeps it at hand."""

    def __init__(self, model: Model) -> None:
        self.model = model
        self.features: tuple[Feature, ...] = tuple(recognise(s) for s in model.solids)
        self.projections: Projections = {}
        self.kept = -1
        self._known: Known | None = None
        #: Matches with sources.
        self.matches = MatchMemory()
        self._fetched = False

    @property
    def hints(self) -> tuple[Hints, ...]:
        """What the recogniser found, as data for the proof."""
        return tuple(hints_of(f) for f in self.features)

    def __getstate__(self) -> dict[str, Any]:
        return {**self.__dict__, "_known": None, "matches": MatchMemory(), "_fetched": False}

    def known(self, progress: Any) -> Known:
        """Proofs of statements on this model, those on the caller's shelf too."""
        if self._known is None:
            packet = progress.fetch("proofs", self.model.sha256)
            self._known = {} if packet is None else unpack_tables(packet)
        return self._known

    def known_matches(self, progress: Any) -> MatchMemory:
        """Matches of this model with sources, those on the caller's shelf too."""
        if not self._fetched:
            self._fetched = True
            packet = progress.fetch("matches", self.model.sha256)
            if packet is not None:
                self.matches.unpacked(unpack_tables(packet))
        return self.matches

    def keep_matches(self, progress: Any, before: int) -> None:
        """Put the matches on the shelf when one was made since there were `before`."""
        if self.matches.count > before:
            progress.keep("matches", self.model.sha256, pack_tables(self.matches.packed()))

    def keep_known(self, progress: Any, before: int) -> None:
        """Put the proofs on the shelf when there are more than `before`."""
        if self._known is not None and len(self._known) > before:
            while len(self._known) > _MOST_KNOWN:
                del self._known[next(iter(self._known))]
            progress.keep("proofs", self.model.sha256, pack_tables(self._known))

    def keep(self, progress: Any) -> None:
        """Put what was computed on the caller's shelf, when there is more than stands there."""
        if self.kept < len(self.projections):
            self.kept = len(self.projections)
            progress.keep("tables", self.model.sha256, pack_tables(self))


_AT_HAND: OrderedDict[str, Loaded] = OrderedDict()
#: Models and faces that a child keeps at hand.
_MOST_MODELS, _MOST_FACES = 32, 60_000
#: Proofs kept of one model, those of its older sheets among them.
_MOST_KNOWN = 5000


def _remember(loaded: Loaded) -> Loaded:
    _AT_HAND[loaded.model.sha256] = loaded
    _AT_HAND.move_to_end(loaded.model.sha256)
    while len(_AT_HAND) > 1 and (len(_AT_HAND) > _MOST_MODELS or _faces() > _MOST_FACES):
        _AT_HAND.popitem(last=False)
    return loaded


def _faces() -> int:
    return sum(len(s.faces) for one in _AT_HAND.values() for s in one.model.solids)


def load(data: bytes, name: str, progress: Progress, limit: int = DEFAULT_LIMIT) -> Loaded:
    """The model of a file that is given whole."""
    return Loaded(read_model(data, name, limit=limit, progress=progress))


def open_model(model: dict[str, Any], progress: Any) -> Loaded:
    """A model by its hash: at hand, from the packets on the caller's shelf, or from its file there.

    Raises BadInput when the file cannot be read, RuntimeError when the shelf has none or another one.
    """
    sha = str(model["sha256"])
    if sha in _AT_HAND:
        return _remember(_AT_HAND[sha])

    def shapes() -> bytes:
        packet = progress.fetch("shapes", sha)
        return packet if packet is not None else pack_shapes(_read(model, progress).model)

    packet = progress.fetch("tables", sha)
    if packet is not None:
        loaded: Loaded = unpack_tables(packet)
        attach_shapes(loaded.model, shapes)
    else:
        loaded = _read(model, progress)
        progress.keep("shapes", sha, pack_shapes(loaded.model))
        loaded.keep(progress)
    if loaded.model.sha256 != sha:
        raise RuntimeError(f"asked for model {sha[:12]}, got {loaded.model.sha256[:12]}")
    return _remember(loaded)


def _read(model: dict[str, Any], progress: Any) -> Loaded:
    data = progress.fetch("step", model["sha256"])
    if data is None:
        raise RuntimeError(f"the file of model {model['sha256'][:12]} is not in the store")
    return load(data, model["name"], progress)


def density_from(material: str | None, density: float | None, spec: Specification | None) -> float | None:
    """Density in g/cm³: the one given, else the material's, else the specification's."""
    if density is not None:
        if not 0 < density < 100:
            raise BadInput("The density must be a number of g/cm³ between 0 and 100.")
        return density
    if material:
        return density_of(material)
    if spec is None:
        return None
    if spec.density is not None:
        return spec.density
    named = spec.header.get("material")
    try:
        return density_of(str(named)) if named else None
    except BadInput:
        return None


def _frame(text: str | None) -> tuple[Any, Any, Any] | None:
    if not text:
        return None
    try:
        rows = [[float(x) for x in part.split(",")] for part in text.split(";")]
    except ValueError:
        rows = []
    rows += [[1.0, 0, 0], [0, 1.0, 0]][len(rows) - 1 :] if len(rows) in (1, 2) else []
    if len(rows) != 3 or any(len(r) != 3 for r in rows):
        raise BadInput("The frame must be ORIGIN;XDIR;YDIR, each of three numbers with commas.")
    x, y = rows[1], rows[2]
    cross = (x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0])
    if sum(c * c for c in cross) < 1e-12:
        raise BadInput("The frame's two directions must not be parallel.")
    return rows[0], x, y


def measure(
    progress: Progress,
    *,
    data: bytes,
    name: str,
    material: str | None = None,
    density: float | None = None,
    frame: str | None = None,
    limit: int = DEFAULT_LIMIT,
) -> dict[str, Any]:
    """The JSON of `canonis measure`."""
    wanted = density_from(material, density, None)
    where = _frame(frame)
    return measure_model(load(data, name, progress, limit).model, wanted, where)


def wish_from(options: dict[str, Any], spec: Specification | None, density: float | None) -> DraftWish:
    """Draft options as a wish; the specification's header fills the title block."""
    header = spec.header if spec else {}
    title = TitleBlock(
        owner=str(header.get("owner", "")),
        number=str(header.get("number", "")),
        title=str(options.get("title") or header.get("title", "")),
        material=str(options.get("material") or header.get("material", "")),
        general=str(header.get("general", "")),
        created_by=str(options.get("author") or "Drafter"),
        linked=tuple(linked_fields(spec)["linked"]) if spec else (),
    )
    house = spec.rules.house if spec else House()
    projection = options.get("projection") or house.projection
    unit = options.get("unit") or (str(spec.rules.unit) if spec and "unit" in header else None)
    return DraftWish(
        style=options.get("style") or str(header.get("style", "") or "iso"),
        projection=projection if projection in ("first", "third") else None,
        unit=Unit(unit) if unit else None,
        size=options.get("size") or "auto",
        scale=options.get("scale") or "auto",
        views=options.get("views") or "auto",
        front=options.get("front"),
        datum=options.get("datum") or str(house.datum),
        house=house,
        density=density,
        title=title,
        notes=source_notes(spec) if spec else (),
        helices=bool(options.get("helices")),
    )


def scheme_from(
    spec: Specification | None, loaded: Loaded, progress: Progress, links: Mapping[str, str | None] | None = None
) -> Scheme | None:
    """What tells a draft the source's own scheme; None without a source. `links` are places that persons chose."""
    if spec is None or not spec.characteristics:
        return None

    def told(scene: Scene, found: tuple[Feature, ...]) -> list[Said]:
        # A part that lies askew in its file is matched as it is drawn, square.
        own = found is loaded.features
        hints = loaded.hints if own else tuple(hints_of(f) for f in found)
        return scheme_of(spec, scene, hints, loaded.matches if own else None, progress, links)

    return told


def drafted(
    loaded: Loaded,
    wish: DraftWish,
    spec: Specification | None,
    progress: Progress,
    known: Known | None = None,
    links: Mapping[str, str | None] | None = None,
) -> Draft:
    """A complete drawing of a model, in the words of its source, that its own proof bears out."""
    scheme = scheme_from(spec, loaded, progress, links)
    return draft_proven(loaded.model, wish, progress, loaded.features, scheme, known)


def draft(
    progress: Progress,
    *,
    data: bytes,
    name: str,
    options: dict[str, Any],
    spec: str | None = None,
    lines: bool = False,
    limit: int = DEFAULT_LIMIT,
) -> dict[str, bytes]:
    """The files of `canonis draft`."""
    read = read_specification(spec) if spec else None
    density = density_from(options.get("material"), options.get("density"), read)
    wish = wish_from(options, read, density)
    loaded = load(data, name, progress, limit)
    made = drafted(loaded, wish, read, progress)
    asked = tuple(options.get("sections") or ()), tuple(options.get("details") or ())
    if any(asked):
        made = with_views(made, *asked)
    progress("Proving every statement")
    check = check_sheet(
        made.document,
        loaded.model.solids,
        read,
        density=density,
        hints=loaded.hints,
        memory=loaded.matches,
        progress=progress,
    )
    return sheet_files(made, check, lines)


def check(
    progress: Progress,
    *,
    sheet: str,
    data: bytes,
    name: str,
    spec: str | None = None,
    states: Sequence[tuple[str, str, bytes]] = (),
    limit: int = DEFAULT_LIMIT,
) -> dict[str, Any]:
    """The JSON of `canonis check`; `states` are (step, file name, file) for the source's checkpoints."""
    try:
        raw = json.loads(sheet)
    except (ValueError, RecursionError):
        raise BadInput("The sheet is not JSON; give the sheet.json that the draft command wrote.") from None
    document = document_of(raw)
    read = read_specification(spec) if spec else None
    loaded = load(data, name, progress, limit)
    if any(p.solid >= len(loaded.model.solids) for p in document.pages):
        raise BadInput("The model has fewer solids than the sheet shows; give the model the sheet was made from.")
    progress("Proving every statement")
    density = density_from(None, None, read)
    out = check_sheet(
        document,
        loaded.model.solids,
        read,
        density=density,
        hints=loaded.hints,
        memory=loaded.matches,
        progress=progress,
    ).as_json()
    if read is not None:
        given = [(step, load(file, label, progress, limit)) for step, label, file in states]
        kept = [(step, made.model.solids, made.features) for step, made in given]
        of = source_solid(read, loaded.model.solids)
        page = document.pages[0].solid if of is None else of
        out["checkpoints"] = checkpoint_entries(
            read.weighed, kept, loaded.model.solids[page], loaded.features[page], density
        )
    elif states:
        raise BadInput("States are compared with the checkpoints of a source; give one with --spec.")
    return out


def build(progress: Progress, *, recipe: str, spec: str | None = None, each: bool = False) -> dict[str, Any]:
    """The ledger of `canonis build` and the STEP text of the result and, when asked, of every stage."""
    try:
        raw = json.loads(recipe)
    except (ValueError, RecursionError) as fault:
        raise BadInput(f"The recipe is not JSON: line {getattr(fault, 'lineno', 1)} cannot be read.") from None
    values: dict[str, float] = {}
    if spec:
        unit = Unit(raw.get("unit", "mm")) if isinstance(raw, dict) and raw.get("unit") in ("mm", "in") else Unit.MM
        values = read_specification(spec).values(unit)
    progress("Building")
    built = build_recipe(raw, values, each)
    return {
        "ledger": {"schema": "canonis.ledger/1", "steps": built.ledger},
        "step": write_step(built.shape, built.name, built.unit),
        "stages": [(n, write_step(s, n, built.unit)) for n, s in built.stages],
    }


JOBS: dict[str, Callable[..., Any]] = {"measure": measure, "draft": draft, "check": check, "build": build}
