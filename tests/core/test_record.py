"""What is kept of checks: what changed since the last one, drift over a set, details, the list before ink, looking again."""

from __future__ import annotations

import csv
import io
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from orthomet.core.check.again import due, due_words
from orthomet.core.check.check import check
from orthomet.core.check.details import attached_on, counts_on, dark_spots, share_along
from orthomet.core.check.drift import Drawn, Trait, as_csv, band_of, drifts, face_traits, when, words_of
from orthomet.core.check.drift_chart import chart
from orthomet.core.check.gate import gate
from orthomet.core.check.since import Course, by_reading, changes, noted, summary
from orthomet.core.check.stages import Stage, in_order, stage_of
from orthomet.core.derived import Supposed
from orthomet.core.head.points import plan_points
from orthomet.core.landmarks.points import from_array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.picture import Ink
from orthomet.core.project.checked import Attached, Counted, Noted, NotedFinding
from orthomet.core.project.model import Character, Drawing, Earlier, Image, Marks, Project, Reference, Study
from orthomet.core.proportions.measure import Measured, measure
from orthomet.core.styles.library import Style, StyleRow
from tests.edited import GROUPS
from tests.faces import as_picture, face

NOW = "2026-11-28T10:00:00+00:00"
IMAGE = Image(hash="0" * 64, suffix="png", size=(10, 10))


def off(**by: tuple[float, float]) -> object:
    x = plan_points(face())
    for g, d in by.items():
        x[GROUPS[g]] += d
    return check(from_array(as_picture(x)), plan_points(face()))


# ---- since the last save


def test_findings_are_told_nearer_farther_new_and_gone() -> None:
    before = by_reading(noted(off(mouth=(0, 0.04)), NOW, "saved"))
    rows = changes(before, off(mouth=(0, 0.028), brow_l=(0, -0.03)))
    course = {r.reading: r.course for r in rows}
    assert course["mouth_station"] is Course.BETTER and [c for k, c in course.items() if k != "mouth_station"] == [Course.NEW]
    assert summary(rows) == "1 better, 1 new"
    worse = changes(before, off(mouth=(0, 0.055)))[0]
    assert worse.course is Course.WORSE and worse.words == "+0.040 → +0.055 heads, worse"
    healed = changes(before, off())[0]
    assert healed.passes and healed.words.endswith("passes now")
    same = changes(before, off(mouth=(0, 0.0401)))
    assert same[0].course is Course.SAME and summary(same) == "nothing changed" and changes({}, off()) == ()


def test_a_kept_check_survives_its_record() -> None:
    entry = noted(off(mouth=(0, 0.04)), NOW, "kept", "norm")
    assert Noted.model_validate_json(entry.model_dump_json()) == entry and entry.findings[0].say.startswith("Raise the mouth")
    with pytest.raises(ValueError, match="ISO 8601"):
        Noted(when="yesterday", why="kept")
    with pytest.raises(ValueError, match="leads nowhere"):
        Earlier(image=IMAGE, when=NOW, way=(0, 0, 0, 0, 0, 0))


# ---- drift


def pages(n: int = 8, creep: float = 0.0, noise: float = 0.001, seed: int = 1, odd: int = -1, days: bool = True) -> list[Drawn]:
    rng, out = np.random.default_rng(seed), []
    for k in range(n):
        t = dict(face())
        t["eye_station"] += creep * k
        t["mouth_width_fw"] *= 1.3 if k == odd else 1.0
        x = as_picture(plan_points(t)) + rng.normal(0, noise * 800, (len(FRONT.names), 2))
        out.append(Drawn(str(k), f"page {k + 1}", f"2026-{k + 1:02d}-10" if days else "", sure(measure(from_array(x)))))
    return out


def sure(m: Measured) -> dict[str, float]:
    return {k: v for k, v in m.table.items() if m.sure(k)}


def plan() -> tuple[dict[str, float], np.ndarray]:
    return face(), plan_points(face())


def traits() -> tuple[Trait, ...]:
    return face_traits(*plan())


