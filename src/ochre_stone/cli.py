"""The command line: the same core from a shell, without a display and without Qt."""

import gc
import math
import sys
from pathlib import Path
from typing import Any, NoReturn

import click

from ochre_stone import __version__, cli_log, cli_paint
from ochre_stone.core.errors import OchreError, one_line
from ochre_stone.core.paint.usual import FINISH_HELP, FINISH_WORDS, MEDIUMS, PALETTE


class _Program(click.Group):
    """Commands by name; anything else is a project or photo for the window."""

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        flags = {name for parameter in self.params for name in parameter.opts} | {"--help", "-h"}
        if not args:
            args = ["window"]
        elif args[0] not in self.commands and args[0] not in flags - {"--demo"}:
            if args[0].startswith("-") and args[0] not in ("--demo", "--bring-back"):
                return super().parse_args(ctx, args)  # an unknown option: wrong usage
            args = ["window", *args]
        return super().parse_args(ctx, args)

    def make_context(self, *given: Any, **more: Any) -> click.Context:
        try:
            return super().make_context(*given, **more)
        except KeyboardInterrupt:  # while the words of the command are read
            _stopped()

    def invoke(self, ctx: click.Context) -> Any:
        try:
            return super().invoke(ctx)
        except KeyboardInterrupt:
            _stopped()


def _stopped() -> NoReturn:
    click.echo("\nochre-stone: stopped.", err=True)
    sys.exit(130)


_say, _json = cli_paint.tell_shell, cli_paint.json_option


@click.group(cls=_Program, context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 100})
@click.version_option(__version__, prog_name="ochre-stone")
def program() -> None:
    """From a reference picture to a printed mixing plan.

    Run without a command to open the window: ochre-stone [PROJECT|PHOTO], or ochre-stone --demo for the demo project.
    """


@program.command(hidden=True)
@click.argument("path", required=False)
@click.option("--demo", is_flag=True, help="Open the demo project.")
@click.option("--bring-back", "bring", default="", help="Unsaved work, by the name of its folder.")
def window(path: str | None, demo: bool, bring: str) -> None:
    """Open the window."""
    if path is not None and path not in ("-",) and not Path(path).exists():
        raise OchreError(f"There is no command and no file called '{path}': see ochre-stone --help.")
    gc.disable()  # of what is made before the window is seen, nothing is ever let go; app.py goes on with it
    from ochre_stone.desktop.app import run  # Qt only when a window is wanted

    sys.exit(run(path, demo, bring))


@program.command()
@click.argument("photo")
@click.option("--values", default=4, show_default=True, help="How many values, 2 to 9.")
@click.option("--smallest", default=0.2, show_default=True, help="Smallest shape in percent of the picture.")
@click.option("--simplify", default=0.5, show_default=True, help="How much detail melts, 0 to 1.")
@click.option("--outline", default=0.2, show_default=True, help="How simple outlines are, 0 to 1.")
@click.option("--out", type=click.Path(dir_okay=False), help="Write the masses as a grey PNG of the photo's size.")
@click.option("--svg", type=click.Path(dir_okay=False), help="Write the outlines as SVG.")
@click.option("--transfer", type=click.Path(dir_okay=False), help="Write the outlines at canvas size as PDF pages.")
@click.option("--canvas", "canvas_text", default="30x40cm", show_default=True, help="Canvas of the transfer.")
@_json
def masses(
    photo: str,
    values: int,
    smallest: float,
    simplify: float,
    outline: float,
    out: str | None,
    svg: str | None,
    transfer: str | None,
    canvas_text: str,
    as_json: bool,
) -> None:
    """Group PHOTO into a few flat values in big shapes."""
    import numpy as np

    from ochre_stone.core.masses.plan import FINE_PIXELS, PREVIEW_PIXELS, MassSettings, at_size, prepare, refined
    from ochre_stone.core.masses.statement import state
    from ochre_stone.core.picture.load import load

    settings = MassSettings(values=values, smallest=smallest, simplify=simplify, outline=outline)
    picture = load(photo)
    ground = prepare(picture.reduced(PREVIEW_PIXELS), settings.simplify)
    result = refined(ground, picture.reduced(FINE_PIXELS), settings)
    said = state(result)
    labels, regions = at_size(result, picture.width, picture.height, smallest)
    share = np.bincount(labels.ravel(), minlength=values) / labels.size
    if out is not None:
        _write_grey(out, result.greys()[labels])
    if svg is not None or transfer is not None:
        _write_outlines(result, one_line(Path(photo).stem), svg, transfer, canvas_text)
    data = {
        "thresholds": [round(t, 4) for t in result.thresholds],
        "masses": [
            {"value": round(m.value, 3), "share": round(float(share[m.index]), 5), "family": m.family}
            for m in result.masses
        ],
        "regions": regions,
        "borders": [
            {"a": b.a, "b": b.b, "step": round(b.step, 3), "kind": b.kind, "length": round(b.length, 4)}
            for b in result.borders
        ],
        "division": round(result.division, 3),
        "key": said.key,
        "range": said.range,
    }
    _say(
        data,
        as_json,
        lambda: [
            *(f"{m.index + 1}: value {m.value:.1f}, {m.share:.0%}, {m.family}" for m in result.masses),
            f"{regions} shapes, {said.key}, {said.range}",
        ],
    )


