"""See that resources/paint/pigments.json can be grown anew: python -m tools.pigments.check

What no fact of mixtures speaks of is fitted alone, and so are the tables of the crystals; both must come out as they
ship. Run by ``make resources``.
"""

import json
from pathlib import Path

import numpy as np

from ochre_stone.core.paint.tubes import tube
from ochre_stone.resources import resource
from tools.pigments import crystals, model

ALONE = ("perylene-black", "manganese-blue", "cobalt-turquoise")
"""Paints of which no fact of mixtures speaks."""
_NEAR = 2e-3


def main() -> None:
    source = json.loads(Path(__file__).with_name("anchors.json").read_text(encoding="utf-8"))
    shipped = json.loads(resource("paint", "pigments.json").read_text(encoding="utf-8"))
    entries = {e["id"]: e for e in source["pigments"]}
    white = model.spectra(model.fit_white(entries["titanium-white"]))
    models = {
        i: model.Model(e, e["density"] / source["density_of_white"])
        for i, e in entries.items()
        if not i.endswith("-white")
    }
    for paint in ALONE:
        K, S = models[paint].spectra(models[paint].alone(white))
        np.testing.assert_allclose(K, tube(paint).K, rtol=_NEAR, err_msg=paint)
        np.testing.assert_allclose(S, tube(paint).S, rtol=_NEAR, err_msg=paint)
    for name, index in crystals.learn(list(models.values()), white).items():
        np.testing.assert_allclose(index, shipped["crystals"][name]["imaginary_index"], rtol=_NEAR, err_msg=name)
    print(f"{', '.join(ALONE)} and the crystals come out as they ship")


if __name__ == "__main__":
    main()
