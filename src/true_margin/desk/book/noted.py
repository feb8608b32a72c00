"""What was noted last of setups on tasks, and what it says of their outputs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from uuid import UUID

from true_margin.core.choices import JudgedAs
from true_margin.core.outputs import OutputFacts, Part, PartFound, judge_output
from true_margin.store import records

SAME, DIFFERS, UNKNOWN, LOOKED = "same", "differs", "unknown", JudgedAs.LOOKED.value
LOOKS = (("plays", "plays"), ("in_sync", "sound in sync"), ("colour_right", "colour right"))


@dataclass(frozen=True)
class NewestNotes:
    """What counts of what was noted: the newest, by task and setup."""

    settings: dict[tuple[UUID, UUID], records.SettingsUsed]
    outputs: dict[tuple[UUID, UUID], records.OutputFile]
    looks: dict[tuple[UUID, UUID], records.OutputLook]
    playbacks: dict[tuple[UUID, UUID], records.Playback]


def facts_of(file: records.OutputFile) -> OutputFacts:
    """What a probe said, out of the store."""
    facts = OutputFacts(**file.facts)
    return replace(facts, containers=tuple(facts.containers))


def output_parts(noted: NewestNotes, task: records.Task, setup_id: UUID) -> tuple[PartFound, ...]:
    """The parts of a setup's output, held against the task and the other setups' outputs."""
    own = noted.outputs.get((task.id, setup_id))
    if own is None:
        return ()
    others = [
        facts_of(file)
        for (task_id, other), file in noted.outputs.items()
        if task_id == task.id and other != setup_id
    ]
    return judge_output(facts_of(own), task.settings, task.timeline_length_s, others)


def output_state(
    parts: tuple[PartFound, ...], probe: records.OutputFile | None, look: records.OutputLook | None
) -> str:
    """Same by a probe, looked at, differs or unknown; one look at what is wrong is enough."""
    seen = [getattr(look, name) for name, _ in LOOKS] if look else []
    if any(not part.ok for part in parts) or False in seen:
        return DIFFERS
    if probe is not None:
        return SAME
    return LOOKED if True in seen else UNKNOWN


def output_words(parts: tuple[PartFound, ...], look: records.OutputLook | None) -> dict[str, str]:
    """An output in words by part, alike for two setups whose outputs are the same."""
    tolerant = (Part.LENGTH, Part.FILE_SIZE)
    words = {
        part.part.value: "as wanted" if part.ok and part.part in tolerant else part.found
        for part in parts
    }
    # Names that mean the same are written in one way where the task has it.
    words |= {
        part.part.value: part.wanted for part in parts if part.ok and part.part not in tolerant
    }
    for name, title in LOOKS if look else ():
        seen = getattr(look, name)
        if seen is not None:
            words[title] = "yes" if seen else "no"
    return words