def _write_outlines(plan: Any, title: str, svg: str | None, transfer: str | None, canvas_text: str) -> None:
    from ochre_stone.core.store.atomic import write_bytes
    from ochre_stone.export.bundle import laid_as, parse_canvas
    from ochre_stone.export.outlines import outlines_svg, traced_masses, transfer_pdf

    if svg is not None:
        write_bytes(svg, outlines_svg(plan, title).encode())
    if transfer is not None:
        h, w = plan.labels.shape
        write_bytes(transfer, transfer_pdf(traced_masses(plan), laid_as(parse_canvas(canvas_text), w, h), title))


def _write_grey(out: str, grey: Any) -> None:
    import io

    from PIL import Image

    from ochre_stone.core.store.atomic import write_bytes

    held = io.BytesIO()
    Image.fromarray(grey).save(held, "PNG")
    write_bytes(out, held.getvalue())


def _rectangle(words: str) -> list[tuple[float, float]]:
    """Corners of "x,y,width,height" in pixels. Raises OchreError."""
    try:
        x, y, w, h = (float(v) for v in words.split(","))
    except ValueError:
        raise OchreError(f"--inside '{words}' is no rectangle: give x,y,width,height in pixels.") from None
    if not (math.isfinite(x + y + w + h) and w > 0 and h > 0):
        raise OchreError(f"--inside '{words}' has no width or height: give x,y,width,height in pixels.")
    return [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]


