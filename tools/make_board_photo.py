"""Make the example photo of the demo's palette: simulated, its tubes off their data, its piles mixed off by eye.

Use: python tools/make_board_photo.py   writes src/ochre_stone/resources/demo/palette.jpg and palette.json (the truth).
"""

import json
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np

from benchmarks.boards.plans import plans
from benchmarks.boards.scene import Conditions
from benchmarks.boards.simulate import simulate
from ochre_stone.core.mixing.correcting.departing import departed, prior_sd
from ochre_stone.core.paint.palettes import palette

SEED, WIDE = 21, 2800
OUT = Path(__file__).parents[1] / "src" / "ochre_stone" / "resources" / "demo"
AS_ASKED = Conditions(
    plan="demo",
    surface="white",
    card=True,
    kelvin=5600.0,
    tint=2.0,
    led=False,
    balanced=0.8,
    stops=0.35,
    vignette=0.15,
    mixed=0.0,
    gloss=0.5,
    curve=0.12,
    touching=0,
    jitter=0.2,
    present=1.1,
    strangers=0,
    tilt=12.0,
    leaning=False,
    quality=90,
    blur=1.0,
    grain=0.8,
    careful=True,
    most_off=9.0,
)


def main() -> None:
    plan = plans()["demo"]
    tubes = [t for i in plan.tubes for t in palette("portrait-ten").tubes if t.id == i]
    rng = np.random.default_rng(SEED)
    K, S = departed(tubes, rng.normal(0, 0.8, (len(tubes), 9)) * prior_sd(tubes))
    photo = simulate(replace(plan, K=K, S=S), SEED, AS_ASKED)
    scale = WIDE / photo.code.shape[1]
    small = cv2.resize(photo.code, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    cv2.imwrite(str(OUT / "palette.jpg"), small[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 88])
    piles = [
        {"id": p.id, "x": round(p.x, 2), "y": round(p.y, 2), "lab": np.round(p.lab, 2).tolist()} for p in photo.piles
    ]
    corners = ((photo.corners + 0.5) * scale - 0.5).round(1).tolist()
    truth = {"corners": corners, "card": np.round(photo.card, 2).tolist(), "piles": piles}
    (OUT / "palette.json").write_text(json.dumps(truth, indent=1) + "\n", encoding="utf-8")
    print(OUT / "palette.jpg", len(piles), "piles")


if __name__ == "__main__":
    main()
