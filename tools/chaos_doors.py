"""Against a real server that lets other devices in: kill -9 while people are invited, join, write, change passwords and
sign out; and while a backup is put back. Then counts what was lost, what lives that was ended, and what holds by half:
`python -m tools.chaos_doors KILLS`.
"""

from __future__ import annotations

import hashlib
import http.client
import itertools
import json
import os
import random
import shutil
import sqlite3
import sys
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from http.cookies import SimpleCookie
from pathlib import Path
from typing import Any

from tools.chaos import demo_world, kill, serve
from tools.install import VAR

PORT, FOLDER, CLIENTS = 8663, VAR / "chaos-doors", 6
OWNER, SECRET = "Olive", "three wet spools"
NUMBERS = itertools.count(1)


@dataclass
class Browser:
    """One person's browser: it keeps cookies, and brings the page's token along with what it writes."""

    cookies: dict[str, str] = field(default_factory=dict)

    def ask(self, method: str, path: str, body: object = None) -> tuple[int, Any]:
        """The status, 0 where no answer came, and what was answered."""
        headers = {"Content-Type": "application/json", "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items())}
        if "darre_token" in self.cookies:
            headers["X-CSRFToken"] = self.cookies["darre_token"]
        connection = http.client.HTTPConnection("127.0.0.1", PORT, timeout=30)
        try:
            connection.request(method, f"/api/{path}", None if body is None else json.dumps(body), headers)
            answer = connection.getresponse()
            content = answer.read()
        except (OSError, http.client.HTTPException):
            return 0, None
        finally:
            connection.close()
        for told in answer.headers.get_all("Set-Cookie") or ():
            self.cookies.update({name: morsel.value for name, morsel in SimpleCookie(told).items()})
        return answer.status, json.loads(content or b"null")

    def copy(self) -> Browser:
        return Browser(dict(self.cookies))


@dataclass
class Told:
    """What the server acknowledged of people: the passwords that may be theirs, the browsers that are signed in and
    those that are not any more, and who wrote what.
    """

    passwords: dict[str, set[str]] = field(default_factory=dict)
    inside: dict[str, Browser] = field(default_factory=dict)
    outside: dict[str, Browser] = field(default_factory=dict)
    wrote: dict[str, str] = field(default_factory=dict)
    acts: Counter[str] = field(default_factory=Counter)
    faults: int = 0

    def heard(self, act: str, status: int) -> bool:
        """Whether an act was acknowledged."""
        self.acts[act] += 200 <= status < 300
        self.faults += status >= 500
        return 200 <= status < 300


def person(told: Told, owner: Browser) -> bool:
    """Somebody is invited, joins, writes, takes another password and signs out; whether all was answered."""
    name = f"Person {next(NUMBERS)}"
    status, invitation = owner.ask("POST", "accounts/", {"name": name, "role": "member"})
    if not told.heard("invited", status):
        return False
    mine, first, later = Browser(), f"a dry night of {name}", f"a wet night of {name}"
    mine.ask("GET", "session/")
    told.passwords[name] = {"", first}
    status, _ = mine.ask("POST", "accounts/join/", {"secret": invitation["secret"], "password": first})
    if not told.heard("joined", status):
        return False
    told.passwords[name] = {first}
    told.inside[name] = mine.copy()
    status, _ = mine.ask("POST", "places/", {"name": f"Bench of {name}", "kind": "shelf"})
    if told.heard("written", status):
        told.wrote[f"Bench of {name}"] = name
    del told.inside[name]  # a new password ends every other session, and whether it holds is not known meanwhile
    told.passwords[name] = {first, later}
    before = mine.copy()
    status, _ = mine.ask("POST", "session/password/", {"old": first, "password": later})
    if not told.heard("changed", status):
        return False
    told.passwords[name] = {later}
    told.outside[f"{name}, old password"] = before
    if next(NUMBERS) % 2:
        told.inside[name] = mine.copy()
        return True
    before = mine.copy()
    status, _ = mine.ask("DELETE", "session/")
    if told.heard("signed out", status):
        told.outside[name] = before
    return status != 0


def counted(told: Told, database: Path) -> Counter[str]:
    """How much of what was acknowledged is missing, how many ended sessions live, and what bears the wrong name."""
    found: Counter[str] = Counter(acts=told.acts.total(), faults=told.faults)
    for browser in told.inside.values():
        _, session = browser.ask("GET", "session/")
        found["lost"] += not session["signed_in"]
    for browser in told.outside.values():
        _, session = browser.ask("GET", "session/")
        found["alive"] += bool(session["signed_in"])
    with closing(sqlite3.connect(database)) as db:
        hashes = Counter(name for (name,) in db.execute("SELECT name FROM accounts_account"))
        stored = dict(db.execute("SELECT name, password FROM accounts_account"))
        by = Counter(db.execute("SELECT summary, by FROM history_historyentry WHERE kind LIKE 'place.%'"))
        places = Counter(name for (name,) in db.execute("SELECT name FROM places_place"))
    for name, passwords in told.passwords.items():
        found["lost"] += hashes[name] == 0 or not any(_opens(stored[name], password) for password in passwords)
        found["twice"] += hashes[name] > 1
    for place, name in told.wrote.items():
        found["lost"] += places[place] == 0
        found["twice"] += places[place] > 1
        found["half"] += not any(place in summary and who == name for summary, who in by)
    return found


def _opens(stored: str, password: str) -> bool:
    from django.contrib.auth.hashers import check_password, is_password_usable

    return not is_password_usable(stored) if password == "" else check_password(password, stored)


@contextmanager
def workshop() -> Iterator[Path]:
    """A demo world in a folder of its own, which is gone afterwards."""
    shutil.rmtree(FOLDER, ignore_errors=True)
    FOLDER.mkdir(parents=True)
    database = FOLDER / "demo-doors.sqlite3"
    demo_world(database)
    try:
        yield database
    finally:
        shutil.rmtree(FOLDER)


def signing_in(kills: int, seed: int = 19) -> Counter[str]:
    """Kill the server that often while people come and go."""
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "darre.settings")
    django.setup()
    drawn, told = random.Random(seed), Told()
    with workshop() as database:
        server = serve(database, PORT)
        status, _ = Browser().ask("POST", "accounts/first/", {"name": OWNER, "password": SECRET})
        assert status == 201, status
        kill(server)
        owner = Browser()
        for _ in range(kills):
            server = serve(database, PORT, DARRE_NETWORK="1")
            if "sessionid" not in owner.cookies:
                owner.ask("GET", "session/")
                owner.ask("POST", "session/", {"name": OWNER, "password": SECRET})
            told.inside[OWNER] = owner
            clients = [threading.Thread(target=_people, args=(told, owner.copy())) for _ in range(CLIENTS)]
            for client in clients:
                client.start()
            time.sleep(drawn.uniform(0.3, 2.5))
            kill(server)
            for client in clients:
                client.join()
        server = serve(database, PORT, DARRE_NETWORK="1")
        found = counted(told, database)
        kill(server)
    found["kills"] = kills
    return found


