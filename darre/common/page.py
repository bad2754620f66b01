"""Host of the one page. Its scripts, styles and fonts are files that the build leaves in web/dist."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse


def page(request: HttpRequest) -> HttpResponse:
    """The page, for every address that is not the API's: the page itself reads the address."""
    file = settings.PAGE_DIR / "index.html"
    if not file.exists():
        return HttpResponse("The page is not built yet. Run `make demo`, which builds it.", status=503)
    return HttpResponse(file.read_bytes(), headers={"Cache-Control": "no-cache"})
