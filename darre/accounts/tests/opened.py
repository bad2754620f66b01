"""A workshop that lets other devices in, and people who sign in to it."""

from django.conf import settings
from django.test import Client, override_settings

from darre.accounts.models import Account

PASSWORD = "three wet spools"
PHONE = "203.0.113.7"
NAME = "bench.local"

let_in = override_settings(
    NETWORK_OPEN=True,
    ALLOWED_HOSTS=[*settings.OWN_NAMES, NAME],
    SESSION_COOKIE_SECURE=True,
    CSRF_COOKIE_SECURE=True,
    # The real one takes as long as it is meant to; what is tested here is who comes in.
    PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"],
)


def account(name, role, password=PASSWORD):
    made = Account(name=name, role=role)
    made.set_password(password)
    made.save()
    return made


def phone(**more):
    """A device in the network, over TLS, as a browser: it must bring the token."""
    return Client(
        enforce_csrf_checks=more.pop("enforce_csrf_checks", True),
        REMOTE_ADDR=more.pop("REMOTE_ADDR", PHONE),
        HTTP_HOST=NAME,
        raise_request_exception=False,
        **more,
    )


def ask(client, method, path, body=None, **headers):
    """What a page sends: over TLS, with its token."""
    token = client.cookies.get("darre_token")
    if token:
        headers.setdefault("HTTP_X_CSRFTOKEN", token.value)
    headers.setdefault("HTTP_ORIGIN", f"https://{NAME}")
    headers.setdefault("secure", True)
    return getattr(client, method)(path, {} if body is None else body, content_type="application/json", **headers)


def sign_in(client, name, password=PASSWORD):
    client.get("/api/session/", secure=True)
    return ask(client, "post", "/api/session/", {"name": name, "password": password})


def signed_in(name, **more):
    client = phone(**more)
    answer = sign_in(client, name)
    assert answer.status_code == 200, answer.content
    return client