def test_what_creeps_is_found_and_its_chance_is_what_shuffling_says() -> None:
    """``scipy.stats.permutation_test`` shuffles the pages: a trend that order alone explains is rare among them."""
    drawn = pages(creep=-0.004)
    rows = drifts(drawn, traits())
    eyes = next(r for r in rows if r.key == "eye_station")
    assert eyes.creeps and rows[0].key == "eye_station" and eyes.change == pytest.approx(-0.028, abs=0.003)
    assert words_of(eyes, drawn) == "has crept up 0.028 heads since January" or words_of(eyes, drawn).startswith(
        "has crept up 0.02"
    )
    x = when(drawn)
    shuffled = stats.permutation_test(
        (eyes.values,), lambda v: stats.pearsonr(x, v).statistic, permutation_type="pairings", n_resamples=2000, rng=1
    )
    assert shuffled.pvalue < 0.01 and eyes.p < 0.01
    slope = stats.theilslopes(eyes.values, x).slope
    assert eyes.change / np.ptp(x) == pytest.approx(slope, rel=0.1)


def test_a_steady_set_says_so_and_chance_hardly_ever_creeps() -> None:
    told = [r.creeps or bool(r.departs) for s in range(12) for r in drifts(pages(seed=s, noise=0.0015), traits())]
    assert np.mean(told) < 0.02
    rows = drifts(pages(), traits())
    assert all(np.isfinite(r.sd) and abs(r.off) < 0.6 for r in rows) and {words_of(r, pages()) for r in rows} <= {
        "steady",
        "strays, but passes",
    }


def test_the_one_that_departs_is_named_and_too_few_say_nothing() -> None:
    drawn = pages(odd=4)
    rows = drifts(drawn, traits())
    mouth = next(r for r in rows if r.key == "mouth_width_fw")
    assert mouth.departs == (4,) and words_of(mouth, drawn) == "departs on page 5"
    assert drifts(drawn[:1], traits()) == () and all(r.p == 1 for r in drifts(drawn[:3], traits()))
    assert list(when(pages(3, days=False))) == [0, 1, 2]
    narrow = face_traits({**face(), "nose_width_fw": face()["nose_width_fw"] * 0.8}, plan_points(face()))
    always = drifts(pages(), narrow)
    nose = next(r for r in always if r.key == "nose_width_fw")
    assert nose.off > 1 and "larger than planned" in words_of(nose, drawn)


def test_bands_are_the_styles_own_and_never_below_what_a_hand_marks() -> None:
    t, x = plan()
    style = Style(name="s", title="S", readings={"eye_station": StyleRow(mean=0.5, sd=0.006, n=8)})
    assert band_of("eye_station", 0.5, style, x) == pytest.approx(0.012) and band_of("eye_station", 0.5, None, x) == 0.02
    assert band_of("upper_lip_hh", t["upper_lip_hh"], None, x) >= 0.0079 and band_of("eye_tilt_deg", 2.0, None, x) == 2.0


def test_the_set_is_written_as_a_table_and_drawn_as_charts() -> None:
    drawn = pages(creep=-0.004, odd=4)
    rows = drifts(drawn, traits())
    table = list(csv.reader(io.StringIO(as_csv(rows, drawn))))
    assert len(table) == 2 + len(rows) and table[0][9:] == [d.name for d in drawn] and table[2][0] == rows[0].key
    assert float(table[2][9]) == pytest.approx(rows[0].values[0], rel=1e-3)
    pic = chart(rows[:7], drawn, 3, "Set")
    dots = [i for i in pic.layer(rows[0].key).items if getattr(i, "filled", False) and i.role is Ink.REDLINE_DEEP]
    assert len(dots) == 8 and [i.name for i in dots] == [d.name for d in drawn] and len(pic.layers) == 8
    x, y, w, h = pic.box
    for t in pic.paths():
        assert t.points[:, 0].min() >= x - 0.5 and t.points[:, 0].max() <= x + w + 0.5 and t.points[:, 1].max() <= y + h + 0.5


# ---- details


def character(**more: object) -> Character:
    buttons = Counted(id="b", name="buttons", count=5, where="coat")
    belt = Attached(id="k", name="belt", start="suprasternale", end="perineum", share=0.6)
    young = Counted(id="f", name="freckles", count=9, version="v")
    return Character(id="c", name="C", counted=(buttons, young), attached=(belt,), **more)


