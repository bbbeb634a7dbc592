#!/usr/bin/python3
"""The manual is built; each of its links, anchors and pictures leads somewhere; its search finds what is there, without a server; and the
cheat sheet is one page. usage: check_manual.py, in the source folder. Exits with 77 where chromium is missing."""
import html.parser
import pathlib
import re
import shutil
import subprocess
import sys
import urllib.parse

if shutil.which("chromium") is None:
    print("no chromium here")
    sys.exit(77)
built = subprocess.run(["scripts/docs"], capture_output=True, text=True)
if built.returncode != 0:
    sys.exit(f"scripts/docs: {built.stdout}{built.stderr}")
site = pathlib.Path("build/manual/html").resolve()
failures = []
if built.stderr.strip():
    failures.append(f"scripts/docs warns: {built.stderr}")


class Page(html.parser.HTMLParser):
    def __init__(self, file):
        super().__init__()
        self.anchors, self.links, self.pictures = set(), [], []
        self.feed(file.read_text(errors="replace"))

    def handle_starttag(self, tag, attributes):
        named = dict(attributes)
        self.anchors.update(value for value in (named.get("id"), named.get("name")) if value)
        if tag == "a" and named.get("href"):
            self.links.append(named["href"])
        if tag == "img" and named.get("src"):
            self.pictures.append(named["src"])


pages = {file: Page(file) for file in site.rglob("*.html")}
links = 0
for file, page in pages.items():
    own = "api" not in file.relative_to(site).parts  # Doxygen answers for links among its own pages
    for link in (page.links if own else []) + page.pictures:
        target = urllib.parse.urlsplit(link)
        if target.scheme or target.netloc or not (target.path or target.fragment):
            continue
        links += 1
        there = (file.parent / urllib.parse.unquote(target.path)).resolve() if target.path else file
        if not there.exists():
            failures.append(f"{file.relative_to(site)}: {link}: there is no such file")
        elif target.fragment and there in pages and urllib.parse.unquote(target.fragment) not in pages[there].anchors:
            failures.append(f"{file.relative_to(site)}: {link}: there is no such anchor")
if links < 1000 or len(pages) < 100:
    failures.append(f"only {links} links on {len(pages)} pages")
for title in ("Guide", "Recipes", "Questions", "Cheat sheet", "Glossary", "Public headers", "Chart reference"):
    if title not in (site / "index.html").read_text():
        failures.append(f"the first page does not lead to {title}")

for word, page in (("coyote", "chart-reference.html"), ("jitter", "netcode.html")):
    shown = subprocess.run(["chromium", "--headless", "--no-sandbox", "--disable-gpu", "--virtual-time-budget=20000", "--dump-dom",
                            f"file://{site}/search.html?q={word}"], capture_output=True, text=True).stdout
    if f'href="{page}' not in shown[shown.find("search-results"):]:
        failures.append(f"a search for {word} does not find {page}")
if len(re.findall(rb"/Type\s*/Page\b", (site / "cheat-sheet.pdf").read_bytes())) != 1:
    failures.append("the cheat sheet is not one page")
if not (site / "cheat-sheet.png").exists():
    failures.append("there is no picture of the cheat sheet")

print("\n".join(failures) if failures else f"the manual holds: {len(pages)} pages, {links} links")
sys.exit(1 if failures else 0)
