"""The commands about paint: paints, palettes, predict, mix, chart. They know the painter's own box too."""

import json
import sys
from collections.abc import Callable, Iterable
from dataclasses import asdict, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.usual import FINISH_HELP, FINISH_WORDS, MEDIUMS, PALETTE

if TYPE_CHECKING:
    from ochre_stone.core.mixing.recipe.recipe import Recipe
    from ochre_stone.core.paint.box import Laid, PaintBox
    from ochre_stone.core.paint.optics import Surface
    from ochre_stone.core.paint.palettes import Palette
    from ochre_stone.core.paint.tubes import Tube

_VALUE_SEEN, _WRONG_VALUE = 0.25, 4.0
"""Steps of value from which a wrong one is seen, and what a step beyond that weighs, in CIEDE2000 (judgement)."""
OWN_PREFIX = "own-"
"""What the ids of the painter's own tubes begin with."""


def tell_shell(data: Any, as_json: bool, lines: Callable[[], list[str]]) -> None:
    """The answer, as JSON or as lines."""
    text = json.dumps(data, ensure_ascii=False) if as_json else "\n".join(lines())
    # Bytes of a file's name that are no UTF-8 are told as JSON has them: \udcff.
    click.echo(text.encode("utf-8", "backslashreplace").decode())


def telling() -> Callable[[str, float], None]:
    """Takes what is being done and how far all of it is (0..1), and shows it on a terminal, in one line that is gone at
    the end; in a pipe nothing is shown."""
    if not sys.stderr.isatty():
        return lambda words, share: None

    def tell(words: str, share: float) -> None:
        done = f"{share:4.0%}  {words}…" if share < 1 else ""
        sys.stderr.write(f"\r\x1b[K{done}")
        sys.stderr.flush()

    return tell


json_option = click.option("--json", "as_json", is_flag=True, help="Machine-readable output.")
_box_option = click.option(
    "--box", "box_path", type=click.Path(dir_okay=False), help="Paint box file (default: your own)."
)


def box_of(path: str | None) -> "PaintBox":
    from ochre_stone.core.store.boxfile import load_box

    if path is not None and not Path(path).exists():
        raise OchreError(f"There is no paint box '{path}': check the name and the folder.")
    return load_box(Path(path) if path is not None else None)


def _palette(text: str, box: "PaintBox") -> "Palette":
    """A palette by its id, or one made of paints with commas: ids, or any usual names."""
    palette_id, laid = laid_of(text, box)
    return laid.made() if laid is not None else box.palette(palette_id)


def laid_of(text: str, box: "PaintBox") -> tuple[str, "Laid | None"]:
    """The id of a palette as :func:`_palette` takes it, and what it is made of where it does not ship."""
    from ochre_stone.core.paint.box import Laid, OwnPalette
    from ochre_stone.core.paint.palettes import MOST_TUBES, PALETTES
    from ochre_stone.core.paint.tubes import all_tubes
    from ochre_stone.core.paint.typed import tubes_typed, unclear_words

    if "," not in text or text in PALETTES:
        return box.palette(text).id, box.laid(text)
    known = {*all_tubes(), *(t.id for t in box.tubes)}
    ids = tuple(dict.fromkeys(text.replace(",", " ").split()))
    if not known.issuperset(ids):
        typed = tubes_typed(text, [t.tube() for t in box.tubes if not t.archived])
        if typed.unclear:
            raise OchreError(unclear_words(typed, {t.id: t.name for t in box.tubes}))
        ids = typed.paints
    if not 1 <= len(ids) <= MOST_TUBES:
        raise OchreError(f"'{text}' names {len(ids)} paints: a palette holds 1 to {MOST_TUBES}.")
    own = tuple(t for t in box.tubes if t.id in ids)
    return "own-these", Laid(palette=OwnPalette(id="own-these", name="These tubes", paints=ids), tubes=own)