def test_details_are_asked_where_they_belong_and_differences_told() -> None:
    c = character()
    d = Drawing(id="d", name="D", image=IMAGE, counts={"b": 4})
    (seen,) = counts_on(c, d)
    assert seen.off and seen.words == "buttons, coat: 5 planned, 4 drawn" and attached_on(c, d) == ()
    figure = Drawing(id="f", name="F", image=IMAGE, marks=Marks(view="figure"), attached={"k": 0.66})
    (belt,) = attached_on(c, figure)
    assert belt.off and belt.words == "belt: 60 % of the way, drawn at 66 %" and counts_on(c, figure)[0].seen is None
    assert [x.detail.id for x in counts_on(c, Drawing(id="v", name="V", image=IMAGE, version="v"))] == ["b", "f"]
    with pytest.raises(ValueError, match="less than or equal"):
        Drawing(id="d", name="D", image=IMAGE, counts={"b": 10**9})


@given(st.floats(-1, 2), st.floats(-20, 20), st.floats(0, 6.2))
def test_a_share_is_seen_square_to_its_line(share: float, aside: float, way: float) -> None:
    a, u = np.array([30.0, -10.0]), np.array([np.cos(way), np.sin(way)])
    b = a + 70 * u
    at = a + share * (b - a) + aside * np.array([-u[1], u[0]])
    assert share_along(tuple(at), tuple(a), tuple(b)) == pytest.approx(share, abs=1e-9)
    assert share_along((1, 1), (2, 2), (2, 2)) == 0


@pytest.mark.parametrize("n", [0, 1, 5, 9])
def test_dark_spots_are_counted(n: int) -> None:
    rng = np.random.default_rng(n)
    zone = np.clip(rng.normal(225, 4, (120, 240)), 0, 255).astype(np.uint8)
    for k in range(n):
        cv2.circle(zone, (20 + 24 * k, 30 + 12 * (k % 4)), 5, 60, -1, cv2.LINE_AA)
    assert dark_spots(zone) == n and dark_spots(zone[:2]) == 0


# ---- stages, gate, looking again


def test_proportion_comes_before_style_before_polish() -> None:
    x = plan_points(face())
    x[GROUPS["mouth"], 0] += 0.016
    x[[FRONT.index["labiale_inferius"]], 1] += 0.02
    x[[*GROUPS["eye_l"], *GROUPS["eye_r"]], 1] += 0.03
    c = in_order(check(from_array(as_picture(x)), plan_points(face())))
    order = [stage_of(f) for f in c.findings]
    assert order == sorted(order, key=list(Stage).index) and len(set(order)) >= 2


def test_the_list_before_ink_says_what_is_open_and_what_was_overruled() -> None:
    study = Study(id="s", title="Hand", checklist={"A": "seen", "B": ""})
    ref = Reference(id="r", name="Portrait", image=IMAGE)
    d = Drawing(id="d", name="D", image=IMAGE, counts={"b": 4}, gate={"counted": "overruled"})
    rows = {r.key: r for r in gate(character(references=(ref,)), d, off(mouth=(0, 0.04)), study)}
    assert rows["proportion"].open and rows["proportion"].state == "1 to put right" and not rows["polish"].state
    assert rows["counted"].state == "1 differs" and not rows["counted"].open
    assert (
        rows["manner"].state == "1 marks of it not told"
        and rows["credit"].state == "none for Portrait"
        and "attached" not in rows
    )
    bare = {r.key: r for r in gate(Character(id="x", name="X"), Drawing(id="d", name="D", image=IMAGE), None, None)}
    assert (
        set(bare) == {"proportion", "style", "polish", "credit"}
        and bare["style"].state == "not checked yet"
        and not bare["credit"].open
    )


def test_what_asks_to_be_looked_at_again_is_due_from_its_day() -> None:
    d = Drawing(id="d", name="Rough", image=IMAGE, again="2026-11-28")
    p = Project(characters=(Character(id="c", name="Berta", drawings=(d,)),))
    assert due(p, "2026-11-27") == () and [x.drawing for x in due(p, "2026-11-28")] == ["d"] == [
        x.drawing for x in due(p, "2027-01-01")
    ]
    assert due_words(due(p, "2026-12-01")) == "You wanted to look again at “Rough” of Berta."


# ---- the project's own drawings


