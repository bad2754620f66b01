"""Who acts: the name that the page sends along."""

from collections.abc import Callable
from urllib.parse import unquote

from django.http import HttpRequest, HttpResponse

from darre.history.recorder import acting_as

HEADER, LONGEST = "X-Darre-By", 60


class ActingPerson:
    """Takes the person's name into the history: of the account that signed in, else, percent-encoded, as the page
    sends it along.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        account = getattr(request, "account", None)
        given = str(account) if account else unquote(request.headers.get(HEADER, ""))
        name = "".join(c for c in given if c.isprintable()).strip()
        with acting_as(name[:LONGEST]):
            return self.get_response(request)
