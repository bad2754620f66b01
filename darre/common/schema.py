"""What the schema generator cannot know by itself."""

from typing import Any


def answers_are_whole(result: dict[str, Any], **kwargs: Any) -> dict[str, Any]:
    """Every key of an answer is always there (perhaps null); only what is sent to the server may leave keys out."""
    for name, schema in result["components"]["schemas"].items():
        if not name.endswith("Request") and "properties" in schema:
            schema["required"] = list(schema["properties"])
    return result