@click.command()
@_box_option
@json_option
def paints(box_path: str | None, as_json: bool) -> None:
    """The generic pigments, and the tubes of your box: labels, colour, tints, undertone, K and S."""
    from ochre_stone.core.colour.spaces import WAVELENGTHS
    from ochre_stone.core.paint.optics import ANCHORS, USUAL
    from ochre_stone.core.paint.tubes import all_tubes, data_note
    from ochre_stone.export.figures import tube_json

    box = box_of(box_path)
    own = [t.tube() for t in box.tubes if not t.archived]
    tubes = [*all_tubes().values(), *own]
    data = {
        "note": data_note(),
        "wavelengths": WAVELENGTHS.tolist(),
        "surface": asdict(USUAL),
        "surfaces": {"usual": asdict(USUAL), "anchors": asdict(ANCHORS)},
        "seen": "lab, munsell, tints and undertone through 'usual' (wet or varnished, the glare turned away); anchors "
        "are remembered through 'anchors', those of opaque brights, earths and whites without gloss",
        "paints": [tube_json(t) for t in tubes],
    }
    tell_shell(
        data, as_json, lambda: [f"{t.id:28s} {t.ci:8s} {t.munsell:16s} {t.name}" for t in tubes] + ["", data_note()]
    )


@click.command()
@_box_option
@json_option
def palettes(box_path: str | None, as_json: bool) -> None:
    """The palettes that ship, and your own: what each tube is on them, and what lightens, darkens, warms and cools."""
    from ochre_stone.core.advice.roles import answers, middle, roles
    from ochre_stone.core.paint.palettes import PALETTES

    def does(p: "Palette") -> dict[str, list[str]]:
        found = answers(*middle(p.tubes, surface=p.surface), p.tubes, surface=p.surface)
        return {kind: [e.name for e in way] for kind, way in found.ways.items()}

    box = box_of(box_path)
    found = [*PALETTES.values(), *(box.palette(p.id) for p in box.palettes)]
    data = {
        "palettes": [
            {
                "id": p.id,
                "name": p.name,
                "about": p.about,
                "paints": list(p.paints),
                "medium": p.medium,
                "roles": {r.tube.id: r.words for r in roles(p.tubes)},
                "does": does(p),
            }
            for p in found
        ]
    }
    tell_shell(data, as_json, lambda: [f"{p.id:24s} {', '.join(p.paints)}" for p in found])


def tubes_of(names: Iterable[str], box_path: str | None = None) -> "Callable[[str], Tube]":
    """What finds tubes by their ids. The painter's box is read only where one of ``names`` can be in it."""
    from ochre_stone.core.paint.tubes import tube

    if box_path is None and not any(name.startswith(OWN_PREFIX) for name in names):
        return tube
    return box_of(box_path).tube


@click.command()
@click.argument("mixture")
@click.option("--medium", default=None, type=click.Choice(MEDIUMS), help="In this medium: how it looks dry, and wet.")
@click.option("--finish", default=None, type=click.Choice(list(FINISH_WORDS)), help=f"Of the dry paint: {FINISH_HELP}.")
@click.option("--film", default=None, type=float, help="Film of so many micrometres over a ground, instead of hiding.")
@click.option("--over", default=None, help="Ground of the film: a colour such as '#ffffff' (default: white).")
@_box_option
@json_option
def predict(
    mixture: str,
    medium: str | None,
    finish: str | None,
    film: float | None,
    over: str | None,
    box_path: str | None,
    as_json: bool,
) -> None:
    """Colour of a MIXTURE such as "titanium-white:4 yellow-ochre:2 cadmium-red:1" (parts by volume)."""
    from ochre_stone.core.paint.media import MEDIA, seen
    from ochre_stone.core.paint.predict import predict as work_out
    from ochre_stone.core.paint.predict import spectra
    from ochre_stone.core.paint.writing import parts_of
    from ochre_stone.export.figures import colour_json

    typed = parts_of(mixture)
    find = tubes_of(typed, box_path)
    parts = {find(name).id: n for name, n in typed.items()}
    tubes = [find(i) for i in parts]
    paint = MEDIA[medium or "oil"]
    surface = paint.surface("dry", finish or "")
    result = work_out(parts, find, surface)
    sure = {"uncertainty": round(result.uncertainty, 2), "trust": result.trust}
    data = colour_json(result.lab) | sure
    said = [
        f"uncertainty {data['uncertainty']} CIEDE2000 ({result.trust}); generic pigment data from memory, not measured"
    ]
    K, S = spectra(tubes, list(parts.values()))
    if medium is not None:
        um = film if film is not None else 4.0
        shown = {s: colour_json(seen(K, S, paint, s, um, finish or "")) for s in ("wet", "dry")}
        data = shown["dry"] | sure | shown  # what it is in this medium, once it is dry
        for state in shown:
            said.append(f"{paint.name} {state}: value {data[state]['value']}, {data[state]['munsell']}")
        said.append(paint.words)
    elif film is not None or over is not None:
        data["film"] = _film(K, S, film if film is not None else 20.0, over, surface)
        said.append(
            f"film of {data['film']['um']:g} micrometres: value {data['film']['value']}, {data['film']['munsell']}"
        )
    head = f"{data['name']}: value {data['value']}, {data['munsell']}, {data['srgb']}"
    tell_shell(data, as_json, lambda: [head, *said])


