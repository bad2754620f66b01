"""The front door: who may ask, who may write, and what every answer says of how it may be used.

Other pages that are open in the same browser can send requests here too. They may neither write, nor frame the page,
nor take its photos. A program on this machine says no origin and is let in: no browser does that for a page.
"""

import sys
from collections.abc import Callable

from django.conf import settings
from django.core.exceptions import DisallowedHost
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse, JsonResponse

from darre.common.errors import NOT_THERE, Refusal, refusal_body, storage_refusal
from darre.network.addresses import own_addresses

READING = ("GET", "HEAD", "OPTIONS")
# Nothing is fetched from anywhere but here; nothing may be framed. Widgets set style attributes.
CONTENT_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": CONTENT_POLICY,
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Referrer-Policy": "same-origin",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
}


def refused(refusal: Refusal) -> HttpResponse:
    """A refusal in the shape of every error, outside the API's own views."""
    return JsonResponse(refusal_body(refusal), status=refusal.status)


def comes_from_elsewhere(request: HttpRequest) -> bool:
    """Whether a page of another origin sent this. A browser says so; by the origin, where it is too old for more."""
    site = request.headers.get("Sec-Fetch-Site")
    if site is not None:
        return site != "same-origin"
    origin = request.headers.get("Origin")
    return origin is not None and origin != f"{request.scheme}://{request.get_host()}"


class FrontDoor:
    """Outermost, so that files, errors and pages all pass it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self._answer(request)
        for name, value in HEADERS.items():
            answer.headers.setdefault(name, value)
        return answer

    def _answer(self, request: HttpRequest) -> HttpResponse:
        try:
            self._host(request)
        except DisallowedHost:
            says = "Darre answers only to its own machine's names. On that machine, open it by 127.0.0.1 or localhost."
            return refused(Refusal("unknown_host", says, status=400))
        if request.method not in READING and comes_from_elsewhere(request):
            says = "Another page tried to change something here. Only Darre's own page may."
            return refused(Refusal("other_origin", says, status=403))
        return self.get_response(request)

    def _host(self, request: HttpRequest) -> str:
        """The name that is asked for. Raises DisallowedHost for one that is not of this machine."""
        try:
            return request.get_host()
        except DisallowedHost:
            if not settings.NETWORK_OPEN:
                raise
        # A machine that came into another network has another address there.
        settings.ALLOWED_HOSTS.extend(set(own_addresses()) - set(settings.ALLOWED_HOSTS))
        return request.get_host()


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    """What the framework finds wrong before a view is reached."""
    return refused(Refusal("bad_request", "This request cannot be read.", status=400))


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """No such address."""
    return refused(NOT_THERE)


def broken(request: HttpRequest) -> HttpResponse:
    """What the database cannot do, or a defect: what went wrong stands in the server's log."""
    error = sys.exc_info()[1]
    if isinstance(error, DatabaseError) and (refusal := storage_refusal(error)):
        return refused(refusal)
    says = "Something went wrong in Darre itself. Nothing was changed. What happened stands in its log."
    return refused(Refusal("defect", says, status=500))
