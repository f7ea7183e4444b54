"""Write resources/colour/chart24.json: the usual chart of 24 patches in four rows of six, CIELAB D65.

Reference xyY under D50 from colour-science (the published averages of 2005), adapted to D65 by Bradford.
"""

import json
import warnings

import numpy as np

warnings.simplefilter("ignore")
import colour  # noqa: E402

from ochre_stone.core.colour.spaces import adaptation, xyz_to_lab  # noqa: E402
from ochre_stone.resources import resource  # noqa: E402

if __name__ == "__main__":
    chart = colour.CCS_COLOURCHECKERS["cc2005"]
    white = colour.xy_to_XYZ(chart.illuminant)
    patches = []
    for name, xyy in chart.data.items():
        lab = xyz_to_lab(adaptation(white) @ colour.xyY_to_XYZ(np.asarray(xyy)))
        patches.append({"name": name.split(" (")[0], "lab": lab.round(3).tolist()})
    table = {"source": "24 patches, published averages, D50 adapted to D65 (Bradford)", "rows": 4, "columns": 6}
    path = resource("colour", "chart24.json")
    path.write_text(json.dumps(table | {"patches": patches}, indent=1) + "\n", encoding="utf-8")
    print(f"{path}: {len(patches)} patches")
