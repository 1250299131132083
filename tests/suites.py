#!/usr/bin/env python3
"""Tells ctest of a GoogleTest program's tests a dozen of one suite at a time, where starting the program takes longer
than most of its tests: under the sanitizers a tenth of a second each.

    suites.py PROGRAM LEFT_OUT OUT.cmake PREFIX       LEFT_OUT: a file with the tests that are not run, a name a line
"""
import pathlib
import subprocess
import sys

TOGETHER = 12

program, left_out, out, prefix = sys.argv[1:]
skipped = {line for line in pathlib.Path(left_out).read_text().splitlines() if line and not line.startswith("#")}
listed = subprocess.run([program, "--gtest_list_tests"], capture_output=True, text=True, check=True).stdout
suites, suite = {}, None
for line in listed.splitlines():
    name = line.split("#")[0].strip()
    if not line.startswith(" "):
        suite = name if name.endswith(".") else None  # the program's own words come first
    elif suite and suite + name not in skipped:
        suites.setdefault(suite, []).append(suite + name)
lines = []
for suite, tests in suites.items():
    for begin in range(0, len(tests), TOGETHER):
        name = prefix + suite.rstrip(".") + (f".{begin // TOGETHER + 1}" if len(tests) > TOGETHER else "")
        chosen = ":".join(tests[begin:begin + TOGETHER])
        lines.append(f'add_test([==[{name}]==] [==[{program}]==] [==[--gtest_filter={chosen}]==])\n')
pathlib.Path(out).write_text("".join(lines))
