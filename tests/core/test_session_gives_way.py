"""What works in the background gives way as a whole: its own session, and nobody else's."""

import subprocess
import sys
from pathlib import Path

import pytest

ASKED = "import sys; from pathlib import Path; from tideflat.core.render.giving_way import session_gives_way; session_gives_way(7, Path(sys.argv[1]))"


@pytest.mark.parametrize("is_own", [True, False])
def test_only_a_session_that_the_process_began_gives_way(tmp_path: Path, is_own: bool) -> None:
    told_at = tmp_path / "weight"
    subprocess.run([sys.executable, "-c", ASKED, str(told_at)], check=True, start_new_session=is_own)
    assert (told_at.read_text() if told_at.exists() else None) == ("7" if is_own else None)


def test_a_system_that_weighs_no_sessions_is_no_fault(tmp_path: Path) -> None:
    subprocess.run([sys.executable, "-c", ASKED, str(tmp_path / "missing" / "weight")], check=True, start_new_session=True)


@pytest.mark.skipif(not Path("/proc/self/autogroup").exists(), reason="this system weighs no sessions against each other")
def test_the_system_is_told() -> None:
    told = "from pathlib import Path; from tideflat.core.render.giving_way import session_gives_way as s; s(9); print(Path('/proc/self/autogroup').read_text())"
    said = subprocess.run([sys.executable, "-c", told], check=True, start_new_session=True, capture_output=True, text=True).stdout
    assert said.split()[-1] == "9"
