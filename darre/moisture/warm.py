"""What the first page needs, worked out as soon as the server is up, so that whoever comes first waits less."""

import logging
import threading

from django.db import DatabaseError, connection
from django.utils import timezone

from darre.moisture.rack import rack

FIRST_BACK_H = 504  # what the rack opens with: three weeks


def warm_up() -> threading.Thread:
    """Follow every spool's moisture up to now, beside the serving of pages. Who asks meanwhile waits for this one."""

    def follow() -> None:
        try:
            rack(timezone.now(), FIRST_BACK_H)
        except DatabaseError as error:  # a page that asks says what is wrong
            logging.getLogger("darre").warning("The rack was not worked out beforehand: %s", error)
        finally:
            connection.close()

    thread = threading.Thread(target=follow, name="warm up", daemon=True)
    thread.start()
    return thread
