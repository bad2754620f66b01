"""What the first page needs, worked out as soon as the server is up, so that whoever comes first waits less."""

import logging
import threading

from django.conf import settings
from django.db import DatabaseError, connection
from django.utils import timezone

from darre.moisture.kept_shelf import keep
from darre.moisture.rack import rack

FIRST_BACK_H = 504  # what the rack opens with: three weeks


def warm_up(*, known: bool) -> threading.Thread:
    """Follow every spool's moisture up to now, beside the serving of pages. Who asks meanwhile waits for this one.
    `known`: what was computed before the last stop was gone on from.
    """

    def follow() -> None:
        try:
            rack(timezone.now(), FIRST_BACK_H)
            if not known:
                keep(settings.DATABASE)  # a server that is killed keeps nothing at its end
        except DatabaseError as error:  # a page that asks says what is wrong
            logging.getLogger("darre").warning("The rack was not worked out beforehand: %s", error)
        finally:
            connection.close()

    thread = threading.Thread(target=follow, name="warm up", daemon=True)
    thread.start()
    return thread
