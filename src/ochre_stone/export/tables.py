"""Plans as open files: CSV, GPL and JSON."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import lab_to_srgb
from ochre_stone.core.mixing.session.adding import Step
from ochre_stone.core.mixing.session.amounts import grams, ribbon_cm
from ochre_stone.core.mixing.session.minutes import mixing_time
from ochre_stone.core.mixing.strings.targets import MixString
from ochre_stone.core.paint import tabled
from ochre_stone.export.figures import colour_json, number, recipe_json

if TYPE_CHECKING:
    from ochre_stone.core.document.document import Document
    from ochre_stone.core.mixing.session.amounts import Amounts
    from ochre_stone.core.planning.coverage import Covered
    from ochre_stone.core.planning.planning import Sheet


def string_json(string: MixString, document: "Document", needed: "Amounts") -> dict[str, Any]:
    """A string with its piles; how each looks wet, in the picture's medium. ``needed``: paint for the whole plan."""
    from ochre_stone.core.planning.drying import drying  # a colour alone needs no project
    from ochre_stone.core.planning.steps import steps_of

    return {
        "id": string.id,
        "name": string.name,
        "method": string.method,
        "bases": [
            {
                "id": b.id,
                "name": b.name,
                "parts": {i: number(n) for i, n in b.parts},
                "shares": {i: round(c, 6) for i, c in b.shares},
            }
            for b in string.bases
        ],
        "piles": [
            {
                "id": p.id,
                "name": p.name,
                "order": p.order,
                "origin": p.target.origin,
                "notes": list(p.target.notes),
                "rules": list(p.target.rules),
                "pinned": p.pinned,
                "reachable": p.reachable,
                "near": p.nearness.words,
                "target": colour_json(p.target.lab),
                "recipe": recipe_json(p.recipe),
                "wet": colour_json(drying(document, p.recipe).wet),
                "steps": [step_json(s) for s in steps_of(document, p, needed)],
                "step_down": stepped_json(document, p.id),
            }
            for p in string.piles
        ],
    }


def step_json(step: Step) -> dict[str, Any]:
    """One thing that the hand does: ``act`` is make (the base pile ``makes`` is made of ``doses``), add (``doses`` go
    into the pile), cut (the pile is cut in two equal halves and one is kept; what is added from then on goes into the
    other) or join (``doses`` go into the half that was kept, then both halves are put together)."""
    return {
        "act": step.act,
        "makes": step.makes,
        "doses": [{"id": d.id, "name": d.name, "parts": round(d.parts, 6), "pile": d.is_pile} for d in step.doses],
        "half": step.half,
        "lab": [round(x, 3) for x in step.lab],
        "do": step.told,
        "why": step.words,
    }


def stepped_json(document: "Document", pile_id: str) -> dict[str, Any] | None:
    """A pile as the darker one beside it plus white; None where that is no way."""
    from ochre_stone.core.planning.stepping import stepped

    found = stepped(document, pile_id)
    if found is None:
        return None
    return {"from": found.before, "parts": list(found.parts), "off": round(found.off, 2), "words": found.words}


def loose_json(document: "Document") -> list[dict[str, Any]]:
    """Piles that are mixed loosely: parents in parts, each brought to the pile's value, and what comes of them."""
    from ochre_stone.core.planning.loosening import chosen_loose

    return [
        {
            "pile": one.pile,
            "parents": [
                {
                    "id": p.tube,
                    "name": name,
                    "of": parts,
                    "made_of": [{"id": i, "parts": v} for i, v in p.parts],
                    "lab": [round(x, 3) for x in p.lab],
                }
                for p, parts, name in zip(one.made.parents, one.made.parts, one.names, strict=True)
            ],
            **{k: [round(x, 3) for x in getattr(one.made, k)] for k in ("strokes", "turned", "stirred")},
            "kept": [round(k, 3) for k in one.made.kept],
        }
        for one in chosen_loose(document)
        if one.made is not None
    ]


def branching_json(sheet: "Sheet") -> dict[str, Any]:
    """What is mixed on from what, in the order of mixing, and how good that plan is."""
    plan = sheet.document.mixed.branching
    if plan is None:
        return {}
    return {
        "words": plan.words,
        "cost": round(plan.cost, 4),
        "bound": round(plan.bound, 4),
        "from_tubes": round(plan.from_tubes, 4),
        "proven": plan.proven,
        "order": [{"pile": i, "from": list(plan.chosen[i].parents)} for i in plan.order],
    }


def covered_json(found: "Covered | None") -> dict[str, Any]:
    """What is said of a note's pile."""
    if found is None:
        return {"pile": "", "de00": None, "reach": None, "near": ""}
    near = found.near.words if found.near is not None else ""
    return {"pile": found.pile if found.own else "", "de00": round(found.de00, 2), "reach": found.reach, "near": near}


