"""One error tree. Every error names the field, the value and the rule, and reads as a sentence."""

from __future__ import annotations


class ImbutoError(Exception):
    """Something the user can put right.

    field: where, as a path such as ``loads/kettle/run_w``; value: what was given; rule: what is wanted.
    """

    kind = "error"

    def __init__(self, field: str, value: object, rule: str) -> None:
        super().__init__(field, value, rule)  # all three in args, so that it pickles
        self.field = field
        self.value = value
        self.rule = rule

    @property
    def sentence(self) -> str:
        """The whole thing as one sentence."""
        return refusal(self.field, self.value, self.rule)

    def __str__(self) -> str:
        return self.sentence


class InvalidValue(ImbutoError):
    """A value outside what is possible, or of the wrong kind."""

    kind = "invalid"


class UnknownReference(ImbutoError):
    """A name or id that points at nothing."""

    kind = "unknown"


class NotFound(ImbutoError):
    """The document asked for does not exist."""

    kind = "not_found"

    @property
    def sentence(self) -> str:
        if isinstance(self.value, str) and "doesn't have that" in self.rule:
            return f"{sentences(self.rule)} (“{self.value}”). Reload the page."
        return ended(sentences(self.rule))


class UnreadableFile(ImbutoError):
    """A file that is not what it should be, as a whole."""

    kind = "unreadable"

    @property
    def sentence(self) -> str:
        if self.rule.startswith(("it ", "its ", "this ", "the file ", "every ")):
            first, *rest = self.rule.split("; ", 1)
            return ". ".join([f"Imbuto can't use {self.field} because {first}", *map(sentences, rest)]) + "."
        return ended(f"{self.field}: {self.rule[:1]}{sentences(self.rule)[1:]}")


def refusal(field: str, value: object, rule: str) -> str:
    """Say where, what was given, and what to enter instead. Where nothing was given, what to enter says it all."""
    return (
        ended(f"{field or 'This'}: {rule[:1]}{sentences(rule)[1:]}")
        if value is None
        else ended(f"{field or 'This'}: {shown(value)} can't be used. {sentences(rule)}")
    )


def sentences(rule: str) -> str:
    """A rule as sentences without the last full stop; its parts stand between semicolons."""
    return ". ".join(_capital(part) for part in rule.split("; "))


def ended(text: str) -> str:
    """End a sentence with a full stop, unless it asks."""
    return text if text.endswith("?") else f"{text}."


def _capital(rule: str) -> str:
    """Begin a sentence; a unit or a field's name stays as it is written."""
    return rule[:1].upper() + rule[1:]


def shown(value: object) -> str:
    """A value short enough to stand in a sentence."""
    text = "nothing" if value is None else f"“{value}”" if isinstance(value, str) else str(value)
    return text if len(text) <= 60 else text[:57] + "…"


class DataFolder(ImbutoError):
    """The folder in which everything is kept, or the database in it, cannot be used."""

    kind = "data_folder"

    @property
    def sentence(self) -> str:
        return ended(f"The {self.field} {self.value}: {self.rule[:1]}{sentences(self.rule)[1:]}")
