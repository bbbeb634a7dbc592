"""The manual as pages with a search: scripts/docs builds it by Sphinx."""
project = "Cursimeter"
author = "The Cursimeter authors"
extensions = ["myst_parser"]
source_suffix = {".md": "markdown"}
root_doc = "contents"
myst_heading_anchors = 5
suppress_warnings = ["myst.header", "misc.highlighting_failure"]
html_theme = "alabaster"
html_title = "Cursimeter"
html_copy_source = False
html_show_sourcelink = False
html_show_copyright = False
html_show_sphinx = False
html_extra_path = ["../extra"]  # the pages about public headers
html_static_path = ["manual.css"]
html_css_files = ["manual.css"]
html_theme_options = {
    "description": "The way characters move, declared in one file",
    "fixed_sidebar": True,
    "page_width": "1180px",
    "sidebar_width": "250px",
    "show_powered_by": False,
    "font_family": "DejaVu Sans, Verdana, sans-serif",
    "head_font_family": "DejaVu Sans, Verdana, sans-serif",
    "font_size": "15px",
    "body_text_align": "left",
}
html_sidebars = {"**": ["about.html", "searchbox.html", "navigation.html"]}