@program.command()
@click.argument("photo")
@click.option("--count", default=12, show_default=True, type=click.IntRange(1, 40), help="How many notes.")
@click.option("--inside", metavar="X,Y,W,H", help="Only within this rectangle, in pixels of PHOTO.")
@click.option(
    "--shape",
    default="count",
    show_default=True,
    type=click.Choice(["count", "2-2-2", "1-2-3", "1-1-1", "form"]),
    help="With --inside: so many lights, middles and darks; the parts of a form; or as many as --count says.",
)
@click.option("--all", "all_of_it", is_flag=True, help="With --inside: not only its main thing.")
@_json
def notes(photo: str, count: int, inside: str | None, shape: str, all_of_it: bool, as_json: bool) -> None:
    """Suggest key colours that cover PHOTO, or a part of it."""
    from ochre_stone.core.document.document import Document
    from ochre_stone.core.keys.area import MOST_COLOURS
    from ochre_stone.core.picture.load import load
    from ochre_stone.core.planning.suggesting import suggest_here, suggest_notes
    from ochre_stone.export.figures import colour_json

    picture = load(photo)
    if inside is None:
        if shape != "count" or all_of_it:
            raise OchreError("--shape and --all ask about a part of the picture: give --inside x,y,width,height too.")
        if count < 2:
            raise OchreError("1 note cannot cover a picture: ask for 2 to 40, or for a part of it with --inside.")
        found = suggest_notes(picture, count, Document())
    elif count > MOST_COLOURS:
        raise OchreError(f"{count} notes are too many for a part of a picture: ask for 1 to {MOST_COLOURS}.")
    else:
        found = suggest_here(picture, Document(), _rectangle(inside), shape, count, all_of_it)
    rest = found.rest
    data: dict[str, Any] = {
        "notes": [
            {
                "x": round(x, 1),
                "y": round(y, 1),
                "share": round(n.share, 5),
                "subject": n.subject,
                "sure": round(found.sure[n.id], 2),
                "role": n.role,
                "aperture": n.aperture,
                "spread": round(n.spread, 2),
                **colour_json(n.lab),
            }
            for n in found.notes
            for x, y in [n.place or (0.0, 0.0)]
        ],
        "left_over": {"mean": round(rest.mean, 3), "p95": round(rest.p95, 3)},
    }
    if inside is not None:
        data |= {"kept": round(found.kept, 3), "missing": list(found.missing)}
    _say(
        data,
        as_json,
        lambda: [
            f"{n['value']:4.1f}  {n['munsell']:14s} {n['share']:5.1%}  {n['subject']:8s} {n['role']:12s} {n['name']}"
            for n in data["notes"]
        ],
    )


@program.command()
@click.argument("photo")
@click.option(
    "--wheel", "wheel_name", default="traditional", show_default=True, type=click.Choice(["traditional", "perceptual"])
)
@_json
def harmony(photo: str, wheel_name: Any, as_json: bool) -> None:
    """Rank colour schemes for PHOTO."""
    import numpy as np

    from ochre_stone.core.harmony.schemes import fit, hue_weights
    from ochre_stone.core.picture.load import load
    from ochre_stone.core.picture.picture import linear_to_lab

    lab = linear_to_lab(load(photo).reduced(50_000)).reshape(-1, 3)
    found = fit(hue_weights(lab, np.ones(len(lab)), wheel_name))
    data = {
        "wheel": wheel_name,
        "schemes": [
            {
                "name": s.name,
                "rotation": s.rotation,
                "score": round(s.score, 4),
                "explained": round(s.explained, 3),
                "clear": s.clear,
            }
            for s in found
        ],
    }
    _say(data, as_json, lambda: [f"{s.title:22s} score {s.score:6.2f}  explains {s.explained:4.0%}" for s in found])


@program.command()
@click.argument("photo")
@click.option(
    "--palette",
    "palette_id",
    default=PALETTE,
    show_default=True,
    help="Palette id, your own too, or paints with commas.",
)
@click.option("--canvas", "canvas_text", default="30x40cm", show_default=True, help="Size such as 30x40cm or 12x16in.")
@click.option("--values", default=4, show_default=True, help="How many values, 2 to 9.")
@click.option(
    "--piles",
    default=0,
    show_default=True,
    type=click.IntRange(0, 60),
    help="How many piles in all; 0 for one on every note.",
)
@click.option("--steps", default=None, type=int, help="Even steps of value instead: so many piles per string, 3 to 9.")
@click.option(
    "--tints",
    default=None,
    type=click.IntRange(0, 24),
    help="How many tints at most; by itself three for up to twenty piles.",
)
@click.option("--count", default=12, show_default=True, type=click.IntRange(2, 40), help="How many notes.")
@click.option(
    "--paper", default="A4", show_default=True, type=click.Choice(["A4", "A3", "Letter"]), help="Paper of the sheet."
)
@click.option(
    "--medium",
    default=None,
    type=click.Choice(MEDIUMS),
    help="What the picture is painted in; if not given, what own tubes are, else oil.",
)
@click.option(
    "--finish",
    default=None,
    type=click.Choice(list(FINISH_WORDS)),
    help=f"Of the dry picture: {FINISH_HELP}; the usual one of the medium if not given.",
)
@click.option("--box", "box_path", type=click.Path(dir_okay=False), help="Paint box file (default: your own).")
@click.option("--out", required=True, type=click.Path(file_okay=False), help="Folder for the plan.")
@_json
def plan(
    photo: str,
    palette_id: str,
    canvas_text: str,
    values: int,
    piles: int,
    steps: int | None,
    tints: int | None,
    count: int,
    paper: str,
    medium: str | None,
    finish: str | None,
    box_path: str | None,
    out: str,
    as_json: bool,
) -> None:
    """Go all the way from PHOTO to a printable plan in the folder OUT."""
    from ochre_stone.core.document.document import MixChoice
    from ochre_stone.export.bundle import parse_canvas, plan_photo

    canvas = parse_canvas(canvas_text, paper)
    if steps is not None and not 3 <= steps <= 9:
        raise OchreError(f"{steps} piles per string are not possible: choose 3 to 9.")
    palette_id, laid = cli_paint.laid_of(palette_id, cli_paint.box_of(box_path))
    stand = {"stand": "even", "steps": steps} if steps is not None else {"piles": piles}
    mix = MixChoice.model_validate({"palette": palette_id, "laid": laid, "tints": tints, **stand})
    data = plan_photo(photo, mix, canvas, values, count, Path(out), (medium or "", finish or ""), cli_paint.telling())
    told = (data["coverage"], data["range"]["words"], data["mixing"]["words"], data["amounts"]["words"])
    said = [w for w in told if w]
    _say(data, as_json, lambda: [f"wrote {p}" for p in data["files"]] + said)