def sheet_json(sheet: "Sheet") -> dict[str, Any]:
    """The whole plan."""
    from ochre_stone.core.planning.coverage import coverage, coverage_words

    d, cover, time = sheet.document, coverage(sheet.document, search=True), mixing_time(sheet.strings)
    return {
        "title": d.title,
        "canvas": d.canvas.model_dump(),
        "palette": d.mix.palette,
        "medium": d.mix.chosen().medium,
        "finish": d.mix.finish,
        "harmony": d.harmony.model_dump(),
        "notes": [colour_json(n.lab) | n.model_dump() | covered_json(cover.get(n.id)) for n in d.notes],
        "coverage": coverage_words(cover),
        "masses": {
            "thresholds": [round(t, 3) for t in sheet.masses.thresholds],
            "masses": [
                {
                    "value": round(m.value, 2),
                    "measured": round(m.measured, 2),
                    "share": round(m.share, 4),
                    "family": m.family,
                }
                for m in sheet.masses.masses
            ],
            "key": sheet.statement.key,
            "range": sheet.statement.range,
            "contrast": round(sheet.statement.contrast, 2),
            "borders": [
                {"a": b.a, "b": b.b, "step": round(b.step, 2), "kind": b.kind, "length": round(b.length, 4)}
                for b in sheet.masses.borders
            ],
        },
        "strings": [string_json(s, d, sheet.amounts) for s in sheet.strings],
        "loose": loose_json(d),
        "hand": d.mix.hand.model_dump(),
        "branching": branching_json(sheet),
        "mixing": {
            "minutes": round(time.minutes, 1),
            "piles": time.piles,
            "bases": time.bases,
            "doses": time.doses,
            "words": time.words,
        },
        "amounts": {
            "piles_ml": {i: round(v, 2) for i, v in sheet.amounts.piles.items()},
            "bases_ml": {i: round(v, 2) for i, v in sheet.amounts.bases.items()},
            "tubes_ml": {i: round(v, 2) for i, v in sheet.amounts.tubes.items()},
            "tubes_g": {i: round(grams(v, d.mixed.tube(i)), 2) for i, v in sheet.amounts.tubes.items()},
            "drawn_ml": [{"from": a, "to": b, "ml": round(v, 2)} for (a, b), v in (sheet.amounts.drawn or {}).items()],
            "white_share": round(sheet.amounts.white_share, 3),
            "uncovered": round(sheet.amounts.uncovered, 4),
            "words": sheet.amounts.uncovered_words,
        },
    }


def recipes_csv(sheet: "Sheet") -> str:
    """One line per pile; the tubes in use are columns of millilitres, so that a spreadsheet can add them up."""
    from ochre_stone.core.planning.drying import drying
    from ochre_stone.core.planning.loosening import brought_words, chosen_loose
    from ochre_stone.core.planning.stepping import stepped
    from ochre_stone.core.planning.steps import steps_of

    table: list[Sequence[object]] = []
    tubes = list(sheet.amounts.tubes)
    head = "string pile name mix_order target_value target_munsell recipe mixture_munsell de00 value_error uncertainty"
    more = ("why", "wet_munsell", "by_eye", "steps", "step_down", "loosely", "near")
    table.append([*head.split(), "reachable", "amount_ml", *(f"{t}_ml" for t in tubes), *more])
    loose = {
        one.pile: ", ".join(
            f"{parts:g} of ({brought_words(sheet.document, p)})"
            for parts, p in zip(one.made.parts, one.made.parents, strict=True)
        )
        for one in chosen_loose(sheet.document)
        if one.made is not None
    }
    for s in sheet.strings:
        for p in s.piles:
            r = p.recipe
            recipe = ", ".join(i.said for i in r.ingredients)
            ml = sheet.amounts.piles[p.id]
            share, down = dict(r.shares), stepped(sheet.document, p.id)
            table.append(
                [
                    s.name,
                    p.id,
                    p.name,
                    p.order,
                    f"{p.target.value:.1f}",
                    read(p.target.lab).munsell,
                    recipe,
                    read(r.lab).munsell,
                    f"{r.de00:.2f}",
                    f"{r.value_error:+.2f}",
                    f"{r.uncertainty:.1f}",
                    "yes" if p.reachable else "no",
                    f"{ml:.1f}",
                    *(f"{ml * share[t]:.2f}" if t in share else "" for t in tubes),
                    r.why,
                    read(drying(sheet.document, r).wet).munsell,
                    f"{r.by_eye:.2f}",
                    "; ".join(x.told for x in steps_of(sheet.document, p, sheet.amounts)),
                    down.words if down is not None else "",
                    loose.get(p.id, ""),
                    p.nearness.words,
                ]
            )
    return tabled.as_text(table)


def palette_gpl(sheet: "Sheet") -> str:
    """Predicted mixtures as a palette file that picture programs read (the magic first line is part of the format)."""
    lines = ["GIMP Palette", f"Name: {sheet.document.title or 'Ochre Stone plan'}", "Columns: 0", "#"]
    for s in sheet.strings:
        for p in s.piles:
            r, g, b = (round(x * 255) for x in lab_to_srgb(p.recipe.lab).reshape(3))
            lines.append(f"{r:3d} {g:3d} {b:3d}\t{p.name}")
    return "\n".join(lines) + "\n"


def ribbon_words(ml: float) -> str:
    """An amount as painters squeeze it."""
    return f"{ml:.1f} ml, {ribbon_cm(ml):.0f} cm" if ml >= 0.5 else f"{max(ml, 0.05):.1f} ml, a touch"


def ordinal(n: int) -> str:
    """1st, 2nd, 3rd, 4th, 11th, 12th, 13th, 21st, 22nd ..."""
    return f"{n}{'th' if n % 100 in (11, 12, 13) else {1: 'st', 2: 'nd', 3: 'rd'}.get(n % 10, 'th')}"
