"""Write docs/licences.md afresh: what ships with the application, or is installed for it, and under which licence.

.venv/bin/python scripts/licences.py
"""

from __future__ import annotations

import json
import re
from importlib import metadata
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
HEAD = """# Licences of what ships with Wattikos

Made by `scripts/licences.py` from what is installed. Wattikos' own licence is its owner's choice and still open. The direct solver
(pypardiso) brings the Intel oneAPI Math Kernel Library along, under the Intel Simplified Software License.

"""


def main() -> None:
    """Write the page."""
    python = {name: _python(name) for name in _direct(ROOT / "requirements.txt")}
    package = json.loads((ROOT / "frontend" / "package.json").read_text())
    desk = {name: _node(name) for name in package["dependencies"]}
    parts = [
        HEAD,
        "## Installed beside it (Python)\n\n",
        _table(python),
        "\n## Built into the desk (fonts, icons, scripts)\n\n",
        _table(desk),
    ]
    (ROOT / "docs" / "licences.md").write_text("".join(parts))


def _direct(requirements: Path) -> list[str]:
    found = re.findall(r"^([A-Za-z0-9_.-]+)==", requirements.read_text(), re.MULTILINE)
    return sorted(found, key=str.lower)


def _python(name: str) -> tuple[str, str]:
    about = metadata.metadata(name)
    kinds = [line.rpartition(" :: ")[2] for line in about.get_all("Classifier", []) or [] if line.startswith("License ::")]
    given = about["License-Expression"] or ", ".join(kinds) or about["License"] or "see its package"
    return about["Version"], str(given).splitlines()[0]


def _node(name: str) -> tuple[str, str]:
    about = json.loads((ROOT / "frontend" / "node_modules" / name / "package.json").read_text())
    return about["version"], about.get("license", "see its package")


def _table(rows: dict[str, tuple[str, str]]) -> str:
    lines = ["| package | version | licence |", "|---|---|---|"]
    lines += [f"| {name} | {version} | {licence} |" for name, (version, licence) in rows.items()]
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    main()
