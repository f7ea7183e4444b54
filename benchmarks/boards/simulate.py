"""Simulated photos of a palette with known truth: spectral paint in relief, gloss, uneven light, a phone's camera."""

from dataclasses import dataclass

import cv2
import numpy as np

from benchmarks.boards.plans import Planned
from benchmarks.boards.scene import Camera, Conditions, noise, surface_of
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import WAVELENGTHS, Array, encode_srgb
from ochre_stone.core.paint.optics import film_reflectance, layer_lab, seen_through_surface

PX, MARGIN, LABEL_PX = 72, 5.0, 24
"""Pixels per cm of the plane that is painted, cm of table about the palette, pixels per cm of the true labels."""
PHOTO = (4000, 3000)
CARD = (7.0, 4.6, 0.6)
_FILM = np.array([0.0, 0.2, 0.5, 1.0, 1.8, 3.0, 5.0, 9.0, 18.0, 60.0])  # thickness, units of optics
_STREAK = np.array([0.0, 0.12, 0.3, 0.6])
_PER_CM = 350.0  # units of thickness per cm of paint


@dataclass(frozen=True)
class TruePile:
    """A pile as it really is; cm on the palette."""

    id: str
    """"" for one that nobody planned."""
    number: int
    x: float
    y: float
    radius: float
    lab: Array
    touching: bool


@dataclass(frozen=True, eq=False)
class Photo:
    """A photo and its truth."""

    code: Array
    """(h, w, 3) 8 bit RGB."""
    corners: Array
    piles: list[TruePile]
    card: tuple[float, float] | None
    """Its middle, cm on the palette."""
    labels: Array
    """Numbers of the piles (h, w), ``LABEL_PX`` to the cm."""


def _mixed_off(rng: np.random.Generator, plan: Planned, pile: str, off: float, lean: Array) -> tuple[Array, Array]:
    """Shares as really mixed, off by CIEDE2000 ``off``, and their Lab."""
    shares = plan.shares[pile]
    way = rng.normal(0, 1, len(shares)) + lean
    stray = np.zeros(len(shares))
    if rng.random() < 0.3:
        stray[rng.integers(len(shares))] = 0.05
    home = layer_lab(shares @ plan.K, shares @ plan.S)
    low, high = 0.0, 3.0
    y = shares
    for _ in range(18):
        middle = (low + high) / 2
        y = shares * np.exp(way * middle) + stray * middle
        y /= y.sum()
        near = ciede2000(layer_lab(y @ plan.K, y @ plan.S), home) < off
        low, high = (middle, high) if near else (low, middle)
    return y, layer_lab(y @ plan.K, y @ plan.S)


def _placed(rng: np.random.Generator, plan: Planned, c: Conditions) -> tuple[list[str], Array, Array, set[int]]:
    """Names ("" for strangers), places (n, 2) and radii (n,) as the painter laid them, and which touch."""
    w, h = plan.layout.width, plan.layout.height
    meant = [e for e in plan.layout.expected if not e.is_tube and rng.random() < c.present]
    ids = [e.id for e in meant]
    r = np.array([e.radius for e in meant]) * np.exp(rng.normal(0, 0.10, len(ids)))
    t = np.radians(rng.normal(0, 2.5))
    turn = np.array([[np.cos(t), -np.sin(t)], [np.sin(t), np.cos(t)]]) * rng.uniform(0.93, 1.04)
    middle = np.array([w / 2, h / 2])
    at = (np.array([(e.x, e.y) for e in meant]) - middle) @ turn.T + middle + rng.normal(0, 0.7, 2)
    at = at + rng.normal(0, c.jitter, (len(ids), 2))
    for _ in range(c.strangers):
        at, r = np.vstack([at, rng.uniform([2, 5], [w - 2, h - 2])]), np.append(r, rng.uniform(0.9, 1.6))
        ids.append("")
    top = max((e.y + e.radius for e in plan.layout.expected if e.is_tube), default=0.0) + 0.3
    need = r[:, None] + r[None] + 0.35
    np.fill_diagonal(need, 0)
    for _ in range(200):
        way = at[:, None] - at[None]
        d = np.linalg.norm(way, axis=2) + np.eye(len(r)) * 1e9
        at = at + (way / d[..., None] * np.maximum(need - d, 0)[..., None] / 2).sum(axis=1)
        at[:, 0] = np.clip(at[:, 0], r + 0.4, w - r - 0.4)
        at[:, 1] = np.clip(at[:, 1], top + r, h - r - 0.4)
    touching: set[int] = set()
    for _ in range(c.touching):
        d = np.linalg.norm(at[:, None] - at[None], axis=2) - r[:, None] - r[None] + np.eye(len(r)) * 1e9
        for i in touching:
            d[i, :] = d[:, i] = 1e9
        i, j = (int(v) for v in np.unravel_index(np.argmin(d), d.shape))
        if d[i, j] > 3:
            break
        at[j] = at[i] + (at[j] - at[i]) / np.linalg.norm(at[j] - at[i]) * (r[i] + r[j]) * rng.uniform(0.84, 0.97)
        touching |= {i, j}
    return ids, at, r, touching


