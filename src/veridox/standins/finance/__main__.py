"""Run the finance system: `python -m veridox.standins.finance --port 8441 --store books.sqlite`.

The bearer token it accepts is read from the environment (`FINANCE_TOKEN`).
"""

import argparse
import os
from pathlib import Path

import uvicorn

from veridox.standins.finance import app as finance


def main() -> None:
    """Entry point."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8441)
    parser.add_argument("--store", type=Path, required=True)
    parser.add_argument(
        "--accepts-doubles",
        action="store_true",
        help="Keep no promise: book whatever comes, however often (to prove what others do).",
    )
    chosen = parser.parse_args()
    finance.LINKS["base"] = f"http://127.0.0.1:{chosen.port}"
    uvicorn.run(
        finance.create_app(
            chosen.store, os.environ["FINANCE_TOKEN"], accepts_doubles=chosen.accepts_doubles
        ),
        host="127.0.0.1",
        port=chosen.port,
        log_level="error",
    )


if __name__ == "__main__":
    main()
