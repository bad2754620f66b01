"""Who may ask what. One table for every address: what it does not name, guests may read and members may write."""

from enum import IntEnum

from darre.accounts.models import Role
from darre.common.front_door import READING


class Least(IntEnum):
    """The least that one must be. A device brings its token, a calendar the secret in its address."""

    ANYONE = 0
    GUEST = 1
    MEMBER = 2
    OWNER = 3


RANK = {Role.GUEST: Least.GUEST, Role.MEMBER: Least.MEMBER, Role.OWNER: Least.OWNER}
READ, WRITE = "read", "write"
TABLE: dict[tuple[str, str], Least] = {
    # What it takes to come in; no record is in any of them.
    ("api/health/", READ): Least.ANYONE,
    ("api/session/", READ): Least.ANYONE,
    ("api/session/", WRITE): Least.ANYONE,
    ("api/accounts/join/", WRITE): Least.ANYONE,
    # They bring a secret of their own.
    ("api/ingest/", WRITE): Least.ANYONE,
    ("api/schedule/calendar/<uuid:feed_key>.ics", READ): Least.ANYONE,
    # One's own password and tokens.
    ("api/session/password/", WRITE): Least.GUEST,
    ("api/tokens/", WRITE): Least.GUEST,
    ("api/tokens/<int:token_id>/", WRITE): Least.GUEST,
    # Secrets, and what reaches beyond the records.
    ("api/backups/", READ): Least.OWNER,
    ("api/backups/", WRITE): Least.OWNER,
    ("api/backups/<str:name>", READ): Least.OWNER,
    ("api/data-package/", WRITE): Least.OWNER,
    ("api/backups/<str:name>/restore/", WRITE): Least.OWNER,
    ("api/restore/", WRITE): Least.OWNER,
    ("api/accounts/", READ): Least.OWNER,
    ("api/accounts/", WRITE): Least.OWNER,
    ("api/accounts/<int:account_id>/", WRITE): Least.OWNER,
    ("api/accounts/<int:account_id>/invitation/", WRITE): Least.OWNER,
    ("api/accounts/first/", WRITE): Least.OWNER,
    ("api/network/", READ): Least.OWNER,
    ("api/network/", WRITE): Least.OWNER,
}


def least_for(route: str, method: str) -> Least:
    """The least that one must be for a request. `route`: the address's pattern, as the resolver gives it."""
    reads = method in READING
    usual = Least.GUEST if reads else Least.MEMBER
    return TABLE.get((route, READ if reads else WRITE), usual)


def may(role: str, least: Least) -> bool:
    """Whether an account of this role may do it."""
    return RANK[Role(role)] >= least
