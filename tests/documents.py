"""Writes the generated parts of docs/: `.venv/bin/python -m tests.documents`; a test compares them."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from dataclasses import fields
from pathlib import Path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ember_server.settings")

from ember_core.catalogue.class_defaults import class_defaults
from ember_core.compatibility.matrix import DECLARATIONS, rules
from ember_core.diagnosis.by_itself import BY_ITSELF
from ember_core.diagnosis.changes import INJECTED
from ember_core.diagnosis.knowledge import knowledge
from ember_core.diagnosis.remedies import OFFERED
from ember_core.diagnosis.symptoms import Symptom
from ember_core.judgement import CODES
from ember_core.lit.ranges import on_ranges
from ember_core.offstate.states import THRESHOLDS
from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control, Hardware, Supply
from ember_core.quantities import quantity_of
from tests.core.reference import every_figure
from wording.quantities import with_unit
from wording.texts import catalogue, fill

DOCS = Path(__file__).resolve().parents[1] / "docs"
BEGIN, END = "<!-- generated: {} -->", "<!-- end -->"


def error_table() -> Iterator[str]:
    """Largest and median error of each quantity over the reference loops."""
    by_quantity: dict[str, list[tuple[float, str]]] = {}
    for figure in every_figure():
        # Figures of a few microamperes or less are compared absolutely.
        if abs(figure.wanted) > 1e-6:
            by_quantity.setdefault(figure.quantity, []).append((abs(figure.error_ratio), figure.loop))
    yield "| quantity | figures | median error | largest error | in |"
    yield "|---|---|---|---|---|"
    for quantity, errors in by_quantity.items():
        errors.sort()
        largest, loop = errors[-1]
        median = errors[len(errors) // 2][0]
        yield f"| `{quantity}` | {len(errors)} | {median * 100:.1f} % | {largest * 100:.1f} % | {loop} |"


def nomenclature() -> Iterator[str]:
    """Every figure of every part, once."""
    seen: dict[str, tuple[str, str, str]] = {}
    for part in (Supply, Cable, Control, Hardware, *FEED_CLASSES, *BYPASS_CLASSES, *LAMP_CLASSES):
        for spec in fields(part):
            quantity = quantity_of(spec)
            if quantity is not None:
                bounds = ", ".join(quantity.words) or f"{quantity.low:g} to {quantity.high:g}"
                seen.setdefault(f"{part.__name__}.{spec.name}", (quantity.unit, bounds, quantity.meaning))
    yield "| part and name | unit | allowed | meaning |"
    yield "|---|---|---|---|"
    for name, (unit, bounds, meaning) in seen.items():
        yield f"| `{name}` | {unit} | {bounds} | {meaning} |"


def findings() -> Iterator[str]:
    """Every finding with its words."""
    texts = catalogue("findings")
    yield "| code | what it says | formula |"
    yield "|---|---|---|"
    for code in CODES:
        formula = f"`{texts[code]['formula']}`" if texts[code]["formula"] else ""
        yield f"| `{code}` | {texts[code]['text']} | {formula} |"


def thresholds() -> Iterator[str]:
    """Limits between the words."""
    texts = catalogue("spread")
    yield "| limit | value | why |"
    yield "|---|---|---|"
    for threshold in THRESHOLDS.values():
        title, value = texts[f"{threshold.reason}_title"], with_unit(threshold.value, threshold.unit)
        yield f"| {title} | {value} | {texts[threshold.reason]} |"


def defaults() -> Iterator[str]:
    """Typical figures of each input stage and mains, before they are scaled."""
    scales = {"one": "", "p_w": "× W", "per_w": "a W", "v_peak": "× peak of the mains", "v2_per_w": "× V²/P"}
    yield "| input stage | mains | figure | low | typical | high | | where from |"
    yield "|---|---|---|---|---|---|---|---|"
    for entry in class_defaults():
        for figure in entry.figures:
            row = [entry.stage, f"{entry.region_v:g} V", f"`{figure.field}`"]
            row += [f"{value:g}" for value in (figure.low, figure.typical, figure.high)]
            yield "| " + " | ".join([*row, scales[figure.scale], figure.reference]) + " |"


def matrix() -> Iterator[str]:
    """The compatibility matrix: a row a rule."""
    texts, modes = catalogue("dimming"), catalogue("choices")
    yield "| rule | loads | declared | control | answer | why | what settles it |"
    yield "|---|---|---|---|---|---|---|"
    for rule in rules():
        row = [
            f"`{rule.id}`",
            ", ".join(texts["loads"][load.value] for load in rule.loads),
            "any"
            if len(rule.declared) == len(DECLARATIONS)
            else ", ".join(texts["declared"][d] for d in rule.declared),
            ", ".join(modes[mode.value] for mode in rule.modes),
            texts["verdicts"][rule.verdict.value],
            texts["reasons"][rule.reason],
            texts["tests"][rule.test] if rule.test else "",
        ]
        yield "| " + " | ".join(row) + " |"


def ranges() -> Iterator[str]:
    """Figures of the on state that a sheet does not hold."""
    yield "| of | figure | low | typical | high | scales with the mains to the power |"
    yield "|---|---|---|---|---|---|"
    for one in on_ranges():
        power = str(one.power) if one.power else ""
        yield f"| {one.of} | `{one.name}` | {one.low:g} | {one.typical:g} | {one.high:g} | {power} |"


def symptoms() -> Iterator[str]:
    """Everything that can be told."""
    texts = catalogue("diagnosis")
    yield "| code | as it is told |"
    yield "|---|---|"
    for symptom in Symptom:
        yield f"| `{symptom.value}` | {texts['symptoms'][symptom.value]} |"


def causes() -> Iterator[str]:
    """Every cause with its weight and remedies."""
    texts = catalogue("diagnosis")
    yield "| code | cause | area | put in, or by itself | weight | because | may follow | remedies offered |"
    yield "|---|---|---|---|---|---|---|---|"
    for code, cause in knowledge().causes.items():
        how = [*(["put in"] if code in INJECTED else []), *(["by itself"] if code in BY_ITSELF else [])]
        row = [f"`{code}`", fill(texts["causes"][code]["title"], {}), texts["areas"][cause.area.value], ", ".join(how)]
        row += [f"{cause.weight:g}", cause.because, ", ".join(f"`{one}`" for one in cause.follows)]
        row += [", ".join(f"`{one}`" for one in OFFERED[code])]
        yield "| " + " | ".join(row) + " |"


def tests() -> Iterator[str]:
    """Every test with its minutes and outcomes."""
    texts = catalogue("diagnosis")
    yield "| code | test | kind | minutes | danger | power | outcomes |"
    yield "|---|---|---|---|---|---|---|"
    for code, test in knowledge().tests.items():
        found = ", ".join(f"`{one}`" for one in test.outcomes) or f"a value [{test.unit}]"
        row = [f"`{code}`", texts["tests"][code]["title"], test.kind.value, f"{test.minutes:g}", test.danger.value]
        yield "| " + " | ".join([*row, test.power.value, found]) + " |"


def remedies() -> Iterator[str]:
    """Every remedy with what it costs."""
    texts = catalogue("diagnosis")
    yield "| code | remedy | minutes | price | taken back |"
    yield "|---|---|---|---|---|"
    for code, remedy in knowledge().remedies.items():
        row = [
            f"`{code}`",
            fill(texts["remedies"][code], {}),
            f"{remedy.minutes:g}",
            f"{remedy.price:g}",
            remedy.undo.value,
        ]
        yield "| " + " | ".join(row) + " |"


def tables() -> Iterator[str]:
    """Every table of a bundle."""
    # Models are there once Django is set up.
    from bundle.rows import schemas

    only_whole = {"houses", "pair_marks", "plans"}
    yield "| file in `data/` and `csv/` | what a row is | columns |"
    yield "|---|---|---|"
    for name, shape in schemas(is_whole=True)["$defs"].items():
        mark = " (of a site alone)" if name in only_whole else ""
        columns = ", ".join(f"`{column}`" for column in shape["items"]["properties"])
        yield f"| `{name}`{mark} | {shape['description']} | {columns} |"


def schema_files() -> dict[str, str]:
    """The published schemas of a bundle, by file name."""
    from bundle.rows import schemas

    return {
        f"bundle-{name}.schema.json": json.dumps(schemas(is_whole=is_whole), ensure_ascii=False, indent=1) + "\n"
        for name, is_whole in (("site", True), ("loop", False))
    }


PARTS = {
    "bundle.md": {"tables": tables},
    "diagnosing.md": {"symptoms": symptoms, "causes": causes, "tests": tests, "remedies": remedies},
    "verification.md": {"errors": error_table, "thresholds": thresholds},
    "nomenclature.md": {"quantities": nomenclature, "findings": findings},
    "class-defaults.md": {"defaults": defaults},
    "compatibility.md": {"matrix": matrix, "ranges": ranges},
}


def generated(file: str, *, without: tuple[str, ...] = ()) -> str:
    """The file with its generated parts made anew."""
    text = (DOCS / file).read_text(encoding="utf-8")
    for name, make in PARTS[file].items():
        if name in without:
            continue
        head, rest = text.split(BEGIN.format(name), 1)
        tail = rest.split(END, 1)[1]
        text = f"{head}{BEGIN.format(name)}\n" + "\n".join(make()) + f"\n{END}{tail}"
    return text


if __name__ == "__main__":
    import django

    # Words are looked up in the language of whoever asks, which Django knows.
    django.setup()
    for file in PARTS:
        (DOCS / file).write_text(generated(file), encoding="utf-8")
    for file, text in schema_files().items():
        (DOCS / "schemas" / file).write_text(text, encoding="utf-8")
