"""What holds the project together: imports go down only, every registry lists its folder, the generated pages are current."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from lemmar import formats, selectors, syntax

ROOT = Path(__file__).resolve().parent.parent


def test_imports_go_down_only() -> None:
    done = subprocess.run(
        [Path(sys.executable).with_name("lint-imports")], cwd=ROOT, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stdout


def test_the_generated_pages_are_current() -> None:
    done = subprocess.run(
        [sys.executable, "tools/make_docs.py", "--check"], cwd=ROOT, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr


def test_registries_list_their_folders() -> None:
    assert all(formats.load(name).name == name for name in formats.names())
    assert all(syntax.load(name).name == name for name in syntax.names())
    assert all(selectors.load(name).name == name for name in selectors.names() if name != "files")


def test_every_picture_is_linked_from_the_readme() -> None:
    readme = (ROOT / "README.md").read_text("utf-8")
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert 0 < len(pictures) < 20 and all(picture.name in readme for picture in pictures)
