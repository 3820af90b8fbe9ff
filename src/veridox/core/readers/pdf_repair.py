"""Damaged PDF files mended by qpdf, by way of pikepdf."""

import io


class RepairError(Exception):
    """The file cannot be mended."""


def repaired(content: bytes) -> bytes:
    """The file written anew from what can still be found in it. Raises RepairError."""
    import pikepdf  # takes its time; few files need it

    out = io.BytesIO()
    try:
        with pikepdf.open(io.BytesIO(content), suppress_warnings=True) as document:
            document.save(out)
    except (pikepdf.PdfError, ValueError, RuntimeError, RecursionError) as error:
        raise RepairError(str(error)) from error
    return out.getvalue()
