"""Draw the four small pictures of the start page from the demo, into the resources. Run through ``make resources``."""

import io
from pathlib import Path

import numpy as np
from PIL import Image
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from ochre_stone.core.masses.plan import grey_of_value
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.core.planning.blockin import block_in
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.store.files import open_project
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.scale.axis import y_of
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import dab, halves, paint_colour, pile
from ochre_stone.export.blockpicture import block_in_pixels
from ochre_stone.resources import resource

WIDTH, HEIGHT = 440, 330
OUT = Path(__file__).parents[1] / "src/ochre_stone/resources/start"


def image_of(codes: np.ndarray) -> QImage:
    held = io.BytesIO()
    Image.fromarray(codes).resize((WIDTH, HEIGHT), Image.Resampling.LANCZOS).save(held, "PNG")
    return QImage.fromData(held.getvalue())


def main() -> None:
    app = make_app(["start"])
    theme.apply(app, "middle")
    OUT.mkdir(exist_ok=True)
    project = open_project(resource("demo", "orchard-keeper.ochre"))
    document, picture = project.document, project.picture
    assert picture is not None
    screen = np.asarray(Image.open(resource("demo", "orchard_keeper.png")).convert("RGB"))
    photo = image_of(screen)
    painter = QPainter(photo)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for n in document.notes[::2]:
        if n.place is not None:
            x, y = n.place[0] * WIDTH / picture.width, n.place[1] * HEIGHT / picture.height
            painter.fillPath(dab(n.id, QRectF(x - 15, y - 13, 30, 26)), QColor("white"))
            painter.fillPath(dab(n.id, QRectF(x - 12, y - 10, 24, 20)), paint_colour(n.lab))
    painter.end()
    photo.save(str(OUT / "photo.jpg"), "JPEG", 88)
    plan = fine_masses(picture, document)
    greys = np.array([grey_of_value(m.value) for m in plan.masses], np.uint8)
    labels = enlarge(plan.labels, len(plan.masses), WIDTH * 2, HEIGHT * 2)
    image_of(np.repeat(greys[labels][..., None], 3, axis=2)).save(str(OUT / "masses.png"))
    piles = QImage(WIDTH, HEIGHT, QImage.Format.Format_RGB32)
    piles.fill(theme.colour("surround"))
    painter = QPainter(piles)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    faint = theme.colour("on_surround")
    faint.setAlpha(70)
    painter.setPen(faint)
    for v in range(1, 10):
        painter.drawLine(0, round(y_of(v, HEIGHT)), WIDTH, round(y_of(v, HEIGHT)))
    strings = document.mixed.strings[:5]
    for k, s in enumerate(strings):
        for p in s.piles:
            x, y = (k + 0.5) * WIDTH / len(strings), y_of(p.target.value, HEIGHT)
            halves(painter, pile(p.id, QRectF(x - 32, y - 14, 64, 28)), p.target.lab, p.recipe.lab)
    painter.end()
    piles.save(str(OUT / "piles.png"))
    laid = block_in(picture, document)
    assert laid is not None
    image_of(block_in_pixels(laid, WIDTH * 2)).save(str(OUT / "block-in.png"))


if __name__ == "__main__":
    main()
