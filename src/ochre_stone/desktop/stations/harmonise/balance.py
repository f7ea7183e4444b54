"""The Balance page of Harmonise: proportions with gentle advice, and the light against the shadow."""

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.harmony.proportions import proportions
from ochre_stone.core.harmony.relation import relations
from ochre_stone.core.planning.massing import note_in_focus
from ochre_stone.core.planning.rows import note_targets
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.stations.harmonise.choice import Harmony
from ochre_stone.desktop.widgets.bars import Bar, ShareBars
from ochre_stone.desktop.widgets.parts import button, enable, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray


class BalancePage:
    """Who leads, what is warm, what is quiet; and how shadows turn."""

    def __init__(self, tray: Tray, harmony: Harmony, settings: Settings) -> None:
        self.harmony, self.studio, self.settings = harmony, harmony.studio, settings
        tray.label("Proportions", "head")
        self.bars = ShareBars()
        tray.rows.addWidget(self.bars)
        self.loudest = tray.label("")
        self.advice = tray.label("", "quiet")
        tray.label("Light against shadow", "head")
        self.verdict = tray.label("")
        self.list = tray.label("", "quiet")
        self.push, self.push_shown = tray.slider(
            "Push, calm",
            -100,
            100,
            "The colour difference of light and shadow in each subject; values stay",
            one_row=True,
        )
        self.push.valueChanged.connect(lambda v: harmony.set("Push light and shadow", "push", push=v / 100))
        self.reset = button("As noted", "Neither pushed nor calmed", "small")
        self.reset.clicked.connect(lambda: harmony.set("Light and shadow as noted", push=0.0))
        tray.row(self.reset, None)

    def refresh(self) -> None:
        d, school = self.studio.document, self.settings.warmth
        notes = d.notes
        goal = [as_lab(g) for g in note_targets(d)]
        share = [max(n.share, 0.001) for n in notes]
        inside = [note_in_focus(self.studio.picture, d, n.place) for n in notes] if d.masses.focus else ()
        p = proportions(goal, share, d.harmony.wheel, school, inside, [n.name for n in notes])
        self.bars.show_bars(
            [
                [Bar(f"{v.role}: {v.word}", v.share, goal[max(v.members, key=lambda i: share[i])]) for v in p.voices]
                + ([Bar("without hue", p.neutral, (55.0, 0.0, 0.0))] if p.neutral > 0.004 else []),
                [
                    Bar("warm", p.warm, None),
                    Bar("neither", max(0.0, 1 - p.warm - p.cool), None),
                    Bar("cool", p.cool, None),
                ],
                [Bar("quiet greys", p.quiet, None), Bar("colours", max(0.0, 1 - p.quiet), None)],
            ]
            if notes
            else []
        )
        if p.loudest is not None:
            n, r = notes[p.loudest], read(goal[p.loudest])
            where = {True: ", inside the focus", False: ", outside the focus", None: ""}
            place = where[inside[p.loudest]] if inside else ""
            self.loudest.setText(f"Loudest: {n.name}, chroma {r.chroma:.0f}{place}.")
        else:
            self.loudest.setText("" if notes else "Take notes first.")
        self.advice.setText("\n".join(p.advice) if p.advice else "Nothing to advise: one voice leads." if notes else "")
        self._light(goal, share)

    def _light(self, goal: list[tuple[float, float, float]], share: list[float]) -> None:
        d = self.studio.document
        found = relations(goal, [n.subject for n in d.notes], [n.lit for n in d.notes], share)
        self.verdict.setText(found.words)
        lines = []
        for r in found.found:
            turned = f"hue turns {abs(r.hue_turn) / 30:.1f} steps" if abs(r.hue_turn) > 4 else "same hue"
            chroma = "as strong" if abs(r.chroma_step) < 0.3 else f"chroma {r.chroma_step:+.1f}"
            darker = numbers.school().difference(r.value_step)
            lines.append(f"{r.subject.capitalize()}: {r.says}; shadow {darker} darker, {turned}, {chroma}.")
        self.list.setText("\n".join(lines))
        push = d.harmony.push
        with signals_blocked(self.push):
            if not self.push.isSliderDown():
                self.push.setValue(round(push * 100))
        enable(self.push, "" if found.found else "No subject has notes both in light and in shadow.")
        enable(self.reset, "" if push else "It is as noted.")
        words = "as noted" if push == 0 else f"{'pushed' if push > 0 else 'calmed'} by {abs(push):.0%}"
        self.push_shown.setText(words)
