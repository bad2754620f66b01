"""Who acts, by the name that the page sends along; and which request it is, by its key."""

from collections.abc import Callable
from urllib.parse import unquote
from uuid import UUID

from django.http import HttpRequest, HttpResponse, JsonResponse

from darre.common.errors import Refusal
from darre.common.front_door import READING, refused
from darre.history.models import HistoryEntry
from darre.history.recorder import acting_as, asked_by
from drying.cache import Turns

HEADER, LONGEST = "X-Darre-By", 60
ACT = "X-Darre-Act"


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


class DoneOnce:
    """A page that heard no answer sends its act again, perhaps hours later and from another tab: an act that bears a
    key is done once, and answered with its entry every other time. Sent twice at the same moment, the second waits for
    the first: an act that is written in parts would else have parts of both.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self._turns = Turns()  # the database has one server, so waiting here is enough

    def __call__(self, request: HttpRequest) -> HttpResponse:
        given = request.headers.get(ACT)
        if given is None or request.method in READING:
            return self.get_response(request)
        try:
            key = UUID(given)
        except ValueError:
            return refused(Refusal("bad_key", f"{ACT} is no UUID.", status=400))
        with self._turns.of(key):
            if done := self._done(key):
                return done
            with asked_by(key):
                return self.get_response(request)

    @staticmethod
    def _done(key: UUID) -> HttpResponse | None:
        entry = HistoryEntry.objects.filter(act_key=key).values_list("pk", flat=True).first()
        return None if entry is None else JsonResponse({"undo": entry, "repeated": True})
