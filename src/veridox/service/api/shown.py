"""What all views of one document share."""

import json

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.api.document_shapes import DocumentSerializer
from veridox.service.documents.models import Document
from veridox.service.documents.queries import documents
from veridox.service.errors import NotThereError
from veridox.service.web.versions import etag

IF_MATCH = OpenApiParameter(
    "If-Match", str, OpenApiParameter.HEADER, required=True, description="ETag of the version seen"
)
IDEMPOTENCY = OpenApiParameter(
    "Idempotency-Key", str, OpenApiParameter.HEADER, description="the same write is done once"
)


def document_of(pk: int) -> Document:
    """A document with all that is shown of it. Raises NotThereError."""
    document = documents().filter(pk=pk).first()
    if document is None:
        raise NotThereError(f"there is no document {pk}")
    return document


def shown(request: Request, pk: int, status: int = 200) -> Response:
    """The answer that shows a document as it stands, with its ETag."""
    document = document_of(pk)
    headers = {"ETag": etag(document.version)}
    return Response(
        DocumentSerializer(document, context={"request": request}).data,
        status=status,
        headers=headers,
    )


def body_of(request: Request) -> bytes:
    """What makes two writes the same one: the version edited and the body."""
    header = request.headers.get("If-Match", "")
    return (header + json.dumps(request.data, sort_keys=True)).encode()
