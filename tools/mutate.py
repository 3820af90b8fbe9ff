"""Small mistakes, made on purpose where money is decided: do the tests notice? (`bin/mutate`)

A seeded sample of mutations, each a single changed operator, constant, condition or left-out
call inside a function, runs against the tests of its part. Each process keeps a database and
all modules loaded and forks for every mutation, so that most take a second or two.

Mutations that change nothing anybody could see stand in `tools/mutate_equivalents.txt`, each
with its reason; they do not count.
"""

import argparse
import ast
import contextlib
import copy
import importlib
import os
import random
import signal
import subprocess
import sys
import threading
import time
import types
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
SRC = ROOT / "src"
EQUIVALENTS = ROOT / "tools/mutate_equivalents.txt"
SEED, USUAL, PATIENCE = 20261128, 150, 120
CORE = ("tests/core/test_money_tables.py", "tests/core/test_checks.py", "tests/core/test_money.py")
RULES = (
    "tests/core/test_rules.py", "tests/core/test_pipeline_files.py",
    "tests/core/test_what_no_pipeline_may_do.py",
)  # fmt: skip
LANGUAGE = (
    "tests/core/test_language_lists.py", "tests/core/test_conditions_in_words.py",
    "tests/core/test_rules.py",
)  # fmt: skip
LEDGERS = (
    "tests/service/test_posting.py", "tests/service/test_finance_adapter.py",
    "tests/service/test_contradictions.py",
)  # fmt: skip
ORDERS = (
    "tests/core/test_several_orders.py", "tests/core/test_order_lines.py",
    "tests/core/test_line_pairs.py", "tests/core/test_goods_received.py",
    "tests/core/test_orders_proposed.py", "tests/core/test_checks.py",
    "tests/core/test_order_figures.py", "tests/core/test_money_tables.py",
)  # fmt: skip
CODING = ("tests/core/test_coding.py",)
BILLS = ("tests/core/test_posting_machine.py", "tests/core/test_bills_as_sent.py")
ROAD = (
    "tests/core/test_the_road.py", "tests/core/test_gathering.py",
    "tests/core/test_conditions_in_words.py", "tests/core/test_what_no_pipeline_may_do.py",
)  # fmt: skip
FLOW = (
    "tests/service/test_walks.py", "tests/service/test_contradictions.py",
    "tests/service/test_masterdata.py", "tests/service/test_posting.py",
)  # fmt: skip
DESK = (
    "tests/service/test_desk.py", "tests/service/test_letters.py", "tests/service/test_walks.py",
    "tests/service/test_contradictions.py", "tests/service/test_posting.py",
)  # fmt: skip
PARTS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("veridox/core/money/amounts.py", CORE),
    ("veridox/core/checks/arithmetic.py", CORE),
    *((f"veridox/core/{name}.py", ORDERS)
      for name in ("checks/orders", "checks/shares", "checks/order_lines", "checks/receipts",
                   "matching/orders", "matching/lines", "matching/items")),
    *((f"veridox/core/{name}.py", CODING)
      for name in ("coding/lines", "pipeline/stages/coding")),
    ("veridox/core/language/evaluate.py", LANGUAGE),
    ("veridox/core/language/typing.py", LANGUAGE),
    ("veridox/core/language/parse.py", LANGUAGE),
    ("veridox/core/language/functions.py", LANGUAGE),
    ("veridox/core/language/words.py", LANGUAGE),
    ("veridox/core/pipeline/risk_gate.py", RULES),
    *((f"veridox/core/posting/{name}.py", BILLS) for name in ("machine", "bill", "answers")),
    *((f"veridox/core/pipeline/stages/{name}.py", ROAD)
      for name in ("end", "check", "desk", "post")),
    *((f"veridox/core/{name}.py", ROAD)
      for name in ("pipeline/advance", "pipeline/statements", "facts/gathering")),
    ("veridox/core/language/explain.py", LANGUAGE),
    *((f"veridox/service/flow/{name}.py", FLOW)
      for name in ("known", "gathering", "appliers", "actions/advance", "actions/recheck")),
    ("veridox/service/ledgers/actions/prepare.py", LEDGERS),
    ("veridox/service/ledgers/actions/answers.py", LEDGERS),
    ("veridox/service/ledgers/posting.py", LEDGERS),
    ("veridox/service/adapters/finance.py", LEDGERS),
    *((f"veridox/service/desk/actions/{name}.py", DESK)
      for name in ("again", "discard", "unposted", "hold", "post", "reopen", "send_back", "take")),
)  # fmt: skip
"""Where money is decided, with the tests that would notice."""


