"""Names in a sentence: setups, tasks, apps and groups, matched loosely.

Case does not matter; a short name is the first or the last word of a longer one, initials are
written large. A name that fits several things is found with all of them, so that it can be
asked about.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

_COMMON = frozenset(
    (
        "the",
        "export",
        "exports",
        "render",
        "background",
        "clean",
        "launch",
        "task",
        "batch",
        "edit",
        "test",
        "with",
        "from",
        "into",
        "time",
        "fast",
        "faster",
        "slow",
        "same",
        "level",
        "best",
        "value",
        "desk",
        "case",
    )
)
_LEAST = 4
"""A single word of a task's name must have this many letters to stand for it."""


@dataclass(frozen=True, slots=True)
class NamedThing:
    """A name in a text.

    Attributes:
        kind: "S" setups, "T" tasks, "A" app, "G" group, "U" a name that nothing has.
        which: indices that it may mean; of a group all its members.
        text: as it stands.
        model: whether it is a model's name, whose samples are meant together.
    """

    kind: str
    which: tuple[int, ...]
    text: str
    model: bool = False


@dataclass(frozen=True)
class Names:
    """What may be named.

    Attributes:
        setups: label of each setup.
        machines: name of the machine of each setup.
        tasks: name of each task.
        apps: app of each task.
        groups: members of each group by its name in the plural, such as "laptops".
        also: other names that a person has set, for setups.
        models: name of the model of each setup; empty where each is its own.
    """

    setups: Sequence[str]
    machines: Sequence[str]
    tasks: Sequence[str]
    apps: Sequence[str]
    groups: Mapping[str, tuple[int, ...]] = field(default_factory=dict)
    also: Mapping[str, int] = field(default_factory=dict)
    models: Sequence[str] = ()

    @cached_property
    def _known(self) -> dict[str, NamedThing]:
        """Every name in small letters."""
        short: dict[str, set[int]] = {}
        whole: dict[str, set[int]] = {}
        for i, (label, machine) in enumerate(zip(self.setups, self.machines, strict=True)):
            for name in {label, machine}:
                whole.setdefault(_small(name), set()).add(i)
                for word in _short_names(name):
                    short.setdefault(word, set()).add(i)
        whole.update({_small(name): {i} for name, i in self.also.items()})
        tasks = self._task_names()
        found = {name: NamedThing("T", tuple(sorted(own)), name) for name, own in tasks.items()}
        found |= {
            _small(app): NamedThing("A", (), app) for app in self.apps if _small(app) not in tasks
        }
        found |= {name: NamedThing("S", tuple(sorted(own)), name) for name, own in short.items()}
        found |= {_small(name): NamedThing("G", own, name) for name, own in self.groups.items()}
        found |= self._model_names()
        # A machine's own name means that machine, whatever model is called like it.
        return found | {
            name: NamedThing("S", tuple(sorted(own)), name) for name, own in whole.items()
        }

    def _model_names(self) -> dict[str, NamedThing]:
        found: dict[str, list[int]] = {}
        for i, model in enumerate(self.models):
            found.setdefault(model, []).append(i)
        return {
            _small(model): NamedThing("S", tuple(own), model, model=True)
            for model, own in found.items()
        }

    def _task_names(self) -> dict[str, set[int]]:
        found: dict[str, set[int]] = {}
        # A word that is an app's means the app, wherever a task's name holds it.
        apps = {_small(app) for app in self.apps}
        for i, task in enumerate(self.tasks):
            parts = {_small(task), _small(task.split(",")[0])}
            words = [w for w in _small(task).split() if len(w) >= _LEAST and w not in _COMMON]
            # UHD, 4K, HDR: short, and written so that nobody takes them for other words.
            words += [
                _small(word)
                for word in re.split(r"[,\s]+", task)
                if 1 < len(word) < _LEAST
                and word == word.upper()
                and word.isalnum()
                and not word.isdigit()
            ]
            parts |= {word for word in words if word not in apps}
            for name in parts:
                found.setdefault(name, set()).add(i)
        return found

    @cached_property
    def _initials(self) -> dict[str, tuple[int, ...]]:
        found: dict[str, set[int]] = {}
        for i, label in enumerate(self.setups):
            letters = "".join(word[0] for word in label.split() if word[0].isalnum()).upper()
            if len(letters) > 1:
                found.setdefault(letters, set()).add(i)
        return {name: tuple(sorted(own)) for name, own in found.items()}

    @cached_property
    def _pattern(self) -> re.Pattern[str]:
        names = sorted(self._known, key=len, reverse=True)
        loose = "|".join(re.escape(name).replace(r"\ ", r"[\s,]+") for name in names) or r"(?!)"
        large = "|".join(map(re.escape, self._initials)) or r"(?!)"
        return re.compile(rf"(?<![\w])(?:(?P<loose>(?i:{loose}))|(?P<large>{large}))(?![\w])")

    def mark(self, text: str) -> tuple[str, list[NamedThing]]:
        """Put a sign such as ``‹S0›`` in the place of each name.

        Returns:
            The text, and what each sign stands for.
        """
        signs: list[NamedThing] = []

        def sign(match: re.Match[str]) -> str:
            if match["large"] is not None:
                found = NamedThing("S", self._initials[match["large"]], match[0])
            else:
                known = self._known[_small(match[0])]
                found = NamedThing(known.kind, known.which, match[0], known.model)
            signs.append(found)
            return f"‹{found.kind}{len(signs) - 1}›"

        return self._pattern.sub(sign, text), signs


