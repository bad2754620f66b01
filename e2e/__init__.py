"""The browser tests: the real page against the real server, in Debian's headless Chromium."""
