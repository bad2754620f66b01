"""The browser tests: the real page against the real server, in Debian's headless Chromium."""

import os

# Playwright's synchronous interface runs an event loop in this thread; the database is not used from that loop.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
