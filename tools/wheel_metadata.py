"""What the wheel needs, read from where the app's own requirements stand."""

from pathlib import Path

from hatchling.metadata.plugin.interface import MetadataHookInterface


class Requirements(MetadataHookInterface):
    """Lays `requirements/runtime.in` into the wheel's metadata."""

    def update(self, metadata: dict[str, object]) -> None:
        lines = (Path(self.root) / "requirements/runtime.in").read_text("utf-8").splitlines()
        metadata["dependencies"] = [line for line in lines if line and not line.startswith("#")]
