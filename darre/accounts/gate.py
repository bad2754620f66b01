"""The gate: who may ask for what, before any view is reached, so that no address can be forgotten.

On this machine alone nobody is asked. Once other devices are answered, everyone signs in, here too, and what a role may
not do is refused. Files of the page itself hold no record and stand before the gate.
"""

from collections.abc import Callable

from django.contrib.auth import get_user
from django.http import HttpRequest, HttpResponse
from django.urls import Resolver404, resolve
from rest_framework.authentication import CSRFCheck

from darre.accounts.actions.tokens import account_of_token
from darre.accounts.models import Account
from darre.accounts.roles import Least, least_for, may
from darre.accounts.selectors import is_here, is_open
from darre.common.errors import Refusal
from darre.common.front_door import READING, refused
from darre.common.tokens import bearer_token

NOT_HERE = Refusal(
    "not_open",
    "Darre answers only the machine it runs on. There, Settings → Use it from a phone lets others in.",
    status=403,
)
SIGN_IN = Refusal("sign_in", "Please sign in.", status=401)
FORGED = Refusal("forged", "This page is out of date. Load it anew, then try again.", status=403)
MAY_NOT = {
    Least.MEMBER: Refusal("guests_look", "You are here as a guest: you may look, not change.", status=403),
    Least.OWNER: Refusal("owners_only", "Only an owner of this workshop may do this.", status=403),
}


def route_of(request: HttpRequest) -> str:
    """The pattern of the address that is asked for; empty where there is none."""
    try:
        return str(resolve(request.path_info).route)
    except Resolver404:
        return ""


def _signed_in(request: HttpRequest) -> Account | None:
    user = get_user(request)
    return user if isinstance(user, Account) else None


def _refusal_for(account: Account | None, least: Least) -> Refusal | None:
    if account is None:
        return SIGN_IN
    return None if may(account.role, least) else MAY_NOT[least]


def _is_forged(request: HttpRequest) -> bool:
    """Whether a signed-in browser's write lacks the token that only our own page can read."""
    check = CSRFCheck(lambda _: HttpResponse())
    check.process_request(request)
    return bool(check.process_view(request, lambda _: HttpResponse(), (), {}))


class Gate:
    """Behind the front door and the sessions, before everything that reads a record."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        refusal = self._refusal(request)
        return refused(refusal) if refusal else self.get_response(request)

    def _refusal(self, request: HttpRequest) -> Refusal | None:
        if not is_open():
            return None if is_here(request) else NOT_HERE
        route = route_of(request)
        by_program = not route.startswith("api/ingest/") and bearer_token(request)
        account = account_of_token(by_program) if by_program else _signed_in(request)
        request.account, request.by_program = account, bool(by_program)  # type: ignore[attr-defined]  # ours
        of_page = not request.path_info.startswith("/api/")
        least = Least.ANYONE if of_page else least_for(route, str(request.method))
        if least is not Least.ANYONE:
            refusal = _refusal_for(account, least)
            if refusal:
                return refusal
        # A program's token is sent by nobody but the program, so nothing can be forged with it.
        writes = request.method not in READING and not route.startswith("api/ingest/")
        return FORGED if account and writes and not by_program and _is_forged(request) else None
