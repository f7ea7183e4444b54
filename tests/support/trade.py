"""Facts of the trade as figures: what painters know of their tubes. Common practice, no source.

Each fact is a sentence, a figure worked out by the model, and what the figure has to be. A fact that the model misses
stays in the list with the reason; it is never tuned away. ``table()`` is what docs/colour-model.md shows.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import HUE_NAMES, lightness_of_value
from ochre_stone.core.colour.reading import Reading, read
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.paint.media import MEDIA, seen
from ochre_stone.core.paint.optics import layer_lab, reflectance_to_lab
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict, spectra
from ochre_stone.core.paint.tubes import all_tubes, tube
from tests.support.made import find_recipes
from tools.pigments.facts import load as mixture_facts


@dataclass(frozen=True)
class Fact:
    """One thing that painters know."""

    words: str
    figure: Callable[[], float]
    least: float
    most: float
    unit: str
    misses: str = ""
    """Why the model misses it; empty where it must hold."""

    def holds(self, figure: float) -> bool:
        return self.least <= figure <= self.most

    @property
    def wanted(self) -> str:
        if self.most == np.inf:
            return f"at least {self.least:g}"
        return f"at most {self.most:g}" if self.least == -np.inf else f"{self.least:g} to {self.most:g}"


def mix(**parts: float) -> Reading:
    return read(predict({name.replace("_", "-"): n for name, n in parts.items() if n}).lab)


def hue(**parts: float) -> float:
    return float(lch(np.array(mix(**parts).lab))[2])


def cools(name: str) -> float:
    """By how much eight parts of white lower the warmth of a tube, the program's measure of warm and cool."""
    alone, with_white = {name: 1.0}, {name: 1.0, "titanium-white": 8.0}
    return 100 * (warmth(predict(alone).lab) - warmth(predict(with_white).lab))


def tinted(name: str, value: float = 7.0) -> dict[str, float]:
    """As much white as brings a tube to a value."""
    goal = float(lightness_of_value(value))
    t, white = tube(name), tube("titanium-white")
    low, high = 0.0, 1e4
    for _ in range(60):
        n = (low + high) / 2 if high < 1e3 else np.sqrt(max(low, 1e-3) * high)
        if float(layer_lab(t.K + n * white.K, t.S + n * white.S)[0]) > goal:
            high = n
        else:
            low = n
    return {name.replace("-", "_"): 1.0, "titanium_white": low}


def chroma_at(name: str, value: float = 7.0) -> float:
    return mix(**tinted(name, value)).chroma


def white_needed(name: str, value: float = 7.0) -> float:
    return tinted(name, value)["titanium_white"]


def best_neutral(first: str, second: str, white: float) -> float:
    """Least Munsell chroma of any mixture of two tubes with white, white against their power."""
    power = tube(first).strength
    return min(
        mix(**{first.replace("-", "_"): 1.0, second.replace("-", "_"): n, "titanium_white": white * power}).chroma
        for n in np.geomspace(0.05, 20, 40) * tube(first).strength / tube(second).strength
    )


def change(name: str, medium: str, white: float = 0.0) -> float:
    """Lightness dry less wet."""
    tubes, parts = [tube(name)], [1.0]
    if white:
        tubes, parts = [*tubes, tube("titanium-white")], [1.0, white]
    K, S = spectra(tubes, parts)
    m = MEDIA[medium]
    um = 2.0
    return seen(K, S, m, "dry", um)[0] - seen(K, S, m, "wet", um)[0]


def nearest(parts: dict[str, float], target: str) -> float:
    return float(ciede2000(predict(parts).lab, tube(target).lab))


def imitation(target: str, ids: tuple[str, ...]) -> float:
    return find_recipes(np.array(tube(target).lab), [tube(i) for i in ids], 4, 1, tints=())[1][0].de00


