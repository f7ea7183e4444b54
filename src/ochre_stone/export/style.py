"""What all that is printed shares: papers, faces, inks."""

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A3, A4, LETTER
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from ochre_stone.resources import resource

PAGE_MARGIN = 40.0
INK = HexColor("#1c1c1c")
QUIET_INK = HexColor("#5a5a5a")
LINE = HexColor("#b4b4b4")
GREY_GROUND = HexColor("#777777")  # N5, the ground on which colours are shown
BODY, BOLD = "Atkinson", "Atkinson-Bold"


def register_fonts() -> None:
    """Make the faces that ship known to the printer."""
    if BODY not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(BODY, str(resource("fonts", "AtkinsonHyperlegibleNext_400Regular.ttf"))))
        pdfmetrics.registerFont(TTFont(BOLD, str(resource("fonts", "AtkinsonHyperlegibleNext_700Bold.ttf"))))


def paper_size(name: str) -> tuple[float, float]:
    """Width and height of A4, A3 or Letter in points."""
    width, height = {"A4": A4, "A3": A3, "Letter": LETTER}[name]
    return float(width), float(height)
