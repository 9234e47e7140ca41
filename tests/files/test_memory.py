"""Freed memory goes back to the system: read from the kernel's own books (proc(5))."""

import subprocess
import sys

import pytest

# small pieces between kept ones, as pictures and points leave them
SCRIPT = """
import re
from pathlib import Path
from honest_edge.files.memory import give_back_memory, keep_memory_together
keep_memory_together()
def resident_kb():
    return int(re.search(r"VmRSS:\\s+(\\d+)", Path("/proc/self/status").read_text())[1])
pieces = [bytearray(60_000) for _ in range(3000)]
full = resident_kb()
del pieces[::2], pieces[:-1]
freed = resident_kb()
give_back_memory()
print(full, freed, resident_kb())
"""


@pytest.mark.skipif(not sys.platform.startswith("linux"), reason="glibc’s own settings")
def test_freed_memory_goes_back():
    found = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, check=True)
    full, _, after = map(int, found.stdout.split())
    assert after < full - 100_000
