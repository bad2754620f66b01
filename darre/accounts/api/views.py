"""Signing in, accounts, and letting other devices in, over HTTP."""

from typing import Any
from urllib.parse import urljoin

from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.accounts.actions import accounts, tokens
from darre.accounts.api.serializers import (
    AccountSerializer,
    InvitationSerializer,
    InviteSerializer,
    JoinSerializer,
    MadeTokenSerializer,
    NetworkSerializer,
    NewPasswordSerializer,
    NewTokenSerializer,
    OpenSerializer,
    RoleSerializer,
    SessionSerializer,
    SignInSerializer,
    TokenSerializer,
)
from darre.accounts.models import Account
from darre.accounts.selectors import is_here, is_open, owners
from darre.accounts.throttle import SIGNING_IN
from darre.common.api import REFUSALS, ErrorSerializer, given, shown
from darre.common.codes import code_svg
from darre.common.errors import Refusal
from darre.common.shapes import StartsAgainSerializer
from darre.network import server

TOO_OFTEN = {**REFUSALS, 429: ErrorSerializer}


def account_of(request: Request) -> Account | None:
    """Who signed in; None on this machine alone."""
    found: Account | None = getattr(request._request, "account", None)
    return found


def _session(account: Account | None) -> Response:
    told = {
        "open": is_open(),
        "signed_in": account is not None,
        "name": account.name if account else None,
        "role": account.role if account else None,
    }
    return Response(shown(SessionSerializer, told))


def _enter(request: HttpRequest, account: Account) -> None:
    """Begin a session for an account, under a new key."""
    login(request, account, backend="django.contrib.auth.backends.ModelBackend")


class SessionView(APIView):
    """Who one is here; signing in; signing out."""

    @extend_schema(responses=SessionSerializer, operation_id="session")
    def get(self, request: Request) -> Response:
        if is_open():
            get_token(request._request)  # the page reads it from its cookie and sends it along with every write
        return _session(account_of(request))

    def get_throttles(self) -> Any:
        return [throttle() for throttle in SIGNING_IN] if self.request.method == "POST" else []

    @extend_schema(request=SignInSerializer, responses={200: SessionSerializer, **TOO_OFTEN}, operation_id="sign_in")
    def post(self, request: Request) -> Response:
        data = given(SignInSerializer, request)
        account = authenticate(request._request, username=data["name"], password=data["password"])
        if not isinstance(account, Account):
            raise Refusal("not_known", "Name and password do not match.", "password", 400)
        _enter(request._request, account)
        return _session(account)

    @extend_schema(request=None, responses={200: SessionSerializer, **REFUSALS}, operation_id="sign_out")
    def delete(self, request: Request) -> Response:
        logout(request._request)
        return _session(None)


class PasswordView(APIView):
    """One's own password."""

    throttle_classes = SIGNING_IN

    @extend_schema(
        request=NewPasswordSerializer, responses={200: SessionSerializer, **TOO_OFTEN}, operation_id="change_password"
    )
    def post(self, request: Request) -> Response:
        data = given(NewPasswordSerializer, request)
        account = account_of(request)
        if account is None:
            raise Refusal("not_signed_in", "Nobody signs in on this machine alone.", status=409)
        accounts.change_password(account, data["old"], data["password"])
        account.refresh_from_db()
        request._request.user = account
        update_session_auth_hash(request._request, account)
        return _session(account)


class FirstAccountView(APIView):
    """The first owner, made on this machine itself."""

    @extend_schema(
        request=SignInSerializer, responses={201: SessionSerializer, **REFUSALS}, operation_id="first_account"
    )
    def post(self, request: Request) -> Response:
        data = given(SignInSerializer, request)
        if not is_here(request._request):
            raise Refusal("not_here", "The first account is made on the machine that Darre runs on.", status=403)
        account = accounts.first_account(data["name"], data["password"])
        _enter(request._request, account)
        answer = _session(account)
        answer.status_code = 201
        return answer


class JoinView(APIView):
    """Choosing a password with an invitation."""

    throttle_classes = SIGNING_IN

    @extend_schema(request=JoinSerializer, responses={200: SessionSerializer, **TOO_OFTEN}, operation_id="join")
    def post(self, request: Request) -> Response:
        data = given(JoinSerializer, request)
        account = accounts.join(data["secret"], data["password"])
        _enter(request._request, account)
        return _session(account)


def _invitation(account: Account, secret: str) -> dict[str, Any]:
    reached = server.addresses() if settings.NETWORK_OPEN else []
    # Behind the "#", where a browser keeps it to itself.
    address = urljoin(reached[0], f"join#{secret}") if reached else None
    return {
        "account": account,
        "secret": secret,
        "address": address,
        "svg": code_svg(address) if address else None,
    }


