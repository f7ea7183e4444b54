"""The Light page of Look: a grey, a white, a card or a chart in the picture; or where the light came from."""

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QSlider

from ochre_stone.core.document.document import Document, LightChoice
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import IDENTITY, MOST_STOPS, NEUTRAL_KELVIN, balance_from
from ochre_stone.core.picture.chart import ChartFit, find_chart
from ochre_stone.core.picture.losses import grain_in_values
from ochre_stone.core.picture.sampling import spot
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.tools import tool_named
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.stations.look.lightfield import DAYLIGHT, LightField, light_words
from ochre_stone.desktop.widgets.parts import Words, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_APERTURE = 11
_KINDS = {
    "grey": ("A grey", "Then click something in the picture that is grey in life (G)"),
    "white": ("A white", "Then click something that is white: it also sets how light the picture is (W)"),
    "card": ("Grey card", "Then click the photographer's 18 % card: it also sets how light the picture is"),
}


class LightPage:
    """Controls of the light, on the station that owns them."""

    def __init__(self, tray: Tray, studio: Studio, easel: Easel) -> None:
        self.tray, self.studio, self.easel = tray, studio, easel
        self.said = tray.label("")
        tray.label("Click in the picture", "head")
        self.picks: dict[str, QPushButton] = {}
        for kind, (words, tip) in _KINDS.items():
            self.picks[kind] = button(words, tip, checkable=True)
            self.picks[kind].clicked.connect(lambda on, k=kind: self.arm(k if on else None))
        tray.row(*self.picks.values())
        self.chart = button(
            "Colour chart", "Then click the four outer corners of a chart of 24 patches in the picture", checkable=True
        )
        self.chart.clicked.connect(lambda on: self.arm("chart" if on else None))
        self.reset = button("As photographed", "Take the light back as the camera gave it")
        self.reset.clicked.connect(self._reset)
        tray.row(self.chart, self.reset)
        tray.label("The light of the scene", "head")
        self.field = LightField()
        self.field.moved.connect(lambda *_: self._moved())
        tray.rows.addWidget(self.field)
        self.where = tray.label("", "quiet")
        self.stops, self.stops_shown = self._strip(
            "darker", "lighter", -int(MOST_STOPS * 10), int(MOST_STOPS * 10), "Darker or lighter, in stops"
        )
        self.lift, self.lift_shown = self._strip(
            "as it is", "into the darks", 0, 100, "As the eye would see into the darks; grain rises too"
        )
        for strip in (self.stops, self.lift):
            strip.valueChanged.connect(self._moved)
        self.honest = tray.label("", "quiet")
        tray.label(
            "The photo itself stays untouched; hold B for before. A lamp or a sunset colours greys too: "
            "click only what you know.",
            "quiet",
        )
        self._armed: str | None = None

    def _strip(self, low_word: str, high_word: str, low: int, high: int, tip: str) -> tuple[QSlider, Words]:
        """A line from one thing to another, and what it is set to."""
        strip, shown = QSlider(Qt.Orientation.Horizontal), Words("")
        strip.setRange(low, high)
        set_tip(strip, tip)
        strip.setAccessibleName(f"{low_word} to {high_word}")
        shown.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.tray.row(Words(low_word), None, shown, None, Words(high_word))
        self.tray.rows.addWidget(strip)
        return strip, shown

    def arm(self, kind: str | None) -> None:
        """Make the next click set the light, or take the chart's corners; None puts the tool away."""
        self._armed = kind
        for k, b in self.picks.items():
            b.setChecked(k == kind)
        self.chart.setChecked(kind == "chart")
        if kind == "chart":
            self.easel.take(tool_named("chart"))
            self.studio.told.emit("Click the four outer corners of the patches, in any order.")
        elif kind is not None:
            self.easel.take(tool_named("light", _APERTURE))
            what = "the grey card" if kind == "card" else f"something in the picture that is {kind} in life"
            self.studio.told.emit(f"Click {what}.")
        else:
            self.easel.take(None)
        if kind is not None:
            self.easel.setFocus()

    def spot_clicked(self, x: float, y: float) -> None:
        """A place was clicked while a grey, white or card was asked for."""
        picture, kind = self.studio.picture, self._armed
        if kind in (None, "chart") or picture is None:
            return
        try:
            balance = balance_from(spot(picture, x, y, _APERTURE).mean(axis=0), str(kind))
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.arm(None)
        told = f"a {'grey card' if kind == 'card' else kind} at {x:.0f}, {y:.0f}"
        changed = {"balance": balance.matrix, "balance_from": told, "balance_words": "", "light": self._kept(str(kind))}
        self.studio.measuring.relight(
            f"Set the light by {told}", self.studio.measuring.latest.model_copy(update=changed)
        )

    def _kept(self, kind: str) -> LightChoice:
        """A known neutral replaces temperature and tint; the lift stays, exposure too where only hue was set."""
        light = self.studio.measuring.latest.light
        exposure = 0.0 if kind in ("white", "card") else light.stops
        return LightChoice(stops=exposure, lift=light.lift)

    def chart_marked(self, points: list[tuple[float, float]]) -> None:
        """Four corners of a chart were clicked."""
        picture = self.studio.picture
        if picture is None:
            return

        def work(_: Any) -> ChartFit:
            return find_chart(picture, points)

        def arrived(found: ChartFit) -> None:
            changed = {
                "balance": found.matrix,
                "balance_from": "a colour chart",
                "balance_words": found.words,
                "light": LightChoice(lift=self.studio.measuring.latest.light.lift),
            }
            self.studio.measuring.relight(
                "Set the light by a colour chart", self.studio.measuring.latest.model_copy(update=changed)
            )

        self.arm(None)
        self.studio.jobs.start("chart", work, arrived, self.studio.failed.emit)

    def _reset(self) -> None:
        changed = {"balance": IDENTITY, "balance_from": "", "balance_words": "", "light": LightChoice()}
        self.studio.measuring.relight(
            "Take the light as photographed", self.studio.measuring.latest.model_copy(update=changed)
        )

    def _moved(self) -> None:
        mired = self.field.mired
        light = LightChoice(
            kelvin=NEUTRAL_KELVIN if mired == DAYLIGHT else float(round(1e6 / mired / 10) * 10),
            tint=float(self.field.tint),
            stops=self.stops.value() / 10,
            lift=self.lift.value() / 100,
        )
        latest = self.studio.measuring.latest
        if light != latest.light:
            self.studio.measuring.relight("Set the light", latest.model_copy(update={"light": light}), "light")
        self._show(light)

    def _show(self, light: LightChoice) -> None:
        self.where.setText(f"The light was {light_words(self.field.mired, self.field.tint)}.")
        self.stops_shown.setText(f"{light.stops:+.1f} stops" if light.stops else "as taken")
        self.lift_shown.setText(f"{light.lift:.0%}" if light.lift else "")

    def refresh(self) -> None:
        """Show the document's light."""
        has = self.studio.picture is not None
        document = self.studio.measuring.latest
        for w in (*self.picks.values(), self.chart, self.field, self.stops, self.lift):
            enable(w, "" if has else "Open a photo first.")
        as_taken = "The light is as photographed." if has else "Open a photo first."
        enable(self.reset, "" if has and document.light_is_set else as_taken)
        by_hand = document.light != LightChoice()
        said = "Set by hand." if by_hand else "As photographed."
        if document.balance_from:
            said = f"Set by {document.balance_from}{', then by hand' if by_hand else ''}."
        self.said.setText(f"{said} {document.balance_words}".strip())
        light = document.light
        mired = DAYLIGHT if light.kelvin == NEUTRAL_KELVIN else round(1e6 / light.kelvin)
        with signals_blocked(self.stops), signals_blocked(self.lift):
            self.field.set_light(mired, round(light.tint))
            self.stops.setValue(round(light.stops * 10))
            self.lift.setValue(round(light.lift * 100))
        self._show(light)
        self.honest.setText(self._grain_words(document))
        self.honest.setVisible(bool(self.honest.text()))

    def _grain_words(self, document: Document) -> str:
        found = self.studio.measuring.losses
        if found is None or document.light.lift == 0:
            return ""
        if found.grain <= 0:
            return "There are hardly any darks in this photo to lift."
        grain = grain_in_values(found.grain, document.the_balance())
        size = numbers.school().difference(grain)
        trust = "spots are fine" if grain < 0.25 else "take larger apertures" if grain < 0.6 else "trust only masses"
        lost = " What is crushed stays lost." if found.darks_share > 0.0005 else ""
        return f"Grain in the lifted darks: about ±{size} of a value from pixel to pixel; {trust}.{lost}"
