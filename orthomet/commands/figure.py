"""``orthomet figure`` and ``orthomet match``: a standing figure as numbers and as a drawing, and whether head and body are of one age."""

from __future__ import annotations

import argparse
from dataclasses import dataclass
from typing import Any

from ..core.errors import FormatError, quoted
from .common import headless_qt, pairs, print_json

YAW = 180.0
FILES = (".svg", ".pdf", ".png", ".ora")


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument("landmarks", nargs="?", help="figure landmarks, or PROJECT[:CHARACTER]")
    q.add_argument("--canon", metavar="NAME", help="a canon by itself; “list” prints their names")
    q.add_argument("--heads", type=number, metavar="H", help="so many heads tall, 1.5 to 10; widths and girths go along")
    q.add_argument("--age", type=number, metavar="A", help="the measured body of an age")
    q.add_argument("--yaw", type=number, default=0.0, help="degrees, positive turns the front to the picture's right; ±180")
    q.add_argument("--pose", metavar="NAME|FILE.json", help="in a pose, bones as long as ever; “list” prints the poses’ names")
    q.add_argument("--out", metavar="FILE.svg|.pdf|.png|.ora")
    q.add_argument(
        "--views", action="store_true", help="draw front, three-quarter, side and back on one floor instead of one view"
    )
    q.add_argument("--steps", action="store_true", help="draw the construction step by step instead of one view")
    q.add_argument("--height-mm", type=number, default=200.0, metavar="MM", help="crown to floor")
    q.add_argument("--paper", default="fit", help="fit, A5, A4 or A3")
    q.add_argument("--pencil", type=str.casefold, default="blue", choices=["blue", "sanguine", "graphite"])
    q.add_argument("--line", default="ink", choices=["ink", "centre"], help="brush strokes with their widths, or plain pen lines")


def match_arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument("project", nargs="?", help="PROJECT[:CHARACTER]")
    q.add_argument("--set", action="append", default=[], metavar="KEY=VALUE", help="a reading of the head or of the body")
    q.add_argument("--heads", type=number, metavar="H", help="how many heads tall the slender cure shall be, 1.5 to 10")


@dataclass(frozen=True)
class _Meant:
    plan: Any
    head: Any
    values: dict[str, float]
    pens: Any


def figure(o: argparse.Namespace) -> None:
    from ..core.figure.canons import canon_names

    if o.canon is not None and o.canon.casefold() == "list":
        print_json(canon_names())
        return
    if o.pose is not None and o.pose.casefold() == "list":
        from ..core.pose.library import poses

        print_json(list(poses()))
        return
    if abs(o.yaw) > YAW:
        raise FormatError(f"The yaw runs from −180° to 180°; {o.yaw:g}° is outside.")
    if o.heads is not None:
        _heads(o.heads)
    if o.out and not o.out.lower().endswith(FILES):
        raise FormatError(f"A figure is written as {', '.join(FILES)}; {quoted(o.out)} is none of them.")
    if not 10 <= o.height_mm <= 5000:
        raise FormatError(f"A figure is drawn 10 to 5000 mm tall; {o.height_mm:g} is outside.")
    if o.pose is not None and o.steps:
        raise FormatError("The construction is drawn step by step of a standing figure; leave out --pose or --steps.")
    from ..core.pose.library import pose_of

    pose = pose_of(o.pose) if o.pose is not None else None
    meant = _meant(o)
    from ..core.landmarks.turn import Turn
    from ..core.people import person_of
    from ..core.pose.figure import posed_figure

    shown = person_of(meant.plan, meant.head)
    if pose is not None:
        shown = posed_figure(shown, pose)
    turn = Turn(yaw=o.yaw)
    if o.out:
        _write(o, shown, turn, meant)
    if o.json:
        _tell(shown, turn, meant)
    elif not o.out:
        _say(shown, meant)


def _heads(v: float) -> None:
    from ..core.figure.choices import FEWEST, MOST

    if not FEWEST <= v <= MOST:
        raise FormatError(f"A figure is {FEWEST:g} to {MOST:g} heads tall; {v:g} is outside.")


