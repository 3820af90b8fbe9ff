"""Structured logs: one JSON object a line, with ids, never with secrets or whole documents."""

import json
import logging
from datetime import UTC, datetime
from typing import Final

_IDS: Final = ("document", "file", "mail", "posting", "notice", "job", "connection")


class JsonFormatter(logging.Formatter):
    """Formats records as JSON; ids given by `extra` become members."""

    def format(self, record: logging.LogRecord) -> str:
        """One line of JSON."""
        line: dict[str, object] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "message": record.getMessage(),
        }
        line.update({name: value for name in _IDS if (value := getattr(record, name, None))})
        if record.exc_info:
            line["trace"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False, default=str)