def _film(K: Any, S: Any, um: float, over: str | None, surface: "Surface") -> dict[str, Any]:
    import numpy as np

    from ochre_stone.core.colour.parse import parse_colour
    from ochre_stone.core.colour.spaces import lab_to_xyz
    from ochre_stone.core.paint.layers import WHITE_GROUND, film_lab, ground_below
    from ochre_stone.export.figures import colour_json

    if not 0 <= um <= 10_000:
        raise OchreError(f"A film of {um:g} micrometres is not possible: choose 0 to 10000.")
    if over is None:
        ground = np.full(36, WHITE_GROUND)
    else:
        lab = parse_colour(over)
        if np.hypot(lab[1], lab[2]) > 3:
            raise OchreError(f"'{over}' has a hue: the ground of a film is told as a grey, as in '#808080'.")
        ground = np.full(36, float(lab_to_xyz(np.array([lab[0], 0.0, 0.0]))[1]))
    lab = film_lab(K, S, um / 1000, ground_below(ground, surface), surface)
    return {"um": um} | colour_json(as_lab(lab))


@click.command()
@click.argument("target")
@click.option(
    "--palette", "palette_id", default=PALETTE, show_default=True, help="Palette id, or paint ids with commas."
)
@click.option("--max-paints", default=4, show_default=True, type=click.IntRange(1, 5), help="Tubes per recipe.")
@click.option("--count", default=5, show_default=True, type=click.IntRange(1, 30), help="How many recipes.")
@click.option(
    "--order",
    default="value",
    show_default=True,
    type=click.Choice(["value", "hue", "even"]),
    help="What an error weighs: value first, hue first, or all alike.",
)
@click.option(
    "--medium", default=None, type=click.Choice(MEDIUMS), help="What it is painted in; recipes are for the dry colour."
)
@click.option("--finish", default=None, type=click.Choice(list(FINISH_WORDS)), help=f"Of the dry paint: {FINISH_HELP}.")
@_box_option
@json_option
def mix(
    target: str,
    palette_id: str,
    max_paints: int,
    count: int,
    order: str,
    medium: str | None,
    finish: str | None,
    box_path: str | None,
    as_json: bool,
) -> None:
    """Recipes for a TARGET: "lab 62 14 22", "#c9a27e" or "munsell 5YR 6.5/4"."""

    from ochre_stone.core.colour.parse import parse_colour
    from ochre_stone.core.mixing.recipe.drying import dried
    from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
    from ochre_stone.core.mixing.recipe.nearness import nearness
    from ochre_stone.core.mixing.recipe.ranking import WAY_KINDS
    from ochre_stone.core.mixing.recipe.sources import Terms
    from ochre_stone.core.planning.planning import means_of
    from ochre_stone.export.figures import colour_json, recipe_json

    lab, box = parse_colour(target), box_of(box_path)
    chosen = _palette(palette_id, box)
    chosen = replace(chosen, medium=medium or chosen.medium, finish=finish or "")
    terms = Terms(chosen.tubes, chosen.name, max_paints, chosen.surface, order)
    reachable, straight = recipes(lab, terms, Wishes(count=count, tints=(), means=means_of(box)))
    found = [r for r in straight if not r.kind]
    _, all_ways = recipes(lab, terms, Wishes(count=count))
    nearer = [r for r in all_ways if r.bases and r.by_eye < found[0].by_eye - 0.25]
    kinds = [r for r in straight if r.kind]
    found = sorted([*found, *nearer], key=_rank)[:count]  # the best first, of whatever kind
    near = "in reach" if reachable else nearness(as_lab(lab), found[0].lab).words
    data: dict[str, Any] = {
        "target": colour_json(as_lab(lab)),
        "palette": palette_id,
        "near": near,
        "reachable": reachable,
        "medium": chosen.medium,
        "recipes": [recipe_json(r) | {"wet": colour_json(dried(chosen, chosen.tube, r).wet)} for r in found],
        "through_tints": [recipe_json(r) for r in nearer],
        "other_ways": [recipe_json(r) | {"kind": r.kind} for r in kinds],
    }

    def lines() -> list[str]:
        seen = data["target"]
        out = [f"Target value {seen['value']}, {seen['munsell']}: {near}"]
        for r in found:
            wet = dried(chosen, chosen.tube, r).words
            out += [f"  {_recipe_line(r)}", f"      {r.why}{' ' + wet if wet else ''}"]
        if any(r.bases for r in found):
            out.append("A tint is a pile of its own, made first: one part of paint to ten of white.")
        return out + [f"  {WAY_KINDS[r.kind]}: {_recipe_line(r)}" for r in kinds]

    tell_shell(data, as_json, lines)


