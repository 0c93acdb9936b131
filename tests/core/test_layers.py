"""The structure that the house is built by: imports run one way."""

import ast
import subprocess
import sys
from graphlib import TopologicalSorter
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src"


def imports():
    """Each module of the program with those that it imports, wherever in it."""
    files = {}
    for path in SOURCE.rglob("*.py"):
        name = ".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")
        files[name] = path
    graph = {name: set() for name in files}
    for name, path in files.items():
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom) and node.module and not node.level:
                for one in node.names:
                    whole = f"{node.module}.{one.name}"
                    graph[name].add(whole if whole in files else node.module)
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
