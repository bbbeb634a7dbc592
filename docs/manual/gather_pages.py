#!/usr/bin/env python3
"""Gathers the pages of the manual: the README, docs/ and what stands at the top, with links that hold among them. A file or folder of the
source that a page names becomes a page of its own, and a public header leads to what Doxygen made of it.
usage: gather_pages.py SOURCE FOLDER; FOLDER holds extra/api and api.tag already"""
import pathlib
import posixpath
import re
import shutil
import sys
import xml.etree.ElementTree

source, folder = pathlib.Path(sys.argv[1]), pathlib.Path(sys.argv[2])
pages = folder / "pages"
languages = {".cpp": "cpp", ".hpp": "cpp", ".h": "c", ".c": "c", ".py": "python", ".lua": "lua", ".toml": "toml"}
# By path below the source: Doxygen's page, and the types that are there.
headers, types = {}, {}
for compound in xml.etree.ElementTree.parse(folder / "api.tag").getroot().iter("compound"):
    if compound.get("kind") == "file":
        path = compound.findtext("path") + compound.findtext("name")
        path = path[path.index("include/"):]
        names = [one.text.split("::")[-1] for one in compound.iter("class") if one.text.count("::") <= 2]
        types[path] = ", ".join(names[:6]) + (" ..." if len(names) > 6 else "")
        headers[path] = "api/" + compound.findtext("filename").removesuffix(".html") + ".html"


def write(name, text):
    page = pages / name
    page.parent.mkdir(parents=True, exist_ok=True)
    page.write_text(text)
    return name


def page_of(path):
    """Where the page about a path of the source is, below pages/; made if it is not there yet."""
    here = source / path
    if path == "README.md":
        return "index.md"
    if path == "docs/decisions":
        return "decisions/index.md"
    if path.startswith("docs/") and here.is_file():
        return path.removeprefix("docs/")
    if path in headers or (path.endswith(".md") and "/" not in path):
        return headers.get(path, path)
    name = f"files/{path}.md"
    if (pages / name).exists():
        return name
    files = sorted(one for one in here.iterdir() if one.is_file()) if here.is_dir() else [here]
    text = f"---\norphan: true\n---\n\n# {path}\n"
    for one in files:
        text += f"\n## {one.name}\n" if here.is_dir() else ""
        text += f"\n~~~~~~{languages.get(one.suffix, 'text')}\n{one.read_text()}~~~~~~\n"
    return write(name, text)


def with_links(text, path):
    """The text of the page about `path`, its links led to pages."""
    here = posixpath.dirname(page_of(path)) or "."

    def led(match):
        words, target = match.groups()
        name, sharp, anchor = target.partition("#")
        if "://" in target or not name:
            return match.group(0)
        meant = posixpath.normpath(posixpath.join(posixpath.dirname(path), name))
        if not (source / meant).exists():
            raise SystemExit(f"{path}: {target}: there is no {meant}")
        led_to = posixpath.relpath(page_of(meant), here) + sharp + anchor
        if meant in headers:  # no page of Sphinx's
            shown = re.sub("`([^`]*)`", r"<code>\1</code>", words)
            return f'<a href="{led_to}">{shown}</a>'
        return f"[{words}]({led_to})"

    parts = re.split(r"(^```.*?^```$)", text, flags=re.M | re.S)
    return "".join(part if part.startswith("```") else re.sub(r"\[([^\]\[]*)\]\(([^()\s]+)\)", led, part) for part in parts)


for path in ["README.md", "CHANGELOG.md", "CONTRIBUTING.md", "SECURITY.md",
             *(str(one.relative_to(source)) for one in sorted((source / "docs").rglob("*.md")))]:
    if not path.startswith("docs/manual/"):
        write(page_of(path), with_links((source / path).read_text(), path))
decisions = sorted(one.name for one in (source / "docs/decisions").glob("*.md"))
write("decisions/index.md", "# Decisions\n\nOne page each: the question, what was decided, what was tried, and when to ask again.\n\n```{toctree}\n" +
      "\n".join(decisions) + "\n```\n")
# Public headers, by folder, with their types.
listed = "# Public headers\n\nWhat each call takes, gives and costs, from the comments of the headers themselves. `<cursimeter/cursimeter.hpp>` is the core in one.\n"
for where in dict.fromkeys(posixpath.dirname(path) for path in sorted(headers, key=lambda one: (one.count("/"), one))):
    listed += f"\n## {where.removeprefix('include/')}\n\n"
    for path in sorted(headers):
        if posixpath.dirname(path) == where:
            listed += f'- <a href="{headers[path]}"><code>&lt;{path.removeprefix("include/")}&gt;</code></a> {types[path]}\n'
write("headers.md", listed)
for picture in (source / "docs").rglob("*.png"):
    copy = pages / picture.relative_to(source / "docs")
    copy.parent.mkdir(parents=True, exist_ok=True)
    shutil.copyfile(picture, copy)
for own in ("conf.py", "contents.md", "manual.css"):
    shutil.copyfile(source / "docs/manual" / own, pages / own)
