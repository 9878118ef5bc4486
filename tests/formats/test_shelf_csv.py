"""CSV of units: out and back the same, and every change and error by its line."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.drawings.elevation import elevations
from lift_crate.core.rig.build import Catalogue, Unit
from lift_crate.formats.drawing import drawing_pdf, drawing_svg
from lift_crate.formats.job_file import JobFile, catalogue_of
from lift_crate.formats.shelf_csv import plan_import, units_csv
from tests.kit import quick_of


def test_what_goes_out_comes_back_as_it_is(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    plan = plan_import(units_csv(catalogue.shelf), catalogue)
    assert (plan.changes, plan.errors, plan.same) == ((), (), len(catalogue.units))


@given(
    st.lists(
        st.builds(
            Unit,
            id=st.text('AB-12 ,"=@', min_size=1, max_size=6).map(str.strip).filter(bool),
            model=st.just("hitch-arm"),
            owner=st.sampled_from(["owned", "hired"]),
            measured_g=st.none() | st.integers(1, 9000).map(float),
            measured_cg_mm=st.none() | st.tuples(*[st.integers(-90, 90).map(float)] * 3),
            health=st.integers(5, 100).map(lambda x: x / 100),
            condition=st.sampled_from(["good", "doubtful", "out of use"]),
            note=st.text('né," x', max_size=8).map(str.strip),
        ),
        max_size=6,
        unique_by=lambda u: u.id,
    )
)
def test_any_units_come_back_whatever_their_labels(demo: JobFile, units: list[Unit]) -> None:
    known = catalogue_of(demo)
    empty = Catalogue(known.interfaces, known.models, {})
    plan = plan_import(units_csv(units), empty)
    assert not plan.errors
    assert [c.unit for c in plan.changes] == units


def test_a_line_that_changes_one_thing_says_so(demo: JobFile) -> None:
    plan = plan_import("label,model,health\nPACK-03,tidewick-98,0.65\nPACK-04,tidewick-98,1\n", catalogue_of(demo))
    assert [(c.line, c.unit.id, c.kind, c.fields) for c in plan.changes] == [
        (2, "PACK-03", "changed", (("health", "0.71", "0.65"),))
    ]
    assert plan.changes[0].unit.cycles == 410, "a column that is not there keeps what is known"
    assert plan.same == 1


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("label\nX\n", "line 1, model: this column is missing"),
        ("label,model,colour\n", "line 1, colour: there is no such column"),
        ("label,model\nX,ghost\n", "line 2, model: there is no model 'ghost' on the shelf; add it first"),
        ("label,model\n,hitch-arm\n", "line 2, label: is empty"),
        ("label,model\nA,hitch-arm\nA,hitch-arm\n", "line 3, label: 'A' stands in line 2 already"),
        ("label,model,health\nA,hitch-arm,7\n", "line 2, health: is '7': input should be less than or equal to 1"),
        ("label,model,owner\nA,hitch-arm,mine\n", "line 2, owner: is 'mine'"),
        (
            "label,model,cg_x_mm,cg_y_mm,cg_z_mm\nA,hitch-arm,1,,3\n",
            "line 2, cg_y_mm: is empty; a CG has all three, or none",
        ),
        ("label,model\nA,hitch-arm,9,9\n", "line 2, line: it has more fields than the header"),
        ('label,model\n"A,hitch-arm\n', "this is no CSV"),
    ],
)
def test_errors_by_line_and_column(demo: JobFile, text: str, says: str) -> None:
    assert any(says in str(error) for error in plan_import(text, catalogue_of(demo)).errors), plan_import(
        text, catalogue_of(demo)
    ).errors


def test_drawings_are_to_scale(demo: JobFile) -> None:
    part = demo.job.part("dress")
    judged = quick_of(demo.job.planned("dress", "quay"), catalogue_of(demo), part.conditions, demo.job.settings)
    drawn = elevations(judged.stand)
    side = drawn[0]
    svg = drawing_svg(side, "Quay", 4).decode()
    h0, v0, h1, v1 = side.bounds
    assert f'width="{(h1 - h0) / 4 + 24:.2f}mm" height="{(v1 - v0) / 4 + 24:.2f}mm"' in svg
    assert svg.count("<polygon") == len(side.outlines)
    assert "<title>ZOOM-2</title>" in svg
    pdf = drawing_pdf(drawn, "Quay, full", 4, ("mass −1 g → fine",))
    assert pdf.startswith(b"%PDF")
    assert b"/MediaBox [ 0 0 1190" in pdf
