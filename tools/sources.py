"""Write docs/sources.md: every constant of the trade in the data files with its source, and those that stand in code."""

from __future__ import annotations

import sys
from pathlib import Path

from orthomet.core.check.rows import tolerance_table
from orthomet.core.features.expression import expression_table
from orthomet.core.features.table import feature_table
from orthomet.core.figure.canons import named
from orthomet.core.figure.youth import table as match_table
from orthomet.core.plan.figure import figure_space
from orthomet.core.plan.space import face_space
from orthomet.core.plan.versions import ageing
from orthomet.core.pose.library import pose_table
from orthomet.core.pose.limits import limits
from orthomet.core.proportions.growth import growth
from orthomet.core.proportions.norms import tables
from orthomet.core.shapes.head_class import classes
from orthomet.core.shapes.model import role_table
from orthomet.core.styles.library import styles
from orthomet.core.styles.schools import schools

OUT = Path(__file__).resolve().parent.parent / "docs" / "sources.md"

IN_CODE = [
    (
        "landmarks, anthropometric names",
        "orthomet/core/landmarks/schema.py",
        "from memory of Farkas 1994 and Kolar & Salter 1997; pupil edges, parting and the pit of the neck added for what artists ask",
    ),
    ("transforms by kind (log, logit, additive)", "orthomet/core/kinds.py", "own, after the usual treatment of sizes and shares"),
    (
        "exaggeration about a norm",
        "orthomet/core/plan/plan.py",
        "Brennan, Leonardo 18(3), 1985 (published); style weight and offsets own",
    ),
    (
        "least-distance programming by non-negative least squares",
        "orthomet/core/plan/feasible.py",
        "Lawson & Hanson, Solving Least Squares Problems, 1974, ch. 23 (published)",
    ),
    ("likeness and style scores: 0.3 and 2 spreads, soft end 6, reach 4", "orthomet/core/plan/scores.py", "own"),
    (
        "the figure: torso, limbs, hands, feet, how masses join, inner lines, line weights by depth",
        "orthomet/core/figure/",
        "own, drawn after common practice and tried against front read-back; steps of the construction common practice",
    ),
    (
        "head and body: thresholds of the verdicts, what goes along with a cure",
        "orthomet/core/figure/match.py, orthomet/core/plan/cures.py",
        "own, tried against measured bodies and figures that look right",
    ),
    ("who stands: thigh and shin within 45° of the plumb", "orthomet/core/landmarks/stance.py", "own"),
    (
        "face taper: cheek 0.57, jaw 0.78, chin share 0.30",
        "orthomet/core/head/taper.py",
        "own, kept inside the drawn outline by a test",
    ),
    (
        "outline tables: powers 2.15 and 2.3, knots, smoothing 0.017",
        "orthomet/core/head/outline.py",
        "own, tried against adult heads",
    ),
    (
        "upper lid share 0.6, brow overhang and drops, nose tip and wing lift",
        "orthomet/core/head/points.py",
        "own; brow peak at two thirds common practice",
    ),
    ("feature curves", "orthomet/core/head/features.py", "own, after common practice"),
    ("how features are drawn by their parameters, marks", "orthomet/core/head/strokes.py", "own, after common practice"),
    ("reach of an expression's dials", "orthomet/core/head/expressed.py", "own, after common practice"),
    ("hair: chart, hairline, clumps, ties, curls, wear and their shapes", "orthomet/core/hair/", "own, after common practice"),
    (
        "which hair a picture shows: seeds by colour, overlap",
        "orthomet/core/hair/fit.py",
        "GrabCut: Rother et al., SIGGRAPH 2004 (published); thresholds own",
    ),
    (
        "ink: weights 0.0112, 0.0088, 0.0060, 0.0078 heads, tapers, joins, reaches",
        "orthomet/core/ink/",
        "own, after what brush drawings of this size show",
    ),
    ("neck, shoulders, ears", "orthomet/core/head/neck.py, orthomet/core/head/ears.py", "own, after common practice"),
    ("profile readings planned, and how far a head can go", "orthomet/core/plan/side.py", "own, tried against the drawn solid"),
    ("an open jaw goes back by 0.55 of its drop", "orthomet/core/head/solid.py", "own, from the hinge's place"),
    ("shadows: dark below a cosine of 0.10, lid band 0.22", "orthomet/core/head/shadow.py", "own; lid band common practice"),
    ("likeness held by at most 3 of emphasis", "orthomet/core/plan/hold.py", "own"),
    (
        "gaze reaches 32 degrees",
        "orthomet/app/stations/head/station.py",
        "from memory of common values, 30 to 35 degrees in comfort",
    ),
    (
        "registration",
        "orthomet/core/landmarks/register.py",
        "Umeyama, IEEE PAMI 13(4), 1991; Tukey's biweight after Huber & Ronchetti, Robust Statistics, 2009 (published)",
    ),
    (
        "smallest fix: half tolerance, 9 a move, 0.05 a point, 30 a tolerance left over",
        "orthomet/core/check/fix.py",
        "own, tried on random faults",
    ),
    (
        "style learning: signature 1.5 and 1 spreads, periods 4 deviations on held-out samples",
        "orthomet/core/styles/learn.py",
        "own; false alarms measured by a test",
    ),
    ("hand learning: five pairs for a push", "orthomet/core/styles/hand.py", "own"),
    (
        "seeds follow placed points by inverse distance, power 3",
        "orthomet/core/landmarks/seed.py",
        "Shepard 1968 (published); weights own",
    ),
    ("68-point layout", "orthomet/core/landmarks/pts.py", "from memory of the common face-alignment text format"),
    ("a head fills about 560 screen pixels", "orthomet/core/check/check.py", "own"),
    (
        "how a collar bone goes along with an arm, how a seat follows a thigh, how far hands, knees and hips lie over the floor; what counts as done of "
        "the actions a story needs",
        "orthomet/core/pose/bones.py, skin.py, actions.py, reach.py",
        "own, after common practice",
    ),
    (
        "a segment seen shorter is turned by acos(l/L); the ranges, when one is too long, and how far heads lean",
        "orthomet/core/pose/lift.py",
        "geometry; thresholds own, tried on random poses",
    ),
    (
        "weight of a body's parts by their volume",
        "orthomet/core/pose/balance.py",
        "own; the trunk's share checked against Dempster 1955 (from memory)",
    ),
    ("silhouette breadths", "orthomet/core/figure/silhouette.py", "own, after common practice"),
    (
        "profile and figure landmarks and readings",
        "orthomet/core/landmarks/views.py, orthomet/core/proportions/views.py",
        "names from memory of Farkas 1994 and of the ISAK and ANSUR lists; readings common practice",
    ),
    (
        "templates for seeding, usual depths of a head",
        "orthomet/core/landmarks/templates.py, orthomet/core/landmarks/turn.py",
        "own, laid out from the norms; an adult head 0.23 m from memory of Farkas 1994",
    ),
    (
        "undoing a turn: depth spread 0.035, unevenness 0.006, far beyond 35° of yaw or 25° of pitch",
        "orthomet/core/landmarks/turn.py",
        "own, tried against painted heads of known turn",
    ),
    ("rigid fit", "orthomet/core/landmarks/mesh.py", "Kabsch, Acta Cryst. A32, 1976 (published)"),
    (
        "the mesh network's points, its level face, gains 1.17 and 1.40, zeros and couplings of what it tells of a turn",
        "orthomet/core/landmarks/data/mesh.json, orthomet/core/landmarks/mesh.py",
        "point numbers from memory of the published mesh; the rest own measurement",
    ),
    (
        "face detection and mesh networks",
        "orthomet/core/imaging/faces.py",
        "Bazarevsky et al. 2019; Kartynnik et al. 2019 (published); crop margin 1.5 from memory of the published pipeline",
    ),
    (
        "refinement: iris by the strongest step of brightness; lids, brows, mouth, wings, outline and hair: thresholds and shares",
        "orthomet/core/imaging/ (eyes, brows, mouth, edges, hair, refine), orthomet/core/auto.py",
        "Daugman, IEEE PAMI 15(11), 1993 (published); thresholds own, tried on painted portraits",
    ),
    ("homography by direct linear transform", "orthomet/core/imaging/rectify.py", "Hartley, IEEE PAMI 19(6), 1997 (published)"),
    (
        "youth table, heads tall by age, what moves with eyes and mouth",
        "orthomet/core/proportions/youth.py and its data",
        "see the data file; interpolation and what moves along own",
    ),
    ("photos pooled: worn rather than built beyond 2.5 × 0.35 spreads", "orthomet/core/references.py", "own"),
    ("a crown under hair is uncertain by 0.015 heads", "orthomet/app/stage/marks.py", "own"),
    (
        "shapes: contours, corners, fits, dial, pushes, relations, taking apart: thresholds, prices, weights",
        "orthomet/core/shapes/",
        "own, tried on noisy outlines and invented figures; fits by iteratively reweighted Gauss–Newton, pieces by dynamic programming, answering points by Minkowski sums "
        "and time warping (textbook methods)",
    ),
    (
        "shapes: exaggeration about a norm",
        "orthomet/core/shapes/push.py",
        "Brennan, Leonardo 18(3), 1985 (published), done to shapes",
    ),
    (
        "parts told from their ground",
        "orthomet/core/shapes/masks.py",
        "GrabCut: Rother et al., SIGGRAPH 2004 (published); thresholds own",
    ),
    ("paper sizes", "orthomet/core/export/page.py", "ISO 216 (published)"),
    ("pen widths and pencil colours", "orthomet/core/export/look.py", "common practice; colours own"),
]


