"""How often somebody may try to sign in: guessing a password takes longer than anybody has.

Counted in this process, which is the only one that serves; a start forgets the counts.
"""

import hashlib

from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView


class _Tries(SimpleRateThrottle):
    """`most` tries in `seconds` for each of what `_of` tells apart."""

    most, seconds = 10, 900

    def __init__(self) -> None:
        self.rate, self.num_requests, self.duration = f"{self.most}", self.most, self.seconds

    def _of(self, request: Request) -> str:
        raise NotImplementedError

    def get_cache_key(self, request: Request, view: APIView) -> str:
        return f"{type(self).__name__}:{self._of(request)}"


class TriesFromThere(_Tries):
    """By the address that the tries come from, whatever name is tried."""

    scope, most = "there", 30

    def _of(self, request: Request) -> str:
        return str(self.get_ident(request))


class TriesOfName(_Tries):
    """By address and name: somebody else's tries shut nobody out at their own device."""

    scope = "name"

    def _of(self, request: Request) -> str:
        data = request.data if isinstance(request.data, dict) else {}
        name = str(data.get("name", data.get("secret", "")))[:60].casefold()
        return f"{self.get_ident(request)}:{hashlib.sha256(name.encode('utf-8', 'replace')).hexdigest()}"


SIGNING_IN = [TriesFromThere, TriesOfName]
