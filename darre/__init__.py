"""The web application around the core: records, actions, API and the page."""
