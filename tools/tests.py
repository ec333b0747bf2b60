"""All tests in two parts at the same time, those in the browser and the rest: `make test`. Each part has its own database and servers.

One after the other they take some seventeen minutes on two slow cores; together eleven. Each part is printed when it is done.
"""

from __future__ import annotations

import subprocess
import sys
import threading
import time

PARTS: dict[str, list[str]] = {"in the browser": ["tests/browser"], "all others": ["tests", "--ignore", "tests/browser"]}


def main(more: list[str]) -> int:
    """Run both parts with ``more`` arguments for pytest; the exit code is 0 when both passed, else that of the first that failed."""
    codes: dict[str, int] = {}
    printing = threading.Lock()

    def run(name: str, arguments: list[str]) -> None:
        began = time.monotonic()
        command = [sys.executable, "-m", "pytest", *arguments, *more]
        said = subprocess.run(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, errors="replace", check=False)
        codes[name] = said.returncode
        with printing:
            print(f"\n==== tests {name}, {time.monotonic() - began:.0f} s\n{said.stdout}", flush=True)

    threads = [threading.Thread(target=run, args=part) for part in PARTS.items()]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return next((codes[name] for name in PARTS if codes[name]), 0)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
