"""Codes to scan with a phone's camera."""

import io

import segno


def code_svg(text: str) -> str:
    """A text as a code, drawn as SVG without a border."""
    out = io.BytesIO()
    segno.make(text, error="m", micro=False).save(out, kind="svg", border=0, xmldecl=False, svgns=True)
    return out.getvalue().decode()