@program.command()
@click.argument("path", metavar="PHOTO|PROJECT")
@click.option("--palette", "palette_id", default=None, help="Palette id, your own too, or paints with commas.")
@click.option(
    "--piles", default=None, type=click.IntRange(0, 60), help="How many piles in all; 0 for one on every note."
)
@click.option("--count", default=12, show_default=True, type=click.IntRange(2, 40), help="How many notes of a photo.")
@click.option("--width", default=1600, show_default=True, type=click.IntRange(50, 8000), help="Pixels across.")
@click.option("--box", "box_path", type=click.Path(dir_okay=False), help="Paint box file (default: your own).")
@click.option("--canvas", "canvas_text", default=None, help="Size of the canvas for SVG and PDF, such as 16x12in.")
@click.option("--outlines", is_flag=True, help="Lines and numbers alone, to be carried over.")
@click.option("--out", required=True, type=click.Path(dir_okay=False), help="PNG, SVG or PDF file to write.")
@_json
def blockin(
    path: str,
    palette_id: str | None,
    piles: int | None,
    count: int,
    width: int,
    box_path: str | None,
    canvas_text: str | None,
    outlines: bool,
    out: str,
    as_json: bool,
) -> None:
    """Lay PHOTO|PROJECT in with exactly the piles of its plan, before one is mixed; PDF: its outlines with numbers."""
    from ochre_stone.core.document.document import MixChoice
    from ochre_stone.export.bundle import block_in_file, parse_canvas

    if Path(out).suffix.lower() not in (".png", ".svg", ".pdf"):
        raise OchreError(f"'{Path(out).name}': give the file a name that ends in .png, .svg or .pdf.")
    canvas = parse_canvas(canvas_text) if canvas_text is not None else None
    mix = None
    if palette_id is not None:
        palette_id, laid = cli_paint.laid_of(palette_id, cli_paint.box_of(box_path))
        mix = MixChoice.model_validate({"palette": palette_id, "laid": laid})
    data = block_in_file(path, mix, piles, count, Path(out), width, canvas, outlines, cli_paint.telling())
    _say(data, as_json, lambda: [f"wrote {data['file']}", f"{data['words']}.", data["coverage"]])


cli_paint.register(program)
program.add_command(cli_log.log)


def main() -> None:
    """Exit 0, 2 for wrong usage, 1 with one line for bad input, 130 where it was interrupted."""
    try:
        program.main(standalone_mode=True)
    except OchreError as error:
        click.echo(f"ochre-stone: {error}", err=True)
        sys.exit(1)


if __name__ == "__main__":
    main()