def _short_names(name: str) -> set[str]:
    """The first and the last word, where each is written as a name is: "full" names nothing."""
    words = name.replace(",", " ").split()
    ends = {words[0], words[-1]} if len(words) > 1 else set()
    large = {word for word in ends if word != word.lower() or word[:1].isdigit()}
    # A line-up that is written in small letters throughout has names all the same.
    named = large or ends
    return {_small(word) for word in named if len(word) > 1 and _small(word) not in _COMMON}


def _small(name: str) -> str:
    return " ".join(re.sub(r"[,\s]+", " ", name.casefold()).split())


_SENTENCE_WORDS = """
one two three four five six seven eight nine ten eleven twelve fifteen twenty thirty forty fifty
sixty seventy eighty ninety hundred half twice first last second third next up against relative
versus compared except overall without before after since once until per as to from by because
despite unlike like nobody everybody everyone somebody only just maybe perhaps sure well now okay
guys folks honestly frankly again my our your his her their its an a some any most more less than
which who where how why there's that's it's we've you'll remember look see watch let let's don't
can't won't isn't doesn't wasn't he she
"""
"""Words that begin a sentence, written large there, and name nothing."""
_NO_NAME = frozenset(
    (
        "it",
        "this",
        "that",
        "the",
        "we",
        "i",
        "you",
        "and",
        "but",
        "so",
        "on",
        "in",
        "here",
        "nothing",
        "there",
        "they",
        "these",
        "those",
        "if",
        "when",
        "while",
        "at",
        "for",
        "with",
        "both",
        "all",
        "every",
        "each",
        "no",
        "not",
        "yes",
        "then",
        "also",
        "even",
        "still",
        "what",
        "too",
        *_SENTENCE_WORDS.split(),
    )
)
_CAPITAL = re.compile(r"(?<![\w‹])(?:[A-Z][\w-]*)(?: (?:[A-Z][\w-]*|\d[\w-]*))*")


def mark_unknown(text: str, signs: list[NamedThing]) -> str:
    """Put a sign in the place of what is written like a name and is none of ours."""

    def sign(match: re.Match[str]) -> str:
        words = match[0].split()
        lead = ""
        while words and words[0].casefold() in _NO_NAME:
            lead += words.pop(0) + " "
        if (
            not words
            or not words[0][0].isalpha()
            or (match.start() == 0 and words[0].endswith("ing"))
        ):
            # "For 400", "Going from …": a number, or a verb that begins the sentence.
            return match[0]
        signs.append(NamedThing("U", (), " ".join(words)))
        return f"{lead}‹U{len(signs) - 1}›"

    return _CAPITAL.sub(sign, text)
