"""The demo's pipeline, as most tests take it."""

from pathlib import Path

DEMO = Path("demo/pipelines/supplier-invoices.pipeline.yaml").read_text()
UNCODED = DEMO[: DEMO.index("  coding:")] + DEMO[DEMO.index("\ntell:") :]
"""The same, but that lines are not coded: most tests have no ledger's codes."""