class AccountsView(APIView):
    """All accounts; invite somebody."""

    @extend_schema(responses=AccountSerializer(many=True), operation_id="accounts_list")
    def get(self, request: Request) -> Response:
        return Response(shown(AccountSerializer, Account.objects.all(), many=True))

    @extend_schema(request=InviteSerializer, responses={201: InvitationSerializer, **REFUSALS}, operation_id="invite")
    def post(self, request: Request) -> Response:
        data = given(InviteSerializer, request)
        account, secret = accounts.invite(data["name"], data["role"])
        return Response(shown(InvitationSerializer, _invitation(account, secret)), status=201)


class AccountView(APIView):
    """One account."""

    @extend_schema(request=RoleSerializer, responses={200: AccountSerializer, **REFUSALS}, operation_id="set_role")
    def put(self, request: Request, account_id: int) -> Response:
        data = given(RoleSerializer, request)
        account = get_object_or_404(Account, pk=account_id)
        return Response(shown(AccountSerializer, accounts.set_role(account, data["role"])))

    @extend_schema(responses={204: None, **REFUSALS}, operation_id="remove_account")
    def delete(self, request: Request, account_id: int) -> Response:
        accounts.remove_account(get_object_or_404(Account, pk=account_id))
        return Response(status=204)


class InvitationView(APIView):
    """A new invitation for an account: the old password is void."""

    @extend_schema(request=None, responses={200: InvitationSerializer, **REFUSALS}, operation_id="invite_again")
    def post(self, request: Request, account_id: int) -> Response:
        account = get_object_or_404(Account, pk=account_id)
        secret = accounts.invite_again(account)
        account.refresh_from_db()
        return Response(shown(InvitationSerializer, _invitation(account, secret)))


def _person(request: Request) -> Account:
    """Who signed in themselves. Raises Refusal for a program, and where nobody signs in."""
    account = account_of(request)
    if account is None:
        raise Refusal("not_signed_in", "On this machine alone programs need no token.", status=409)
    if getattr(request._request, "by_program", False):
        raise Refusal("by_program", "A program makes no tokens. Sign in to make one.", status=403)
    return account


class TokensView(APIView):
    """One's own tokens for programs; one more."""

    @extend_schema(responses=TokenSerializer(many=True), operation_id="tokens_list")
    def get(self, request: Request) -> Response:
        account = account_of(request)
        return Response(shown(TokenSerializer, account.tokens.all() if account else [], many=True))

    @extend_schema(
        request=NewTokenSerializer, responses={201: MadeTokenSerializer, **REFUSALS}, operation_id="make_token"
    )
    def post(self, request: Request) -> Response:
        data = given(NewTokenSerializer, request)
        token, secret = tokens.make_token(_person(request), data["name"])
        return Response(shown(MadeTokenSerializer, {"token": token, "secret": secret}), status=201)


class TokenView(APIView):
    """One of one's own tokens."""

    @extend_schema(responses={204: None, **REFUSALS}, operation_id="remove_token")
    def delete(self, request: Request, token_id: int) -> Response:
        tokens.remove_token(get_object_or_404(_person(request).tokens, pk=token_id))
        return Response(status=204)


class NetworkView(APIView):
    """Whether other devices are let in, and how they find this machine."""

    @extend_schema(responses=NetworkSerializer, operation_id="network")
    def get(self, request: Request) -> Response:
        opened = is_open()
        reached = server.addresses() if opened else []
        certificate = server.certificate() if reached else None
        told = {
            "open": opened,
            "has_owner": owners().exists(),
            "addresses": reached,
            "svg": code_svg(reached[0]) if reached else None,
            "fingerprint": certificate.fingerprint if certificate else None,
            "own_certificate": certificate.own if certificate else False,
            "taken_port": server.taken_port(),
        }
        return Response(shown(NetworkSerializer, told))

    @extend_schema(
        request=OpenSerializer, responses={200: StartsAgainSerializer, **REFUSALS}, operation_id="open_network"
    )
    def put(self, request: Request) -> Response:
        data = given(OpenSerializer, request)
        if data["open"] and not owners().exists():
            raise Refusal("no_owner", "First make an account for yourself: from then on everyone signs in.", status=409)
        if data["open"] and (taken := server.port_in_the_way()) is not None:
            raise Refusal(
                "port_taken",
                f"Other devices would come in at port {taken}, but another program uses it. Stop that program, or "
                f"start Darre at another port, as in DARRE_PORT={taken + 9}.",
                status=409,
            )
        return Response({"starts_again": server.set_open(to_others=data["open"])})
