"""``make screenshots``: a picture of each main command in a terminal window, on the demo's data, into `docs/screenshots/`.

Needs Debian's packages xvfb, xterm, imagemagick, fonts-dejavu-core, fonts-noto-core and fonts-noto-cjk.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SHOTS = ROOT / "docs" / "screenshots"
NEEDED = ("Xvfb", "xterm", "import")
#: Each picture's name, the command.
COMMANDS = {
    "audit": "lemmar audit | head -n 38",
    "audit-end": "lemmar audit | tail -n 38",
    "grid": "lemmar grid",
    "survey": "rm lemmar.toml; lemmar survey | head -n 38",
    "grid-claims": "lemmar grid --claims | head -n 38",
    "landing": 'lemmar landing de-CH es-MX zh-HK sr-ME "uk-UA,ru"',
    "chain": "lemmar chain de-AT",
    "explain": "lemmar landing zh-TW --explain | head -n 38",
    "peek": "lemmar peek --text gondola --client booking-site --client door-panel",
    "client": "lemmar client warden-desk",
    "clients": "lemmar client",
    "tag": "lemmar tag pt-br cn sr-Latn",
    "read": "lemmar read clients/ridge-pocket/Pocket/pt-BR.lproj/Hut.strings",
    "patterns": "lemmar read clients/weather-eye/lib/words/app_fr.arb --key '*_*e*' --patterns | tail -n 38",
    "rules": "lemmar rules",
    "rule": "lemmar rules roster.split",
    "charter": 'sed -i \'s/shipping = /shiping = /; s/"mobile"/"phone"/\' lemmar.toml; lemmar charter',
}


def shoot(command: str, folder: Path, out: Path) -> None:
    """Runs *command* in *folder* in a terminal of 1280x800 pixels and keeps its picture."""
    display = next(f":{number}" for number in range(80, 180) if not Path(f"/tmp/.X11-unix/X{number}").exists())
    shown = command.rpartition("; ")[2].partition(" | ")[0]
    with tempfile.TemporaryDirectory() as work:
        script = Path(work) / "run"
        head = "" if "tail" in command else f"printf '\\033[1m$ {shown}\\033[0m\\n'\n"
        script.write_text(f"cd {folder}\n{head}{command}\ntouch {work}/done\nsleep 60\n")
        path = f"{Path(sys.executable).parent}:{os.environ['PATH']}"
        environment = os.environ | {
            "DISPLAY": display,
            "LC_ALL": "C.UTF-8",
            "TERM": "xterm-256color",
            "FORCE_COLOR": "1",
            "COLUMNS": "120",
            "PATH": path,
        }
        screen = subprocess.Popen(["Xvfb", display, "-screen", "0", "1280x800x24"], stderr=subprocess.DEVNULL)
        try:
            _wait(Path(f"/tmp/.X11-unix/X{display[1:]}"))
            font = ["-fa", "DejaVu Sans Mono", "-fs", "12", "-geometry", "127x40+0+0", "-bg", "#10141a", "-fg", "#dfe6ee", "-sl", "0"]
            terminal = subprocess.Popen(["xterm", "-u8", *font, "-e", "bash", str(script)], env=environment)
            _wait(Path(work) / "done")
            time.sleep(0.8)
            subprocess.run(["import", "-window", "root", str(out)], env=environment, check=True)
            terminal.kill()
            terminal.wait()
        finally:
            screen.kill()
            screen.wait()


def _wait(path: Path) -> None:
    for _ in range(300):
        if path.exists():
            return
        time.sleep(0.1)
    raise SystemExit(f"{path} did not appear")


def main() -> None:
    """Makes every picture, or those that the arguments name."""
    missing = [name for name in NEEDED if shutil.which(name) is None]
    if missing:
        sys.exit(f"{', '.join(missing)} not found; see the head of this file for what to install")
    SHOTS.mkdir(parents=True, exist_ok=True)
    for name in sys.argv[1:] or COMMANDS:
        with tempfile.TemporaryDirectory() as work:
            folder = Path(work) / "tarnhut"
            subprocess.run(
                [Path(sys.executable).with_name("lemmar"), "demo", "--into", folder],
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
                check=True,
            )
            shoot(COMMANDS[name], folder, SHOTS / f"{name}.png")
            print(f"docs/screenshots/{name}.png")


if __name__ == "__main__":
    main()