def brightest_pair() -> float:
    """How much brighter the brightest of many even mixtures of two opaque tubes is than the brighter of the two."""
    rng = np.random.default_rng(2)
    bright = [t for t in all_tubes().values() if not t.is_white and t.opacity in ("O", "SO")]
    most = -np.inf
    for _ in range(60):
        a, b = rng.choice(len(bright), 2, replace=False)
        one, two = bright[a], bright[b]
        c = [float(lch(np.array(predict(p).lab))[1]) for p in ({one.id: 1}, {two.id: 1}, {one.id: 1, two.id: 1})]
        most = max(most, c[2] - max(c[:2]))
    return most


INF = np.inf
FACTS: tuple[Fact, ...] = (
    Fact("Cadmium red medium stands near 5 of ten steps", lambda: mix(cadmium_red=1).value, 3.5, 5.5, "value"),
    Fact("Yellow ochre is lighter than cadmium red", lambda: mix(yellow_ochre=1).value - mix(cadmium_red=1).value,
         1.0, 3.5, "value steps"),
    Fact("Of the four earth tubes only black reaches the darkest of six steps", lambda: mix(ivory_black=1).value,
         -INF, 2.0, "value"),
    Fact("Titanium white is about value 9.6", lambda: mix(titanium_white=1).value, 9.3, 9.9, "value"),
    Fact("White cools cadmium red", lambda: cools("cadmium-red"), 3, INF, "hundredths of warmth"),
    Fact("White cools alizarin", lambda: cools("alizarin-crimson"), 3, INF, "hundredths of warmth"),
    Fact("White cools burnt sienna", lambda: cools("burnt-sienna"), 0, INF, "hundredths of warmth"),
    Fact("White dulls cadmium red", lambda: mix(cadmium_red=1, titanium_white=8).chroma / mix(cadmium_red=1).chroma,
         -INF, 0.8, "of its chroma left"),
    Fact("The first white strengthens ultramarine, a dark transparent", lambda:
         mix(ultramarine_blue=1, titanium_white=2).chroma - mix(ultramarine_blue=1).chroma, 1, INF, "chroma"),
    Fact("The first white strengthens phthalo green", lambda:
         mix(phthalo_green_blue_shade=1, titanium_white=3).chroma - mix(phthalo_green_blue_shade=1).chroma, 3, INF,
         "chroma"),
    Fact("Yellow lightens red with more chroma left than white", lambda:
         mix(cadmium_red=1, cadmium_yellow_medium=8).chroma
         / chroma_at("cadmium-red", mix(cadmium_red=1, cadmium_yellow_medium=8).value), 1.1, INF, "times the chroma"),
    Fact("Black and yellow make green", lambda: hue(ivory_black=1, cadmium_yellow_light=4), 95, 140, "hue, degrees"),
    Fact("Black and white lean blue", lambda: predict({"ivory-black": 1, "titanium-white": 6}).lab[2], -6, -0.3, "b*"),
    Fact("Lamp black with white is bluer than ivory black", lambda:
         predict(dict(tinted_ids("lamp-black", 6))).lab[2] - predict(dict(tinted_ids("ivory-black", 6))).lab[2],
         -INF, 0.0, "b*"),
    Fact("Equal burnt sienna and ultramarine are dark", lambda: mix(burnt_sienna=1, ultramarine_blue=1).value, -INF,
         2.6, "value"),
    Fact("… and nearly neutral", lambda: mix(burnt_sienna=1, ultramarine_blue=1).chroma, -INF, 1.5, "chroma"),
    Fact("… and white shows a grey", lambda: mix(burnt_sienna=1, ultramarine_blue=1, titanium_white=4).chroma, -INF,
         3.0, "chroma"),
    Fact("A complement dulls: cadmium orange with ultramarine", lambda:
         mix(cadmium_orange=4, ultramarine_blue=1, titanium_white=4).chroma
         / mix(cadmium_orange=1, titanium_white=1).chroma, -INF, 0.8, "of its chroma left"),
    Fact("A complement dulls: cadmium yellow with dioxazine", lambda:
         mix(cadmium_yellow_light=20, dioxazine_violet=1, titanium_white=4).chroma
         / mix(cadmium_yellow_light=5, titanium_white=1).chroma, -INF, 0.5, "of its chroma left"),
    Fact("Cadmium red and viridian meet in a grey", lambda: best_neutral("cadmium-red", "viridian", 1), -INF, 2.0,
         "least chroma"),
    Fact("Alizarin and viridian meet in a grey", lambda: best_neutral("alizarin-crimson", "viridian", 1), -INF, 2.0,
         "least chroma"),
    Fact("Alizarin and phthalo green meet in a near-black", lambda:
         best_neutral("alizarin-crimson", "phthalo-green-blue-shade", 0), -INF, 1.2, "least chroma"),
    Fact("Perylene maroon and phthalo green meet in a grey", lambda:
         best_neutral("perylene-maroon", "phthalo-green-blue-shade", 1), -INF, 2.0, "least chroma"),
    Fact("Quinacridone rose and phthalo green meet in a near-neutral tint", lambda:
         best_neutral("quinacridone-rose", "phthalo-green-blue-shade", 1), -INF, 2.5, "least chroma"),
    Fact("An orange-red goes grey with ultramarine where a bluish red stays violet", lambda:
         mix(cadmium_red_light=1, ultramarine_blue=1, titanium_white=4).chroma
         / mix(quinacridone_magenta=1, ultramarine_blue=1, titanium_white=4).chroma, -INF, 0.6, "of the chroma"),
    Fact("Quinacridone magenta and ultramarine make a violet", lambda:
         hue(quinacridone_magenta=1, ultramarine_blue=1, titanium_white=4), 280, 335, "hue, degrees"),
    Fact("A single violet beats a mixed one: dioxazine against cadmium red and ultramarine", lambda:
         chroma_at("dioxazine-violet", 4) / mix(cadmium_red=1, ultramarine_blue=2, titanium_white=1).chroma, 1.5, INF,
         "times the chroma"),
    Fact("Phthalo blue and yellow make a green far stronger than leaves (chroma 4)", lambda:
         mix(cadmium_yellow_light=10, phthalo_blue_green_shade=1).chroma, 6, INF, "chroma"),
    Fact("A little red brings that green back", lambda:
         mix(cadmium_yellow_light=10, phthalo_blue_green_shade=1, cadmium_red_light=3).chroma
         / mix(cadmium_yellow_light=10, phthalo_blue_green_shade=1).chroma, -INF, 0.8, "of its chroma left"),
    Fact("Ochre instead of yellow tames it too", lambda: mix(yellow_ochre=10, phthalo_blue_green_shade=1).chroma
         / mix(cadmium_yellow_light=10, phthalo_blue_green_shade=1).chroma, -INF, 0.8, "of its chroma"),
    Fact("Two tubes mixed are not stronger than the stronger of the two", brightest_pair, -INF, 1.0, "CIELAB chroma"),
    Fact("Brown is a dark, dull orange: much yellow, less red, little blue", lambda:
         mix(cadmium_yellow_medium=6, cadmium_red=2, ultramarine_blue=1.5).value, -INF, 4.5, "value"),
    Fact("… of an orange hue", lambda: hue(cadmium_yellow_medium=6, cadmium_red=2, ultramarine_blue=1.5), 20, 95,
         "hue, degrees"),
    Fact("Phthalo blue tints several times as strongly as ultramarine", lambda:
         white_needed("phthalo-blue-green-shade") / white_needed("ultramarine-blue"), 3, 60, "times the white"),
    Fact("Prussian blue tints more strongly than ultramarine", lambda:
         white_needed("prussian-blue") / white_needed("ultramarine-blue"), 2, 40, "times the white"),
    Fact("Cerulean tints more weakly than ultramarine", lambda:
         white_needed("cerulean-blue") / white_needed("ultramarine-blue"), -INF, 0.8, "times the white"),
    Fact("Green earth is among the weakest", lambda: white_needed("green-earth") / white_needed("viridian"), -INF, 0.6,
         "times the white of viridian"),
    Fact("Zinc white tints far more weakly than titanium", lambda: tube("zinc-white").tinting_strength, 0.1, 0.4,
         "of titanium"),
    Fact("A touch of phthalo turns twenty parts of white blue", lambda:
         mix(titanium_white=20, phthalo_blue_green_shade=0.25).chroma, 3, INF, "chroma"),
    Fact("A touch of ochre hardly shows in them", lambda: mix(titanium_white=20, yellow_ochre=0.25).chroma, -INF, 2,
         "chroma"),
    Fact("Phthalo green with white keeps more chroma than viridian", lambda:
         chroma_at("phthalo-green-blue-shade", 6) / chroma_at("viridian", 6), 1.2, INF, "times the chroma"),
    Fact("Cadmium tints are duller than those of the pyrroles", lambda:
         chroma_at("pyrrole-red", 6) / chroma_at("cadmium-red", 6), 1.05, INF, "times the chroma"),
    Fact("Ultramarine leans red, phthalo blue green", lambda:
         (hue(ultramarine_blue=1, titanium_white=8) - hue(phthalo_blue_green_shade=1, titanium_white=40)) % 360, 10, 70,
         "degrees"),
    Fact("Cobalt blue lies between ultramarine and cerulean", lambda:
         (hue(ultramarine_blue=1, titanium_white=8) - hue(cobalt_blue=1, titanium_white=4)) % 360, 2, 45, "degrees"),
    Fact("Yellow and ultramarine make a duller green than yellow and phthalo blue", lambda:
         mix(cadmium_yellow_light=4, ultramarine_blue=1).chroma
         / mix(cadmium_yellow_light=30, phthalo_blue_green_shade=1).chroma, -INF, 0.8, "of the chroma"),
    Fact("Raw umber is greener than burnt umber", lambda: hue(raw_umber=1, titanium_white=4)
         - hue(burnt_umber=1, titanium_white=4), 5, 60, "degrees"),
    Fact("Ochre, red and black come near burnt sienna", lambda:
         imitation("burnt-sienna", ("yellow-ochre", "cadmium-red", "ivory-black")), -INF, 3.0, "CIEDE2000",
         "its mass tone was brought down to value 2.6, for coats of it hardly lighten a dark; opaque red and black are "
         "duller so far down, in tints they come near"),
    Fact("Red and black make a dull violet-brown, not a darker red", lambda:
         mix(cadmium_red=2, ivory_black=1).chroma / mix(cadmium_red=1).chroma, -INF, 0.5, "of its chroma left"),
    Fact("The undertone of alizarin is bluer than its mass tone", lambda:
         (float(lch(np.array(tube("alizarin-crimson").lab))[2])
          - float(lch(np.array(tube("alizarin-crimson").undertone))[2])) % 360, 5, 120, "degrees"),
    Fact("A transparent oxide glows over white: its undertone has more chroma", lambda:
         float(lch(np.array(tube("transparent-red-oxide").undertone))[1])
         / float(lch(np.array(tube("transparent-red-oxide").lab))[1]), 1.2, INF, "times the chroma"),
    Fact("Gouache: darks dry lighter", lambda: change("ivory-black", "gouache"), 4, INF, "L*"),
    Fact("Gouache: middle lights dry a little darker", lambda: change("cadmium-red", "gouache", 6), -4, 0, "L*"),
    Fact("Acrylic dries darker", lambda: change("cadmium-red", "acrylic", 3), -8, -0.5, "L*"),
    Fact("Watercolour dries lighter", lambda: change("burnt-umber", "watercolour"), 1, 15, "L*"),
    Fact("Oil hardly changes", lambda: abs(change("cadmium-red", "oil", 3)), -INF, 1.5, "L*"),
    Fact("Four earth tubes reach a fair skin", lambda:
         find_recipes([70, 14, 20], palette("four-tube-earth").tubes, 4, 1)[1][0].de00, -INF, 2.0, "CIEDE2000"),
    Fact("… but no clear blue", lambda:
         find_recipes([50, -5, -40], palette("four-tube-earth").tubes, 4, 1, tints=())[1][0].de00, 8, INF,
         "CIEDE2000"),
)  # fmt: skip