def text() -> str:
    out = [
        "# Where the numbers come from",
        "",
        "Written by `python tools/sources.py` from the data files; do not edit by hand.",
        "",
    ]
    for t in tables().values():
        out += [f"## Norm: {t.title}", "", t.source, "", "| reading | norm | sd | source |", "|---|---|---|---|"]
        out += [f"| `{k}` | {r.norm:.4g} | {r.sd:.4g} | {r.source} |" for k, r in t.readings.items()]
        out += [f"| every `level_`, `centre_`, `offset_` | {t.balance.norm:g} | {t.balance.sd:g} | {t.balance.source} |"]
        out += [f"| every `gaze_` | {t.balance.norm:g} | {t.balance.gaze_sd:g} | {t.balance.source} |", ""]
    out += ["## Features, expressions, ageing", ""]
    out += [
        f"- features: {feature_table().source}",
        f"- expressions: {expression_table().source}",
        f"- ageing: {ageing().source}",
        "",
    ]
    out += ["## Guide schools", "", "| school | source | settings | values |", "|---|---|---|---|"]
    for s in schools().values():
        dials = "; ".join(f"{k} {d.default:g} ({d.low:g}–{d.high:g})" for k, d in s.settings.items())
        lets = "; ".join(f"{k} = {v}" for k, v in s.let.items())
        out.append(f"| {s.title} | {s.source} | {dials} | {lets} |")
    out += ["", "## Styles", "", "| style | source | readings |", "|---|---|---|"]
    out += [f"| {s.title} | {s.source} | {len(s.readings) or 'the norm throughout'} |" for s in styles().values()]
    out += ["", "## Canons of the figure", "", "| canon | heads | source |", "|---|---|---|"]
    out += [f"| {c.title} | {c.heads:g} | {c.source} |" for c in named().values()]
    out += ["", f"Heads by age: {growth().heads_source}.", "", "| reading by age | source |", "|---|---|"]
    out += [f"| `{k}` | {r.source} |" for k, r in growth().rows.items()]
    out += [
        "",
        "## Youth of head and body",
        "",
        "| trait | adult | infant | extreme | weight | source |",
        "|---|---|---|---|---|---|",
    ]
    out += [
        f"| `{k}` | {r.adult:g} | {r.infant:g} | {r.extreme:g} | {r.weight:.2f} ({r.part}) | {r.source} |"
        for k, r in match_table().items()
    ]
    out += [
        "",
        "## Shapes",
        "",
        f"- head classes: {classes().source}",
        f"- parts and their usual shapes: {role_table().source}",
        "",
    ]
    out += ["", "## Joints and poses", "", f"- ranges of motion: {limits().source}", f"- poses: {pose_table().source}", ""]
    for what, table in (("plan", face_space().table), ("body", figure_space().table)):
        out += ["", f"## Limits of a {what}", "", f"Source: {table.source}.", "", "| limit | rule |", "|---|---|"]
        for row in table.rows:
            rule = " ".join(f"{c:+g}·{t}" for c, t in row.terms)
            out.append(f"| {row.say} | `{rule} ≥ {row.least:g}`{' (or its alternative)' if row.either else ''} |")
        out += ["", "| trait | from | to |", "|---|---|---|"]
        out += [f"| `{k}` | {b.low:g} | {b.high:g} |" for k, b in table.bounds.items()]
    tol = tolerance_table()
    out += ["", "## Tolerances of the check", "", f"Source: {tol.source}.", ""]
    out += [f"- {r.say}" for r in tol.rules.values()]
    out += [f"- {tol.noise_say}", "", "## Constants that stand in code", "", "| what | where | source |", "|---|---|---|"]
    out += [f"| {a} | `{b}` | {c} |" for a, b, c in IN_CODE]
    return "\n".join(out) + "\n"


if __name__ == "__main__":
    if "--check" in sys.argv:
        sys.exit(
            0 if OUT.read_text(encoding="utf-8") == text() else "docs/sources.md is out of date: run python tools/sources.py"
        )
    OUT.write_text(text(), encoding="utf-8")