def _meant(o: argparse.Namespace) -> _Meant:
    """The planned body and the head on it a call is about."""
    from ..core.figure.choices import BY_AGE, FigureChoices
    from ..core.figure.values import values_of
    from ..core.figure.youth import Part
    from ..core.figure.youth import table as counts
    from ..core.people import head_of_canon
    from ..core.plan.decisions import Decisions
    from ..core.plan.figure import chosen_canon, plan_figure
    from ..core.resolve import is_project
    from ..core.styles.library import style

    given = [x for x in (o.landmarks, o.canon, o.age) if x is not None]
    if len(given) > 1 or (not given and o.heads is None):
        raise FormatError(
            "A figure needs one of these: a landmark file, PROJECT[:CHARACTER], --canon NAME, --age A or --heads H."
        )
    if o.landmarks and is_project(o.landmarks):
        plan, head, table, pens = of_project(o.landmarks, o.heads)
        return _Meant(plan, head, values_of(table, plan.readings), pens)
    if o.age is not None and not 0 <= o.age <= 150:
        raise FormatError(f"An age is a number of years from 0 to 150; {o.age:g} is not.")
    name = f"age:{o.age:g}" if o.age is not None else BY_AGE if o.landmarks else o.canon or "measured"
    from ..core.figure.canons import canon

    if name != BY_AGE:
        canon(name)  # a name that is none is told before anything is drawn
    choices = FigureChoices(canon=name, heads=None if o.landmarks else o.heads)
    measured = _measured(o.landmarks, o.heads) if o.landmarks else {}
    c = chosen_canon(choices, 30)
    head = head_of_canon(c)
    plain = Decisions(style="measured-adult", style_weight=0.0)
    of_head = dict(head.table)
    if "head_width_hh" in measured:
        of_head["head_width_hh"] = measured["head_width_hh"]
    if "neck_hw" in measured:
        of_head["neck_width_hw"] = measured["neck_hw"]
    plan = plan_figure(measured, plain, choices, 30, style("measured-adult"), of_head)
    values = values_of(head.table, plan.readings)
    if o.landmarks:  # nobody has seen the face
        values = {k: v for k, v in values.items() if counts()[k].part is not Part.FACE}
    return _Meant(plan, head, values, head.wear.pens)


def _measured(path: str, heads: float | None) -> dict[str, float]:
    from ..core.proportions.measure import measure
    from .common import read_points

    marks = read_points(path)
    if marks.view != "figure":
        raise FormatError(f"A figure needs figure landmarks; {quoted(path)} shows a {marks.view}.")
    table = dict(measure(marks).table)
    if "heads_tall" not in table and heads is None:
        raise FormatError(
            "How many heads tall this figure is was not measured: crown, chin and the floor under standing feet are needed, or --heads H."
        )
    return table if heads is None else table | {"heads_tall": heads}


def of_project(text: str, heads: float | None) -> tuple[Any, Any, dict[str, float], Any]:
    """A project's planned body, the head on it, its traits and its pens."""
    from ..core.people import head_of_plan
    from ..core.plan.figure import HEADS
    from ..core.project.store import read
    from ..core.resolve import figure_of_character, find_character, plan_of_character, side_of_character, split_project_name

    path, name = split_project_name(text)
    stored = read(path)
    c = find_character(stored, name)
    if heads is not None:  # a mark moved by hand would be counted in
        offsets = {k: v for k, v in c.decisions.offsets.items() if k != HEADS}
        decisions = c.decisions.model_copy(update={"offsets": offsets})
        c = c.model_copy(update={"figure": c.figure.model_copy(update={"heads": heads}), "decisions": decisions})
    face = plan_of_character(c, stored.project)
    plan = figure_of_character(c, stored.project)
    return plan, head_of_plan(face, c, c.decisions, side_of_character(c, stored.project)), dict(face.table), c.pens


