"""``make screenshots``: a picture of each main command in a terminal window, on the demo's data, into `docs/screenshots/`.

Each begins with its command and is as high as its output; of what is longer than a page its first paragraphs are shown. The terminal is one
that orders and shapes right-to-left texts. Needs Debian's packages xvfb, mlterm, imagemagick, chromium, fonts-dejavu-core, fonts-noto-core and
fonts-noto-cjk.
"""

from __future__ import annotations

import csv
import html
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SHOTS = ROOT / "docs" / "screenshots"
NEEDED = ("Xvfb", "mlterm", "import", "chromium")
#: A survey of a few clients is shown whole.
_SURVEYED = ("clients/booking-site", "clients/ridge-pocket", "clients/warden-ledger", "services/letter-service")
#: Each picture's name, the command.
COMMANDS = {
    "audit": "lemmar audit --rule roster",
    "grid": "lemmar grid",
    "survey": f"mkdir part && cp -r {' '.join(_SURVEYED)} part; lemmar survey part",
    "grid-claims": "lemmar grid --claims",
    "landing": 'lemmar landing de-CH es-MX zh-HK sr-ME "uk-UA,ru"',
    "chain": "lemmar chain de-AT",
    "peek": "lemmar peek --text gondola --client booking-site --client trail-pocket",
    "grid-asset": "lemmar grid --by asset",
    "grid-size": "lemmar grid --by size",
    "client": "lemmar client warden-desk",
    "tag": "lemmar tag pt-br cn sr-Latn",
    "rule": "lemmar rules roster.split",
    "waive": "lemmar waive 9295 823c --until 2027-01-31 --reason 'with the new routes'",
    "enroll": "lemmar enroll hr",
    "intake": "lemmar intake out/brief.uk.csv",
    "mend": "lemmar mend message.stale message.control-character roster.unoffered",
}
#: Those of a page in a browser and of a figure, and the command that writes each.
_SHEET = ("sheet", "lemmar brief it uk --as xlsx -o out")
_REPORT, _FIGURE = ("report", "lemmar report report.html"), ("grid-figure", "lemmar grid -o figure.png")
_COLUMNS, _CELL = 120, (10, 19)  # a page in columns, a column and a row in pixels
#: So many rows are a page; what is longer is shown whole up to the second number.
_PAGE, _LONGEST = 40, 90
_FONTS = {"DEFAULT": "DejaVu Sans Mono", "UNICODE_ARABIC": "Noto Sans Arabic", "ISO10646_UCS4_1_FULLWIDTH": "Noto Sans Mono CJK SC"}


def shoot(command: str, folder: Path, out: Path) -> None:
    """Runs *command* in *folder* in a terminal and keeps the picture."""
    display = next(f":{number}" for number in range(80, 180) if not Path(f"/tmp/.X11-unix/X{number}").exists())
    before, _, shown = command.rpartition("; ")
    path = f"{Path(sys.executable).parent}:{os.environ['PATH']}"
    environment = os.environ | {
        "DISPLAY": display,
        "LC_ALL": "C.UTF-8",
        "TERM": "xterm-256color",
        "COLORTERM": "truecolor",
        "FORCE_COLOR": "1",
        "COLUMNS": str(_COLUMNS),
        "XDG_CACHE_HOME": "/tmp/tarnhut-cache",
        "PATH": path,
    }
    if before:
        subprocess.run(before, shell=True, cwd=folder, env=environment, check=True)
    ran = subprocess.run(
        shown, shell=True, cwd=folder, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, check=False
    )
    lines = ran.stdout.splitlines()
    most = _PAGE if len(lines) > _LONGEST else len(lines)
    if most < len(lines):
        most = max((number for number in range(most) if not lines[number]), default=most)
        shown = f"{shown} | head -n {most}"
    rows = most + 1
    size = f"{_CELL[0] * (_COLUMNS + 8)}x{_CELL[1] * rows + 6}"
    with tempfile.TemporaryDirectory() as work:
        text = "\n".join([f"\x1b[?25l\x1b[1m$ {shown}\x1b[0m", *lines[:most]])
        (Path(work) / "text").write_text(text, encoding="utf-8")
        script = Path(work) / "run"
        script.write_text(f"cat {work}/text\ntouch {work}/done\nsleep 60\n")
        (Path(work) / ".mlterm").mkdir()
        fonts = "".join(f"{name} = {font}\n" for name, font in _FONTS.items())
        (Path(work) / ".mlterm" / "aafont").write_text(fonts)
        environment["HOME"] = work
        screen = subprocess.Popen(["Xvfb", display, "-screen", "0", f"{size}x24"], stderr=subprocess.DEVNULL)
        try:
            _wait(Path(f"/tmp/.X11-unix/X{display[1:]}"))
            look = ["-w", "16", "-b", "#10141a", "-f", "#dfe6ee", "-O", "none", "--deffont", "DejaVu Sans Mono"]
            page = ["-g", f"{_COLUMNS + 6}x{rows}+0+0"]
            terminal = subprocess.Popen(["mlterm", *look, *page, "-e", "bash", str(script)], env=environment, stderr=subprocess.DEVNULL)
            _wait(Path(work) / "done")
            time.sleep(1.2)
            subprocess.run(["import", "-window", "root", str(out)], env=environment, check=True)
            terminal.kill()
            terminal.wait()
        finally:
            screen.kill()
            screen.wait()