@dataclass(frozen=True)
class Mutation:
    """One changed place.

    Attributes:
        path: of the module, below `src`.
        function: qualified name of the function.
        what: what was changed, as text.
        index: which of the module's places it is.
        line: in the file.
    """

    path: str
    function: str
    what: str
    index: int
    line: int

    @property
    def name(self) -> str:
        """Stable as long as the function is not rewritten."""
        return f"{self.path} {self.function}: {self.what}"


SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq, ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult,
    ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip
SPOKEN = ("code", "message", "hint", "letter", "also")
"""Arguments whose texts are words for people: a changed word is no mistake about money."""


class Places(ast.NodeTransformer):
    """Counts all places of a module, and changes the one that is wanted."""

    def __init__(self, wanted: int = -1) -> None:
        self.wanted, self.count = wanted, 0
        self.functions: list[str] = []
        self.found: list[tuple[str, str, int]] = []

    def _here(self, node: ast.AST, what: str) -> bool:
        if not self.functions:
            return False
        at, self.count = self.count, self.count + 1
        self.found.append((".".join(self.functions), what, getattr(node, "lineno", 0)))
        return at == self.wanted

    def _within(self, node: ast.AST, name: str) -> ast.AST:
        self.functions.append(name)
        # Decorators, annotations and defaults are not the function's own doing.
        for field in ("body",):
            setattr(node, field, [self.visit(each) for each in getattr(node, field)])
        self.functions.pop()
        return node

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        """A function."""
        return self._within(node, node.name)

    def visit_ClassDef(self, node: ast.ClassDef) -> ast.AST:
        """A class: only what its methods do."""
        self.functions.append(node.name)
        node.body = [self.visit(each) if isinstance(each, ast.FunctionDef) else each
                     for each in node.body]  # fmt: skip
        self.functions.pop()
        return node

    def visit_JoinedStr(self, node: ast.JoinedStr) -> ast.AST:
        """Words for people."""
        return node

    def visit_keyword(self, node: ast.keyword) -> ast.AST:
        """An argument by name."""
        return node if node.arg in SPOKEN else self.generic_visit(node)

    def visit_Raise(self, node: ast.Raise) -> ast.AST:
        """What is raised is words for the most part."""
        return node

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        """A comparison."""
        for at, operator in enumerate(node.ops):
            other = SWAPS.get(type(operator))
            if other is not None and self._here(node, f"{ast.unparse(node)} [{other.__name__}]"):
                node.ops[at] = other()  # type: ignore[call-overload]
        return self.generic_visit(node)

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        """Arithmetic; the bar of a union of types is none."""
        other = SWAPS.get(type(node.op))
        if other is not None and self._here(node, f"{ast.unparse(node)} [{other.__name__}]"):
            node.op = other()  # type: ignore[assignment]
        return self.generic_visit(node)

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        """And, or."""
        other = SWAPS[type(node.op)]
        if self._here(node, f"{ast.unparse(node)} [{other.__name__}]"):
            node.op = other()  # type: ignore[assignment]
        return self.generic_visit(node)

    def visit_UnaryOp(self, node: ast.UnaryOp) -> ast.AST:
        """Not, minus."""
        if isinstance(node.op, ast.Not | ast.USub) and self._here(
            node, f"{ast.unparse(node)} [without]"
        ):
            return self.generic_visit(node.operand)
        return self.generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        """True, False and whole numbers."""
        if isinstance(node.value, bool):
            if self._here(node, f"{node.value} [{not node.value}]"):
                return ast.copy_location(ast.Constant(not node.value), node)
        elif isinstance(node.value, int) and self._here(node, f"{node.value} [{node.value + 1}]"):
            return ast.copy_location(ast.Constant(node.value + 1), node)
        return node

    def visit_If(self, node: ast.If) -> ast.AST:
        """A condition turned round."""
        if self._here(node, f"if {ast.unparse(node.test)} [not]"):
            node.test = ast.copy_location(ast.UnaryOp(ast.Not(), node.test), node.test)
            return node
        return self.generic_visit(node)

    def visit_Expr(self, node: ast.Expr) -> ast.AST:
        """A call that is made for what it does."""
        if isinstance(node.value, ast.Call):
            said = ast.unparse(node.value)[:60]
            if not said.startswith(("log.", "record(")) and self._here(node, f"{said} [left out]"):
                return ast.copy_location(ast.Pass(), node)
        return node if isinstance(node.value, ast.Constant) else self.generic_visit(node)


