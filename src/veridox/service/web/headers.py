"""Response headers that keep the console to itself."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; "
    "font-src 'self'; connect-src 'self'; frame-src 'self'; form-action 'self'; base-uri 'none'; "
    "frame-ancestors 'none'; manifest-src 'self'"
)
# The reference pages of the API come from a package and bring inline styles.
DOCS_POLICY = (
    "default-src 'none'; script-src 'self' 'unsafe-inline'; style-src 'self' 'unsafe-inline'; "
    "img-src 'self' data:; font-src 'self'; connect-src 'self'; worker-src blob:; "
    "frame-ancestors 'none'"
)


def content_policy(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: a content security policy on every answer."""

    def answer(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        policy = DOCS_POLICY if request.path.startswith("/api/v1/docs") else POLICY
        response.setdefault("Content-Security-Policy", policy)
        response.setdefault("Referrer-Policy", "same-origin")
        return response

    return answer