def _heap(rng: np.random.Generator, radius: float, flat: float, skirt: bool = True) -> tuple[Array, Array, float]:
    """Height (cm) of a knife-made pile on its own patch, the mask of its body, and the knife's angle."""
    n = int(radius * PX * 1.7)
    y, x = np.mgrid[-n : n + 1, -n : n + 1].astype(np.float32) / PX
    t, long = rng.uniform(0, np.pi), rng.uniform(1.0, 1.22)
    u, v = (x * np.cos(t) + y * np.sin(t)) / long, (-x * np.sin(t) + y * np.cos(t)) * long
    rho, th = np.hypot(u, v), np.arctan2(v, u)
    edge = np.full_like(rho, radius)
    for k in range(2, 8):
        edge *= 1 + rng.normal(0, 0.10 / k) * np.cos(k * th + rng.uniform(0, 6.3))
    d = 1 - rho / edge
    d = d + 0.03 * noise(rng, d.shape, 0.16 * PX)
    inside = np.clip(d, 0, 1)
    dome = np.sqrt(np.clip(1 - (1 - inside) ** 2, 0, 1))
    top = np.minimum(dome, 0.75) / 0.75
    knife = rng.uniform(0, np.pi)
    ridges = noise(rng, d.shape, 0.10 * PX, 6, knife) * 0.5 + noise(rng, d.shape, 0.35 * PX, 3, knife + 0.3)
    height = radius * 0.4 * ((1 - flat) * dome + flat * 0.6 * top) * (1 + 0.10 * ridges) * (d > 0)
    thin = np.zeros_like(height)
    if skirt:
        sector = np.clip(np.cos(th - rng.uniform(0, 6.3)), 0, 1) ** 2
        reach = np.clip(1 + d / (0.10 + 0.35 * sector), 0, 1) * (d <= 0)
        thin = reach * 0.008 * np.clip(0.7 + 0.5 * noise(rng, d.shape, 0.12 * PX, 5, knife), 0, 2)
    return height * np.clip(d / 0.06, 0, 1) + np.maximum(thin, 0), d > 0.02, knife


