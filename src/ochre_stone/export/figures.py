"""What the command line says of a colour, a tube and a recipe, as JSON."""

from typing import TYPE_CHECKING, Any

from ochre_stone.core.colour.reading import read
from ochre_stone.core.paint.tubes import Tube

if TYPE_CHECKING:
    from ochre_stone.core.mixing.recipe.recipe import Recipe


def recipe_json(recipe: "Recipe") -> dict[str, Any]:
    """A recipe as the command line gives it. ``parts``: of tubes, base piles counted out in theirs; of a pile that is
    mixed on from others, of all that goes in, by its id. ``ingredients`` in the order of adding."""
    on = any(i.is_pile and not i.is_base for i in recipe.ingredients)
    parts = {i.id: i.parts for i in recipe.ingredients} if on else recipe.tube_parts
    return {
        "parts": {i: number(n) for i, n in parts.items()},
        "ingredients": [
            {"id": i.id, "name": i.name, "parts": number(i.parts), "pile": i.is_pile} for i in recipe.ingredients
        ],
        "shares": {i: round(c, 6) for i, c in recipe.shares},
        "lab": [round(x, 3) for x in recipe.lab],
        "srgb": read(recipe.lab).srgb,
        "munsell": read(recipe.lab).munsell,
        "de00": round(recipe.de00, 3),
        "value_error": round(recipe.value_error, 3),
        "hue_error": round(recipe.hue_error, 2),
        "chroma_error": round(recipe.chroma_error, 2),
        "by_eye": round(recipe.by_eye, 3),
        "uncertainty": round(recipe.uncertainty, 2),
        "why": recipe.why,
    }


def number(x: float) -> float | int:
    return int(x) if float(x).is_integer() else round(x, 4)


def tube_json(t: Tube) -> dict[str, Any]:
    """A paint as the command line gives it."""
    from ochre_stone.core.paint.cautions import hazards, is_safe, substitutes, tube_cautions

    tolerance = {"strength": t.tolerance.strength, "scatter": t.tolerance.scatter, "hue_nm": t.tolerance.hue_nm}
    nearest = [] if is_safe(t) else substitutes(t)
    return {
        "id": t.id,
        "name": t.name,
        "common": list(t.common),
        "ci": t.ci,
        "opacity": t.opacity,
        "tinting_strength": round(t.tinting_strength, 4),
        "lightfastness": t.lightfastness,
        "hazards": hazards(t),
        "drying": t.drying,
        "granulation": t.granulation,
        "density": t.density,
        "lab": [round(x, 3) for x in t.lab],
        "munsell": t.munsell,
        "confidence": t.confidence,
        "tolerance": tolerance,
        "tints": [[round(x, 3) for x in row] for row in t.tints],
        "undertone": [round(x, 3) for x in t.undertone],
        "pigments": dict(t.parts),
        "cautions": tube_cautions(t),
        "substitutes": [{"id": s.tube.id, "far": round(s.far, 2), "parts": round(s.parts, 3)} for s in nearest],
        "source": "from memory, not measured" if t.sources else "your own tube",
        "sources": dict(t.sources),
        "k": t.K.tolist(),
        "s": t.S.tolist(),
    }


def colour_json(lab: tuple[float, float, float]) -> dict[str, Any]:
    """What is said of a colour."""
    r = read(lab)
    return {
        "lab": [round(x, 3) for x in lab],
        "srgb": r.srgb,
        "munsell": r.munsell,
        "value": round(r.value, 2),
        "chroma": round(r.chroma, 2),
        "hue": r.hue,
        "name": r.name,
    }
