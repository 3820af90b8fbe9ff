"""Rules that the code keeps everywhere, held by reading it."""

import ast
import os
import subprocess
import sys
from functools import cache
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

from veridox.service.work import job

ROOT = Path("src/veridox")
SERVICE = sorted(
    path for path in (ROOT / "service").rglob("*.py") if "migrations" not in path.parts
)
EVERY = sorted(path for path in ROOT.rglob("*.py") if "migrations" not in path.parts)
WRITES = {"save", "create", "update", "delete", "bulk_create", "update_or_create", "get_or_create"}
MAY_WRITE = {
    "accounts/authentication.py": "when a token was last used",
    "web/idempotency.py": "the stored answer, in the transaction of the write itself",
    "trail/record.py": "the entry",
    "upkeep/rescue.py": "counts rescues, deletes finished jobs",
}
NETWORK = {"httpx", "imapclient", "smtplib", "socket", "urllib", "veridox.service.wiring"}


@cache
def tree_of(path):
    """A module's syntax tree: several rules look at each."""
    return ast.parse(path.read_text("utf-8"))


def calls_on_records(tree):
    """Calls such as `Document.objects.create(...)` or `document.save()`."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            target = ast.unparse(node.func.value)
            writes_rows = ".objects" in target or node.func.attr == "save"
            if node.func.attr in WRITES and writes_rows:
                yield node.lineno, ast.unparse(node.func)


def is_action(path):
    return "actions" in path.parts


@pytest.mark.parametrize("path", SERVICE, ids=str)
def test_only_actions_write_records(path):
    name = str(path.relative_to(ROOT / "service"))
    if is_action(path) or name in MAY_WRITE:
        return
    assert list(calls_on_records(tree_of(path))) == []


def imported(tree):
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module
            yield from (f"{node.module}.{alias.name}" for alias in node.names)


def test_no_module_needs_itself():
    """Imports inside functions count: what goes round in a circle cannot be understood alone."""
    modules = {
        ".".join(path.with_suffix("").parts[1:]).removesuffix(".__init__"): path for path in EVERY
    }
    needs = {
        name: {each for each in imported(tree_of(path)) if each in modules} - {name}
        for name, path in modules.items()
    }
    # A package that only gathers what its modules offer is needed by their neighbours, not by them.
    for name, own in needs.items():
        own -= {each for each in own if name.startswith(f"{each}.")}
        own -= {each for each in own if any(other.startswith(f"{each}.") for other in own)}
    try:
        TopologicalSorter(needs).prepare()
    except CycleError as circle:
        pytest.fail(" needs ".join(reversed(circle.args[1])))


@pytest.mark.parametrize("path", [p for p in SERVICE if is_action(p)], ids=str)
def test_actions_reach_for_no_network(path):
    names = set(imported(tree_of(path)))
    assert not {name for name in names if name in NETWORK or name.split(".")[0] in NETWORK}


@pytest.mark.parametrize("path", [p for p in SERVICE if is_action(p)], ids=str)
def test_actions_defer_jobs_only_with_their_transaction(path):
    for node in ast.walk(tree_of(path)):
        if isinstance(node, ast.Attribute):
            assert node.attr not in ("defer", "defer_async", "configure"), path


FOREIGN = {"numpy", "pypdfium2", "pikepdf", "PIL", "lxml", "onnxruntime", "olefile", "pyasn1"}
"""What takes apart bytes that others sent, or reckons with what stands in them."""


def test_no_reader_is_loaded_where_secrets_are():
    """What parses foreign bytes runs in reader processes. The service starts quicker, too."""
    code = (
        "import sys, django; django.setup();"
        "import veridox.service.urls, veridox.service.worker;"
        "print(*{name.partition('.')[0] for name in sys.modules})"
    )
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "veridox.service.settings"}
    done = subprocess.run(
        [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True
    )
    loaded = set(done.stdout.split())
    assert "django" in loaded
    assert loaded & FOREIGN == set()


def test_whatever_is_deferred_is_a_job():
    asked = {
        node.args[0].value
        for path in SERVICE
        for node in ast.walk(tree_of(path))
        if isinstance(node, ast.Call) and ast.unparse(node.func) in ("defer", "defer_all", "job")
        and isinstance(node.args[0], ast.Constant)
    }  # fmt: skip
    assert {"read", "advance", "recheck", "post", "tell", "move", "collect"} <= asked
    assert {each for each in asked if not job(each)} == set()
    with pytest.raises(
        LookupError, match=r"no job is called 'raed'; there are .*read, read_again, recheck"
    ):
        job("raed")


HOST_OF_PLUGINS = Path("src/veridox/pluginhost/child.py")


@pytest.mark.parametrize("path", EVERY, ids=str)
def test_nothing_catches_everything(path):
    if path == HOST_OF_PLUGINS:
        return  # what a plug-in raises is told by the process that runs nothing else
    for node in ast.walk(tree_of(path)):
        if isinstance(node, ast.ExceptHandler):
            caught = ast.unparse(node.type) if node.type else "everything"
            again = any(isinstance(each, ast.Raise) for each in ast.walk(node))
            assert caught not in ("everything", "Exception", "BaseException") or again, node.lineno


@pytest.mark.parametrize("path", EVERY, ids=str)
def test_no_file_grows_past_what_one_can_hold_in_the_head(path):
    assert len(path.read_text().splitlines()) <= 500


ADAPTERS = "veridox.service.adapters."


def test_drivers_are_chosen_by_their_table():
    """Nobody names one: a new driver is one file."""
    users = {
        str(path) for path in SERVICE
        if "adapters" not in path.parts
        and any(name.startswith(ADAPTERS) for name in imported(tree_of(path)))
        and not {name for name in imported(tree_of(path)) if name.startswith(ADAPTERS)}
        <= {ADAPTERS + "table", ADAPTERS + "table.driver_of", ADAPTERS + "table.DRIVERS",
            ADAPTERS + "table.add_drivers_of"}
    }  # fmt: skip
    assert users == set()


def test_ports_speak_of_types():
    for path in (ROOT / "service" / "ports").glob("*.py"):
        for node in ast.walk(tree_of(path)):
            if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                assert "Any" not in ast.unparse(node.args), (path, node.name)
                assert "dict" not in ast.unparse(node.args), (path, node.name)


def test_every_public_thing_of_core_and_client_is_described():
    missing = []
    for path in (*(ROOT / "core").rglob("*.py"), *(ROOT / "client").rglob("*.py")):
        tree = tree_of(path)
        if ast.get_docstring(tree) is None:
            missing.append(str(path))
        for node in tree.body:
            named = isinstance(node, ast.FunctionDef | ast.ClassDef)
            if named and not node.name.startswith("_") and ast.get_docstring(node) is None:
                missing.append(f"{path}:{node.lineno} {node.name}")
    assert missing == []


BRANCHES = (ast.If, ast.For, ast.While, ast.IfExp, ast.ExceptHandler, ast.Assert, ast.Lambda)


def complexity(function):
    """Ways through a function, counting booleans and comprehensions."""
    found = 1
    for node in ast.walk(function):
        found += isinstance(node, BRANCHES)
        found += len(node.values) - 1 if isinstance(node, ast.BoolOp) else 0
        found += 1 + len(node.ifs) if isinstance(node, ast.comprehension) else 0
    return found


def test_no_function_of_reading_is_more_than_one_can_follow():
    found = {
        f"{path.name}: {node.name}": complexity(node)
        for path in (ROOT / "core/extract").rglob("*.py")
        for node in ast.walk(tree_of(path))
        if isinstance(node, ast.FunctionDef)
    }
    assert len(found) > 100
    assert {name: each for name, each in found.items() if each > 15} == {}
