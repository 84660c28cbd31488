"""An assessment as JSON: the one shape that command line and API give out."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from uptide.core.assessment.assessment import Assessment
from uptide.core.recipe.assuming import open_readings
from uptide.core.recipe.recipe import RowStatus
from uptide.core.safety.check import Safety


class Frozen(BaseModel):
    """Immutable output."""

    model_config = ConfigDict(frozen=True)


class RowOut(Frozen):
    """A row that was read."""

    typed: str = Field(description="The row as typed.")
    ingredient: str = Field(description="Key of the ingredient in the catalogue.")
    grams: float = Field(description="Mass [g].")
    grams_low: float = Field(description="Least mass it may be [g].")
    grams_high: float = Field(description="Greatest mass it may be [g]; safety counts with this one.")
    percent_mass: float = Field(description="Share of the whole by mass [%].")
    percent_volume: float = Field(description="Share of the whole by volume [%].")
    millilitres: float = Field(description="Volume at 20 °C [mL].")
    remark: str = Field(description="How the row was read, where that is not plain.")


class FindingOut(Frozen):
    """A figure; `value` is null when it is unknown, and `remark` says why."""

    key: str
    value: float | None
    low: float | None
    high: float | None
    unit: str
    method: str
    sources: list[str]
    confidence: str
    remark: str
    word: str = Field(description="The verdict in a word or two, where the figure is one.")
    other: str = Field(description="What another school of the trade would say.")


class CautionOut(Frozen):
    """A caution."""

    rule: str
    grade: str
    about: str
    message: str
    why: str
    who: str = Field(description="The wearer it is about; empty for everybody.")
    remedy: str = Field(description="What would clear it.")
    source: str
    confidence: str
    answerable: bool = Field(description="Whether a written reason lifts it.")
    reason: str = Field(description="The reason that was written.")
    unknown: bool = Field(description="It may apply, and nobody knows.")


class NotForOut(Frozen):
    """Whom a blend that is made for anyone is not for."""

    who: str
    about: str
    grade: str
    rule: str
    message: str


class AllergenOut(Frozen):
    """An allergen that the label names."""

    name: str
    typical: float = Field(description="Share of the whole, typically [%].")
    high: float = Field(description="Share of the whole, at most [%].")


class OptionOut(Frozen):
    """One answer to a question."""

    value: str
    label: str


class QuestionOut(Frozen):
    """What must be answered before the row counts; answer with its row, key and value."""

    key: str
    text: str
    options: list[OptionOut]


class NotUnderstoodOut(Frozen):
    """A row that is not counted, and why."""

    row: int = Field(description="Place of the row, from 0.")
    typed: str
    status: str = Field(description="asked, unmeasured or not_understood.")
    reason: str
    questions: list[QuestionOut]


class AssumedOut(Frozen):
    """What the recipe leaves open and is read by an assumption; answer it with `key` among the answers of its rows."""

    rows: list[int]
    key: str
    about: str = Field(description="The words that leave it open.")
    taken: str = Field(description="The value it is read as.")
    because: str
    options: list[OptionOut]


class AssessmentOut(Frozen):
    """Everything that is known about a recipe."""

    rows: list[RowOut]
    findings: list[FindingOut]
    cautions: list[CautionOut]
    is_draft: bool = Field(description="A stop is open, or a row is not settled.")
    assumed: list[AssumedOut] = Field(description="Readings that are assumed; figures span the others as well.")
    not_for: list[NotForOut]
    allergens: list[AllergenOut]
    remarks: list[str]
    not_understood: list[NotUnderstoodOut]


def assessment_out(assessment: Assessment) -> AssessmentOut:
    """Give an assessment its outer shape; no number is changed on the way."""
    rows = [
        RowOut(
            typed=row.typed,
            ingredient=row.ingredient.key,
            grams=row.grams or 0.0,
            grams_low=row.grams_low or 0.0,
            grams_high=row.grams_high or 0.0,
            percent_mass=row.percent_mass or 0.0,
            percent_volume=row.percent_volume or 0.0,
            millilitres=row.millilitres or 0.0,
            remark=row.remark,
        )
        for row in assessment.resolution.read
        if row.ingredient is not None
    ]
    findings = [
        FindingOut(
            key=finding.key,
            value=finding.value,
            low=finding.low,
            high=finding.high,
            unit=finding.unit,
            method=finding.method,
            sources=list(finding.sources),
            confidence=finding.confidence,
            remark=finding.remark,
            word=finding.word,
            other=finding.other,
        )
        for finding in assessment.findings
    ]
    cautions = [
        CautionOut(
            rule=c.rule,
            grade=c.grade.value,
            about=c.about,
            message=c.message,
            why=c.why,
            who=c.who,
            remedy=c.remedy,
            source=c.source,
            confidence=c.confidence,
            answerable=c.answerable,
            reason=c.reason,
            unknown=c.is_unknown,
        )
        for c in assessment.cautions
    ]
    safety = assessment.safety or Safety()
    open_rows = [
        NotUnderstoodOut(
            row=row.index,
            typed=row.typed,
            status=row.status.value,
            reason=row.reason,
            questions=[
                QuestionOut(
                    key=question.key,
                    text=question.text,
                    options=[OptionOut(value=option.value, label=option.label) for option in question.options],
                )
                for question in row.questions
            ],
        )
        for row in assessment.rows
        if row.status in (RowStatus.ASKED, RowStatus.UNMEASURED, RowStatus.NOT_UNDERSTOOD)
    ]
    return AssessmentOut(
        rows=rows,
        findings=findings,
        cautions=cautions,
        is_draft=safety.is_draft,
        assumed=[
            AssumedOut(
                rows=list(reading.rows),
                key=reading.question.key,
                about=reading.question.about,
                taken=reading.question.assumed,
                because=reading.question.because,
                options=[OptionOut(value=option.value, label=option.label) for option in reading.question.options],
            )
            for reading in open_readings(assessment.resolution)
        ],
        not_for=[
            NotForOut(who=n.who, about=n.about, grade=n.grade.value, rule=n.rule, message=n.message)
            for n in safety.not_for
        ],
        allergens=[
            AllergenOut(name=a.name, typical=a.typical, high=a.high)
            for a in (safety.allergens.declared if safety.allergens else ())
        ],
        remarks=list(assessment.remarks),
        not_understood=open_rows,
    )
