"""The command line: the same core, JSON out. Errors are one sentence on standard error and exit code 2."""

from __future__ import annotations

import argparse
import logging
import sys
from collections.abc import Sequence
from typing import Any

from . import __version__
from .commands import check, check_set, figure, head, pose, reading, shapes
from .commands.common import face_of, headless_qt, height_of, number, or_null, pairs, print_json, reference_of, title
from .core.errors import FormatError, OrthometError
from .log import keep_log, log_file


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> Any:
        print(f"orthomet: {message}. Try “orthomet --help”.", file=sys.stderr)
        raise SystemExit(2)


def _turn_option(q: argparse.ArgumentParser) -> None:
    q.add_argument(
        "--turn", nargs=3, type=number, metavar=("YAW", "PITCH", "ROLL"),
        help="how the head is turned on the picture, degrees; undone before it is measured (the file may say it itself)",
    )  # fmt: skip


def build_parser() -> argparse.ArgumentParser:
    top = _Parser(prog="orthomet", description="The proportion desk of a character artist.")
    top.add_argument("--version", action="version", version=f"orthomet {__version__}")
    sub = top.add_subparsers(dest="command", parser_class=_Parser)

    def command(name: str, help_text: str) -> argparse.ArgumentParser:
        q = sub.add_parser(name, help=help_text, description=help_text)
        if name not in ("open", "demo"):
            q.add_argument("--json", action="store_true", help="print JSON")
        return q

    q = command("open", "open the application with a project or a picture")
    q.add_argument("file", nargs="?")
    q = command("demo", "open the demo, or write it to a file")
    q.add_argument("--write", metavar="FILE")
    q = command("measure", "measure a face from its landmark file, or a project's character")
    q.add_argument("landmarks", metavar="LANDMARKS.json|PROJECT[:CHARACTER]")
    q.add_argument("--norm", default="adult", help="adult, age:YEARS, or style:NAME")
    q.add_argument("--level-by", type=str.casefold, choices=["centre", "eyes"], help="usual: centre, or as the project says")
    _turn_option(q)
    q = command("plan", "plan a stylised face from a reference")
    q.add_argument("landmarks", metavar="LANDMARKS.json|PROJECT[:CHARACTER]")
    _turn_option(q)
    q.add_argument("--style", default="quillmere-picture-book")
    q.add_argument("--norm", default="adult", help="adult, age:YEARS, or style:NAME")
    q.add_argument("--style-weight", type=number, default=0.4)
    q.add_argument("--emphasis", type=number, default=1.0)
    q.add_argument("--emphasis-for", action="append", default=[], metavar="KEY=E")
    q.add_argument("--overlap", action="store_true", help="let the eyes overlap")
    q = command("guides", "write construction guides at true size")
    q.add_argument("landmarks", nargs="?", help="a landmark file, or PROJECT[:CHARACTER]")
    q.add_argument("--style")
    q.add_argument("--school", default="halves")
    q.add_argument("--set", action="append", default=[], metavar="NAME=VALUE", help="a setting of the school")
    q.add_argument("--out", required=True, metavar="FILE.svg|.pdf|.png")
    q.add_argument("--height-mm", type=number, default=120.0, help="head height, crown to chin")
    q.add_argument("--start", metavar="FEATURE=MM", help="start from a feature drawn already, as eye=14; sets the height")
    q.add_argument("--paper", default="fit", help="fit, A5, A4 or A3")
    q.add_argument("--pencil", type=str.casefold, default="blue", choices=["blue", "sanguine", "graphite"])
    head.arguments(command("head", "a head at any turn: numbers as JSON, a drawing at true size"), number)
    figure.arguments(command("figure", "a standing figure at any turn: numbers as JSON, a drawing at true size"), number)
    figure.match_arguments(command("match", "whether head and body are of one age, why, and the cures"), number)
    pose.arguments(command("pose", "whether a body can do what its story asks; a picture's figure lifted to a pose"), number)
    shapes.arguments(
        command("shapes", "the plain shapes of a contour or a mask, its readings; simplified, pushed, taken apart"), number
    )
    check.arguments(command("check", "check a drawing against its plan, at any turn"), number)
    check_set.arguments(command("check-set", "check many drawings of one character, with a report"), number)
    q = command("landmarks", "find landmarks on a picture, or convert them between .json and the 68-point .pts text")
    q.add_argument("source", metavar="PICTURE|FACE.json|FACE.pts")
    q.add_argument("--auto", action="store_true", help="SOURCE is a picture: find the face and lay estimated points")
    q.add_argument("--face", type=int, default=1, metavar="N", help="which face, the largest being 1")
    q.add_argument("--out", required=True, metavar="FILE.json|FILE.pts")
    q = command("style-learn", "learn a style from several landmarked drawings")
    q.add_argument("landmarks", nargs="+", metavar="LANDMARKS.json")
    q.add_argument("--name", required=True, type=title)
    q.add_argument("--norm", default="adult", help="adult, age:YEARS, or style:NAME")
    q.add_argument("--out", required=True, metavar="STYLE.json")
    q = command("hand-learn", "learn your own hand from pairs of reference and drawing")
    q.add_argument("pairs", nargs="+", metavar="REF.json:DRAWING.json")
    q.add_argument("--norm", default="adult", help="adult, age:YEARS, or style:NAME")
    q = command("validate", "say whether a landmark file or project is sound")
    q.add_argument("file")
    q = command("readings", "list the readings")
    q.add_argument("--view", type=str.casefold, default="front", choices=["front", "profile", "figure"])
    command("schools", "list the guide schools")
    command("styles", "list the styles")
    return top


