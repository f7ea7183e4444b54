"""Spectral files of swatches: CGATS text (ANSI CGATS.17) and CSV, in and out.

Read are sample names, CIELAB, reflectances (shares or per cent, any step between 340 and 830 nm), and parts by
tube where columns are named by tube ids. Reflectances are brought to 380 ... 730 nm by 10; where a file begins later
(400 nm is common) its first band is held.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint import tabled
from ochre_stone.core.paint.optics import reflectance_to_lab

_NM = re.compile(r"^(?:SPECTRAL_NM_?|SPECTRAL_|SPEC_|NM_?|R_?)?(\d{3})(?:\.0+)?(?:_?NM)?$", re.I)
_NAMES = ("sample_name", "label", "sample_id", "name", "sample")
_LAB = (("lab_l", "lab_a", "lab_b"), ("measured_l", "measured_a", "measured_b"), ("l*", "a*", "b*"), ("l", "a", "b"))
_MOST_ROWS, MOST_BYTES = 20_000, 40_000_000
_LEAST_BANDS = 8
"""Fewer reflectances are no spectrum."""


@dataclass(frozen=True)
class SpectralReading:
    """One line of a file."""

    label: str
    lab: tuple[float, float, float]
    spectrum: tuple[float, ...] = ()
    """36 reflectances, or none."""
    parts: tuple[tuple[str, float], ...] = ()


def read_text(text: str, name: str, tube_ids: Sequence[str] = ()) -> list[SpectralReading]:
    """The readings of a CGATS or CSV file, ``name`` for what is said of it; columns of ``tube_ids`` are parts.

    Raises OchreError, naming file, line and field, where it cannot be used.

    >>> read_text("label,lab_l,lab_a,lab_b\\nA1,62,14,22\\n", "chart.csv")[0].lab
    (62.0, 14.0, 22.0)
    """
    if len(text) > MOST_BYTES:
        raise OchreError(f"'{name}' is far larger than any file of swatches: check the file.")
    rows = _cgats(text, name) if "BEGIN_DATA_FORMAT" in text else _csv(text, name)
    if not rows:
        raise OchreError(f"'{name}' holds no readings: it needs a line of column names and one line for each swatch.")
    if len(rows) > _MOST_ROWS:
        raise OchreError(f"'{name}' holds {len(rows)} lines: at most {_MOST_ROWS} are read.")
    columns = _Columns.of(rows[0][1], name, tube_ids)
    out = [r for line, row in rows if (r := columns.reading(row, line)) is not None]
    if not out:
        raise OchreError(
            f"'{name}' has columns for colours, but no line with figures in them: fill in what you measured."
        )
    return out


@dataclass(frozen=True)
class _Columns:
    """Which columns of a file hold what."""

    file: str
    label: str
    lab: tuple[str, ...]
    """L*, a* and b*; none where the file holds spectra alone."""
    bands: tuple[tuple[int, str], ...]
    """Wavelength in nm and column; none where there are too few for a spectrum."""
    tubes: tuple[str, ...]

    @classmethod
    def of(cls, row: Mapping[str, str], name: str, tube_ids: Sequence[str]) -> "_Columns":
        fields = {f.lower(): f for f in row}
        bands = sorted((int(m[1]), f) for f in row if (m := _NM.match(f.strip())) and 340 <= int(m[1]) <= 830)
        lab = next((names for names in _LAB if all(n in fields for n in names)), ())
        label = next((n for n in _NAMES if n in fields), None)
        if label is None:
            raise OchreError(f"'{name}' has no column of names: call one of them 'label' or SAMPLE_NAME.")
        if len(bands) < _LEAST_BANDS and not lab:
            raise OchreError(f"'{name}' has neither colours (LAB_L, LAB_A, LAB_B) nor spectra (such as NM_400).")
        return cls(
            name,
            fields[label],
            tuple(fields[n] for n in lab),
            tuple(bands) if len(bands) >= _LEAST_BANDS else (),
            tuple(i for i in tube_ids if i in row),
        )

    def reading(self, row: Mapping[str, str], line: int) -> SpectralReading | None:
        """What a line holds; None for a cell of a blank chart that nobody painted."""
        spectrum = _spectrum(row, self.bands, self.file, line) if self.bands else ()
        if spectrum:
            L, a, b = (float(x) for x in reflectance_to_lab(np.array(spectrum)))
        elif any(row[f].strip() for f in self.lab):
            L, a, b = (_number(row[f], self.file, line, f) for f in self.lab)
        else:
            return None
        if not (0 <= L <= 130 and abs(a) <= 300 and abs(b) <= 300):
            raise OchreError(
                f"'{self.file}', line {line}: L* {L:g}, a* {a:g}, b* {b:g} is no colour that paint can have."
            )
        parts = tuple((i, v) for i in self.tubes if (v := _number(row[i], self.file, line, i)) > 0)
        return SpectralReading(row[self.label].strip(), (L, a, b), spectrum, parts)


def _number(text: str, name: str, line: int, field: str) -> float:
    try:
        value = float(text.strip().replace(",", ".") or 0)
    except ValueError:
        value = float("nan")
    if not np.isfinite(value):
        raise OchreError(f"'{name}', line {line}: '{text}' in the column {field} is no number.")
    return value


def _spectrum(row: Mapping[str, str], bands: Sequence[tuple[int, str]], name: str, line: int) -> tuple[float, ...]:
    if all(not row[f].strip() for _, f in bands):
        return ()
    values = np.array([_number(row[f], name, line, f) for _, f in bands])
    if values.max() > 2.5:
        values = values / 100  # told in per cent
    if values.min() < -0.02 or values.max() > 1.5:
        raise OchreError(
            f"'{name}', line {line}: reflectances from {values.min():g} to {values.max():g} are no paint's."
        )
    found: Array = np.interp(WAVELENGTHS, [nm for nm, _ in bands], np.clip(values, 0, None))
    return tuple(round(float(v), 6) for v in found)


def _csv(text: str, name: str) -> list[tuple[int, dict[str, str]]]:
    text = text.removeprefix("\ufeff")
    head = tabled.lines(text).split("\n", 1)[0]
    mark = max(",;\t", key=head.count)
    out: list[tuple[int, dict[str, str]]] = []
    for row in tabled.rows(text, name, mark, _MOST_ROWS):
        line = len(out) + 2
        fields = {k.strip(): v for k, v in row.items() if k is not None and isinstance(v, str)}
        if len(fields) != len(row):
            raise OchreError(f"'{name}', line {line}: it has not as many fields as there are columns.")
        out.append((line, fields))
    return out


def _cgats(text: str, name: str) -> list[tuple[int, dict[str, str]]]:
    fields: list[str] = []
    out: list[tuple[int, dict[str, str]]] = []
    state = ""
    raws = text.splitlines()
    if len(raws) > 2 * _MOST_ROWS:
        raise OchreError(f"'{name}' holds {len(raws)} lines: at most {_MOST_ROWS} readings are read.")
    for line, raw in enumerate(raws, 1):
        words = _words(raw)
        if not words:
            continue
        if words[0] in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            state = words[0]
        elif words[0] in ("END_DATA_FORMAT", "END_DATA"):
            state = ""
        elif state == "BEGIN_DATA_FORMAT":
            fields += words
        elif state == "BEGIN_DATA":
            if len(words) != len(fields):
                raise OchreError(f"'{name}', line {line}: {len(words)} fields where the format names {len(fields)}.")
            out.append((line, dict(zip(fields, words, strict=True))))
    return out


def _words(line: str) -> list[str]:
    return [a or b for a, b in re.findall(r'"([^"]*)"|(\S+)', line.split("#")[0] if '"' not in line else line)]


def cgats(rows: Sequence[SpectralReading], tube_ids: Sequence[str], originator: str, descriptor: str) -> str:
    """Readings as CGATS.17 text; spectra where all have them."""
    spectral = bool(rows) and all(r.spectrum for r in rows)
    fields = ["SAMPLE_ID", "SAMPLE_NAME", *tube_ids, "LAB_L", "LAB_A", "LAB_B"]
    if spectral:
        fields += [f"SPECTRAL_NM{int(nm)}" for nm in WAVELENGTHS]
    out = [
        "CGATS.17",
        f'ORIGINATOR "{originator}"',
        f'DESCRIPTOR "{descriptor}"',
        'MEASUREMENT_SOURCE "D65, 2 degree observer, predicted or read"',
    ]
    out += [f'KEYWORD "{i}"' for i in tube_ids]
    out += [
        f"NUMBER_OF_FIELDS {len(fields)}",
        "BEGIN_DATA_FORMAT",
        " ".join(fields),
        "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(rows)}",
        "BEGIN_DATA",
    ]
    for n, r in enumerate(rows, 1):
        held = dict(r.parts)
        cells = [str(n), f'"{r.label}"', *(f"{held.get(i, 0):g}" for i in tube_ids), *(f"{v:.3f}" for v in r.lab)]
        out.append(" ".join(cells + ([f"{v:.5f}" for v in r.spectrum] if spectral else [])))
    return "\n".join([*out, "END_DATA"]) + "\n"
