"""Tokens for programs: made by whoever signed in, and taken away again. They are no part of the history."""

import secrets

from django.db import transaction

from darre.accounts.models import Account, ScriptToken
from darre.common.errors import Refusal
from darre.common.tokens import hash_of

MOST = 20


def make_token(account: Account, name: str) -> tuple[ScriptToken, str]:
    """A token of an account, and the secret, which is told this once. Raises Refusal where there are too many."""
    with transaction.atomic():
        if account.tokens.count() >= MOST:
            raise Refusal("too_many", f"There are {MOST} tokens already. Remove one that no program uses.", "name", 409)
        secret = secrets.token_urlsafe(32)
        return account.tokens.create(name=name, token_hash=hash_of(secret)), secret


def remove_token(token: ScriptToken) -> None:
    """Programs with this token are refused from now on."""
    token.delete()


def account_of_token(secret: str) -> Account | None:
    """Whose token it is; None where it is nobody's."""
    found = ScriptToken.objects.select_related("account").filter(token_hash=hash_of(secret)).first()
    return found.account if found and found.account.is_active else None
