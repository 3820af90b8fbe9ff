"""Keep what the demo's documents say, as examples for the reference: `python -m tools.said`.

Needs the demo as it is loaded; one example of each code, of the first document that has it.
"""

import json
import sys
from pathlib import Path

from demo.__main__ import the_stack
from demo.load import make_token
from demo.supervisor import Supervisor
from veridox.client import Veridox

SAID = Path(__file__).parent / "said.json"


def said(vx: Veridox) -> dict[str, dict[str, str]]:
    """Document and sentence by code."""
    found: dict[str, dict[str, str]] = {}
    for each in sorted(vx.documents.list(), key=lambda document: document.id):
        document = vx.documents.get(each.id)
        name = document.number or "a document without a number"
        for finding in document.findings:
            found.setdefault(finding.code, {"document": name, "message": finding.message})
    return dict(sorted(found.items()))


def main() -> None:
    """Entry point."""
    stack = the_stack()
    if not Supervisor(stack).running():
        sys.exit("said: start the demo first: bin/demo fresh")
    with Veridox(stack.url, token=make_token(stack)) as vx:
        examples = said(vx)
    SAID.write_text(json.dumps(examples, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    print(f"{len(examples)} codes have an example")


if __name__ == "__main__":
    main()
