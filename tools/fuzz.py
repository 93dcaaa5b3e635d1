"""Fuzzing every parser of what others wrote: `make fuzz`, ten minutes each unless FUZZ_SECONDS says otherwise, as many at
once as FUZZ_JOBS says (processors).

Prints, per parser, how many texts were tried, the slowest, and every fault with the smallest text that shows it."""

from __future__ import annotations

import os
import sys
import time
import traceback
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

HERE = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(HERE / "tests" / "hostile"), str(HERE / "tests")]
SECONDS = float(os.environ.get("FUZZ_SECONDS", "600"))
_SLOW = 2.0


def fuzz(name: str) -> str:
    from hypothesis import HealthCheck, given, seed, settings
    from parsers import PARSERS, spoiled

    parser = PARSERS[name]
    tried, slowest, faults = 0, (0.0, b""), []
    until, number = time.monotonic() + SECONDS, 0

    while time.monotonic() < until and len(faults) < 5:
        number += 1

        @seed(number)
        @settings(max_examples=400, deadline=None, suppress_health_check=list(HealthCheck), database=None)
        @given(spoiled(parser.samples))
        def law(data: bytes) -> None:
            nonlocal tried, slowest
            if time.monotonic() > until:
                return
            began = time.process_time()
            tried += 1
            try:
                parser.act(data)
            except parser.may_raise:
                pass
            took = time.process_time() - began
            if took > slowest[0]:
                slowest = took, data
            assert took < _SLOW, f"took {took:.1f} s"

        try:
            law()
        except Exception:
            faults.append(traceback.format_exc()[-1500:])
    said = f"{name}: {tried:,} texts in {SECONDS:.0f} s, slowest {slowest[0] * 1000:.0f} ms, {len(faults)} faults"
    return "\n".join([said, *faults])


def main() -> int:
    from parsers import PARSERS

    with ProcessPoolExecutor(int(os.environ.get("FUZZ_JOBS", os.cpu_count() or 1))) as pool:
        status = 0
        for said in pool.map(fuzz, PARSERS):
            print(said, flush=True)
            status |= not said.endswith(" 0 faults")
    return status


if __name__ == "__main__":
    sys.exit(main())
