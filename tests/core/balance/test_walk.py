"""Balancing card by card: what is seen leads to a slide, back where a later one has upset it, and always to an end."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import pytest

from lift_crate.core.balance.report import BalanceReport, balance_report
from lift_crate.core.balance.steps import Card, Order, cards
from lift_crate.core.balance.walk import HOLDS, Answer, before_power, onward, walk
from lift_crate.core.errors import NotAllowed
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench


def deck(demo: JobFile, order: Order) -> tuple[BalanceReport, tuple[Card, ...]]:
    report = balance_report(bench(demo, "dress", "dock-floor").stand)
    assert report
    return report, cards(report, order)


def holds(*numbers: int) -> list[Answer]:
    return [Answer(n, HOLDS) for n in numbers]


def test_everything_that_holds_goes_straight_on_and_power_comes_last(demo: JobFile) -> None:
    _, made = deck(demo, "tilt first")
    assert [c.slide for c in made] == ["fore_aft", "vertical", "fore_aft", "lateral", "pan", "unlock", "power"]
    for done in range(6):
        now = walk(made, holds(*range(1, done + 1)))
        assert (now.at, now.may_power) == (done + 1, False)
    assert walk(made, holds(*range(1, 7))).may_power
    ended = walk(made, holds(*range(1, 8)))
    assert (ended.at, set(ended.checks.values())) == (None, {HOLDS})


def test_what_falls_names_the_slide_the_way_and_the_end_of_its_scale(demo: JobFile) -> None:
    report, made = deck(demo, "tilt first")
    target = report.slides[0]
    now = walk(made, [Answer(1, "level, lens drops")])
    end = target.scale[0 if target.direction > 0 else 1]
    assert (now.at, now.do) == (1, f"Mass too far forward: slide back, towards {end:.0f}.")


def test_a_later_slide_sends_back_to_the_one_it_upset(demo: JobFile) -> None:
    _, made = deck(demo, "roll first")
    assert [c.slide for c in made] == [
        "lateral",
        "fore_aft",
        "vertical",
        "fore_aft",
        "lateral",
        "pan",
        "unlock",
        "power",
    ]
    leaned = walk(made, [*holds(1, 2, 3, 4), Answer(5, "holds level, falls over when leaned")])
    assert (leaned.at, leaned.do) == (3, "Height about the roll axis: back to height.")
    assert leaned.held == (1, 2), "fore-aft and roll were upset by the height: they come again"
    assert walk(made, [*holds(1, 2, 3, 4), Answer(5, "holds level, falls over when leaned"), *holds(3)]).at == 4


def test_after_power_every_correction_begins_with_power_off_and_ends_with_the_locks(demo: JobFile) -> None:
    _, made = deck(demo, "tilt first")
    now = walk(made, [*holds(*range(1, 7)), Answer(7, "roll hums or its load is high")])
    assert (now.at, now.may_power) == (4, False)
    assert now.do.startswith("Switch it off first. Roll is off")
    assert "unlock" not in now.checks
    assert walk(made, [*holds(*range(1, 7)), Answer(7, "roll hums or its load is high"), *holds(4, 5, 6)]).may_power


def test_a_card_that_is_not_up_and_words_it_has_not_are_refused(demo: JobFile) -> None:
    _, made = deck(demo, "tilt first")
    with pytest.raises(NotAllowed, match="Card 7 is not up yet: the next is Tilt fore-aft"):
        walk(made, holds(7))
    with pytest.raises(NotAllowed, match=r"'it sings' is not seen at Tilt fore-aft; it is one of: holds; level, lens"):
        walk(made, [Answer(1, "it sings")])


OFF_BY = {"fore_aft": ("vertical", 0.2), "vertical": ("fore_aft", 0.3), "lateral": ("vertical", 0.15)}


@pytest.mark.parametrize("order", ["tilt first", "roll first"])
def test_the_table_of_answers_leads_where_the_walk_does_from_everywhere(demo: JobFile, order: Order) -> None:
    """Every card that can be answered, with every answer, from every state that some answers lead to."""
    _, made = deck(demo, order)
    known: dict[tuple[int | None, tuple[int, ...]], list[Answer]] = {}
    open_ones: list[list[Answer]] = [[]]
    while open_ones:
        answers = open_ones.pop()
        now = walk(made, answers)
        if (now.at, now.held) in known:
            continue
        known[now.at, now.held] = answers
        for lead in onward(made):
            if lead.card == now.at or lead.card in now.held:
                held = set(now.held) - set(lead.lets_go) | ({lead.card} if lead.seen == HOLDS else set())
                up = lead.at or next((c.number for c in made if c.number not in held), None)
                then = walk(made, [*answers, Answer(lead.card, lead.seen)])
                assert (then.at, set(then.held), then.do) == (up, held, lead.do)
                assert then.may_power == (set(before_power(made)) <= held)
                open_ones.append([*answers, Answer(lead.card, lead.seen)])
    assert len(known) > 20
    assert (None, tuple(c.number for c in made)) in known


@pytest.mark.parametrize("order", ["tilt first", "roll first"])
@pytest.mark.parametrize("seed", range(8))
def test_told_truly_it_ends_balanced_wherever_it_begins(demo: JobFile, order: Order, seed: int) -> None:
    """A hand that only does what the cards say, on slides that move each other, ends with every slide within friction.

    Each slide is off by its own millimetres and by a share of another's.
    """
    _, made = deck(demo, order)
    chance = np.random.default_rng(seed)
    off = {name: chance.uniform(-20, 20) for name in ("fore_aft", "vertical", "lateral", "pan")}
    answers: list[Answer] = []

    def felt(slide: str, off: Mapping[str, float]) -> float:
        other, share = OFF_BY.get(slide, ("pan", 0.0))
        return off[slide] + share * off[other]

    for _ in range(400):
        now = walk(made, answers)
        if now.at is None:
            break
        card = made[now.at - 1]
        if card.slide in off:
            wrong = felt(card.slide, off)
            if abs(wrong) <= 1:
                answers.append(Answer(card.number, HOLDS))
                continue
            way = -1 if wrong > 0 else 1
            symptom = next(s for s in card.symptoms if s.slide == card.slide and s.way == way)
            answers.append(Answer(card.number, symptom.seen))
            off[card.slide] += way * min(abs(wrong), chance.uniform(0.5, 6))
        else:
            worst = max(off, key=lambda name: abs(felt(name, off)))
            back = next((s for s in card.back if s.slide == worst), None)
            if abs(felt(worst, off)) > 1 and back:
                answers.append(Answer(card.number, back.seen))
            else:
                answers.append(Answer(card.number, HOLDS))
    assert walk(made, answers).at is None
    assert max(abs(felt(name, off)) for name in off) <= 1.0 + 1e-9