def test_meant_reaches_from_a_drawing_to_its_character_version_and_style() -> None:
    from orthomet.demo.project import demo_project

    p = demo_project().project
    d = Supposed(p, "berta", "", "berta-rough")
    key = "mouth_station"
    assert key in [f.reading for f in d.check().findings]

    def silent(**c: object) -> bool:
        who = p.characters[0].model_copy(update=c)
        q = p.model_copy(update={"characters": (who, *p.characters[1:])})
        return key in Supposed(q, "berta", "", "berta-rough").check().meant

    assert silent(meant=(key,)) and not silent(meant=("eye_station",))
    young = p.characters[0].versions[0].model_copy(update={"meant": ("eye_station",)})
    who = p.characters[0].model_copy(update={"versions": (young,)})
    q = p.model_copy(update={"characters": (who, *p.characters[1:])})
    assert "eye_station" in Supposed(q, "berta", "", "young-8").meant_on(who.drawing("young-8"))
    assert "eye_station" not in Supposed(q, "berta", "", "berta-rough").meant_on(who.drawing("berta-rough"))


def test_a_drawing_is_compared_with_any_basis_and_its_set_drifts() -> None:
    from orthomet.demo.project import demo_project

    p = demo_project().project
    for basis in ("", "self", "norm", "style:low-lantern", "school:equal-thirds", "drawing:young-1"):
        who = p.characters[0].model_copy(
            update={
                "drawings": tuple(
                    d.model_copy(update={"basis": basis}) if d.id == "berta-rough" else d for d in p.characters[0].drawings
                )
            }
        )
        told = Supposed(p.model_copy(update={"characters": (who, *p.characters[1:])}), "berta", "", "berta-rough").compared()
        assert not isinstance(told, str) and told.check.findings, (basis, told)
    lost = p.characters[0].model_copy(
        update={"drawings": (p.characters[0].drawing("berta-rough").model_copy(update={"basis": "drawing:gone"}),)}
    )
    told = Supposed(p.model_copy(update={"characters": (lost,)}), "berta", "", "berta-rough").compared()
    assert told == "The drawing it was compared with is gone: choose another basis."
    d = Supposed(p, "berta", "", "young-8")
    drawn, rows = d.drift("berta-young")
    eyes = next(r for r in rows if r.key == "eye_station")
    assert len(drawn) == 8 and eyes.creeps and "since March" in words_of(eyes, drawn)
    mouth = next(r for r in rows if r.key == "mouth_width_fw")
    assert mouth.departs == (4,)
    turned = Supposed(p, "berta", "", "berta-turned").compared()
    assert [f.reading for f in turned.check.findings] == ["eye_station"] and abs(turned.turn.yaw - 33) < 0.5
    assert [f.reading for f in Supposed(p, "lorn", "", "lorn-drawn").check_figure().findings] == ["forearm_hh"]
    finding = NotedFinding(reading="x", off=0.1, tolerance=0.02, say="x")
    assert finding.tolerance == 0.02


# ---- profiles, copied halves, worn faces


def test_a_profile_is_checked_by_its_stations_and_how_far_things_stand_out() -> None:
    from orthomet.demo.project import demo_project

    p = demo_project().project
    d = Supposed(p, "berta", "", "berta-side")
    c = d.check_profile()
    assert [f.say.split(" by ")[0] for f in c.findings] == ["Raise the mouth"] and c.differences[
        "mouth_station"
    ] == pytest.approx(0.035, abs=0.002)
    assert c.findings[0].difference_px == pytest.approx(0.035 * 560, abs=1.5) and len(c.passed) >= 10
    side = p.characters[0].drawing("berta-side")

    def checked(**moved: tuple[float, float]) -> object:
        points = {n: (x + moved.get(n, (0, 0))[0], y + moved.get(n, (0, 0))[1]) for n, (x, y) in side.marks.points.items()}
        new = side.model_copy(update={"marks": side.marks.model_copy(update={"points": points})})
        who = p.characters[0].model_copy(update={"drawings": (new,)})
        return Supposed(p.model_copy(update={"characters": (who,)}), "berta", "", "berta-side").check_profile()

    out = {f.reading: f for f in checked(pronasale=(22, 0)).findings}
    assert out["nose_depth_hh"].say.startswith("Take the nose back by 0.039 heads") and out["nose_depth_hh"].short.endswith(
        "back"
    )
    back = {f.reading: f for f in checked(pogonion=(-24, 0)).findings}
    assert back["chin_out_hh"].say.startswith("Bring the chin forward")
    rows = changes(
        by_reading(noted(c, NOW, "saved")), checked(stomion=(0, -20), labiale_superius=(0, -20), labiale_inferius=(0, -20))
    )
    assert rows[0].reading == "mouth_station" and rows[0].passes
    meant = p.characters[0].model_copy(update={"meant": ("mouth_station",)})
    silent = Supposed(p.model_copy(update={"characters": (meant,)}), "berta", "", "berta-side").check_profile()
    assert not silent.findings and "mouth_station" in silent.meant


