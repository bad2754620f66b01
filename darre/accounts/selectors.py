"""Reading accounts, and whether anybody but this machine is let in."""

import ipaddress

from django.conf import settings
from django.contrib.auth.hashers import UNUSABLE_PASSWORD_PREFIX
from django.db.models import QuerySet
from django.http import HttpRequest
from django.http.request import split_domain_port, validate_host

from darre.accounts.models import Account, Role


def owners() -> QuerySet[Account]:
    """Those who can sign in as an owner."""
    found = Account.objects.filter(role=Role.OWNER, is_active=True)
    return found.exclude(password__startswith=UNUSABLE_PASSWORD_PREFIX)


def is_open() -> bool:
    """Whether other devices are answered, and everyone signs in. Never before there is an owner."""
    return bool(settings.NETWORK_OPEN) and owners().exists()


def is_here(request: HttpRequest) -> bool:
    """Whether a request comes from this machine, and by a name that only it answers to."""
    domain, _ = split_domain_port(request.get_host())
    if not validate_host(domain, settings.OWN_NAMES):
        return False
    client = str(request.META.get("REMOTE_ADDR") or "")
    return client == "" or ipaddress.ip_address(client.partition("%")[0]).is_loopback  # a socket file has no address
