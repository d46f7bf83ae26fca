"""Style sheets: of Bootstrap no more than the pages use, and what they use."""

from __future__ import annotations

from scripts.trim_bootstrap import CLASS, KEPT, trimmed, used_classes

from curve_rank.web.dresses import sheet_of

RULES = """:root{--bs-a:1px;--bs-b:2px;--bs-c:3px}.ours{margin:var(--bs-a)}.ours,.theirs{top:0}
.ours .theirs{left:0}a{color:red}@media print{.theirs{top:1px}}
@media (min-width:2px){.ours:not(.theirs),.ours{top:var(--bs-c)}}"""


def test_a_rule_stays_where_a_page_uses_its_classes_and_a_variable_where_a_rule_reads_it() -> None:
    kept = trimmed(RULES, {"ours"})
    assert "print" not in kept
    assert "--bs-b" not in kept
    assert kept.startswith(":root{--bs-a:1px;--bs-c:3px}.ours{margin:var(--bs-a)}.ours{top:0}a{color:red}")
    assert kept.endswith("@media (min-width:2px){.ours:not(.theirs),.ours{top:var(--bs-c)}}")


def test_what_ships_is_trimmed_and_has_what_forms_need() -> None:
    kept = KEPT.read_text("utf-8")
    assert trimmed(kept, used_classes()) == kept
    assert {"form-control", "form-select", "form-check-input", "form-range", "visually-hidden"} <= set(
        CLASS.findall(kept)
    )
    assert kept in sheet_of("desk")
    assert kept in sheet_of("still")
