"""What several commands show alike."""

from typing import Any

from veridox.cli.output import print_table


def show_coding(lines: list[dict[str, Any]]) -> None:
    """Under what lines are booked, with who says each code."""

    def told(part: dict[str, Any], name: str) -> str:
        said = part.get(name)
        if said is None:
            return ""
        sure = "" if said["chance"] == 1 else f" {said['chance']:.0%}"
        return f"{said['code']} ({said['source']}{sure})"

    print_table(
        ("line", "description", "amount", "gl account", "cost centre", "tax code", "project"),
        (
            (line["line"] if line["line"] > 0 else "", line["description"] or "the whole bill",
             part["amount"],
             *(told(part, name) for name in ("gl_account", "cost_centre", "tax_code", "project")))
            for line in lines for part in line["parts"]
        ),
        right=("line", "amount"),
    )  # fmt: skip