def _rank(recipe: "Recipe") -> float:
    """How far off a hand gets, a value that is seen to be wrong counted more."""
    return float(recipe.by_eye + _WRONG_VALUE * max(abs(recipe.value_error) - _VALUE_SEEN, 0.0))


def _recipe_line(recipe: Any) -> str:

    words = ", ".join(i.said for i in recipe.ingredients)
    return f"{words}   (difference {recipe.de00:.1f}, by eye {recipe.by_eye:.1f}, value {recipe.value_error:+.2f})"


@click.command()
@click.option(
    "--palette", "palette_id", default=PALETTE, show_default=True, help="Palette id, or paint ids with commas."
)
@click.option(
    "--values",
    default=6,
    show_default=True,
    help="Cells of a row from its mass tone to nearly white, even in value, 3 to 10.",
)
@click.option("--same-values", is_flag=True, help="All rows at the same values, in columns.")
@click.option(
    "--rows", default="", help="singles, darkened, pairs, triples, with commas (default: as many as stay readable)."
)
@click.option("--paper", default="A4", show_default=True, type=click.Choice(["A4", "Letter"]), help="Paper.")
@click.option("--blank", is_flag=True, help="Without colours, to paint into (PDF and SVG).")
@click.option("--out", required=True, type=click.Path(dir_okay=False), help="File: .pdf, .svg, .csv, .txt or .cgats.")
@_box_option
@json_option
def chart(
    palette_id: str,
    values: int,
    same_values: bool,
    rows: str,
    paper: str,
    blank: bool,
    out: str,
    box_path: str | None,
    as_json: bool,
) -> None:
    """A chart of a palette: its tubes, pairs and triples, stepped with white (or black) in even values."""
    import numpy as np

    from ochre_stone.core.paint.chart import CHART_KINDS, Cell, chart_values, make_chart, readable_kinds
    from ochre_stone.core.paint.predict import uncertainty
    from ochre_stone.core.store.atomic import write_bytes
    from ochre_stone.export.chart import chart_bytes

    chosen = _palette(palette_id, box_of(box_path))
    kinds = tuple(k.strip() for k in rows.split(",") if k.strip()) or readable_kinds(chosen)
    for kind in kinds:
        if kind not in CHART_KINDS:
            raise OchreError(f"'{kind}' is no kind of row: choose of {', '.join(CHART_KINDS)}.")
    made = make_chart(chosen, chart_values(values) if same_values else values, kinds)
    write_bytes(out, chart_bytes(made, Path(out).suffix, paper, blank))

    def sure(cell: Cell) -> float:
        tubes = [chosen.tube(i) for i, _ in cell.parts]
        return uncertainty(tubes, np.array([n for _, n in cell.parts]), chosen.surface)

    data = {
        "palette": palette_id,
        "values": [round(v, 4) for v in made.values]
        or [round(float(np.mean([c.value for c in made.cells if c.column + 1 == k])), 4) for k in range(made.columns)],
        "rows": [
            {
                "letter": r.letter,
                "kind": r.kind,
                "title": r.title,
                "base": dict(r.base),
                "cells": [
                    {
                        "label": c.label,
                        "column": c.column,
                        "value": round(c.value, 3),
                        "parts": dict(c.parts),
                        "words": c.words,
                        "lab": [round(x, 3) for x in c.lab],
                        "uncertainty": round(sure(c), 2),
                    }
                    for c in r.cells
                ],
            }
            for r in made.rows
        ],
        "file": out,
    }
    tell_shell(data, as_json, lambda: [f"wrote {out}: {len(made.rows)} rows, {len(made.cells)} cells"])


def register(program: click.Group) -> None:
    """Add these commands to the program."""
    for command in (paints, palettes, predict, mix, chart):
        program.add_command(command)
