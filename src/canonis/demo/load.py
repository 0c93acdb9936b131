"""Loading the demo: people by role, one drawing set, three jobs, their models and one flawed model to find out."""

import copy
import hashlib
import json
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from canonis.core.source import from_specification, read_specification
from canonis.core.study import Station
from canonis.settings import settings
from canonis.store.database import open_session
from canonis.store.people import add_user
from canonis.store.tables import DrawingSet, Job, Model, State
from canonis.store.workspaces import first_workspace
from canonis.work.kernel import KernelChild
from canonis.work.study_tasks import put_blob

__all__ = ["ACCOUNTS", "demo_files", "flawed_recipe", "load_demo"]

#: Invented people, only as roles.
ACCOUNTS = (
    ("drafter", "quill-and-scale", "drafter"), ("checker", "red-pencil", "checker"), ("viewer", "looking-glass", "viewer"),
    ("administrator", "key-cabinet", "administrator"),
)  # fmt: skip
_PARTS = Path(__file__).parent / "parts"
_SHARED = {
    "general_mm": "ISO 2768-m", "general_inch": ".X ±.03  .XX ±.01  .XXX ±.005  .XXXX ±.002", "notes": "break edges 0.3",
    "owner": "Wharf Bell Clockworks",
}  # fmt: skip


#: Parts whose states stand in the ledger of their job.
_LEDGERS = ("strike-drum",)


def flawed_recipe(recipe: dict[str, Any]) -> dict[str, Any]:
    """The escapement cock with four slips: ring on the wrong radius, one screw hole missing, counterbores too
    shallow, and so the wrong mass."""
    bad = copy.deepcopy(recipe)
    for step in bad["steps"]:
        if step["name"] == "screw holes":
            step["at"] = step["at"][:3]
            step["counterbore"]["depth"] = 5.5
        if step["name"] == "ring hole":
            step["at"] = [[58.5, 30, 52]]
    return bad


def flawed_drum(recipe: dict[str, Any]) -> dict[str, Any]:
    """The strike-train drum with one pin hole of its ring missing."""
    bad = copy.deepcopy(recipe)
    next(s for s in bad["steps"] if s["name"] == "pin ring")["skip"] = [4, 6]
    return bad


def demo_files(folder: Path) -> dict[str, Path]:
    """The demo's STEP files, built from their recipes into `folder` unless they stand there already."""
    folder.mkdir(parents=True, exist_ok=True)
    recipes: dict[str, Any] = {p.stem: json.loads(p.read_text()) for p in sorted(_PARTS.glob("*.json"))}
    recipes["escapement-cock-flawed"] = flawed_recipe(recipes["escapement-cock"])
    recipes["strike-drum-flawed"] = flawed_drum(recipes["strike-drum"])
    specs = {p.stem: p.read_text() for p in _PARTS.glob("*.spec")}
    out = {name: folder / f"{name}.step" for name in recipes}
    stamp = hashlib.sha256(json.dumps([recipes, specs], sort_keys=True).encode()).hexdigest()
    mark = folder / "made-from"
    if mark.exists() and mark.read_text() == stamp and all(p.exists() for p in out.values()):
        return out
    child = KernelChild()
    try:
        for name, recipe in recipes.items():
            spec = specs.get(name.removesuffix("-flawed"))
            built = child.run("build", {"recipe": json.dumps(recipe), "spec": spec, "each": name in _LEDGERS})
            out[name].write_bytes(built["step"])
            for k, (_, data) in enumerate(built["stages"], start=1):
                (folder / f"{name}-state-{k}.step").write_bytes(data)
        mark.write_text(stamp)
    finally:
        child.stop()
    return out


def load_demo() -> None:
    """Load what is missing; run again, it changes nothing that people have edited."""
    from canonis.web.arrivals import defer, start_task
    from canonis.web.solid import result_key
    from canonis.work.home import home

    for name, password, role in ACCOUNTS:
        add_user(name, password, role)
    files = demo_files(settings().demo_files or home() / "demo" / "files")
    with open_session() as session:
        shared = session.scalar(select(DrawingSet).where(DrawingSet.name == "Wharf Bell Clockworks"))
        if shared is None:
            shared = DrawingSet(name="Wharf Bell Clockworks", shared=_SHARED, workspace_id=first_workspace().id)
            session.add(shared)
            session.commit()
        for stem in ("escapement-cock", "strike-drum", "valve-block"):
            text = (_PARTS / f"{stem}.spec").read_text()
            number = str(read_specification(text).header["number"])
            if session.scalar(select(Job.id).where(Job.number == number)) is not None:
                continue
            source = from_specification(text)
            # What the set gives is not said again by the job.
            source["head"].pop("general", None)
            head = source["head"]
            job = Job(
                workspace_id=shared.workspace_id,
                set_id=shared.id,
                number=number,
                title=head["title"],
                unit=head["unit"],
                style=head["style"],
                source=source,
                links={},
                source_version=1,
            )
            session.add(job)
            session.flush()
            if stem in _LEDGERS:
                _states(session, job, stem, files[stem].parent)
            model = Model(
                job_id=job.id,
                sha256=put_blob(session, files[stem].read_bytes()),
                name=files[stem].name,
                state="waiting",
                error="",
            )
            session.add(model)
            session.flush()
            defer(session, job, model, "drafter")
            if stem in _LEDGERS:
                start_task(session, job, "ledger", {"key": result_key(session, job, "ledger")})


def _states(session: Session, job: Job, stem: str, folder: Path) -> None:
    """The recipe of a job and the states it makes, as if somebody had written it."""
    recipe = json.loads((_PARTS / f"{stem}.json").read_text())
    job.station = Station(recipe=recipe).model_dump(mode="json")
    for k, step in enumerate(recipe["steps"], start=1):
        data = (folder / f"{stem}-state-{k}.step").read_bytes()
        session.add(State(job_id=job.id, place=k, name=step["name"], sha256=put_blob(session, data), origin="recipe"))
    session.flush()
