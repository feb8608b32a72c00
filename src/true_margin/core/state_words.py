"""Words for what became of a try, in place of a value: it failed, or nothing was tried.

The same in a typed line and in a pasted sheet.
"""

from __future__ import annotations

import re

NOTHING = frozenset(
    {"", "-", "–", "—", "--", "n/a", "na", "n.a.", "not tried", "not tested", "untested"}
    | {"not run", "no data", "tbd", "?", "…", "...", "none", "."}
)
"""Values that say that nothing was tried."""
FAILED_WORDS = re.compile(
    r"^(?:dnf|did not finish|crash(?:ed|es)?|fail(?:ed|s|ure)?|error|froze|frozen|hung|hangs?|"
    r"gave up|given up|aborted|out of (?:memory|disk|space)|won'?t (?:open|start|export)|✗|❌)"
    r"(?=$|[\s:,.;(@])",
    re.IGNORECASE,
)
