"""The figures of safety: scent, sun, allergens; each with its working and with what another school would say."""

from __future__ import annotations

from dataclasses import replace

from uptide.core.figures.citing import listed
from uptide.core.figures.finding import FigureSpec, Finding, Input
from uptide.core.figures.specs import ALLERGENS_DECLARED, PHOTOTOXICITY, RETINOL_EQUIVALENTS, SCENT_DOSE
from uptide.core.measures.say import say_number
from uptide.core.safety.case import RETINOL_EQUIVALENT, RETINOL_MOST, RETINOL_MOST_ON_BODY, Case
from uptide.core.safety.check import Safety
from uptide.core.safety.dose import Dose, dose_of
from uptide.core.safety.limits import allergens_of
from uptide.core.safety.medicines import medicines_finding
from uptide.core.safety.phototoxicity import phototoxicity_of
from uptide.core.safety.who import limit_words
from uptide.core.tolerance import exceeds

DROPPERS = (20, 30, 45)  # drops to the mL: coarse, fine, finest
FEW = 4  # names that are said before the rest is counted
NO_SCENT = "No scent in it."
SUN_HERB = "st-johns-wort"  # the rule of a plant that makes skin burn and is no scent


def safety_findings(case: Case, safety: Safety) -> tuple[Finding, ...]:
    """Scent against what is allowed, the sum for the sun, and how many allergens the label must name."""
    if case.waiting and (case.scents or case.scent_left_open):
        return (
            Finding.unknown(SCENT_DOSE, ""),
            Finding.unknown(PHOTOTOXICITY, ""),
            Finding.unknown(ALLERGENS_DECLARED, ""),
        )
    if case.waiting:
        safety = replace(safety, dose=dose_of(case), phototoxicity=phototoxicity_of(case), allergens=allergens_of(case))
    if safety.dose is None or safety.phototoxicity is None or safety.allergens is None:
        return ()
    scented = (_scent(case, safety.dose), _phototoxicity(case, safety), _allergens(case, safety))
    return (*scented, *_retinol(case), *medicines_finding(case))


def _scent(case: Case, dose: Dose) -> Finding:
    open_ = case.scent_left_open
    if not case.scents:
        return _none(SCENT_DOSE, open_, NO_SCENT)
    inputs = tuple(
        Input(
            oil.part.item.name,
            oil.part.high,
            f"%; own limit {oil.limit:g} %" if oil.limit is not None else "%; own limit not stated",
            source="tisserand-young-2014",
            locator=oil.driver,
        )
        for oil in dose.oils
    )
    word = "too much" if dose.is_over else "above suggested" if dose.is_above_suggested else "within"
    is_known = dose.is_over or not open_
    weighed = ""
    if say_number(dose.by_mass, 3) != say_number(dose.total, 3):
        weighed = f" By volume, as drops are counted; {say_number(dose.by_mass, 3)} % by mass."
    limits = "; ".join(f"{limit_words(limit)} {limit.most:g} %" for limit in dose.limits)
    said = f"{dose.suggested:g} % is suggested, {dose.most:g} % the most here ({limits or 'general use'}).{weighed}"
    if open_:
        said = f"{'' if is_known or not dose.total else f'At least {say_number(dose.total, 3)} %. '}{open_} {said}"
    return Finding(
        spec=SCENT_DOSE,
        value=dose.total if is_known else None,
        inputs=inputs,
        sources=("tisserand-young-2014", "common-practice"),
        confidence="medium",
        remark=said,
        word=word if is_known else "",
        other=_schools(case),
    )


def _retinol(case: Case) -> tuple[Finding, ...]:
    """Vitamin A as retinol against its limit, where there is any."""
    parts = [part for part in case.parts if part.key in RETINOL_EQUIVALENT]
    if not parts:
        return ()
    most = RETINOL_MOST_ON_BODY if case.purpose.area == "body" else RETINOL_MOST
    open_ = [part.item.name for part in parts if not part.measured]
    is_over = exceeds(case.retinol, most)
    inputs = tuple(
        Input(part.item.name, part.high, f"% × {RETINOL_EQUIVALENT[part.key]:.4f}", source="eu-1223-2009")
        for part in parts
    )
    said = f"{most:g} % as retinol is the most {'on the body' if most < RETINOL_MOST else 'here'} by EU law."
    said += " Meant for the body is read as a body lotion is." if most < RETINOL_MOST else ""
    return (
        Finding(
            spec=RETINOL_EQUIVALENTS,
            value=None if open_ and not is_over else case.retinol,
            inputs=inputs,
            sources=("eu-1223-2009",),
            confidence="medium",
            remark=f"{f'Not measured: {listed(open_)}. ' if open_ else ''}{said}",
            word="over" if is_over else "" if open_ else "within",
            other="Outside the EU and the UK no limit is known here; the same is good advice.",
        ),
    )


