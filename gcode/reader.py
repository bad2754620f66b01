"""What a print file says, by its open G-code commands and not by anyone's comments.

Read as a stream: any length, in constant memory. Commands: G0 to G3 (moves, arcs), G4, G10 (firmware
retraction), G20, G21, G28, G90 to G92, M82, M83, M104, M109, M140, M190, M106, M107, M200, M207 and T. Times are those
of the commanded speeds without acceleration, so a print takes at least that long.
"""

from __future__ import annotations

import hashlib
import json
import math
import re
import sys
from collections import Counter, defaultdict
from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from typing import Any


class NotGcodeError(ValueError):
    """This file is not a G-code file that prints something. The message says why."""


LONGEST_LINE = 65536  # bytes; a longer one is not G-code
_LINE = re.compile(rb"^[ \t]*(?:N\d+[ \t]*)?([GMT])[ \t]*(\d{1,5})(?!\d)([^;\n\r(*]*)", re.MULTILINE | re.IGNORECASE)
_WORD = re.compile(rb"([A-Z])[ \t]*([+-]?(?:\d+\.?\d*|\.\d+))", re.IGNORECASE)
_COMMENT = re.compile(rb";[^\n]*|\([^()\n]*\)")  # brackets that are never closed cost no more than their length
_FARTHEST = 1e7  # mm, °C, ms: what a printer can be told; more, infinity and no number at all are left out
_MOST_KINDS = 4096  # of temperatures, steps and retractions that are told apart: a file cannot fill the memory
_INCH = 25.4
_AXES = ((0, "X"), (1, "Y"), (2, "Z"))


@dataclass(frozen=True)
class PrintFileSummary:
    """What a print file commands; None where it does not say. Lengths in mm, of the strand in `extruded_mm`; nozzle and
    bed are the temperatures at which most was extruded; `least_h`: hours at the commanded speeds.
    """

    extruded_mm: float
    least_h: float
    nozzle_c: float | None
    bed_c: float | None
    fan_pct: float | None
    layer_mm: float | None
    first_layer_mm: float | None
    layers: int
    height_mm: float
    retraction_mm: float | None
    retraction_mm_s: float | None
    retractions: int
    speed_mm_s: float | None
    tools: int


@dataclass(frozen=True)
class ReadFile:
    """A file as read: what it says, and two digests (SHA-256): of all its bytes, and of its commands alone."""

    summary: PrintFileSummary
    size: int
    sha256: str
    commands_sha256: str


def _most(of: Mapping[float, float]) -> float | None:
    return max(of, key=lambda value: of[value]) if of else None


def _add(counted: dict[float, Any], kind: float, much: float = 1) -> None:
    """Count one more of a kind, as long as they are not too many to be told apart."""
    if kind in counted or len(counted) < _MOST_KINDS:
        counted[kind] = counted.get(kind, 0) + much


