"""What the campaigns begin with: a small sound project, pictures of every kind, landmark files, a style."""

from __future__ import annotations

import io
import json
from functools import cache
from typing import Any

import numpy as np
from PIL import Image as Pillow

from orthomet.core.hashing import content_hash
from orthomet.core.landmarks.files import landmarks_to_text
from orthomet.core.project.model import Image, Project
from orthomet.core.project.store import Stored
from orthomet.core.styles.library import styles
from orthomet.demo.project import demo_project


@cache
def small_project() -> Stored:
    """The demo with one tiny picture in the place of all: everything a project can hold, quick to write."""
    out = io.BytesIO()
    Pillow.fromarray(np.random.default_rng(0).integers(0, 255, (40, 32, 3), dtype=np.uint8)).save(out, "PNG")
    data = out.getvalue()
    image = Image(hash=content_hash(data), suffix="png", size=(32, 40))

    def with_small(value: Any) -> Any:
        if isinstance(value, dict):
            return (
                image.model_dump(mode="json")
                if {"hash", "suffix"} <= set(value)
                else {k: with_small(v) for k, v in value.items()}
            )
        return [with_small(v) for v in value] if isinstance(value, list) else value

    body = with_small(demo_project().project.model_dump(mode="json"))
    return Stored(Project.model_validate(body), {image.hash: data})


@cache
def pictures() -> dict[str, bytes]:
    """A little picture in every format that opens, with the metadata it can carry."""
    a = np.random.default_rng(1).integers(0, 255, (48, 36, 4), dtype=np.uint8)
    exif = Pillow.Exif()
    exif[274], exif[270] = 6, "a note"
    made = {}
    for fmt, mode in (
        ("PNG", "RGBA"),
        ("PNG", "P"),
        ("PNG", "I;16"),
        ("JPEG", "RGB"),
        ("JPEG", "CMYK"),
        ("WEBP", "RGBA"),
        ("TIFF", "RGB"),
        ("BMP", "RGB"),
        ("GIF", "P"),
    ):
        out, im = io.BytesIO(), Pillow.fromarray(a)
        im = Pillow.fromarray(a[..., 0].astype(np.uint16) * 200) if mode == "I;16" else im.convert(mode)
        more = {"exif": exif} if fmt in ("PNG", "JPEG", "WEBP", "TIFF") else {}
        im.save(out, fmt, **more)
        made[f"{mode.lower().replace(';', '')}.{fmt.lower()}"] = out.getvalue()
    return made


@cache
def landmark_files() -> dict[str, dict[str, Any]]:
    """The demo's references as landmark files."""
    out = {}
    for c in demo_project().project.characters:
        for k, ref in enumerate(c.references):
            out[f"{c.id}-{k}"] = json.loads(landmarks_to_text(ref.marks.landmarks(ref.image.size, c.spans)))
    return out


def style_body() -> dict[str, Any]:
    """A style file that ships."""
    body: dict[str, Any] = json.loads(next(iter(styles().values())).model_dump_json())
    return {**body, "name": "mine"}