def _schools(case: Case) -> str:
    """What the same drops would come to by other droppers; nothing where nothing was counted in drops."""
    counted = [
        part
        for part in case.scents
        if part.measured
        and part.row.line.quantity is not None
        and any(term.unit == "drop" for term in part.row.line.quantity.terms)
    ]
    if not counted or not case.total_grams:
        return "Weighed, it is the same in every school."
    rest = case.total_grams - sum(part.row.grams or 0.0 for part in case.scents)
    others = sum(part.row.grams or 0.0 for part in case.scents if part not in counted)
    said = []
    for drops in DROPPERS:
        grams = others
        for part in counted:
            quantity = part.row.line.quantity
            number = sum(term.high for term in quantity.terms) if quantity else 0.0
            grams += number / drops * part.item.density
        said.append(f"{say_number(100 * grams / (rest + grams), 3)} % at {drops} drops to the mL")
    return f"The same drops are {', '.join(said)}."


def _phototoxicity(case: Case, safety: Safety) -> Finding:
    phototoxicity = safety.phototoxicity
    unmeasured = [
        each.part.item.name for each in (phototoxicity.parts if phototoxicity else ()) if not each.part.measured
    ]
    open_ = f"Not measured: {listed(unmeasured)}. " if unmeasured else ""
    open_ += f"Not counted: {', '.join(f'“{typed}”' for typed in case.may_be_scent)}. " if case.may_be_scent else ""
    if phototoxicity is None or not (phototoxicity.parts or phototoxicity.unsure):
        found = _none(PHOTOTOXICITY, open_, "None of its scents burns in the sun.")
        herb = next((c for c in safety.cautions if c.rule == SUN_HERB), None)
        return found if herb is None else replace(found, word="careful", remark=f"{found.remark} {herb.message}")
    inputs = tuple(
        Input(
            each.part.item.name,
            each.ratio,
            f"= {say_number(each.part.high, 3)} % / {each.limit:g} %{', bergapten certified' if each.cleared else ''}",
            source="ifra",
            locator=facts.extraction if (facts := case.facts(each.part)) else "",
        )
        for each in phototoxicity.parts
    )
    rinsed = case.purpose.rinsed
    word = (
        "over"
        if phototoxicity.is_over
        else "near the limit"
        if phototoxicity.total > 0.8
        else "some"
        if phototoxicity.total > 0
        else "unsure"
    )
    value: float | None = phototoxicity.total
    if open_ and not phototoxicity.is_over:
        value, word, open_ = None, "", f"At least {phototoxicity.total:.2f}. {open_}"
    way = (
        ""
        if phototoxicity.bergapten_ppm is None
        else f" By its certificates: {phototoxicity.bergapten_ppm:.1f} mg/kg of bergapten, 15 is the most."
    )
    unsure = f" Unsure: {listed([p.item.name for p in phototoxicity.unsure])}." if phototoxicity.unsure else ""
    night = " Made for the night alone, the skin should still be covered next day." if case.purpose.night_only else ""
    return Finding(
        spec=PHOTOTOXICITY,
        value=value,
        inputs=inputs,
        sources=("ifra",),
        confidence="medium",
        remark=f"{open_}{'Rinsed off: outside the rule. ' if rinsed else 'Left on skin: 1 is the most. '}"
        f"Expressed oils count, distilled ones do not.{way}{unsure}{night}".strip(),
        word=word,
        other=f"Without certificates: {phototoxicity.all_ratios:.2f}."
        if phototoxicity.bergapten_ppm is not None
        else "With a certificate of bergapten for every citrus oil, its limit of 15 mg/kg would count instead.",
    )


def _allergens(case: Case, safety: Safety) -> Finding:
    found, open_ = safety.allergens, case.scent_left_open
    if found is None or not case.scents or (open_ and not found.declared):
        return _none(ALLERGENS_DECLARED, open_, NO_SCENT)
    surely = sum(not each.only_at_most for each in found.declared)
    known = f"At least {len(found.declared)}. {open_} " if open_ else ""
    inputs = tuple(
        Input(
            each.name.lower(),
            each.typical,
            f"% typically, {say_number(each.high, 2)} % at most" + (", certified" if each.certified else ""),
            source="eu-2023-1545" if not each.whole_oil else "eu-1223-2009",
            locator="the whole oil" if each.whole_oil else "",
        )
        for each in (*found.declared, *found.below)
    )
    return Finding(
        spec=ALLERGENS_DECLARED,
        value=None if open_ else float(len(found.declared)),
        low=None if open_ else float(surely),
        high=None if open_ else float(len(found.declared)),
        inputs=inputs,
        sources=("eu-1223-2009", "eu-2023-1545"),
        confidence="medium",
        remark=f"{known}Above {found.threshold:g} %, by {found.list_name}: "
        f"{_first_few([d.name.lower() for d in found.declared])}.",
        word="" if open_ else "declare" if found.declared else "none",
        other=f"By typical values alone it would be {surely}; rinsed off, the threshold is 0.01 %, left on 0.001 %.",
    )


def _none(spec: FigureSpec, left_open: str, remark: str) -> Finding:
    """Nothing of the kind is in it; or nobody knows, because something is left open."""
    if left_open:
        return Finding.unknown(spec, f"Unknown. {left_open}")
    return Finding(spec=spec, value=0.0, remark=remark, word="none")


def _first_few(names: list[str]) -> str:
    """The first names, and how many more."""
    if len(names) <= FEW + 1:
        return listed(names) if names else "none"
    return f"{', '.join(names[:FEW])} and {len(names) - FEW} more"
