"""Keep what is said of documents, as examples for the reference: `python -m tools.said`.

Needs the demo as it is loaded. One example of each code: of the demo's first document that has
it; else of a bill made for it (`tools/examples.py`), else of the made-up year (`bin/bench errors`).
"""

import json
import sys
from pathlib import Path

from demo.__main__ import the_stack
from demo.load import make_token
from demo.supervisor import Supervisor
from tools.bench_errors import of_the_year
from tools.examples import every
from veridox.client import Veridox

YEAR_OF, SEED = 3_000, 7
SAID = Path(__file__).parent / "said.json"


def said(vx: Veridox) -> dict[str, dict[str, str]]:
    """Document and sentence by code, of the demo."""
    found: dict[str, dict[str, str]] = {}
    for each in sorted(vx.documents.list(), key=lambda document: document.id):
        document = vx.documents.get(each.id)
        name = document.number or "a document without a number"
        for finding in document.findings:
            found.setdefault(finding.code, _example(f"{name} of the demo", finding.message))
    return found


def _example(document: str, message: str) -> dict[str, str]:
    return {"document": document, "message": message}


def beside(known: dict[str, dict[str, str]]) -> dict[str, dict[str, str]]:
    """With what bills say that were made up."""
    found: dict[str, dict[str, str]] = {}
    for name, finding in every():
        found.setdefault(finding.code, _example(name, finding.message))
    for name, finding in of_the_year(YEAR_OF, SEED):
        found.setdefault(finding.code, _example(f"{name} of a made-up year", finding.message))
    return dict(sorted({**found, **known}.items()))


def main() -> None:
    """Entry point."""
    stack = the_stack()
    if not Supervisor(stack).running():
        sys.exit("said: start the demo first: bin/demo fresh")
    with Veridox(stack.url, token=make_token(stack)) as vx:
        examples = beside(said(vx))
    SAID.write_text(json.dumps(examples, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    print(f"{len(examples)} codes have an example")


if __name__ == "__main__":
    main()
