"""What the desk asks about a field of a hand calculation: declared beside the field, made into a form."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, get_args

from pydantic import BaseModel

from wattikos_core.documents import Model

Control = Literal["entry", "part", "parts", "boundary", "choice", "switch", "quantity", "layers"]


@dataclass(frozen=True)
class Ask:
    """The question for a field.

    Attributes:
        label: what it is called.
        control: how it is answered: a value of a `kind`, a part (a fluid or a solid one where `state` says so), parts, a
            boundary, a choice, yes or no, a quantity of the ledger, layers.
        title: what it means, where the label alone does not tell.
        empty: what is taken where nothing is entered; None where something must be.
        choices: what may be chosen, with its words.
    """

    label: str
    control: Control = "entry"
    kind: str = ""
    title: str = ""
    state: Literal["", "fluid", "solid"] = ""
    empty: str | None = None
    choices: tuple[tuple[str, str], ...] = ()


class Choice(BaseModel):
    """One of several ways."""

    value: str
    label: str


class Question(BaseModel):
    """A row of the form of a hand calculation; see `Ask`."""

    field: str
    label: str
    control: Control
    kind: str = ""
    title: str = ""
    state: str = ""
    empty: str | None = None
    choices: list[Choice] = []
    of_each: list[Question] = []


class RelationForm(BaseModel):
    """A hand calculation that can be chosen: its name, what it is of, what it asks, and what a fresh one holds."""

    relation: str
    label: str
    summary: str
    questions: list[Question]
    fresh: dict[str, Any]


def questions_of(model: type[Model]) -> list[Question]:
    """The rows of the form of a model whose fields say what they ask."""
    found = []
    for name, field in model.model_fields.items():
        ask = next((item for item in field.metadata if isinstance(item, Ask)), None)
        if ask is None:
            continue
        inner = [item for item in get_args(field.annotation) if isinstance(item, type) and issubclass(item, Model)]
        found.append(
            Question(
                field=name,
                label=ask.label,
                control=ask.control,
                kind=ask.kind,
                title=ask.title,
                state=ask.state,
                empty=ask.empty,
                choices=[Choice(value=value, label=label) for value, label in ask.choices],
                of_each=questions_of(inner[0]) if ask.control == "layers" else [],
            )
        )
    return found


def fresh(model: type[Model]) -> dict[str, Any]:
    """What a new answer to all questions holds: nothing entered yet."""
    held: dict[str, Any] = {}
    for name, field in model.model_fields.items():
        ask = next((item for item in field.metadata if isinstance(item, Ask)), None)
        if not field.is_required():
            held[name] = field.get_default(call_default_factory=True)
        elif ask is not None and ask.control in ("parts", "layers"):
            held[name] = []
        elif ask is not None and ask.control == "choice":
            held[name] = ask.choices[0][0]
        elif ask is not None and ask.control == "quantity":
            held[name] = None
        else:
            held[name] = ""
    return held
