"""The built console: one page for every address that is not the API's."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie

ABSENT = (
    "The console is not built. Run: cd console && npm ci && npm run build "
    "(bin/demo and bin/dev do it)."
)


@ensure_csrf_cookie
def console(request: HttpRequest) -> HttpResponse:
    """The page; its parts come from /static/console/ with names that change with their content."""
    del request
    page = settings.CONSOLE / "index.html"
    if not page.is_file():
        return HttpResponse(ABSENT, content_type="text/plain", status=503)
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response