class GcodeReader:
    """Reads G-code piece by piece: `feed` bytes as they come, then `finish`."""

    def __init__(self) -> None:
        self._rest = b""
        self._size = 0
        self._whole, self._commands = hashlib.sha256(), hashlib.sha256()
        self._scale = 1.0
        self._absolute = self._absolute_e = True
        self._at = [0.0, 0.0, 0.0]
        self._e = 0.0
        self._feed = 0.0  # mm/s
        self._area_mm2 = 0.0  # over zero: E counts volume
        self._tool = 0
        self._pushed: dict[int, float] = {0: 0.0}
        self._used: dict[int, float] = {0: 0.0}
        self._heat: dict[str, float | None] = {"nozzle": None, "bed": None, "fan": None}
        self._by_heat: dict[str, defaultdict[float, float]] = {k: defaultdict(float) for k in self._heat}
        self._pushed_since = 0.0  # mm laid since one of them changed
        self._back: Counter[float] = Counter()
        self._back_speed: Counter[float] = Counter()
        self._firmware: tuple[float, float] | None = None
        self._steps: Counter[float] = Counter()
        self._layer_z: float | None = None
        self._first_z: float | None = None
        self._layers = 0
        self._seconds = self._path = self._path_s = 0.0

    def feed(self, block: bytes) -> None:
        """Read the next bytes. Raises NotGcodeError for what is not G-code text."""
        self._size += len(block)
        self._whole.update(block)
        if b"\0" in block:
            raise NotGcodeError("This holds bytes that no G-code has. Give the print file itself, as text.")
        block = self._rest + block
        end = block.rfind(b"\n") + 1
        self._rest = block[end:]
        if max(map(len, block[:end].split(b"\n")), default=0) > LONGEST_LINE or len(self._rest) > LONGEST_LINE:
            raise NotGcodeError("This has a line of over 64 kB, so it is not G-code.")
        self._read(block[:end])

    def finish(self) -> ReadFile:
        """What was read. Raises NotGcodeError where nothing is printed by it, as in a file cut short at its start."""
        self._read(self._rest)
        self._rest = b""
        self._change_heat("", None)
        used = sum(self._used.values())
        if used <= 0.0:
            raise NotGcodeError("No command in this file extrudes anything. Give the G-code that the printer printed.")
        firmware_mm, firmware_s = self._firmware or (None, None)
        summary = PrintFileSummary(
            extruded_mm=round(used, 2),
            least_h=round(self._seconds / 3600.0, 4),
            nozzle_c=_most(self._by_heat["nozzle"]),
            bed_c=_most(self._by_heat["bed"]),
            fan_pct=_most(self._by_heat["fan"]),
            layer_mm=_most(self._steps),
            first_layer_mm=self._first_z,
            layers=self._layers,
            height_mm=round(self._layer_z or 0.0, 3),
            retraction_mm=_most(self._back) if self._back else firmware_mm,
            retraction_mm_s=_most(self._back_speed) if self._back else firmware_s,
            retractions=sum(self._back.values()),
            speed_mm_s=round(self._path / self._path_s, 1) if self._path_s else None,
            tools=sum(1 for length in self._used.values() if length > 0.0),
        )
        return ReadFile(summary, self._size, self._whole.hexdigest(), self._commands.hexdigest())

    def _read(self, text: bytes) -> None:
        bare = _COMMENT.sub(b"", text) if b";" in text or b"(" in text else text
        self._commands.update(bare.replace(b"\r", b"").replace(b" \n", b"\n"))
        for found in _LINE.finditer(text):
            letter, number, rest = found.groups()
            code = int(number)
            if letter in b"Gg":
                if code <= 1:
                    self._move(self._words(rest))
                elif code in _G:
                    _G[code](self, self._words(rest))
            elif letter in b"Mm":
                if code in _M:
                    _M[code](self, self._words(rest))
            elif code < 64:
                self._tool = code
                self._pushed.setdefault(code, 0.0)
                self._used.setdefault(code, 0.0)

    @staticmethod
    def _words(rest: bytes) -> dict[str, float]:
        try:
            found = {chr(word[0] & 0xDF): float(word[1:]) for word in rest.split()}
        except ValueError:  # words run together, a bare letter, or text
            found = {w[0].decode().upper(): float(w[1]) for w in _WORD.findall(rest)}
        for value in found.values():
            if not -_FARTHEST < value < _FARTHEST:
                return {axis: value for axis, value in found.items() if -_FARTHEST < value < _FARTHEST}
        return found

    def _move(self, words: dict[str, float], bend: float | None = None) -> None:
        """A straight move, or an arc whose length in the plane is `bend`."""
        x0, y0, z0 = self._at
        self._travel(words)
        x, y, z = self._at
        flat = math.hypot(x - x0, y - y0) if bend is None else bend
        pushed = self._push(words)
        length = math.hypot(flat, z - z0) or abs(pushed)
        seconds = length / self._feed if self._feed > 0.0 else 0.0
        self._seconds += seconds
        if pushed > 0.0 and flat > 0.0:
            self._path += length
            self._path_s += seconds
            self._lay(z, pushed)
        elif pushed < 0.0:
            _add(self._back, round(-pushed, 2))
            _add(self._back_speed, round(self._feed, 1))

    def _travel(self, words: dict[str, float]) -> None:
        scale, at = self._scale, self._at
        for n, axis in _AXES:
            if axis in words:
                at[n] = words[axis] * scale if self._absolute else at[n] + words[axis] * scale
        if words.get("F", 0.0) > 0.0:
            self._feed = words["F"] * scale / 60.0

    def _push(self, words: dict[str, float]) -> float:
        """Strand pushed by a move, mm; kept by the farthest it went, so that pulling back and forth adds nothing."""
        if "E" not in words:
            return 0.0
        value = words["E"] * (1.0 if self._area_mm2 else self._scale)
        pushed = value - self._e if self._absolute_e else value
        self._e = value if self._absolute_e else self._e + value
        if self._area_mm2:
            pushed /= self._area_mm2
        self._pushed[self._tool] += pushed
        self._used[self._tool] = max(self._used[self._tool], self._pushed[self._tool])
        return pushed

    def _lay(self, z: float, pushed: float) -> None:
        self._pushed_since += pushed
        if self._layer_z is None:
            self._first_z, self._layer_z, self._layers = round(z, 3), z, 1
        elif z > self._layer_z + 1e-4:
            _add(self._steps, round(z - self._layer_z, 3))
            self._layer_z, self._layers = z, self._layers + 1

    def _arc(self, words: dict[str, float], clockwise: bool) -> None:
        x0, y0 = self._at[0], self._at[1]
        step = {k: v * self._scale for k, v in words.items() if k in "XYIJR"}
        x, y = (step.get(k, 0.0 if not self._absolute else at) for k, at in (("X", x0), ("Y", y0)))
        if not self._absolute:
            x, y = x0 + x, y0 + y
        if "R" in step:
            chord = math.hypot(x - x0, y - y0)
            radius = max(abs(step["R"]), chord / 2.0)
            angle = 2.0 * math.asin(min(chord / 2.0 / radius, 1.0)) if radius else 0.0
            bend = radius * (angle if step["R"] > 0 else 2.0 * math.pi - angle)
        else:
            cx, cy = x0 + step.get("I", 0.0), y0 + step.get("J", 0.0)
            turn = math.atan2(y - cy, x - cx) - math.atan2(y0 - cy, x0 - cx)
            turn = (-turn if clockwise else turn) % (2.0 * math.pi) or 2.0 * math.pi
            bend = math.hypot(x0 - cx, y0 - cy) * turn
        self._move(words, bend)

    def _set_position(self, words: dict[str, float]) -> None:
        for n, axis in enumerate("XYZ"):
            if axis in words:
                self._at[n] = words[axis] * self._scale
        if "E" in words:
            self._e = words["E"] * (1.0 if self._area_mm2 else self._scale)

    def _home(self, words: dict[str, float]) -> None:
        for n, axis in enumerate("XYZ"):
            if not words or axis in words:
                self._at[n] = 0.0

    def _dwell(self, words: dict[str, float]) -> None:
        self._seconds += max(words.get("P", 0.0) / 1000.0, words.get("S", 0.0), 0.0)

    def _set_absolute(self, absolute: bool) -> None:
        self._absolute = self._absolute_e = absolute

    def _set_e(self, absolute: bool) -> None:
        self._absolute_e = absolute

    def _set_scale(self, scale: float) -> None:
        self._scale = scale

    def _change_heat(self, name: str, value: float | None) -> None:
        """Another temperature or fan speed from here on; what was laid before counts for those that were."""
        for kept, so_far in self._heat.items():
            if so_far is not None:
                _add(self._by_heat[kept], so_far, self._pushed_since)
        self._pushed_since = 0.0
        if name:
            self._heat[name] = value

    def _set_heat(self, name: str, words: dict[str, float]) -> None:
        value = words.get("S", words.get("R"))
        if value is not None and value > 0.0:
            self._change_heat(name, value)

    def _set_fan(self, share: float) -> None:
        self._change_heat("fan", float(round(100.0 * min(max(share, 0.0), 255.0) / 255.0)))

    def _firmware_retraction(self, words: dict[str, float]) -> None:
        length, speed = words.get("S"), words.get("F")
        self._firmware = ((length or 0.0) * self._scale, (speed or 0.0) * self._scale / 60.0)

    def _firmware_back(self, words: dict[str, float]) -> None:
        if self._firmware and "P" not in words and "L" not in words:  # with P or L, G10 sets a tool's offsets
            _add(self._back, round(self._firmware[0], 2))
            _add(self._back_speed, round(self._firmware[1], 1))

    def _volumetric(self, words: dict[str, float]) -> None:
        self._area_mm2 = math.pi * words.get("D", 0.0) ** 2 / 4.0