class _Board:
    """The palette while it is painted."""

    def __init__(self, rng: np.random.Generator, plan: Planned, c: Conditions, camera: Camera) -> None:
        self.rng, self.plan, self.c, self.camera = rng, plan, c, camera
        spectrum = surface_of(c.surface, rng)
        self.ground = np.clip(spectrum, 0.01, 0.92)
        self.h, self.w = int(plan.layout.height * PX), int(plan.layout.width * PX)
        self.rgb = np.empty((self.h, self.w, 3), np.float32)
        self.rgb[:] = camera.see(spectrum)
        if c.surface == "wood":
            a, size = rng.normal(0, 0.05), (self.h, self.w)
            grain = 0.07 * noise(rng, size, 7, 40, a) + 0.08 * noise(rng, size, 60, 12, a)
            grain = grain + 0.03 * noise(rng, size, 300)
            self.rgb *= np.exp(grain[..., None] * np.array([0.8, 1.0, 1.35], np.float32))
        else:
            uneven = 0.008 * noise(rng, (self.h, self.w), 4) + 0.012 * noise(rng, (self.h, self.w), 260)
            self.rgb *= (1 + uneven)[..., None]
        self.height = np.zeros((self.h, self.w), np.float32)
        self.label = np.zeros((self.h, self.w), np.uint8)
        self.gloss = np.zeros((self.h, self.w), np.float32)
        self.veil = rng.uniform(0.0, 0.010) * c.gloss

    def _seen(
        self, K: Array, S: Array, streak: tuple[Array, Array], thick: Array, streaky: Array, veil: float
    ) -> Array:
        """What the camera sees of paint of a thickness (h, w), streaks of one tube in it."""
        rows = []
        for s in _STREAK:
            k, q = K * (1 - s) + streak[0] * s, S * (1 - s) + streak[1] * s
            film = film_reflectance(k, q, _FILM[:, None], self.ground)
            rows.append(self.camera.see(seen_through_surface(film) + veil))
        known = np.stack(rows, axis=1).astype(np.float32)
        ix = np.interp(thick, _FILM, np.arange(len(_FILM))).astype(np.float32)
        iy = np.interp(streaky, _STREAK, np.arange(len(_STREAK))).astype(np.float32)
        return cv2.remap(known, iy, ix, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)

    def heap(
        self, x: float, y: float, made: tuple[Array, Array, float], mix: Array, tube: int, number: int, streaky: float
    ) -> None:
        """Put a pile of ``mix`` (shares of tubes) down, streaked by one of them."""
        height, body, knife = made
        n = height.shape[0] // 2
        cx, cy = int(x * PX), int(y * PX)
        y0, y1, x0, x1 = max(0, cy - n), min(self.h, cy + n + 1), max(0, cx - n), min(self.w, cx + n + 1)
        s = np.s_[y0 - cy + n : y1 - cy + n, x0 - cx + n : x1 - cx + n]
        rough = noise(self.rng, height.shape, 0.09 * PX, 8, knife) + noise(self.rng, height.shape, 0.8 * PX)
        streak = (np.clip(rough * 0.5 - 1.0, 0, 1) * streaky).astype(np.float32)
        K, S = self.plan.K, self.plan.S
        rgb = self._seen(mix @ K, mix @ S, (K[tube], S[tube]), height * _PER_CM, streak, self.veil)
        put = (height[s] > 2e-5) & (height[s] >= self.height[y0:y1, x0:x1])
        self.rgb[y0:y1, x0:x1][put] = rgb[s][put]
        self.height[y0:y1, x0:x1][put] = height[s][put]
        self.gloss[y0:y1, x0:x1][put] = self.c.gloss
        if number:
            self.label[y0:y1, x0:x1][put & body[s]] = number

    def smear(self, start: Array) -> None:
        """A stroke of thin paint from a place."""
        rng, K, S = self.rng, self.plan.K, self.plan.S
        end = start + rng.normal(0, 3.5, 2)
        line = np.zeros((self.h, self.w), np.uint8)
        p, q = ((int(v[0] * PX), int(v[1] * PX)) for v in (start, end))
        cv2.line(line, p, q, 255, int(rng.uniform(0.3, 1.0) * PX))
        rows, columns = np.nonzero(line)
        if len(rows) == 0:
            return
        box = np.s_[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1]
        angle = float(np.arctan2(q[1] - p[1], q[0] - p[0]))
        thin = np.clip(0.5 + 0.6 * noise(rng, line[box].shape, 0.10 * PX, 10, -angle), 0, 2) * 0.012 * (line[box] > 0)
        tube = int(rng.integers(len(K)))
        mix = rng.dirichlet(np.full(len(K), 0.6))
        mix[tube] += 0.5
        mix /= mix.sum()
        none = np.zeros(thin.shape, np.float32)
        rgb = self._seen(mix @ K, mix @ S, (K[tube], S[tube]), thin.astype(np.float32) * _PER_CM, none, 0.0)
        put = thin > 1e-4
        self.rgb[box][put] = rgb[put]
        self.height[box][put] = thin[put]

    def lit(self) -> Array:
        """With shade, cast shadow and gloss of a lamp from one side."""
        rng = self.rng
        phi, theta = rng.uniform(0, 2 * np.pi), np.radians(rng.uniform(30, 58))
        lamp = np.array([np.cos(phi) * np.sin(theta), np.sin(phi) * np.sin(theta), np.cos(theta)])
        smooth = cv2.GaussianBlur(self.height, (0, 0), 1.2)
        gy, gx = np.gradient(smooth, 1 / PX)
        norm = 1 / np.sqrt(1 + gx * gx + gy * gy)
        ambient = rng.uniform(0.35, 0.65)
        facing = np.maximum(-(gx * lamp[0] + gy * lamp[1]) + lamp[2], 0) * norm / lamp[2]
        shade = ambient * (0.75 + 0.25 * norm) + (1 - ambient) * np.minimum(facing, 1.6)
        cast = np.zeros_like(self.height)
        for s in (0.15, 0.35, 0.6):  # what stands toward the lamp, that far away, and rises above the ray
            dx, dy, lift = lamp[0] * s * PX / np.sin(theta), lamp[1] * s * PX / np.sin(theta), s / np.tan(theta)
            moved = cv2.warpAffine(smooth, np.array([[1, 0, -dx], [0, 1, -dy]], np.float32), (self.w, self.h))
            cast = np.maximum(cast, np.clip((moved - lift - smooth) / 0.12, 0, 1))
        shade *= 1 - (1 - ambient) * 0.8 * cv2.GaussianBlur(cast.astype(np.float32), (0, 0), 5)
        half = lamp + np.array([0, 0, 1.0])
        half /= np.linalg.norm(half)
        nh = np.clip((-gx * half[0] - gy * half[1] + half[2]) * norm, 0, 1)
        shine = self.gloss * (2.5 * nh**180 + 0.25 * nh**25) * (1 - cast)
        return self.rgb * shade[..., None].astype(np.float32) + shine[..., None].astype(
            np.float32
        ) * self.camera.white.astype(np.float32)