def places_of(path: str) -> list[Mutation]:
    """All mutations that a module offers, in the order of its text."""
    counter = Places()
    counter.visit(ast.parse((SRC / path).read_text()))
    return [
        Mutation(path, function, what, index, line)
        for index, (function, what, line) in enumerate(counter.found)
    ]


def equivalents() -> set[str]:
    """Names of mutations that change nothing anybody could see."""
    if not EQUIVALENTS.exists():
        return set()
    lines = EQUIVALENTS.read_text().splitlines()
    return {line.split(" -- ")[0].strip() for line in lines if line and not line.startswith("#")}


def sample(count: int, seed: int, of: str = "") -> list[Mutation]:
    """A share of each module's places, by chance; of those whose path has `of` in it."""
    chance, known = random.Random(seed), equivalents()
    every = {
        path: [m for m in places_of(path) if m.name not in known]
        for path, _ in PARTS if any(each in path for each in of.split(","))
    }  # fmt: skip
    total = sum(len(each) for each in every.values())
    chosen = []
    for places in every.values():
        share = max(1, round(count * len(places) / total)) if places else 0
        chosen += chance.sample(places, min(share, len(places)))
    return chosen


# -- one process: forks for each mutation


def apply(mutation: Mutation) -> None:
    """Put the changed code into the functions that are loaded already."""
    tree = ast.parse((SRC / mutation.path).read_text())
    changed = ast.fix_missing_locations(Places(mutation.index).visit(copy.deepcopy(tree)))
    code = compile(changed, str(SRC / mutation.path), "exec")
    module = importlib.import_module(mutation.path.removesuffix(".py").replace("/", "."))
    new = dict(_codes(code, ""))
    for name, function in _functions(module, ""):
        if name in new:
            function.__code__ = new[name]


def _codes(code: types.CodeType, before: str) -> Iterator[tuple[str, types.CodeType]]:
    for each in code.co_consts:
        if isinstance(each, types.CodeType) and not each.co_name.startswith("<"):
            name = f"{before}{each.co_name}"
            yield name, each
            if each.co_flags & 0x2 == 0:  # a class body, not a function
                yield from _codes(each, f"{name}.")


def _functions(owner: object, before: str) -> Iterator[tuple[str, types.FunctionType]]:
    for name, value in list(vars(owner).items()):
        inner = value
        if isinstance(inner, staticmethod | classmethod):
            inner = inner.__func__
        if isinstance(inner, property) and inner.fget is not None:
            inner = inner.fget
        while hasattr(inner, "__wrapped__"):
            inner = inner.__wrapped__
        if isinstance(inner, types.FunctionType):
            yield f"{before}{name}", inner
        elif isinstance(value, type) and value.__module__ == getattr(owner, "__name__", ""):
            yield from _functions(value, f"{before}{name}.")


