"""The benchmarks by name."""

import json
from pathlib import Path

from canonis.core.faults import BadInput

__all__ = ["NAMES", "run_bench"]

NAMES = (
    "draft",
    "measure",
    "proof",
    "matching",
    "load",
    "screen",
    "callouts",
    "kills",
    "views",
    "gallery",
    "features",
    "scheme",
    "trades",
)


def run_bench(name: str, files: list[Path], quick: bool = False) -> None:
    """Run one benchmark: draft (one file against the kernel; none or several: what is wrong with drafts), measure (files, or none), proof, matching, load, screen, callouts, kills, views (files beside its own parts), gallery, features (random compositions), scheme (sources on their sheets), trades (drafts of a hundred parts of other trades); `quick` ones take few minutes.

    Raises BadInput for an unknown name or a missing file.
    """
    if name not in NAMES:
        raise BadInput(f"There is no benchmark “{name}”; there are {', '.join(NAMES)}.")
    missing = [str(f) for f in files if not f.exists()]
    if missing:
        raise BadInput(f"There is no file “{missing[0]}”.")
    if name == "draft":
        from canonis.bench.draft import bench_draft, bench_drafts

        result = bench_draft(files[0]) if len(files) == 1 and files[0].is_file() else bench_drafts(files, quick)
    elif name == "trades":
        from canonis.bench.draft import bench_trades

        result = bench_trades()
    elif name == "measure":
        from canonis.bench.measure import bench_measure

        result = bench_measure(files)
    elif name == "proof":
        from canonis.bench.proof import bench_proof

        result = bench_proof(quick)
    elif name == "matching":
        from canonis.bench.matching import bench_matching

        result = bench_matching(quick)
    elif name == "load":
        from canonis.bench.load import bench_load

        result = bench_load()
    elif name == "views":
        from canonis.bench.views import bench_views

        result = bench_views(files, quick)
    elif name == "gallery":
        from canonis.bench.gallery import bench_gallery

        result = bench_gallery()
    elif name == "features":
        from canonis.bench.features import bench_features

        result = bench_features()
    elif name == "scheme":
        from canonis.bench.scheme import bench_scheme

        result = bench_scheme()
    elif name == "callouts":
        from canonis.bench.callouts import bench_callouts

        result = bench_callouts()
    elif name == "screen":
        from canonis.bench.screen import bench_screen

        result = bench_screen()
    else:
        from canonis.bench.kills import bench_kills

        result = bench_kills()
    print(json.dumps(result))