def simulate(plan: Planned, number: int, c: Conditions) -> Photo:
    """The photo of that number under these conditions."""
    rng = np.random.default_rng(70_000 + number)
    camera = Camera(rng, c, plan.K, plan.S)
    w, h = plan.layout.width, plan.layout.height
    plane = _table(rng, camera, w, h)
    o = int(MARGIN * PX)
    board = _Board(rng, plan, c, camera)
    ids, at, r, touching = _placed(rng, plan, c)
    lean, flat = rng.normal(0, 1.5, len(plan.tubes)) * c.leaning, rng.uniform(0, 1)
    for _ in range(rng.integers(3, 9)):
        board.smear(at[rng.integers(len(r))])
    piles = []
    for k, (name, (x, y), radius) in enumerate(zip(ids, at, r, strict=True), 1):
        if name:
            mix, lab = _mixed_off(rng, plan, name, c.most_off * rng.beta(1.1, 2.2), lean)
        else:
            mix = rng.dirichlet(np.full(len(plan.tubes), 0.7))
            lab = layer_lab(mix @ plan.K, mix @ plan.S)
        tube = int(rng.choice(len(mix), p=mix))
        board.heap(x, y, _heap(rng, radius, flat), mix, tube, k, rng.uniform(0, 0.5) * (rng.random() < 0.6))
        piles.append(TruePile(name, k, float(x), float(y), float(radius), lab, k - 1 in touching))
    for k, e in enumerate(e for e in plan.layout.expected if e.is_tube):
        made = _heap(rng, e.radius * 0.85, 0.0, False)
        board.heap(e.x + rng.normal(0, 0.3), e.y + rng.normal(0, 0.1), made, np.eye(len(plan.tubes))[k], k, 200, 0.0)
    plane[o : o + board.h, o : o + board.w] = board.lit()
    card, border = _with_card(rng, plane, board, camera, plan) if c.card else (None, None)
    _light_over(rng, plane, c)
    if border is not None:
        bright = float(np.percentile(plane[border].max(axis=2), 95))
    code, corners = _photographed(rng, plane, c, (w, h), bright if border is not None else None)
    area = np.bincount(board.label.ravel(), minlength=256) / PX**2
    piles = [p for p in piles if area[p.number] > 0.25 * np.pi * p.radius**2]
    size = int(w * LABEL_PX), int(h * LABEL_PX)
    return Photo(code, corners, piles, card, cv2.resize(board.label, size, interpolation=cv2.INTER_NEAREST))


