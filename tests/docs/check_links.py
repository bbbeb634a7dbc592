#!/usr/bin/env python3
"""Every relative link in README.md, CHANGELOG.md and docs/ leads to a file that is there, and to a heading in it.
usage: check_links.py, in the source folder"""
import pathlib
import re
import sys


def anchors(path):
    """The anchors of a page's headings, as pages of Markdown are shown."""
    found, fenced = set(), False
    for line in path.read_text(encoding="utf-8").splitlines():
        fenced = fenced != line.startswith("```")
        if not fenced and re.match(r"#{1,6} ", line):
            text = re.sub(r"[^\w\- ]", "", line.lstrip("#").strip().lower())
            found.add(text.replace(" ", "-"))
    return found


def main():
    broken, links = [], 0
    pages = [*sorted(pathlib.Path(".").glob("*.md")), *sorted(pathlib.Path("docs").rglob("*.md"))]
    for page in pages:
        text = re.sub(r"^```.*?^```", "", page.read_text(encoding="utf-8"), flags=re.M | re.S)
        text = re.sub(r"`[^`\n]*`", "", text)
        for target in re.findall(r"\]\(([^)\s]+)\)", text):
            if re.match(r"[a-z]+:", target):
                continue
            links += 1
            file, _, anchor = target.partition("#")
            where = (page.parent / file) if file else page
            if not where.exists():
                broken.append(f"{page}: {target}: there is no such file")
            elif anchor and where.suffix == ".md" and anchor not in anchors(where):
                broken.append(f"{page}: {target}: there is no such heading")
    pictures = {p.name for p in pathlib.Path("docs/screenshots").iterdir()}
    shown = "\n".join(page.read_text(encoding="utf-8") for page in pages)
    broken += [f"docs/screenshots/{name} is shown nowhere" for name in sorted(pictures) if name not in shown]
    print("\n".join(broken) if broken else f"{links} links lead somewhere")
    sys.exit(1 if broken or links < 100 else 0)


main()