def tinted_ids(name: str, value: float) -> dict[str, float]:
    """As :func:`tinted`, by paint ids."""
    return {k.replace("_", "-"): v for k, v in tinted(name, value).items()}


KIND_WORDS = {
    "hue": "hue {}", "value": "value {}", "chroma": "chroma {}", "b": "b* {}", "turn": "turned by {} degrees",
    "least_chroma": "least chroma {}", "rise": "hue rising by {} degrees a step", "near": "within {} CIEDE2000",
    "keeps": "{} of the chroma", "saturation": "{} of the chroma for its lightness",
    "lift": "lightens by {} value steps",
}  # fmt: skip


def munsell_hue(x: float) -> str:
    """A place from 0 to 100 as painters write it, 12.5 as 2.5YR."""
    x = round(x, 1) % 100 or 100.0
    return f"{round(x % 10, 1) or 10:g}{HUE_NAMES[int(np.ceil(x / 10)) - 1]}"


def shipped() -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """K and S of all tubes."""
    return {i: (t.K, t.S) for i, t in all_tubes().items()}


def mixtures_table() -> str:
    """The facts of mixtures that the fit knows, with the shipped data's figures; hues as Munsell's."""
    data = shipped()
    out = ["| painters say | wanted | model | |", "| --- | --- | --- | --- |"]
    for f in mixture_facts():
        wanted, model = [], []
        for g in f.figures(data):
            said = munsell_hue if g.kind == "hue" else "{:.2g}".format
            wanted.append(KIND_WORDS[g.kind].format(f"{said(g.low)} to {said(g.high)}"))
            model.append(said(float(g.value)))
        mark = f"**missed**: {f.misses}" if f.off(data) else ""
        out.append(f"| {f.words} | {'; '.join(wanted)} | {'; '.join(model)} | {mark} |")
    return "\n".join(out)


