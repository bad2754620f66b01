"""The web application around the core: records, actions, API and the page."""

import drying  # noqa: F401  # before anything else imports numpy
