"""Write orthomet/core/landmarks/data/mesh.json: the mesh network's own answer on this project's level paintings, mirrored and averaged."""

from __future__ import annotations

import json
from importlib import resources
from pathlib import Path

import numpy as np

from orthomet.core.imaging.faces import FaceFinder
from orthomet.core.imaging.load import load

OUT = Path(__file__).resolve().parent.parent / "orthomet" / "core" / "landmarks" / "data" / "mesh.json"
# (character's right, character's left) points of the published mesh
# the rim of the face and the forehead: they tell a turn better than the features, which regress to the average face most
PAIRS = [
    (127, 356), (93, 323), (132, 361), (21, 251), (54, 284), (103, 332), (67, 297), (109, 338), (162, 389), (234, 454),
]  # fmt: skip
MIDLINE = [10, 151, 9, 8]
# a landmark that lies between two of its points is their middle (tried on two painters' portraits)
LANDMARKS: dict[str, list[int]] = {
    "gnathion": [152], "subnasale": [2], "stomion": [13], "glabella": [9, 8], "nasion": [168, 8], "pronasale": [1, 4],
    "labiale_superius": [0], "labiale_inferius": [17],
}  # fmt: skip
PAIRED = {
    "endocanthion": (133, 362), "exocanthion": (33, 263), "brow_peak": (105, 334), "alare": (64, 294), "cheilion": (61, 291),
    "zygion": (234, 454), "gonion": (172, 397), "palpebrale_superius": (159, 386), "palpebrale_inferius": (145, 374),
    "brow_inner": (107, 336), "brow_outer": (70, 300), "brow_lower_peak": (52, 282), "chin_side": (149, 378),
}  # fmt: skip
SITTERS = ("berta", "lorn", "wick")


def main() -> None:
    finder, flip = FaceFinder(), np.array([-1.0, 1.0, 1.0])
    rigid = [k for pair in PAIRS for k in pair] + MIDLINE
    partner = {a: b for a, b in PAIRS} | {b: a for a, b in PAIRS} | {k: k for k in MIDLINE}
    total = np.zeros((len(rigid), 3))
    for name in SITTERS:
        data = resources.files("orthomet.demo.assets").joinpath(f"{name}.jpg").read_bytes()
        rgb = np.ascontiguousarray(load(data).pixels[..., :3])
        mesh, _ = finder.mesh(rgb, finder.detect(rgb)[0])
        p = mesh * np.array([1.0, 1.0, -1.0])
        p = (p - p[rigid].mean(0)) / np.linalg.norm(p[454, :2] - p[234, :2])
        total += p[rigid] + p[[partner[k] for k in rigid]] * flip
    level = total / (2 * len(SITTERS))
    marks = LANDMARKS | {f"{n}_{s}": [pair[i]] for n, pair in PAIRED.items() for i, s in ((0, "r"), (1, "l"))}
    body = {
        "name": "mesh",
        "source": "own: the network's answer on this project's three level paintings, mirrored and averaged; point numbers from memory of the published mesh",
        "landmarks": marks, "rigid": rigid, "level": [[round(float(v), 4) for v in row] for row in level],
    }  # fmt: skip
    OUT.write_text(json.dumps(body, indent=1) + "\n")


if __name__ == "__main__":
    main()