def table() -> str:
    """All facts with their figures, as a table."""
    out = ["| painters say | wanted | model | |", "| --- | --- | --- | --- |"]
    for f in FACTS:
        figure = f.figure()
        mark = "" if f.holds(figure) else f"**missed**: {f.misses or 'not understood yet'}"
        out.append(f"| {f.words} | {f.wanted} {f.unit} | {figure:.2g} | {mark} |")
    return "\n".join(out)


MEMORY = {
    "Caucasian": "fair skin", "Oriental": "light skin", "South Asian": "brown skin", "African": "dark skin",
    "Summer Grass": "grass", "Green Apple": "green apple", "Blue Sky": "blue sky", "Carrot": "carrot",
    "Banana": "banana", "Gray-50": "middle grey",
}  # fmt: skip
"""Names in the preferred memory colour chart (Luo 2024) as colour-science carries it, and here."""


def memory_colours() -> dict[str, np.ndarray]:
    """CIELAB D65 of the chart's reflectances."""
    import colour

    shape = colour.SpectralShape(380, 730, 10)
    chart = colour.SDS_COLOURCHECKERS["PMC"]
    ends = {"method": "Constant", "left": None, "right": None}
    return {
        ours: reflectance_to_lab(chart[theirs].copy().extrapolate(shape, extrapolator_kwargs=ends).align(shape).values)
        for theirs, ours in MEMORY.items()
    }


def reach_table() -> str:
    """CIEDE2000 of the best measurable recipe for each memory colour, by palette; "!" is out of reach."""
    ids = ("four-tube-earth", "portrait-ten", "landscape-greens", "prismatic")
    out = ["| | " + " | ".join(palette(i).name.lower() for i in ids) + " |", "| --- " * (len(ids) + 1) + "|"]
    for name, lab in memory_colours().items():
        cells = []
        for i in ids:
            reachable, found = find_recipes(lab, palette(i).tubes)
            cells.append(f"{min(r.de00 for r in found):.1f}{'' if reachable else ' !'}")
        out.append(f"| {name} | " + " | ".join(cells) + " |")
    return "\n".join(out)
