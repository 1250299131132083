"""Writes the examples of all headers as tests: header_examples.py SOURCE_ROOT OUTPUT.

An example stands in a comment, after a line "// Example:" and three spaces in. Each becomes the body of a test
in the namespace uadze, named after its header. A header of the core without one is an error."""
import pathlib
import re
import sys

root, output = pathlib.Path(sys.argv[1]), pathlib.Path(sys.argv[2])
tests, includes, missing = [], [], []
for header in sorted((root / "src/core").rglob("*.h")):
    name = header.relative_to(root / "src").as_posix()
    lines = header.read_text(encoding="utf-8").splitlines()
    bodies = []
    for start in [i for i, line in enumerate(lines) if line.strip() == "// Example:"]:
        body = []
        for line in lines[start + 1:]:
            if not line.startswith("//   "):
                break
            body.append(line[3:])
        bodies.append((start, body))
    if not bodies or not all(body for _, body in bodies):
        missing.append(name)
        continue
    includes.append(name)
    for number, (start, body) in enumerate(bodies):
        title = re.sub(r"\W", "_", name[len("core/"):-len(".h")]) + ("_%d" % number if number else "")
        tests.append(f"TEST(Example, {title}) {{\n#line {start + 2} \"{header}\"\n" + "\n".join(body) + "\n}\n")
if missing:
    sys.exit("no example in: " + ", ".join(missing))
text = "// Written by tests/header_examples.py from the headers' own text.\n#include <gtest/gtest.h>\n"
text += "".join(f'#include "{name}"\n' for name in includes)
text += "".join(f'#include "support/{name}.h"\n' for name in ("circuits", "demo", "simple_cars", "temp_folder"))
text += "\nnamespace uadze {\nnamespace {\n\n" + "\n".join(tests) + "\n}  // namespace\n}  // namespace uadze\n"
output.write_text(text, encoding="utf-8")
