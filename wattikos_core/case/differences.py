"""What was changed between two documents, in a line that a person reads in the list of earlier saves."""

from __future__ import annotations

from typing import Any

_MOST = 4
_LONGEST = 300
# Lists whose items have names, what an item of them is called, and where its name stands.
_LISTS = (
    ("section.parts", "part", "name"),
    ("conditions", "condition on", "boundaries"),
    ("contacts", "contact of", "between"),
    ("wanted", "wanted", "key"),
    ("reading.lines", "line", "name"),
    ("reading.probes", "probe", "name"),
    ("reading.views", "view", "name"),
)
_WORDS = {
    "title": "title",
    "note": "note",
    "physics": "physics",
    "time": "times",
    "grid": "grid",
    "solve": "solve wishes",
    "section": "section",
    "materials": "materials",
    "tables": "tables",
    "watches": "watches",
    "wanted": "what is wanted",
    "estimates": "hand calculations",
    "series": "what is varied",
    "sizing": "sizing",
    "conditions": "conditions",
    "contacts": "contacts",
    "reading": "what is read",
    "answers": "answers to findings",
}


def differences(then: Any, now: Any) -> str:
    """The first few differences between two documents, in words; empty where they are the same.

    Example:
        >>> differences({"inputs": {"gap": {"value": "2 mm"}}}, {"inputs": {"gap": {"value": "3 mm"}}})
        'gap 2 mm → 3 mm'
    """
    if not isinstance(then, dict) or not isinstance(now, dict):
        return "" if then == now else "another document"
    found = _inputs(then.get("inputs"), now.get("inputs"))
    told = {"inputs"}
    for path, word, name in _LISTS:
        changes = _items(_at(then, path), _at(now, path), word, name)
        if changes:
            found += changes
            told.add(path.split(".")[0])
    for part, word in _WORDS.items():
        if part not in told and then.get(part) != now.get(part):
            found.append(word)
    more = f", and {len(found) - _MOST} more" if len(found) > _MOST else ""
    return ("; ".join(found[:_MOST]) + more)[:_LONGEST]


def _inputs(then: Any, now: Any) -> list[str]:
    then, now = (item if isinstance(item, dict) else {} for item in (then, now))
    found = []
    for name in {**then, **now}:
        before, after = (_value(items.get(name)) for items in (then, now))
        if before is None or after is None:
            found.append(f"{name} {'added' if before is None else 'removed'}")
        elif before != after:
            found.append(f"{name} {before or 'nothing'} → {after or 'nothing'}")
        elif then[name] != now[name]:
            found.append(f"{name}, its bounds or words")
    return found


def _value(item: Any) -> str | None:
    return str(item.get("value", "")) if isinstance(item, dict) else None


def _items(then: Any, now: Any, word: str, name: str) -> list[str]:
    before, after = _named(then, name), _named(now, name)
    found = [f"{word} {key} added" for key in after if key not in before]
    found += [f"{word} {key} removed" for key in before if key not in after]
    return found + [f"{word} {key}" for key in after if key in before and before[key] != after[key]]


def _named(items: Any, name: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for item in items if isinstance(items, list) else []:
        called = item.get(name) if isinstance(item, dict) else None
        if isinstance(called, dict):
            called = " ".join(str(called[part]) for part in ("quantity", "place", "other") if called.get(part))
        found[" and ".join(map(str, called)) if isinstance(called, list) else str(called)] = item
    return found


def _at(document: dict[str, Any], path: str) -> Any:
    item: Any = document
    for step in path.split("."):
        item = item.get(step) if isinstance(item, dict) else None
    return item
