"""Every medicine of a card is answered for every scent, and where nothing is known that is said."""

from __future__ import annotations

from dataclasses import replace

from tests.core.safety.conftest import case_of
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.safety.case import Case
from uptide.core.safety.caution import Grade
from uptide.core.safety.medicines import medicine_answers, medicines_finding
from uptide.core.skin.wearer import MEDICINES, Ticks

BLEND = {"jojoba": 97.0, "clove-bud": 0.5, "lavender": 0.5, "bergamot": 0.3, "wintergreen": 0.1}


def taking(*medicines: str) -> Case:
    return case_of(BLEND, wearer=replace(ADULT, medicines=Ticks.answered(MEDICINES, *medicines)))


def test_blood_thinners_are_answered_scent_by_scent() -> None:
    (answer,) = medicine_answers(taking("anticoagulant"))

    assert {name: grade for name, grade, _ in answer.known} == {
        "Clove bud essential oil": Grade.WARN,
        "Wintergreen essential oil": Grade.STOP,
    }
    assert set(answer.unknown) == {"Lavender (true) essential oil", "Bergamot (expressed) essential oil"}
    assert answer.words.startswith("With blood thinners, daily aspirin: ")
    assert "with it nothing is known here" in answer.words


def test_each_medicine_has_an_answer_of_its_own_and_the_gravest_is_the_word() -> None:
    case = taking("other", "photosensitiser", "anticoagulant")
    answers = {answer.medicine: answer for answer in medicine_answers(case)}

    assert list(answers) == ["anticoagulant", "photosensitiser", "other"]  # as they stand on the card
    assert [name for name, _, _ in answers["photosensitiser"].known] == ["Bergamot (expressed) essential oil"]
    assert answers["other"].known == ()
    assert len(answers["other"].unknown) == 4
    (finding,) = medicines_finding(case)
    assert (finding.value, finding.word) == (3, "not with it")
    assert finding.remark.endswith("ask whoever gave the medicine.")


def test_nothing_is_answered_that_nobody_asked() -> None:
    assert medicines_finding(taking()) == ()
    (finding,) = medicines_finding(taking("other"))
    assert finding.word == "nothing known"