def shoot_report(folder: Path, out: Path) -> None:
    """The report in a browser without a window."""
    subprocess.run([Path(sys.executable).with_name("lemmar"), *_REPORT[1].split()[1:]], cwd=folder, capture_output=True, check=False)
    browser = ["chromium", "--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--window-size=1280,900"]
    subprocess.run([*browser, f"--screenshot={out}", (folder / "report.html").as_uri()], capture_output=True, check=True)


def answer(folder: Path) -> None:
    """A brief as a translator filled it in: well, but for a lost placeholder, a text that stayed English, and an empty cell."""
    subprocess.run(
        [Path(sys.executable).with_name("lemmar"), *_SHEET[1].split()[1:-3], "csv", "-o", "out"],
        cwd=folder,
        capture_output=True,
        check=True,
    )
    path = folder / "out" / "brief.uk.csv"
    rows = list(csv.reader(path.read_text("utf-8-sig").splitlines(keepends=True)))
    source, target = (next(index for index, name in enumerate(rows[0]) if name.endswith(end)) for end in ("(en)", "(uk)"))
    for row in rows[1:]:
        row[target] = _SAID.get(row[source], "")
    with path.open("w", encoding="utf-8", newline="") as stream:
        csv.writer(stream).writerows(rows)


_SAID = {
    "Choose a bunk": "Оберіть місце",
    "Departure": "Від’їзд",
    "A deposit of {price} keeps the bunk": "Завдаток зберігає місце",
    "Huts nearby": "Хатинки поруч",
    "Warden: {name}": "Доглядач: {name}",
    "Potato soup": "Картопляний суп",
    "Snow on the pass": "Snow at the pass",
    "Stay where you are": "Залишайтеся на місці",
}


def shoot_sheet(folder: Path, out: Path) -> None:
    """A workbook's cells as its own widths and colours have them, in a browser without a window."""
    import openpyxl
    from openpyxl.utils import get_column_letter

    subprocess.run([Path(sys.executable).with_name("lemmar"), *_SHEET[1].split()[1:]], cwd=folder, capture_output=True, check=True)
    texts = openpyxl.load_workbook(folder / "out" / "brief.it.xlsx")["texts"]
    columns = [get_column_letter(number) for number in range(1, texts.max_column + 1)]
    widths = "".join(f'<col style="width:{7 * (texts.column_dimensions[name].width or 10):.0f}px">' for name in columns)
    head = "".join(f"<th>{name}</th>" for name in columns)
    body = ""
    for row in texts.iter_rows():
        cells = ""
        for cell in row:
            fill = f"background:#{cell.fill.start_color.rgb[2:]};" if cell.fill.fill_type else ""
            colour = f"color:#{cell.font.color.rgb[2:]};font-weight:bold;" if cell.font.b and cell.font.color else ""
            cells += f'<td style="{fill}{colour}">{html.escape(str(cell.value or ""))}</td>'
        body += f"<tr><th>{row[0].row}</th>{cells}</tr>"
    page = (
        '<meta charset="utf-8"><style>body{margin:0;font:13px DejaVu Sans}table{border-collapse:collapse;table-layout:fixed}'
        "td{border:1px solid #d0d4d9;padding:3px 5px;vertical-align:top;white-space:pre-wrap;overflow:hidden}th{background:#eef0f2;"
        f"border:1px solid #d0d4d9;font-weight:normal;color:#555}}</style><table><col style='width:30px'>{widths}<tr><th></th>{head}</tr>{body}</table>"
    )
    (folder / "sheet.html").write_text(page, encoding="utf-8")
    browser = ["chromium", "--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--window-size=1900,620"]
    subprocess.run([*browser, f"--screenshot={out}", (folder / "sheet.html").as_uri()], capture_output=True, check=True)


def draw_figure(folder: Path, out: Path) -> None:
    """The grid as a figure."""
    subprocess.run([Path(sys.executable).with_name("lemmar"), *_FIGURE[1].split()[1:]], cwd=folder, capture_output=True, check=True)
    shutil.copy(folder / "figure.png", out)


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
    for name in sys.argv[1:] or [*COMMANDS, _REPORT[0], _FIGURE[0], _SHEET[0]]:
        with tempfile.TemporaryDirectory() as work:
            folder = Path(work) / "tarnhut"
            subprocess.run(
                [Path(sys.executable).with_name("lemmar"), "demo", "--into", folder],
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
                check=True,
            )
            if name == "intake":
                answer(folder)
            if name in COMMANDS:
                shoot(COMMANDS[name], folder, SHOTS / f"{name}.png")
            else:
                {_REPORT[0]: shoot_report, _FIGURE[0]: draw_figure, _SHEET[0]: shoot_sheet}[name](folder, SHOTS / f"{name}.png")
            print(f"docs/screenshots/{name}.png")


if __name__ == "__main__":
    main()
