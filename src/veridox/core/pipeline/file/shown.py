"""Problems of a pipeline file as people read them: the line, and what is meant underlined."""

import re

from veridox.core.pipeline.file.nodes import Problem

WIDEST = 120
"""Characters of a line that are shown."""
_WORD = re.compile(r"[\w.\-]+|\S")


def underlined(text: str, problem: Problem) -> list[str]:
    """The line of a problem with its number, and what is meant below it; empty past the end.

    Args:
        text: of the file.
        problem: with line and column, from 1.
    """
    lines = text.splitlines()
    if not 1 <= problem.line <= len(lines):
        return []
    line, at = lines[problem.line - 1].replace("\t", " "), problem.column - 1
    word = _WORD.match(line, at) if at < len(line) else None
    length = len(word[0]) if word else 1
    begin = max(0, at - WIDEST + 20) if at > WIDEST - 20 else 0
    shown = line[begin : begin + WIDEST]
    number = f"{problem.line:>5} | "
    before = " " * (len(number) - 2) + "| " + " " * (at - begin)
    return [f"{number}{shown}".rstrip(), before + "^" * min(length, WIDEST - at + begin)]
