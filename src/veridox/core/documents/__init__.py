"""From a file to the readings of its documents, for the service and for reading offline alike."""

from veridox.core.documents.readings import Found, readings_of

__all__ = ["Found", "readings_of"]
