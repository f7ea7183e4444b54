"""Projects of older formats, brought up to the present one before they are checked."""

import hashlib
import json
from typing import Any

from ochre_stone.core.document.document import FORMAT_VERSION
from ochre_stone.core.masses.tone import DARKEST
from ochre_stone.core.mixing.recipe.recipe import TINT, TINT_WHITE


def brought_up(raw: dict[str, Any], version: int) -> dict[str, Any]:
    """A project's fields as this version has them; what is no project stays what it is, and is refused later."""
    raw.setdefault("uid", _uid_of(raw))
    raw["version"] = FORMAT_VERSION
    mix = raw.get("mix")
    if isinstance(mix, dict) and version < 7:  # piles stay where the painter began to mix them
        mix.setdefault("stand", "even")
    if version < 15:
        _black(raw)
    mixed = raw.get("mixed")
    if isinstance(mixed, dict):
        for string in _listed(mixed.get("strings")):
            _bases(string)
            for pile in _listed(string.get("piles")):
                for recipe in (pile.get("recipe"), *_listed(pile.get("alternatives"))):
                    if isinstance(recipe, dict):
                        _bases(recipe)
        plan = mixed.get("branching")
        chosen = plan.get("chosen") if isinstance(plan, dict) else None
        for way in chosen.values() if isinstance(chosen, dict) else ():
            if isinstance(way, dict) and "draws" not in way:
                parent, share = way.pop("parent", ""), way.pop("share", 0.0)
                way.pop("small", None)
                way["draws"] = [[parent, share]] if parent else []
    for number, seen in enumerate(_listed(raw.get("readings"))):
        _doses(seen, number)
    for put in _listed(raw.get("put_in")):
        _doses(put, 0)
    held = raw.get("bench")
    bench = held.get("bench") if isinstance(held, dict) else None
    for pile in _listed(bench.get("piles")) if isinstance(bench, dict) else ():
        for dose in _listed(pile.get("doses")):
            _renamed(dose, "supply", "source")
            _renamed(dose, "ml", "volume")
    return raw


_BLACKS = {"": 1.5, "glossy": 1.0}
"""Where black stood at a finish's usual value, until paint was seen wet or varnished; the others stay."""


def _black(raw: dict[str, Any]) -> None:
    """Black stands lower or higher now where it stood at the finish's own value; one that was set stays."""
    mix, masses = raw.get("mix"), raw.get("masses")
    tones = masses.get("range") if isinstance(masses, dict) else None
    chosen = mix if isinstance(mix, dict) else {}
    usual = _BLACKS.get(str(chosen.get("finish", "")))
    if usual is None or not isinstance(tones, dict) or chosen.get("medium", "") not in ("", "oil", "acrylic"):
        return
    black = tones.get("black", usual)
    if isinstance(black, float) and abs(black - usual) < 0.02:
        tones["black"] = DARKEST["glossy"]


def _uid_of(raw: dict[str, Any]) -> str:
    """A name for an older project by which the log knows it again, however often it is opened unsaved."""
    return hashlib.sha256(json.dumps(raw, sort_keys=True).encode()).hexdigest()[:32]


_BY_EYE = 0.2


def _doses(seen: dict[str, Any], batch: int) -> None:
    """What a pile holds is told dose by dose now; of an older one it is known by tube alone, each dosed by eye."""
    amounts = seen.pop("amounts", None)
    if isinstance(amounts, list) and "doses" not in seen:
        pairs = [a for a in amounts if isinstance(a, list) and len(a) == 2]
        seen["doses"] = [{"shares": [[tube, 1.0]], "parts": parts, "error": _BY_EYE} for tube, parts in pairs]
        seen["batch"] = batch
    for dose in _listed(seen.get("doses")):
        _renamed(dose, "parts", "volume")
        shares = dose.get("shares")
        if not dose.get("source") and isinstance(shares, list) and len(shares) == 1 and isinstance(shares[0], list):
            dose["source"] = str(shares[0][0]) if shares[0] else ""


def _renamed(fields: dict[str, Any], old: str, new: str) -> None:
    """One model of a dose serves the bench, the plan and the log since format 11."""
    if old in fields and new not in fields:
        fields[new] = fields.pop(old)


def _listed(value: Any) -> list[dict[str, Any]]:
    return [v for v in value if isinstance(v, dict)] if isinstance(value, list) else []


def _bases(holder: dict[str, Any]) -> None:
    """Tint piles are base piles now, and tell what they are made of."""
    if "tints" not in holder:
        return
    holder["bases"] = holder.pop("tints")
    for base in _listed(holder["bases"]):
        shares = base.get("shares")
        if str(base.get("id", "")).startswith(TINT) and isinstance(shares, list) and len(shares) == 2:
            ids = [s[0] for s in shares if isinstance(s, list) and s]
            if len(ids) == 2:
                base.setdefault("parts", [[ids[0], TINT_WHITE], [ids[1], 1.0]])
