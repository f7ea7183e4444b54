"""What a part of the torture has done so far: counted, saved after every batch, taken up again."""

import json
from dataclasses import asdict, dataclass, field
from pathlib import Path

STATE = Path("build/torture")


@dataclass
class Tally:
    """Counts of one part. ``other`` is what must not happen, in words; the first hundred are kept."""

    part: str
    seed: int = 1
    done: int = 0
    counts: dict[str, int] = field(default_factory=dict)
    slowest: float = 0.0
    """Seconds of the slowest single step."""
    peak: float = 0.0
    """Most memory of a process, GB."""
    other: list[str] = field(default_factory=list)
    others: int = 0

    def add(self, what: str, seconds: float = 0.0, words: str = "") -> None:
        """One step: "opened", "refused" and the like, or "other" with what happened."""
        self.done += 1
        self.counts[what] = self.counts.get(what, 0) + 1
        self.slowest = max(self.slowest, seconds)
        if what == "other":
            self.wrong(words)

    def wrong(self, words: str) -> None:
        """Something that must not happen."""
        self.others += 1
        if len(self.other) < 100:
            self.other.append(words)

    def save(self) -> None:
        """Keep it, to be taken up again."""
        STATE.mkdir(parents=True, exist_ok=True)
        part = STATE / f"{self.part}.json"
        part.with_suffix(".new").write_text(json.dumps(asdict(self), indent=1), encoding="utf-8")
        part.with_suffix(".new").replace(part)

    @classmethod
    def load(cls, part: str, seed: int, again: bool = False) -> "Tally":
        """The tally of a part of that seed as it was left, or a fresh one."""
        try:
            held = cls(**json.loads((STATE / f"{part}.json").read_text(encoding="utf-8")))
        except (OSError, ValueError, TypeError):
            return cls(part, seed)
        return held if held.seed == seed and not again else cls(part, seed)

    @property
    def words(self) -> str:
        """One line."""
        counts = ", ".join(f"{n} {what}" for what, n in sorted(self.counts.items()))
        return (
            f"{self.part}: {self.done} done ({counts}); anything else {self.others}; slowest {self.slowest:.1f} s"
            + (f"; peak {self.peak:.2f} GB" if self.peak else "")
        )
