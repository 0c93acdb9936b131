"""The structure that the house is built by: imports run one way."""

import ast
import doctest
import subprocess
import sys
from graphlib import TopologicalSorter
from importlib import import_module
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src"


def faces():
    """What the public face of each folder hands on, by its whole name, with the module that it stands in."""
    where = {}
    for stub in SOURCE.rglob("__init__.pyi"):
        package = ".".join(stub.parent.relative_to(SOURCE).parts)
        for node in ast.parse(stub.read_text()).body:
            assert isinstance(node, ast.ImportFrom) and node.level == 1, f"{stub}: only names of its own modules"
            where |= {f"{package}.{one.asname}": f"{package}.{node.module}" for one in node.names}
    return where


def imports():
    """Each module of the program with those that it imports, wherever in it, through a face or not."""
    files, handed = {}, faces()
    for path in SOURCE.rglob("*.py"):
        name = ".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")
        files[name] = path
    graph = {name: set() for name in files}
    for name, path in files.items():
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom) and node.module and not node.level:
                for one in node.names:
                    whole = f"{node.module}.{one.name}"
                    graph[name].add(whole if whole in files else handed.get(whole, node.module))
            elif isinstance(node, ast.Import):
                graph[name].update(one.name for one in node.names)
    return {name: {x for x in seen if x in files and x != name} for name, seen in graph.items()}


def test_no_module_imports_what_imports_it():
    graph = imports()
    assert len(graph) > 300
    # It raises CycleError with the modules of a circle.
    assert len(list(TopologicalSorter(graph).static_order())) == len(graph)


def test_the_web_process_never_loads_the_kernel():
    """It is small and starts at once: what needs geometry is done by children."""
    code = "import sys, canonis.web.app; print([m for m in ('OCP', 'ortools', 'embreex') if m in sys.modules])"
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert run.stdout.strip() == "[]"


def test_the_core_is_met_through_its_public_faces():
    """What a folder hands on stands in its face, and nobody outside takes it from behind."""
    handed = faces()
    assert {name.split(".")[2] for name in handed} == {
        d.name for d in (SOURCE / "canonis/core").iterdir() if d.is_dir()
    } - {"__pycache__"}
    behind = []
    for path in SOURCE.rglob("*.py"):
        mine = ".".join(path.relative_to(SOURCE).parts[:3])
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("canonis.core."):
                package = ".".join(node.module.split(".")[:3])
                if package not in (mine, node.module):
                    behind += [f"{path.name}: {one.name}" for one in node.names if f"{package}.{one.name}" in handed]
    assert not behind


@pytest.mark.parametrize("package", sorted({name.rpartition(".")[0] for name in faces()}))
def test_a_face_hands_on_what_it_says_and_its_examples_are_true(package):
    face = import_module(package)
    for name, module in faces().items():
        if name.rpartition(".")[0] == package:
            assert getattr(face, name.rpartition(".")[2]) is getattr(import_module(module), name.rpartition(".")[2])
    tried = doctest.testmod(face)
    assert tried.attempted and not tried.failed


def held():
    """The program's own files, without its benchmarks."""
    return [p for p in (SOURCE / "canonis").rglob("*.py") if "bench" not in p.parts]


def test_a_file_and_a_function_hold_one_thing():
    """450 lines a file, 60 a function, six things by their place: what needs more is two things."""
    front = [p for p in (SOURCE.parent / "frontend/src").rglob("*") if p.suffix in (".vue", ".ts")]
    long = [p.name for p in [*held(), *front] if p.name != "schema.d.ts" and len(p.read_text().splitlines()) > 450]
    for path in held():
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                taken = [a.arg for a in (*node.args.posonlyargs, *node.args.args) if a.arg not in ("self", "cls")]
                if node.end_lineno - node.lineno >= 60 or len(taken) > 6:
                    long.append(f"{path.name}: {node.name}")
    assert not long