def _table(rng: np.random.Generator, camera: Camera, w: float, h: float) -> Array:
    """The table (h, w, 3) that the palette lies on."""
    size = int((h + 2 * MARGIN) * PX), int((w + 2 * MARGIN) * PX)
    plain = camera.see(rng.uniform(0.05, 0.35) * (1 + rng.normal(0, 0.25) * (WAVELENGTHS - 550) / 150).clip(0.3))
    out = np.empty((*size, 3), np.float32)
    out[:] = plain
    return out * (1 + 0.10 * noise(rng, size, 6) + 0.06 * noise(rng, size, 200))[..., None].clip(0.4)


def _with_card(
    rng: np.random.Generator, plane: Array, board: _Board, camera: Camera, plan: Planned
) -> tuple[tuple[float, float], tuple[slice, slice]]:
    """Lay the grey card with its white border where it covers least; its middle in cm, and where it lies."""
    w, h = plan.layout.width, plan.layout.height
    cw, ch, rim = CARD
    tall = np.zeros(plane.shape[:2], np.uint8)
    o = int(MARGIN * PX)
    tall[o : o + board.h, o : o + board.w] = board.height > 1e-3
    total = cv2.integral(tall)
    best: tuple[float, float, float, tuple[slice, slice]] | None = None
    for _ in range(400):
        x, y = rng.uniform(-MARGIN + 0.3, w + MARGIN - cw - 0.3), rng.uniform(-MARGIN + 0.3, h + MARGIN - ch - 0.3)
        rows = slice(int((y + MARGIN) * PX), int((y + ch + MARGIN) * PX))
        columns = slice(int((x + MARGIN) * PX), int((x + cw + MARGIN) * PX))
        hit = (
            total[rows.stop, columns.stop]
            - total[rows.start, columns.stop]
            - total[rows.stop, columns.start]
            + total[rows.start, columns.start]
        )
        score = float(hit) * 10 + (0 if 0 <= x <= w - cw and 0 <= y <= h - ch else 2000)
        if best is None or score < best[0]:
            best = score, x, y, (rows, columns)
    assert best is not None
    _, x, y, (rows, columns) = best
    b = int(rim * PX)
    plane[rows, columns] = camera.see(0.90 * (1 + rng.normal(0, 0.012)) * np.ones(36))
    grey = 0.184 * (1 + rng.normal(0, 0.02)) * (1 + rng.normal(0, 0.01) * (WAVELENGTHS - 550) / 150)
    plane[rows.start + b : rows.stop - b, columns.start + b : columns.stop - b] = camera.see(grey)
    size = rows.stop - rows.start, columns.stop - columns.start
    plane[rows, columns] *= (1 + 0.01 * noise(rng, size, 3))[..., None]
    under = (slice(max(0, s.start - o), max(0, s.stop - o)) for s in (rows, columns))
    board.label[tuple(under)] = 0
    return (x + cw / 2, y + ch / 2), (rows, columns)


def _light_over(rng: np.random.Generator, plane: Array, c: Conditions) -> None:
    """Light that falls off and changes colour over the plane."""
    ph, pw = plane.shape[:2]
    yy, xx = np.mgrid[0:ph:8, 0:pw:8].astype(np.float32)
    u, v = xx / pw - 0.5, yy / pw - 0.5 * ph / pw
    g = rng.uniform(0, 2 * np.pi)
    along = u * np.cos(g) + v * np.sin(g)
    field = np.exp2(-c.stops * (along + 0.5)) * (1 + 0.06 * np.sin(3 * u + 2 * v + 1))
    by_channel = np.stack([field * np.exp(c.mixed * k * along) for k in (1.0, 0.0, -2.0)], axis=2)
    plane *= cv2.resize(by_channel.astype(np.float32), (pw, ph))


