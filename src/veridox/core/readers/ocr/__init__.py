"""Words of pictures: scans, photos, faxes."""

from veridox.core.readers.ocr.page import DPI, Seen, read_picture

__all__ = ["DPI", "Seen", "read_picture"]
