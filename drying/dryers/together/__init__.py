"""Spools and coils in one box: its air is one unknown more, sought along with them."""

from __future__ import annotations

from drying.dryers.together.boxes import Together

__all__ = ["Together"]