COMMANDS = (
    "open",
    "demo",
    "measure",
    "plan",
    "guides",
    "head",
    "figure",
    "match",
    "pose",
    "shapes",
    "check",
    "check-set",
    "landmarks",
    "style-learn",
    "hand-learn",
    "validate",
    "readings",
    "schools",
    "styles",
)


def main(argv: Sequence[str] | None = None) -> int:
    args = list(sys.argv[1:] if argv is None else argv)
    if not args or (args[0] not in COMMANDS and not args[0].startswith("-")):
        args = ["open", *args]
    try:
        options = build_parser().parse_args(args)
        return int(_RUN[options.command](options) or 0)
    except OrthometError as e:
        print(f"orthomet: {e}", file=sys.stderr)
        return 2
    except SystemExit as e:
        return int(e.code or 0)
    except BrokenPipeError:
        sys.stderr.close()
        return 0
    except KeyboardInterrupt:
        return 130
    except Exception as e:
        keep_log()
        logging.getLogger("orthomet").exception("%s failed", " ".join(args[:1]))
        what = f"{type(e).__name__} in {args[0]}"
        print(f"orthomet: That could not be done ({what}); {log_file()} holds the details.", file=sys.stderr)
        return 2


def _open(o: argparse.Namespace) -> int:
    from .app.application import run

    return run(o.file)


def _demo(o: argparse.Namespace) -> int:
    from .demo.project import demo_project

    if o.write:
        from .core.project.store import write

        write(o.write, demo_project())
        return 0
    from .app.application import run

    return run(None, demo=True)


def _decisions(o: argparse.Namespace) -> Any:
    from pydantic import ValidationError

    from .core.plan.decisions import Decisions
    from .core.proportions.registry import front_registry
    from .core.styles.library import style, styles

    chosen = style(o.style)
    known = chosen.name if chosen.name in styles() else o.style
    per_trait = pairs(o.emphasis_for, "--emphasis-for")
    for key in per_trait:
        front_registry()[key]
    try:
        return Decisions(
            style=known, norm=o.norm, style_weight=o.style_weight, emphasis_all=o.emphasis,
            emphasis=per_trait, balance=min(max(o.emphasis, 0.0), 5.0), overlap=o.overlap,
        )  # fmt: skip
    except ValidationError as e:
        first = e.errors()[0]
        where = " ".join(str(p) for p in first["loc"]).replace("_", " ")
        raise FormatError(f"The {where} is not possible: {first['msg'].lower()}.") from None


