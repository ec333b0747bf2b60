"""Hits, misses and false alarms of the judgements on the ten scenes of tests/support/judged.py: `make judgement`."""

from __future__ import annotations

import os


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.test")
    from tests.support.judged import NAMES, score

    total = [0, 0, 0]
    for name in NAMES:
        found = score(name)
        counts = [len(found.hits), len(found.misses), len(found.false_alarms)]
        total = [a + b for a, b in zip(total, counts, strict=True)]
        print(f"{name}: {counts[0]} hits, {counts[1]} misses, {counts[2]} false alarms")
        for words, each in (("missed", found.misses), ("false", found.false_alarms)):
            for line in each:
                print(f"    {words}  {line}")
    print(f"in all: {total[0]} hits, {total[1]} misses, {total[2]} false alarms")


if __name__ == "__main__":
    main()
