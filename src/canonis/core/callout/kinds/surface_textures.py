"""Surface texture: `Ra 1.6`, `Rz 6.3 GROUND ON BOTH FACES`, `Ra 3.2 NO REMOVAL` (ISO 21920-1)."""

import re
from dataclasses import replace
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Numbers, Value
from canonis.core.quantity import Unit

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "SURFACE_TEXTURE", "SurfaceTextures"]

ITEMS = ("surface_texture",)
GRAMMAR = r"""
surface_texture: TEXTURE_WORD? TEXTURE number MICRO? MAX? (REMOVAL | NO_REMOVAL)? PROCESS? TEXTURE_SIDE?

TEXTURE_WORD.9: /(?:surface\s+)?(?:texture|finish|roughness)\s*:?(?=\s*R[aztq])|√/i
TEXTURE.9: /R(?:max|[aztq])(?=[\s\d.,])/i
MICRO.4: /[µμ]m\b|um\b|microns?\b|micromet(?:re|er)s?\b|[µμ]in\b|uin\b|microinch(?:es)?\b/i
REMOVAL.4: /removal(?:\s+required)?\b/i
NO_REMOVAL.5: /no\s+removal\b/i
PROCESS.4: /(?:as\s+)?(?:machined|milled|turned|bored|reamed|ground|honed|lapped|polished|broached|planed|shaped|cast|forged|rolled|extruded|drawn|moulded|molded|blasted|plated|anodi[sz]ed|scraped|sawn)\b/i
TEXTURE_SIDE.5: /(?:on|at)\s+(?:the\s+)?[a-z][a-z ]*?(?=\s+(?:uon|unless|where|typ|est|ref|basic)\b|$)|both\s+(?:sides|faces)\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "TEXTURE": (("Ra", "surface texture"), ("Rz", "surface texture, height of the profile")),
    "PROCESS": (("GROUND", "process"), ("MILLED", "process")), "NO_REMOVAL": (("NO REMOVAL", "no material is taken off"),),
}  # fmt: skip
_INCHES = re.compile(r"[µμ]?u?in|microin", re.I)


class SurfaceTextures(Numbers):
    """Reads surface textures."""

    def surface_texture(self, items: list[Any]) -> Item:
        said = {t.type: " ".join(str(t).split()) for t in items if isinstance(t, Token)}
        value = self._first(items)
        if value.unit is not None or value.squares or "/" in value.typed:
            raise Misread("the height of a surface texture is a plain number of micrometres: write Ra 1.6")
        unit = None
        if "MICRO" in said:
            unit = Unit.INCH if _INCHES.match(said["MICRO"]) else Unit.MM
        parts: list[tuple[str, Value | str | None]] = [
            ("parameter", said["TEXTURE"].capitalize()),
            ("roughness", replace(value, fine=True, unit=unit)),
        ]
        for token, name in (("MAX", "at-most"), ("REMOVAL", "removal"), ("NO_REMOVAL", "no-removal")):
            parts += [(name, None)] if token in said else []
        parts += [("process", said["PROCESS"].upper())] if "PROCESS" in said else []
        if "TEXTURE_SIDE" in said:
            side = re.sub(r"^(?:on|at)\s+(?:the\s+)?", "", said["TEXTURE_SIDE"], flags=re.I)
            parts.append(("side", side.upper()))
        return Item("surface-texture", tuple(parts))


def _word(c: Callout, name: str) -> str:
    part = c.part(name)
    return (part.designation or "") if part else ""


def _write(c: Callout, pen: Pen) -> list[str]:
    words = (
        _word(c, "parameter"),
        pen.fine(c.part("roughness")),
        "MAX" if c.part("at-most") else "",
        "REMOVAL" if c.part("removal") else "NO REMOVAL" if c.part("no-removal") else "",
        _word(c, "process"),
        f"ON {_word(c, 'side')}" if c.part("side") else "",
    )
    return [" ".join(w for w in words if w)]


def _say(c: Callout, speech: Speech) -> str:
    pen = Pen(speech.unit)
    unit = "" if (part := c.part("roughness")) is None or part.unit else " µin" if speech.unit is Unit.INCH else " µm"
    text = f"surface texture {_word(c, 'parameter')} at most {pen.fine(part)}{unit}"
    text += ", material taken off" if c.part("removal") else ", no material taken off" if c.part("no-removal") else ""
    text += f", {_word(c, 'process').lower()}" if c.part("process") else ""
    return text + (f", on {_word(c, 'side').lower()}" if c.part("side") else "")


SURFACE_TEXTURE = enter(
    Kind(
        "surface-texture",
        frozenset({"parameter", "roughness", "at-most", "removal", "no-removal", "process", "side"}),
        _write,
        _say,
        needs=(("parameter",), ("roughness",)),
        apart=(("removal", "no-removal"),),
        flags=frozenset({"at-most", "removal", "no-removal"}),
        of_the_part=True,
    )
)
