"""Build the stylesheet (Tailwind, Node) and the icon sprite, and stamp the stylesheet with what it was built from.

``python -m tools.styles`` builds; ``fingerprint`` lets a test find a stale stylesheet without Node.
"""

from __future__ import annotations

import hashlib
import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WEB = ROOT / "src/tideflat/web"
SOURCE = WEB / "ui/styles/tideflat.css"
STATIC = WEB / "ui/static/tideflat"
SHEET = STATIC / "tideflat.css"
SPRITE = STATIC / "icons.svg"
ICON = re.compile(r"""{%\s*icon\s+["']([a-z0-9-]+)["']\s*%}""")


def templates() -> list[Path]:
    return sorted(WEB.glob("**/templates/**/*.html"))


def fingerprint() -> str:
    """A digest of everything the stylesheet and the sprite are built from."""
    digest = hashlib.sha256()
    for path in [*sorted(SOURCE.parent.glob("*.css")), ROOT / "package.json", *templates()]:
        digest.update(path.relative_to(ROOT).as_posix().encode() + b"\0" + path.read_bytes() + b"\0")
    return digest.hexdigest()[:24]


def icons() -> list[str]:
    """Names of the icons that templates use."""
    return sorted({name for path in templates() for name in ICON.findall(path.read_text())})


def build() -> None:
    subprocess.run(["npx", "@tailwindcss/cli", "-i", str(SOURCE), "-o", str(SHEET), "--minify"], cwd=ROOT, check=True)
    SHEET.write_text(f"/* built from {fingerprint()} */\n" + SHEET.read_text())
    symbols = []
    for name in icons():
        svg = (ROOT / f"node_modules/lucide-static/icons/{name}.svg").read_text()
        inner = re.search(r"<svg[^>]*>(.*)</svg>", svg, re.S)
        assert inner is not None, name
        symbols.append(f'<symbol id="{name}" viewBox="0 0 24 24">{" ".join(inner[1].split())}</symbol>')
    SPRITE.write_text('<!-- Lucide icons, ISC licence -->\n<svg xmlns="http://www.w3.org/2000/svg">' + "".join(symbols) + "</svg>\n")


if __name__ == "__main__":
    sys.exit(build())
