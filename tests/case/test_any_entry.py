"""Whatever is entered anywhere is read or refused: never anything else, and never without a field and a remedy."""

from __future__ import annotations

import json
import random
import unittest
import warnings
from collections.abc import Iterator
from typing import Any

from tests.support import with_entry
from wattikos_core.case import STARTERS, read_case, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.studies import prepare

ENTRIES = (
    *("", "((", "'a'", "x", "width", "nan", "inf mm", "∞", "1/0", "9**9**9"),
    *("0", "-1", "1e300", "1e400 mm", "1e-30 m", "1e30 m", "-5 mm", "5 kg", "1e9 W", "0 K", "-300 degC"),
    *("time*1 s", "x*1 mm", "1 K/s*time"),
)
# Of so many random entries this share is read, at the least: refusing them all would be no reading either.
_TRIED, _LEAST_READ = 1500, 0.35
# Words that are no quantities.
WORDS = ("title", "note", "starter", "version")


def leaves(node: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    """All fields of a document with their places."""
    if isinstance(node, dict | list):
        for key, value in node.items() if isinstance(node, dict) else enumerate(node):
            yield from leaves(value, (*path, key))
    else:
        yield path, node


class AnyEntry(unittest.TestCase):
    def test_is_read_or_refused(self) -> None:
        documents = {key: json.loads(starter_case(key).model_dump_json()) for key in STARTERS}
        fields = [
            (key, path)
            for key, d in documents.items()
            for path, text in leaves(d)
            if isinstance(text, str) and path[0] not in WORDS
        ]
        dice = random.Random(20261125)
        read = 0
        for _ in range(_TRIED):
            (key, path), entry = dice.choice(fields), dice.choice(ENTRIES)
            document = with_entry(documents[key], path, entry)
            with self.subTest(starter=key, field=path, entry=entry), warnings.catch_warnings():
                warnings.simplefilter("ignore")
                try:
                    prepare(read_case(document))
                    read += 1
                except CaseError as error:
                    self.assertTrue(all(problem.field and problem.problem and problem.remedy for problem in error.problems))

        self.assertGreater(read, _LEAST_READ * _TRIED)

    def test_a_wrong_value_is_told_once_where_it_was_typed(self) -> None:
        """However many parts use it, in its own unit."""
        document = json.loads(starter_case("plate_passage").model_dump_json())
        document["inputs"]["length"]["value"] = "-600 mm"
        with self.assertRaises(CaseError) as caught:
            prepare(read_case(document))
        problems = [p for p in dict.fromkeys(caught.exception.problems) if "600" in p.problem]
        self.assertEqual(
            [(p.field, p.problem, p.remedy) for p in problems],
            [("inputs.length", "plate length is -600 mm", "it must be above zero")],
        )
        document["inputs"]["length"]["value"] = "600 mm"
        document["section"]["parts"][0]["shape"]["width"] = "length - 1 m"
        with self.assertRaises(CaseError) as caught:
            prepare(read_case(document))
        self.assertIn("'length - 1 m' is -400 mm", [p.problem for p in caught.exception.problems])

    def test_the_ones_that_once_were_not(self) -> None:
        for key, path, entry, field in (
            ("plate_passage", ("conditions", 0, "temperature"), "-300 degC", "conditions[0].temperature"),
            ("cone_gap", ("conditions", 3, "coating_thickness"), "1 mm", "conditions[3].coating_material"),
            ("bundle_staggered", ("section", "parts", 0, "shape", "width"), "1e30 m", "section.parts"),
        ):
            document = with_entry(json.loads(starter_case(key).model_dump_json()), path, entry)
            with self.assertRaises(CaseError) as caught:
                prepare(read_case(document))
            self.assertIn(field, [problem.field for problem in caught.exception.problems])
