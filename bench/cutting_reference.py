# The figures of a cut as one would write them with NumPy: the closed formulas for many cuts, and the forces over one
# turn.
# Prints seconds, the best of many, and a figure to compare: "closed S figure" and "turn S mean peak".
import time

import numpy as np

pi = np.pi


def best(f, times):
    out = []
    for _ in range(times):
        start = time.perf_counter()
        f()
        out.append(time.perf_counter() - start)
    return min(out), sorted(out)[len(out) // 2]


count = 100_000
i = np.arange(count)
d = 2 + 38 * ((i * 7919) % count) / count
z = 2.0 + i % 6
vc = 40 + 360 * ((i * 104729) % count) / count
fz = 0.01 + 0.29 * ((i * 1299709) % count) / count
ap = d * (0.1 + 1.4 * ((i * 15485863) % count) / count)
ae = d * (0.02 + 0.98 * ((i * 32452843) % count) / count)
sin_kappa = np.ones(count)
kc11 = 400 + 2600 * ((i * 49979687) % count) / count
mc, efficiency = 0.26, 0.85


def closed():
    n = 1000 * vc / (pi * d)
    fn = fz * z
    vf = fn * n
    cosine = np.clip(1 - 2 * ae / d, -1, 1)
    phi = np.arccos(cosine)
    teeth = z * phi / (2 * pi)
    hex_ = fz * sin_kappa * np.where(cosine > 0, np.sin(phi), 1)
    hm = fz * sin_kappa * (1 - cosine) / phi
    kc = kc11 * np.maximum(hm, 0.001) ** -mc
    q = ap * ae * vf / 1000
    pc = q * kc / 60e3
    motor = pc / efficiency
    torque = 30000 * pc / (pi * n)
    mark = fz**2 / (4 * d)
    return n, fn, vf, np.degrees(phi), teeth, hex_, hm, kc, q, pc, motor, torque, mark


# D 12, z 4, helix 38°, fz 0.055, ap 12, ae 3.6; 360 steps of the turn, 50 slices of the height.
theta = np.arange(360) * 2 * pi / 360
height = (np.arange(50) + 0.5) / 50 * 12
lag = np.tan(np.radians(38)) / 6 * height
arc = np.arccos(1 - 2 * 3.6 / 12)


def turn():
    phi = (theta[:, None, None] + np.arange(4)[None, :, None] * pi / 2 - lag[None, None, :]) % (2 * pi)
    engaged = (phi >= pi - arc) & (phi <= pi)
    s = np.where(engaged, np.sin(phi), 0.0)
    h = 0.055 * s
    ft = np.where(h > 0, 2500 * np.maximum(h, 1e-9) ** (1 - 0.26), 0) * 12 / 50
    fr = 0.3 * ft
    c = np.cos(phi)
    x = (-ft * c - fr * s).sum(axis=(1, 2))
    y = (ft * s - fr * c).sum(axis=(1, 2))
    across = np.hypot(x, y)
    return across.mean(), across.max()


a, b = best(closed, 25), best(turn, 25)
print("closed", a[0], closed()[9].sum())
print("turn", b[0], *turn())