def _photographed(
    rng: np.random.Generator, plane: Array, c: Conditions, size: tuple[float, float], border: float | None
) -> tuple[Array, Array]:
    """Code values (h, w, 3) of the photo, and the palette's corners (4, 2) in it."""
    w, h = size
    wide, high = PHOTO
    corners = _seen_from(rng, c, np.array([[0, 0], [w, 0], [w, h], [0, h]], float), size)
    scale = min(wide * 0.88 / np.ptp(corners[:, 0]), high * 0.88 / np.ptp(corners[:, 1]))
    corners = (corners - (corners.max(0) + corners.min(0)) / 2) * scale + np.array([wide / 2, high / 2])
    corners = corners + rng.normal(0, 20, 2)
    ends = ((np.array([[0, 0], [w, 0], [w, h], [0, h]]) + MARGIN) * PX).astype(np.float32)
    turn = cv2.getPerspectiveTransform(ends, corners.astype(np.float32))
    img = cv2.warpPerspective(plane, turn, PHOTO, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    yv, xv = np.mgrid[0:high:8, 0:wide:8].astype(np.float32)
    far = ((xv - wide / 2) ** 2 + (yv - high / 2) ** 2) / ((wide**2 + high**2) / 4)
    img *= cv2.resize(1 - c.vignette * far, PHOTO)[..., None]
    if c.careful and border is not None:  # exposed so that the border of the card stays below burning out
        img *= rng.uniform(0.55, 0.85) / border
    else:  # as phones do: the brightest of the scene just below burning out, more or less
        top = float(np.percentile(img[::16, ::16].max(axis=2), 97))
        img *= (rng.uniform(0.45, 0.8) if c.surface == "grey" else rng.uniform(0.60, 0.98)) / top
    img = cv2.GaussianBlur(img, (0, 0), c.blur)
    grain = rng.standard_normal((high // 2, wide // 2, 3), dtype=np.float32)
    grain = cv2.resize(grain, PHOTO, interpolation=cv2.INTER_NEAREST)
    img += grain * np.sqrt(np.maximum(img, 0) * 6e-5 + 4e-6) * c.grain
    x = encode_srgb(img).astype(np.float32)
    x = x - c.curve * np.sin(2 * np.pi * x) / (2 * np.pi)
    x = np.clip(x + 0.4 * (x - cv2.GaussianBlur(x, (0, 0), 2.0)), 0, 1)
    code = np.round(x[..., ::-1] * 255).astype(np.uint8)
    coded = cv2.imencode(".jpg", code, [cv2.IMWRITE_JPEG_QUALITY, c.quality])[1]
    return np.ascontiguousarray(cv2.imdecode(coded, cv2.IMREAD_COLOR)[..., ::-1]), corners


def _seen_from(rng: np.random.Generator, c: Conditions, points: Array, size: tuple[float, float]) -> Array:
    """Points (n, 2) of the palette as a camera sees them that is tilted over it."""
    eye, turn, tilt = 70.0, np.radians(rng.normal(0, 4)), np.radians(c.tilt)
    toward = rng.uniform(0, 2 * np.pi)
    q = points - np.array(size) / 2
    x, y = q @ np.array([np.cos(turn), -np.sin(turn)]), q @ np.array([np.sin(turn), np.cos(turn)])
    t, across = x * np.cos(toward) + y * np.sin(toward), -x * np.sin(toward) + y * np.cos(toward)
    z = eye + t * np.sin(tilt)
    near, aside = t * np.cos(tilt) / z * eye, across / z * eye
    cos, sin = np.cos(toward), np.sin(toward)
    return np.stack([near * cos - aside * sin, near * sin + aside * cos], axis=-1)
