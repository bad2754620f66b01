"""Tokens that programs and devices send along. One is shown once and stored only as a hash."""

import hashlib

from django.http import HttpRequest


def hash_of(token: str) -> str:
    """What is stored of a token. It is long and random, so a plain hash is enough."""
    return hashlib.sha256(token.encode("utf-8", "replace")).hexdigest()


def bearer_token(request: HttpRequest) -> str:
    """The token of `Authorization: Bearer …`; empty where there is none."""
    scheme, _, token = request.headers.get("Authorization", "").partition(" ")
    return token.strip() if scheme.lower() == "bearer" else ""