def _plan(o: argparse.Namespace) -> None:
    from .core.landmarks.points import require_front
    from .core.plan.plan import make_plan
    from .core.proportions.measure import measure
    from .core.proportions.registry import front_registry
    from .core.resolve import norm_for

    face, project, _ = reference_of(o.landmarks, o.turn, front=True)
    require_front(face, "A plan")
    against = norm_for(o.norm, front_registry(), project)
    p = make_plan(measure(face), _decisions(o), (), None, against)
    reg = p.registry
    plan = {k: or_null(v) for k, v in zip(reg.keys, p.values.tolist(), strict=True)}
    raw = dict(zip(p.space.keys, p.raw.tolist(), strict=True))
    if o.json:
        print_json({
            "plan": plan, "raw": raw,
            "limits": [{"limit": li.words, "share": li.share, "pays": li.pays, "asked": li.asked, "got": li.got} for li in p.limits],
            "likeness": p.likeness.score if p.measured else None, "style": p.style, "noticed": list(p.noticed), "assumed": list(p.assumed),
            "kept": {"of": p.kept.of, "direction": p.kept.direction, "rank": p.kept.rank},
        })  # fmt: skip
        return
    for k in p.space.keys:
        print(f"{reg[k].label:26s} {plan[k]:9.4f}   asked {raw[k]:9.4f}   {k}")
    alike = f"{p.likeness.score:.0f}" if p.measured else "n/a"
    print(f"likeness {alike}, style {'n/a' if p.style is None else format(p.style, '.0f')}")
    for li in p.limits:
        print(f"limit: {li.words} ({li.share:.0%}); {reg[li.pays].label} asked {li.asked:.3f}, got {li.got:.3f}")


def _guides(o: argparse.Namespace) -> None:
    from .core.export.page import page
    from .core.head.construct import construction
    from .core.styles.schools import school

    chosen = school(o.school)
    settings = pairs(o.set, "--set")
    unknown = [k for k in settings if k not in chosen.settings]
    if unknown:
        raise FormatError(f"{chosen.title} has no setting “{unknown[0]}”.")
    face = face_of(o, "Guides need")
    height = height_of(o, face)
    sheet = page(construction(face.table, face.points, chosen, settings, face.choices), height, o.paper)
    if not o.out.lower().endswith(".svg"):
        headless_qt()
    from .app.render import write_page

    write_page(sheet, o.out, o.pencil)
    if o.json:
        print_json(
            {
                "out": o.out,
                "page_mm": [sheet.box[2], sheet.box[3]],
                "head_mm": height,
                "layers": [ly.id for ly in sheet.layers],
            }
        )


def _validate(o: argparse.Namespace) -> None:
    from .core.landmarks.files import read_landmarks
    from .core.project.store import SUFFIX, read

    if o.file.endswith(SUFFIX):
        stored = read(o.file)
        from .core.imaging.load import load

        for h, data in stored.pictures.items():
            load(data, f"The picture {h[:8]}…")
        body = {
            "valid": True,
            "what": "project",
            "characters": [c.name for c in stored.project.characters],
            "pictures": len(stored.pictures),
            "brought_inside": list(stored.told),
        }
        words = f"{o.file}: a sound project, {len(stored.project.characters)} characters, {len(stored.pictures)} pictures."
    else:
        marks = read_landmarks(o.file)
        missing = [n for n in marks.schema.essential if marks.state(n) is None]
        body = {"valid": True, "what": "landmarks", "view": marks.view, "points": len(marks.points), "missing": missing}
        words = f"{o.file}: sound landmarks, {len(marks.points)} points, {len(missing)} essential ones missing."
    print_json(body) if o.json else print(words)


def _schools(o: argparse.Namespace) -> None:
    from .core.styles.schools import schools, stations

    rows = [
        {"name": s.name, "title": s.title, "note": s.note, "source": s.source, "stations": stations(s),
         "settings": {k: d.model_dump() for k, d in s.settings.items()}, "steps": [{"name": t.name, "say": t.say} for t in s.steps]}
        for s in schools().values()
    ]  # fmt: skip
    print_json(rows) if o.json else print("\n".join(f"{r['name']:20} {r['title']}: {r['note']}" for r in rows))


def _styles(o: argparse.Namespace) -> None:
    from .core.styles.library import styles

    rows = [
        {
            "name": s.name,
            "title": s.title,
            "note": s.note,
            "source": s.source,
            "readings": {k: v.mean for k, v in s.readings.items()},
        }
        for s in styles().values()
    ]
    print_json(rows) if o.json else print("\n".join(f"{r['name']:24} {r['title']}: {r['note']}" for r in rows))


_RUN = {
    "open": _open, "demo": _demo, "measure": reading.measure, "plan": _plan, "guides": _guides, "head": head.head,
    "figure": figure.figure, "match": figure.match,
    "pose": pose.pose, "shapes": shapes.shapes, "check": check.check, "check-set": check_set.check_set,
    "landmarks": reading.landmarks, "style-learn": reading.style_learn, "hand-learn": reading.hand_learn,
    "validate": _validate, "readings": reading.readings, "schools": _schools, "styles": _styles,
}  # fmt: skip
