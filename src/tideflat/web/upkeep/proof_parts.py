"""What a proof needs, installed beside the running demo: the renderer and the denoiser are large, and nothing else waits for them.

    python -m tideflat.web.upkeep.proof_parts requirements/proof.txt
"""

from __future__ import annotations

import subprocess
import sys
import time
from importlib.util import find_spec
from pathlib import Path

#: The server answers first.
_AFTER_S = 4.0
#: Names the list of what is needed; the Makefile sets it for the demo.
VARIABLE = "TIDEFLAT_PROOF_PARTS"


def are_missing() -> bool:
    """Whether the renderer is not here yet."""
    return find_spec("mitsuba") is None


def install_beside(requirements: str) -> subprocess.Popen[bytes] | None:
    """Begin to install them in a process of their own, if they are not here and the list is; it ends with whoever began it by Ctrl+C."""
    if not requirements or not are_missing() or not Path(requirements).is_file():
        return None
    return subprocess.Popen([sys.executable, "-m", __name__, requirements])  # noqa: S603


def main() -> int:
    time.sleep(_AFTER_S)
    print("Installing what a proof needs (about 170 MB, once), while you work; everything else is ready.", flush=True)
    command = [sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--require-hashes", "-r", sys.argv[1]]
    try:
        code = subprocess.run(command, check=False).returncode  # noqa: S603
    except KeyboardInterrupt:
        return 1
    print("Proofs can be made now." if code == 0 else "What a proof needs could not be installed; make proof-parts tries again.", flush=True)
    return code


if __name__ == "__main__":
    sys.exit(main())
