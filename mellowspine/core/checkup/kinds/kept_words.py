"""Words that somebody wrote in what another had taken out."""

from __future__ import annotations

from ..findings import Check, add_check

add_check(
    Check(
        "kept-words",
        "Words kept from what was removed",
        "They stand nowhere in the text; put them back, put them elsewhere, or let them go.",
        in_report=lambda state: state.kept,
        looks_at=lambda state: (state.kept,),
    )
)