def run_tests(tests: tuple[str, ...]) -> int:
    """Pytest's exit code; the database of this process is used again."""
    import pytest

    quiet = ["-x", "-q", "--reuse-db", "-p", "no:cacheprovider", "--no-header", "-W", "ignore"]
    with open(os.devnull, "w") as nothing, contextlib.redirect_stdout(nothing):
        return int(pytest.main([*quiet, *(each for each in tests if (ROOT / each).exists())]))


def killed(mutation: Mutation, tests: tuple[str, ...]) -> bool:
    """Whether the tests notice; one that takes too long is noticed, too."""
    child = os.fork()
    if child == 0:
        signal.alarm(PATIENCE)
        code = 1
        try:
            apply(mutation)
            code = run_tests(tests)
        finally:
            os._exit(code)
    _, status = os.waitpid(child, 0)
    return status != 0


def work(mine: list[Mutation]) -> None:
    """Run mutations; a line for each on standard output."""
    sys.path.insert(0, str(ROOT))
    os.chdir(ROOT)
    tests_of = dict(PARTS)
    for tests in dict.fromkeys(tests_of[each.path] for each in mine):
        if run_tests(tests) != 0:
            sys.exit(f"mutate: the tests do not pass as they are: {', '.join(tests)}")
    from django.db import connections

    connections.close_all()
    for mutation in mine:
        word = "killed" if killed(mutation, tests_of[mutation.path]) else "SURVIVED"
        print(f"{word}\t{mutation.line}\t{mutation.name}", flush=True)


def main() -> None:
    """Entry point."""
    parser = argparse.ArgumentParser(prog="bin/mutate", description=__doc__)
    parser.add_argument("--count", type=int, default=USUAL, help="mutations in the sample")
    parser.add_argument("--seed", type=int, default=SEED)
    parser.add_argument("--of", default="", help="modules whose path has one of these, by commas")
    parser.add_argument("--part", type=int, help=argparse.SUPPRESS)
    parser.add_argument("--jobs", type=int, default=os.cpu_count() or 2)
    chosen = parser.parse_args()
    every = sample(chosen.count, chosen.seed, chosen.of)
    if chosen.part is not None:
        work(every[chosen.part :: chosen.jobs])
        return
    began = time.monotonic()
    command = [sys.executable, "-m", "tools.mutate", "--count", str(chosen.count)]
    command += ["--seed", str(chosen.seed), "--jobs", str(chosen.jobs), "--of", chosen.of]
    print(f"mutate: {len(every)} mutations, seed {chosen.seed}")
    running = [
        subprocess.Popen([*command, "--part", str(part)], stdout=subprocess.PIPE, text=True)
        for part in range(chosen.jobs)
    ]
    lines: list[str] = []
    threads = [threading.Thread(target=_gather, args=(each, lines)) for each in running]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    for each in running:
        each.wait()
    if any(each.returncode for each in running):
        sys.exit("mutate: a part ended before its time")
    _tell(lines, time.monotonic() - began)


def _gather(part: subprocess.Popen[str], lines: list[str]) -> None:
    """Lines of a part as they come; a sign of life for whoever waits."""
    for line in part.stdout or ():
        lines.append(line.rstrip("\n"))
        if len(lines) % 10 == 0:
            print(f"  {len(lines)} done", flush=True)


def _tell(lines: list[str], took: float) -> None:
    alive = sorted(line.split("\t", 1)[1] for line in lines if line.startswith("SURVIVED"))
    for each in alive:
        line, name = each.split("\t")
        path, rest = name.split(" ", 1)
        print(f"survived: src/{path}:{line} {rest}")
    parts: dict[str, list[bool]] = {}
    for line in lines:
        word, _, name = line.split("\t")
        parts.setdefault("/".join(name.split(" ")[0].split("/")[1:4]), []).append(word == "killed")
    for part, results in sorted(parts.items()):
        print(f"  {part}: {sum(results)} of {len(results)}")
    dead = len(lines) - len(alive)
    share = 100 * dead / max(1, len(lines))
    print(f"mutate: {dead} of {len(lines)} noticed ({share:.1f} %), {took / 60:.1f} minutes")


if __name__ == "__main__":
    main()
