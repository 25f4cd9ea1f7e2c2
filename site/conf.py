"""The settings of the documentation builder: `npm run docs` uses them."""

project = 'Pionero'
extensions = ['myst_parser']
# Headings can be linked to, as on the pages of a repository.
myst_heading_anchors = 3
exclude_patterns = ['themes']
html_theme_path = ['themes']
html_theme = 'pionero'
html_title = 'Pionero'
html_copy_source = False
html_show_sphinx = False