def test_a_copied_half_is_noticed_and_its_squint_told() -> None:
    from orthomet.core.check.mirrored import evenness, gaze, mirrored_words

    x = plan_points(face())
    copied = from_array(as_picture(x, roll=0.06))
    said = mirrored_words(copied)
    assert evenness(copied) < 1e-6 and len(said) == 1 and "one was copied" in said[0]
    squinting = x.copy()
    for s, way in (("l", -1), ("r", 1)):
        squinting[FRONT.index[f"pupil_{s}"], 0] += way * 0.012
    words = mirrored_words(from_array(as_picture(squinting)))
    assert len(words) == 2 and "toward the nose" in words[1] and gaze(from_array(as_picture(squinting))) > 0.06
    aside = x.copy()
    aside[[FRONT.index["pupil_l"], FRONT.index["pupil_r"]], 0] += 0.012
    assert gaze(from_array(as_picture(aside))) == 0.0
    rng = np.random.default_rng(2)
    by_hand = [mirrored_words(from_array(as_picture(x) + rng.normal(0, 0.003 * 800, x.shape))) for _ in range(40)]
    assert not any(by_hand), "a hand's own noise is no copy"
    few = from_array(as_picture(x), states=None)
    assert (
        evenness(type(few)(few.view, {n: few.points[n] for n in ("vertex", "gnathion", "exocanthion_l", "exocanthion_r")}))
        is None
    )


@pytest.mark.parametrize("name", ["glad", "sad", "angry", "surprised", "sly"])
@pytest.mark.parametrize("roll", [0.0, 0.12])
def test_a_worn_face_is_undone_before_a_reference_is_measured(name: str, roll: float) -> None:
    from orthomet.core.features.expression import expressions, weaker
    from orthomet.core.head.rest import made
    from orthomet.core.references import measure_reference

    x = plan_points(face())
    e = weaker(expressions()[name], 0.8)
    seen = from_array(as_picture(made(x, e), roll=roll))
    ref = Reference(id="r", name="R", image=IMAGE, marks=Marks(points=dict(seen.points)), expression=name, degree=0.8)
    rest, worn = measure_reference(ref), measure_reference(ref.model_copy(update={"expression": ""}))
    t = face()
    off = [max(abs(m.value(k) - v) for k, v in t.items() if k.endswith(("_station", "_hh"))) for m in (rest, worn)]
    assert off[0] < 0.002 < 0.004 < off[1]
    same = measure_reference(ref.model_copy(update={"expression": "no such face"}))
    assert same.value("mouth_station") == worn.value("mouth_station")
    few = Reference(
        id="r",
        name="R",
        image=IMAGE,
        marks=Marks(points={n: seen.points[n] for n in ("vertex", "gnathion", "alare_l")}),
        expression=name,
    )
    assert measure_reference(few).registry is not None, "too little of a face: it is left as it is"


def test_a_rough_with_six_points_gets_what_six_points_tell() -> None:
    x = plan_points(face())
    x[[FRONT.index["stomion"]], 1] += 0.05
    marks = from_array(as_picture(x))
    six = type(marks)(
        "front", {n: marks.points[n] for n in ("vertex", "gnathion", "exocanthion_l", "exocanthion_r", "subnasale", "stomion")}
    )
    c = check(six, plan_points(face()))
    assert [f.reading for f in c.findings][:1] == ["mouth_station"] and "eye_station" not in c.differences


def test_estimated_points_widen_what_rests_on_them_instead_of_silencing_it() -> None:
    from orthomet.core.landmarks.points import State

    x = plan_points(face())
    x[GROUPS["mouth"], 1] += 0.035
    seen = as_picture(x)
    names = [FRONT.names[i] for i in GROUPS["mouth"]]
    for spread, found in ((0.003, True), (0.02, False)):
        marks = from_array(seen, states=dict.fromkeys(names, State.ESTIMATED))
        marks = replace(marks, spread=dict.fromkeys(names, spread * 800))
        c = check(marks, plan_points(face()))
        assert ("mouth_station" in [f.reading for f in c.findings]) is found and "mouth_station" in c.tolerance
    unknown = check(from_array(seen, states=dict.fromkeys(names, State.ESTIMATED)), plan_points(face()))
    assert "mouth_station" not in unknown.tolerance, "a seed nobody looked at says nothing"