def _write(o: argparse.Namespace, shown: Any, turn: Any, meant: _Meant) -> None:
    from ..core.export.page import page
    from ..core.figure.scene import picture
    from ..core.figure.sheets import steps_sheet, views_sheet

    if not o.out.lower().endswith(".svg"):
        headless_qt()
    from ..app.render import write_page

    drawn = views_sheet(shown) if o.views else steps_sheet(shown, turn) if o.steps else picture(shown, turn)
    head = o.height_mm / shown.build.heads
    write_page(page(drawn, head, o.paper, "", meant.pens.head_mm(head), o.line == "centre"), o.out, o.pencil)


def _tell(shown: Any, turn: Any, meant: _Meant) -> None:
    from ..core.figure.scene import outlines
    from ..core.figure.youth import known_youth
    from ..core.people import hair_height, heads_with_hair

    b = shown.build
    bones = shown.posed or shown.mannequin.skeleton
    print_json({
        "heads": b.heads, "heads_with_hair": heads_with_hair(b.heads, hair_height(meant.head)),
        "readings": meant.plan.readings,
        "joints": {n: p.tolist() for n, p in bones.joints.items()},
        "bones": bones.bones,
        "outline": [p.tolist() for p in outlines(shown, turn)],
        "youth": known_youth(meant.values),
        "canon": meant.plan.canon.name,
        **_of_pose(shown),
        "limits": [{"limit": li.words, "share": li.share, "pays": li.pays, "asked": li.asked, "got": li.got} for li in meant.plan.limits],
    })  # fmt: skip


def _of_pose(shown: Any) -> dict[str, Any]:
    from ..core.pose.balance import balance

    if shown.posed is None:
        return {}
    at = balance(shown.posed)
    return {"pose": {
        "name": shown.posed.pose.name, "limited": list(shown.posed.limited), "missed": dict(shown.posed.missed),
        "balance": {"stands": not at.falls, "off": at.off, "words": at.words()},
    }}  # fmt: skip


def _say(shown: Any, meant: _Meant) -> None:
    from ..core.people import hair_height, heads_with_hair
    from ..core.proportions.views import figure_registry

    heads = shown.build.heads
    if shown.posed is not None:
        print(f"{shown.posed.pose.name or 'A pose'}: {_of_pose(shown)['pose']['balance']['words']}")
    print(f"{meant.plan.canon.title}: {heads:.2f} heads tall, {heads_with_hair(heads, hair_height(meant.head)):.2f} with hair")
    known = {r.key: r.label for r in figure_registry().readings}
    for key, v in meant.plan.readings.items():
        print(f"{key:22s} {v:7.3f}  {known.get(key, '')}".rstrip())
    for limit in meant.plan.limits:
        print(f"limit: {limit.words}")


def match(o: argparse.Namespace) -> None:
    from ..core.figure.match import matched
    from ..core.figure.values import values_of
    from ..core.figure.youth import table

    if o.heads is not None:
        _heads(o.heads)
    if bool(o.project) == bool(o.set):
        raise FormatError("A match needs either PROJECT[:CHARACTER], or readings with --set KEY=VALUE.")
    if o.project:
        plan, _, face, _ = of_project(o.project, None)
        values = values_of(face, plan.readings)
    else:
        values = pairs(o.set, "--set")
        for key, v in values.items():
            if key not in table():
                raise FormatError(f"{quoted(key)} says nothing of age; known: {', '.join(table())}.")
            if v <= 0:
                raise FormatError(f"{key} is a size or a place above 0; {v:g} is not.")
    m = matched(values, o.heads)
    body = {
        "youth": {"face": m.youth.face, "length": m.youth.length, "width": m.youth.width},
        "verdict": m.verdict.value, "says": m.says,
        "cures": {k: dict(v) for k, v in m.cures.items()}, "after": {k: v.value for k, v in m.after.items()},
    }  # fmt: skip
    if o.json:
        print_json(body)
        return
    print(
        f"face {m.youth.face:.2f}, widths {m.youth.width:.2f}, length {m.youth.length:.2f}: {m.verdict.value.replace('_', ' ')}"
    )
    print(m.says)
    for name, cure in m.cures.items():
        print(f"{name:8s} " + ", ".join(f"{k} {v:.3f}" for k, v in cure.items()) + f" → {m.after[name].value.replace('_', ' ')}")