_G = {
    2: lambda machine, w: machine._arc(w, clockwise=True),
    3: lambda machine, w: machine._arc(w, clockwise=False),
    4: GcodeReader._dwell,
    10: GcodeReader._firmware_back,
    20: lambda machine, w: machine._set_scale(_INCH),
    21: lambda machine, w: machine._set_scale(1.0),
    28: GcodeReader._home,
    90: lambda machine, w: machine._set_absolute(True),
    91: lambda machine, w: machine._set_absolute(False),
    92: GcodeReader._set_position,
}
_M = {
    82: lambda machine, w: machine._set_e(True),
    83: lambda machine, w: machine._set_e(False),
    104: lambda machine, w: machine._set_heat("nozzle", w),
    109: lambda machine, w: machine._set_heat("nozzle", w),
    140: lambda machine, w: machine._set_heat("bed", w),
    190: lambda machine, w: machine._set_heat("bed", w),
    106: lambda machine, w: machine._set_fan(w.get("S", 255.0)),
    107: lambda machine, w: machine._set_fan(0.0),
    200: GcodeReader._volumetric,
    207: GcodeReader._firmware_retraction,
}

# How far two files may differ in a value and still count as alike in it.
_ALIKE = {"extruded_mm": 0.005, "least_h": 0.01, "speed_mm_s": 0.01}


@dataclass(frozen=True)
class Difference:
    """A value in which two files differ: its name and both values (None: the file does not say)."""

    name: str
    one: float | None
    other: float | None


def what_differs(one: PrintFileSummary, other: PrintFileSummary) -> tuple[Difference, ...]:
    """The values in which two files differ; those that scatter by themselves by more than half a percent."""
    found = []
    for field in fields(PrintFileSummary):
        a, b = getattr(one, field.name), getattr(other, field.name)
        share = _ALIKE.get(field.name, 0.0)
        if (a is None) != (b is None) or (a is not None and abs(a - b) > share * max(abs(a), abs(b))):
            found.append(Difference(field.name, a, b))
    return tuple(found)


def main() -> int:
    """Read a print file from the standard input and print what it says as JSON, or why it is none."""
    reader = GcodeReader()
    try:
        while block := sys.stdin.buffer.read(1 << 18):
            reader.feed(block)
        print(json.dumps(asdict(reader.finish())))  # noqa: T201
    except NotGcodeError as wrong:
        print(json.dumps({"refused": str(wrong)}))  # noqa: T201
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