def _people(told: Told, owner: Browser) -> None:
    while person(told, owner):
        pass


def _digest(database: Path) -> str:
    """All records of a workshop, but for who is signed in, as one number."""
    found = hashlib.sha256()
    with closing(sqlite3.connect(database)) as db:
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        names = [name for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
        for name in names:
            if name != "django_session":
                found.update(repr(sorted(map(repr, db.execute(f'SELECT * FROM "{name}"')))).encode())
    return found.hexdigest()


def putting_back(kills: int, seed: int = 20) -> Counter[str]:
    """Kill the server that often while a backup is put back: what stands then is the backup or what was there, whole;
    the backup where that was acknowledged, with what was there kept beside it.
    """
    drawn, found = random.Random(seed), Counter[str](kills=kills)
    with workshop() as database:
        server = serve(database, PORT)
        for n in range(kills):
            browser = Browser()
            assert browser.ask("POST", "places/", {"name": f"Before {n}", "kind": "shelf"})[0] == 201
            backup = _digest(database)
            status, made = browser.ask("POST", "backups/")
            assert status == 201, status
            assert browser.ask("POST", "places/", {"name": f"After {n}", "kind": "shelf"})[0] == 201
            there = _digest(database)
            answered: list[int] = []
            path = f"backups/{made['name']}/restore/"
            restore = threading.Thread(target=_send, args=(browser, path, answered))
            restore.start()
            time.sleep(3.0 * drawn.random() ** 3)  # mostly while it is looked at and put in place
            kill(server)
            restore.join()
            server = serve(database, PORT)
            now, acknowledged = _digest(database), answered[0] == 200
            kept = [_digest(file) for file in FOLDER.glob("kept-*.sqlite3")]
            found["acts"] += acknowledged
            found["half"] += now not in (backup, there)
            found["lost"] += (acknowledged and now != backup) or (now == backup and there not in kept)
            found["put back"] += now == backup
            for file in FOLDER.glob("kept-*"):
                file.unlink()
        kill(server)
    return found


def _send(browser: Browser, path: str, answered: list[int]) -> None:
    answered.append(browser.ask("POST", path)[0])


WRONG = ("lost", "twice", "half", "alive", "faults")


def main() -> int:
    """Print both tables; 1 where anything went wrong."""
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    found = {"signing in": signing_in(kills), "putting back": putting_back(kills)}
    print(f"{'':>20} {'kills':>6} {'acknowledged':>13} " + " ".join(f"{word:>7}" for word in WRONG) + "   (goal 0)")
    for name, counts in found.items():
        row = " ".join(f"{counts[word]:>7}" for word in WRONG)
        print(f"{name:>20} {counts['kills']:>6} {counts['acts']:>13} {row}")
    print(f"put back in the end: {found['putting back']['put back']} of {kills}")
    return int(any(counts[word] for counts in found.values() for word in WRONG))


if __name__ == "__main__":
    sys.exit(main())
