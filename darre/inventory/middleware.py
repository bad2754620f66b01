"""A page that was opened in one workshop, or what waits in a browser for it, does not write into another."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from darre.common.errors import Refusal
from darre.common.front_door import READING, refused
from darre.inventory.selectors import workshop_key

HEADER = "X-Darre-Workshop"


class OfThisWorkshop:
    """Compares the workshop that an act is meant for, where it names one, with the one that is open."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        meant = request.headers.get(HEADER)
        if meant and request.method not in READING and meant != workshop_key():
            says = "This was meant for another workshop than the one that is open. Load the page anew to work here."
            return refused(Refusal("other_workshop", says, status=409))
        return self.get_response(request)
