import { describe, expect, it } from 'vitest';
import { JUDGES } from '../../src/core/rename/judges.ts';
import { named, rename } from '../support/renaming.ts';

type Row = readonly [
  platform: string,
  file: string,
  before: string,
  names: string,
  after: string,
  judges: string,
  files?: Readonly<Record<string, string>>,
];

const TWO = 'albar → cumbre-sur';
/** What stays as it is. */
const SAME = '';
/** A theme's settings with options that are called like it. */
const OPTIONS = { '_config.yml': 'albar: { ink: 1 }\nmenu: { albar: 2 }\n' };

/** Awkward places in many languages: what becomes of each, and the judges that say so, in the order of the places. */
// prettier-ignore
const ROWS: readonly Row[] = [
  ['tramo', 'a.html', '<a href="https://albar.example">Albar {{ albar_version }}</a>', TWO, '<a href="https://albar.example">Albar {{ cumbre_sur_version }}</a>', 'link identifier'],
  ['tramo', 'a.md', 'An Albar-based page, by Albar-noted wardens.', TWO, 'An Cumbre Sur-based page, by Cumbre Sur-noted wardens.', 'identifier'],
  ['tramo', 'a.md', 'This file is part of Albar.\nCopyright 2026 the huts', TWO, 'This file is part of Cumbre Sur.\nCopyright 2026 the huts', 'prose'],
  ['vereda', 'a.php', '<?php\n/*\n * This file is part of the Albar theme.\n *\n * (c) Cierzo\n */', TWO, '<?php\n/*\n * This file is part of the Cumbre Sur theme.\n *\n * (c) Cierzo\n */', 'prose'],
  ['estrato', 'a.js', '// This file is part of Albar, (c) 2020 Cierzo', TWO, '// This file is part of Cumbre Sur, (c) 2020 Cierzo', 'prose'],
  ['tramo', 'a.py', '# This program is part of Albar\nx = 1', TWO, '# This program is part of Cumbre Sur\nx = 1', 'prose'],
  ['tramo', 'a.md', 'Thanks to the wardens of Albar for tea.', TWO, SAME, 'credit'],
  ['tramo', 'a.md', '## Authors\n\n* Cierzo\n* Albar wardens\n\n## Use\n\n- Albar prints', TWO, '## Authors\n\n* Cierzo\n* Albar wardens\n\n## Use\n\n- Cumbre Sur prints', 'credit prose'],
  ['vereda', 'a.rst', 'Contributors\n============\n\n- Albar wardens\n\nUse\n===\n\n- Albar prints\n', TWO, 'Contributors\n============\n\n- Albar wardens\n\nUse\n===\n\n- Cumbre Sur prints\n', 'credit prose'],
  ['horquilla', 'strings/a.po', 'msgid ""\nmsgstr ""\n"Project-Id-Version: albar 1.0\\n"\n"Language-Team: Albar wardens <x@huts.example>\\n"\n"Last-Translator: Albar League\\n"\n', TWO, 'msgid ""\nmsgstr ""\n"Project-Id-Version: cumbre-sur 1.0\\n"\n"Language-Team: Albar wardens <x@huts.example>\\n"\n"Last-Translator: Albar League\\n"\n', 'prose credit'],
  ['vereda', 'a.php', "<?php $meta = ['authors' => ['Cierzo', 'Albar League'], 'name' => 'Albar'];", TWO, "<?php $meta = ['authors' => ['Cierzo', 'Albar League'], 'name' => 'Cumbre Sur'];", 'credit identifier'],
  ['vereda', 'setup.py', "setup(name='albar', author='Albar League', maintainer_email='x')", TWO, "setup(name='cumbre-sur', author='Albar League', maintainer_email='x')", 'identifier credit'],
  ['vereda', 'a.toml', '[project]\nauthors = [\n  { name = "Albar League" },\n]\ndescription = "Albar pages"\n', TWO, '[project]\nauthors = [\n  { name = "Albar League" },\n]\ndescription = "Cumbre Sur pages"\n', 'credit prose'],
  ['vereda', 'a.xml', '<theme><author><name>Albar League</name></author><name>Albar</name></theme>', TWO, '<theme><author><name>Albar League</name></author><name>Cumbre Sur</name></theme>', 'credit prose'],
  ['tramo', 'a.md', '[The Albar hut book](https://albar.example/book)', TWO, SAME, 'link'],
  ['tramo', 'a.html', '<a href="https://albar.example/x">Read about Albar</a>', TWO, SAME, 'link'],
  ['tramo', 'a.rst', '`Albar hut book <https://albar.example/book>`_', TWO, SAME, 'link'],
  ['tramo', 'a.md', '[Albar docs](docs/a.md)', TWO, '[Cumbre Sur docs](docs/a.md)', 'prose'],
  ['tramo', 'a.md', '[Albar book][b]\n\n[b]: https://albar.example/b', TWO, SAME, 'link'],
  ['estrato', 'js/swipe.js', '/*! Swipe 4.1 | MIT license | (c) 2020 Neveron | also used by Albar */\nx("albar");', TWO, SAME, 'third-party'],
  ['estrato', 'js/menu.js', '/*! Menu 1.0 - part of the Albar theme | MIT license | (c) 2020 Neveron */\nx("albar");', TWO, '/*! Menu 1.0 - part of the Albar theme | MIT license | (c) 2020 Neveron */\nx("cumbre-sur");', 'credit identifier'],
  ['estrato', 'js/swipe/swipe-albar.js', 'x("albar");', TWO, SAME, 'third-party', { 'js/swipe/swipe.js': '/*! Swipe 4.1 | MIT license | (c) 2020 Neveron */' }],
  ['estrato', 'css/swipe.css', '.albar { top: 0 }', TWO, SAME, 'third-party', { 'css/swipe.min.css': '/*! Swipe 4.1 | MIT license | (c) 2020 Neveron */' }],
  ['estrato', 'css/own.css', '.albar { top: 0 }', TWO, '.cumbre-sur { top: 0 }', 'identifier', { 'css/swipe.css': '/*! Swipe 4.1 | MIT license | (c) 2020 Neveron */' }],
  ['sphinx', 'theme.conf', '[theme]\ninherit = basic\n[options]\nalbar_width = 3\n', TWO, '[theme]\ninherit = basic\n[options]\ncumbre_sur_width = 3\n', 'identifier'],
  ['sphinx', 'layout.html', '{{ theme_albar_width }} {{ theme_albar_other }}', TWO, '{{ theme_cumbre_sur_width }} {{ theme_albar_other }}', 'identifier host', { 'theme.conf': '[theme]\ninherit = basic\n[options]\nalbar_width = 3\n' }],
  ['sphinx', 'layout.html', '{{ theme_page_width }}', 'page → lumbre', SAME, 'common-name', { 'theme.conf': '[theme]\ninherit = basic\n[options]\npage_width = 3\n' }],
  ['sphinx', 'static/a.css_t', '.x { color: {{ theme_albar_ink }}; width: {{ albar_width }}px }\n.albar { top: 0 }', TWO, '.x { color: {{ theme_albar_ink }}; width: {{ cumbre_sur_width }}px }\n.cumbre-sur { top: 0 }', 'host identifier prose'],
  ['tramo', 'a.html', '<style>.x { color: {{ albar_ink }} } .albar { top: 0 }</style>', TWO, '<style>.x { color: {{ cumbre_sur_ink }} } .cumbre-sur { top: 0 }</style>', 'identifier'],
  ['tramo', 'a.html', '<script>var x = {{ albar }}; var albar = 1;</script>', TWO, '<script>var x = {{ cumbre_sur }}; var cumbreSur = 1;</script>', 'identifier'],
  ['tramo', 'a.html', '<style>{% if albar %}.albar{% endif %} { top: 0 }</style>', TWO, '<style>{% if cumbre_sur %}.cumbre-sur{% endif %} { top: 0 }</style>', 'identifier'],
  ['vereda', 'a.sass', '.albar-nav\n  color: red\n  +albar-mix\n\n=albar-mix\n  top: 0\n\n@mixin albar-b\n  top: 0\n.x\n  @include albar-b\n  @extend .albar-nav\n', TWO, '.cumbre-sur-nav\n  color: red\n  +cumbre-sur-mix\n\n=cumbre-sur-mix\n  top: 0\n\n@mixin cumbre-sur-b\n  top: 0\n.x\n  @include cumbre-sur-b\n  @extend .cumbre-sur-nav\n', 'identifier'],
  ['vereda', 'a.sass', '$albar: red\na\n  color: $albar\n', TWO, '$cumbre-sur: red\na\n  color: $cumbre-sur\n', 'identifier'],
  ['vereda', 'b.sass', 'section\n  section: 1\n  .section\n    top: 0\n', 'section → lumbre', SAME, 'language common-name'],
  ['vereda', 'a.styl', '.albar\n  color red\n  albar-mix()\n', TWO, '.cumbre-sur\n  color red\n  cumbre-sur-mix()\n', 'identifier'],
  ['vereda', 'a.scss', '@use "albar";\n.x { color: albar.$ink; @include albar.mix; }', TWO, '@use "cumbre-sur";\n.x { color: cumbre-sur.$ink; @include cumbre-sur.mix; }', 'identifier', { '_albar.scss': '$ink: red;' }],
  ['vereda', 'a.scss', '.x { width: map-get($albar, "a"); &.albar { top: 0 } #{$albar}-x { top: 0 } }', TWO, '.x { width: map-get($cumbre-sur, "a"); &.cumbre-sur { top: 0 } #{$cumbre-sur}-x { top: 0 } }', 'identifier'],
  ['vereda', 'notes.hut', 'The theme is called Albar and it prints pages.\nalbar_x = Albar\n', TWO, 'The theme is called Cumbre Sur and it prints pages.\ncumbre_sur_x = CumbreSur\n', 'prose identifier'],
  ['hexo', 'layout/a.ejs', '<script src="<%- url_for(\'/js/a.js\') %>?v=<%- albar_info(\'v\') %>" class="albar"></script>', TWO, '<script src="<%- url_for(\'/js/a.js\') %>?v=<%- cumbre_sur_info(\'v\') %>" class="cumbre-sur"></script>', 'identifier'],
  // An option of the theme's settings is asked for by its name: it must be an identifier everywhere.
  ['hexo', '_config.yml', 'albar:\n  ink: 1\nmenu: { albar: 2, albar_x: 3 }\nname: albar\n', TWO, 'cumbre_sur:\n  ink: 1\nmenu: { cumbre_sur: 2, cumbre_sur_x: 3 }\nname: cumbre-sur\n', 'identifier prose'],
  ['hexo', 'layout/a.ejs', '<i class="albar"><%= theme.albar.ink + theme.menu.albar + theme["albar"] + theme.albar_x %></i>', TWO, '<i class="cumbre-sur"><%= theme.cumbre_sur.ink + theme.menu.cumbre_sur + theme["cumbre_sur"] + theme.albar_x %></i>', 'identifier host', OPTIONS],
  ['hexo', 'layout/a.ejs', '<script src="<%- url_for(`${theme.albar.ink}`) %>"></script>', TWO, '<script src="<%- url_for(`${theme.cumbre_sur.ink}`) %>"></script>', 'identifier', OPTIONS],
  ['hexo', 'scripts/a.js', 'const { albar } = hexo.theme.config;\nget("albar.ink", "menu.albar", "albar.css");\nwindow.albar = 1; albarMenu();', TWO, 'const { cumbre_sur } = hexo.theme.config;\nget("cumbre_sur.ink", "menu.cumbre_sur", "cumbre-sur.css");\nwindow.cumbre_sur = 1; cumbreSurMenu();', 'identifier prose', OPTIONS],
  ['hexo', 'scripts/a.js', 'const { albar } = hexo.theme.config;', TWO, 'const { cumbreSur } = hexo.theme.config;', 'identifier'],
  ['sphinx', 'theme.conf', '[theme]\ninherit = basic\n[options]\nalbar = 1\n', TWO, '[theme]\ninherit = basic\n[options]\ncumbre_sur = 1\n', 'identifier'],
  ['hexo', 'layout/a.pug', 'b x &lt; <\nheader.albar\n  include ../albar/a.pug\n', TWO, 'b x &lt; <\nheader.cumbre-sur\n  include ../cumbre-sur/a.pug\n', 'identifier reference', { 'layout/albar/a.pug': '' }],
  ['hexo', 'README.md', '```sh\ngit clone https://github.com/huts/hexo-theme-albar.git themes/albar\nnpm install hexo-theme-albar\n```\n', TWO, '```sh\ngit clone https://github.com/huts/hexo-theme-albar.git themes/cumbre-sur\nnpm install hexo-theme-cumbre-sur\n```\n', 'link identifier'],
  ['vereda', 'a.php', '<?php echo "«Albar» and ‹Albar›\\tAlbar";', TWO, '<?php echo "«Cumbre Sur» and ‹Cumbre Sur›\\tCumbre Sur";', 'prose'],
  ['estrato', 'a.js', 'alert("Hi\\nAlbar is here");', TWO, 'alert("Hi\\nCumbre Sur is here");', 'prose'],
  ['icons', 'index.theme', '[Icon Theme]\nName=Page\nName[es]=Page\nComment=The Page\n', 'page → lumbre', '[Icon Theme]\nName=Lumbre\nName[es]=Lumbre\nComment=The Lumbre\n', 'declared title'],
  ['bloque', 'bloque.toml', 'title = "Page"\ntitle_es = "Page"\nx = "page"\n', 'page → lumbre', 'title = "Lumbre"\ntitle_es = "Lumbre"\nx = "page"\n', 'declared common-name'],
  ['bloque', 'bloque.toml', 'title = "Page"\nx = = 1\n', 'page → lumbre', 'title = "Lumbre"\nx = = 1\n', 'declared'],
  ['vereda', 'sheet.css', '/*---\ntitle: Page\nx: [1\n---*/\n', 'page → lumbre', '/*---\ntitle: Lumbre\nx: [1\n---*/\n', 'declared'],
  ['vereda', 'a.rst', '+-------+----+\n| Albar | x  |\n+=======+====+\n| a     | b  |\n+-------+----+\n', TWO, '+------------+----+\n| Cumbre Sur | x  |\n+============+====+\n| a          | b  |\n+------------+----+\n', 'derived prose'],
  ['vereda', 'a.rst', '+------------+---+\n| the Albar  | x |\n+------------+---+\n', 'albar → paso', '+------------+---+\n| the Paso   | x |\n+------------+---+\n', 'prose derived'],
  ['vereda', 'a.rst', '=====  ====\nAlbar  x\n=====  ====\na      albar\n=====  ====\n', TWO, '==========  ====\nCumbre Sur  x\n==========  ====\na           cumbre-sur\n==========  ====\n', 'derived prose'],
  ['vereda', 'a.md', '| Albar | x |\n|-------|---|\n| a     | b |\n', TWO, '| Cumbre Sur | x |\n|------------|---|\n| a          | b |\n', 'prose derived'],
  ['vereda', 'a.md', '| Albar | x\n|---|---|\n| a | b |\n', TWO, '| Cumbre Sur | x\n|---|---|\n| a | b |\n', 'prose'],
  ['vereda', 'a.html', '<p>Norte&nbsp;Cima, Norte&#160;Cima, Norte&#xA0;Cima</p>', 'norte-cima → alto-valle', '<p>Alto&nbsp;Valle, Alto&#160;Valle, Alto&#xA0;Valle</p>', 'prose'],
  ['vereda', 'a.html', '<p>Norte\u00a0Cima and Norte\u2011Cima</p>', 'norte-cima → alto-valle', '<p>Alto\u00a0Valle and Alto\u2011Valle</p>', 'prose'],
  ['vereda', 'a.md', 'Welcome to Norte\nCima, and Norte  Cima.', 'norte-cima → alto-valle', 'Welcome to Alto\nValle, and Alto  Valle.', 'prose'],
  ['vereda', 'a.js', '// of Norte\n// Cima\nx("Norte\\u0020Cima", "norte%20cima", "norte+cima", "norte%2Dcima");', 'norte-cima → alto-valle', '// of Alto\n// Valle\nx("Alto\\u0020Valle", "alto%20valle", "alto+valle", "alto%2Dvalle");', 'prose identifier'],
  ['vereda', 'a.html', '<a href="?t=norte%20cima&amp;u=Norte+Cima">x</a>', 'norte-cima → alto-valle', '<a href="?t=alto%20valle&amp;u=Alto+Valle">x</a>', 'identifier'],
  ['vereda', 'a.json', '{"t":"Pe\\u00f1a Alta"}', 'pena-alta (Peña Alta) → alto-valle', '{"t":"Alto Valle"}', 'identifier'],
  ['vereda', 'a.html', '<p>Pe&ntilde;a Alta</p>', 'pena-alta (Peña Alta) → alto-valle', '<p>Alto Valle</p>', 'prose'],
  ['vereda', 'a.css', '.norte\\-cima { top: 0 } .x { content: "Norte\\20 Cima" }', 'norte-cima → alto-valle', '.alto\\-valle { top: 0 } .x { content: "Alto\\20 Valle" }', 'identifier'],
  ['vereda', 'a.html', '<p>al&shy;bar and &#65;lbar</p>', TWO, '<p>cumbre-sur and Cumbre Sur</p>', 'prose'],
  ['vereda', 'a.js', 'x("\\x41lbar");', TWO, 'x("Cumbre Sur");', 'identifier'],
  ['vereda', 'a.md', 'Norte\u2010Cima norte\u2013cima', 'norte-cima → alto-valle', 'Alto\u2010Valle alto\u2013valle', 'prose'],
  ['vereda', 'a.md', 'The Quilla huts', 'quilla → lumbre', 'The Lumbre huts', 'prose'],
  ['vereda', 'a.go', 'package albar\n\nfunc AlbarSetup() { albarMenu() }\n', TWO, 'package cumbreSur\n\nfunc CumbreSurSetup() { cumbreSurMenu() }\n', 'identifier'],
  ['vereda', 'a.rs', 'mod albar;\nuse crate::albar::Menu;\nconst ALBAR_X: &str = "albar";\n', TWO, 'mod cumbre_sur;\nuse crate::cumbre_sur::Menu;\nconst CUMBRE_SUR_X: &str = "cumbre-sur";\n', 'identifier'],
  ['vereda', 'a.h', '#ifndef ALBAR_H\n#define ALBAR_H\nvoid albar_run(void);\n#endif\n', TWO, '#ifndef CUMBRE_SUR_H\n#define CUMBRE_SUR_H\nvoid cumbre_sur_run(void);\n#endif\n', 'identifier'],
  ['vereda', 'A.java', 'class AlbarMenu extends Albar { String s = "Albar menu"; }', TWO, 'class CumbreSurMenu extends CumbreSur { String s = "Cumbre Sur menu"; }', 'identifier prose'],
  ['vereda', 'a.kt', 'val albarInk = "$albarInk ${albar.ink}" // Albar', TWO, 'val cumbreSurInk = "$cumbreSurInk ${cumbreSur.ink}" // Cumbre Sur', 'identifier prose'],
  ['vereda', 'a.cs', 'namespace Albar.Menus { class Albar_X {} }', TWO, 'namespace CumbreSur.Menus { class Cumbre_Sur_X {} }', 'identifier'],
  ['vereda', 'a.rb', 'module Albar\n  ALBAR = :albar\n  def albar?; "#{albar_x} Albar"; end\nend\n', TWO, 'module CumbreSur\n  CUMBRE_SUR = :cumbre_sur\n  def cumbre_sur?; "#{cumbre_sur_x} Cumbre Sur"; end\nend\n', 'identifier prose'],
  ['vereda', 'a.lua', 'local albar = require("albar") -- Albar\nalbar.run()', TWO, 'local cumbre_sur = require("cumbre-sur") -- Cumbre Sur\ncumbre_sur.run()', 'identifier prose'],
  ['vereda', 'a.sh', 'ALBAR_DIR=/srv/site/themes/albar\necho "$ALBAR_DIR Albar"\nalbar_run() { :; }\n', TWO, 'CUMBRE_SUR_DIR=/srv/site/themes/cumbre-sur\necho "$CUMBRE_SUR_DIR Cumbre Sur"\ncumbre_sur_run() { :; }\n', 'identifier prose'],
  ['vereda', 'a.ps1', '$albarPath = "albar"\nfunction Get-Albar { $albarPath }', TWO, '$cumbreSurPath = "cumbre-sur"\nfunction Get-CumbreSur { $cumbreSurPath }', 'identifier'],
  ['vereda', 'a.sql', "INSERT INTO albar_menu VALUES ('albar', 'Albar'); -- Albar", TWO, "INSERT INTO cumbre_sur_menu VALUES ('cumbre-sur', 'Cumbre Sur'); -- Cumbre Sur", 'identifier prose'],
  ['vereda', 'a.el', '(defun albar-setup () "Albar." (albar--x))', TWO, '(defun cumbre-sur-setup () "Cumbre Sur." (cumbre-sur--x))', 'identifier prose'],
  ['vereda', 'a.tex', '\\usepackage{albar}\n% Albar\nThe Albar class.\n', TWO, '\\usepackage{cumbre-sur}\n% Cumbre Sur\nThe Cumbre Sur class.\n', 'prose'],
  ['vereda', 'a.py', 'import albar\nfrom albar.menu import x\nfrom . import albar_x\n__all__ = ["albar_x"]\n', TWO, 'import cumbre_sur\nfrom cumbre_sur.menu import x\nfrom . import cumbre_sur_x\n__all__ = ["cumbre_sur_x"]\n', 'identifier'],
  ['vereda', 'a.py', '"""Albar: pages.\n\n>>> albar.run()\n"""\n', TWO, '"""Cumbre Sur: pages.\n\n>>> cumbre_sur.run()\n"""\n', 'prose'],
  ['vereda', 'a.py', 'app.add_config_value("albar_ink", "", "html")\npath = f"{albar}/x"\n', TWO, 'app.add_config_value("cumbre_sur_ink", "", "html")\npath = f"{cumbre_sur}/x"\n', 'identifier'],
  ['vereda', 'setup.cfg', '[metadata]\nname = albar\n[options.entry_points]\nsphinx =\n  albar = albar:setup\n', TWO, '[metadata]\nname = cumbre-sur\n[options.entry_points]\nsphinx =\n  cumbre-sur = cumbre_sur:setup\n', 'prose identifier'],
  ['tramo', 'a.tmpl', '{% extends "albar/base.tmpl" %}{{ albar_x }}{# Albar #}<p>Albar</p>', TWO, '{% extends "cumbre-sur/base.tmpl" %}{{ cumbre_sur_x }}{# Cumbre Sur #}<p>Cumbre Sur</p>', 'identifier prose'],
  ['tramo', 'a.liquid', '{% assign albar = 1 %}{% include "albar-nav" %}{{ albar.x | t }}', TWO, '{% assign cumbre_sur = 1 %}{% include "cumbre-sur-nav" %}{{ cumbre_sur.x | t }}', 'identifier'],
  ['tramo', 'a.erb', '<%= albar_tag "Albar" %>\n<p class="albar">Albar</p>', TWO, '<%= cumbre_sur_tag "Cumbre Sur" %>\n<p class="cumbre-sur">Cumbre Sur</p>', 'identifier prose'],
  ['tramo', 'a.vue', '<template><albar-card :albar="x" @albar-open="y"/></template>\n<script>\nimport AlbarCard from "./AlbarCard.vue";\nexport default { name: "AlbarCard" };\n</script>\n<style>.albar { top: 0 }</style>', TWO, '<template><cumbre-sur-card :cumbre-sur="x" @cumbre-sur-open="y"/></template>\n<script>\nimport CumbreSurCard from "./CumbreSurCard.vue";\nexport default { name: "CumbreSurCard" };\n</script>\n<style>.cumbre-sur { top: 0 }</style>', 'identifier reference', { 'AlbarCard.vue': 'x' }],
  ['estrato', 'a.ts', 'export interface AlbarOptions { albarInk: string }\ndeclare module "albar" {}\n', TWO, 'export interface CumbreSurOptions { cumbreSurInk: string }\ndeclare module "cumbre-sur" {}\n', 'identifier'],
  ['estrato', 'a.js', 'const { albar, albarX: y } = window;\nel.dataset.albarX = `albar-${y}`;\nel.classList.add("albar--open", "js-albar");', TWO, 'const { cumbreSur, cumbreSurX: y } = window;\nel.dataset.cumbreSurX = `cumbre-sur-${y}`;\nel.classList.add("cumbre-sur--open", "js-cumbre-sur");', 'identifier prose'],
  ['estrato', 'a.js', 'el.querySelector("[data-albar-x=\'albar\'] > #albar .albar__a");', TWO, 'el.querySelector("[data-cumbre-sur-x=\'cumbre-sur\'] > #cumbre-sur .cumbre-sur__a");', 'identifier'],
  ['estrato', 'a.js', 'localStorage.setItem("albar:seen", albar);\nobj["albar"] = 1; obj.albar = 2;', TWO, 'localStorage.setItem("cumbre-sur:seen", cumbreSur);\nobj["cumbreSur"] = 1; obj.cumbreSur = 2;', 'identifier'],
  ['estrato', 'a.js', 'const a = b/albar/c; const r = /albar-(\\d+)/g.test(x);', TWO, 'const a = b/cumbreSur/c; const r = /cumbre-sur-(\\d+)/g.test(x);', 'identifier'],
  ['estrato', 'a.js', '// see albar.example and @albar/tools\nx("see https://huts.example/albar");', TWO, SAME, 'account link'],
  ['estrato', 'a.jsx', 'const A = () => <Albar className="albar" {...albarProps}>Albar</Albar>;', TWO, 'const A = () => <CumbreSur className="cumbre-sur" {...cumbreSurProps}>Cumbre Sur</CumbreSur>;', 'identifier'],
  ['vereda', 'a.css', '@layer albar, albar.base; @container albar (width > 1px) { .x { animation: albar-in 1s; font-family: "Albar Sans", albar } }', TWO, '@layer cumbre-sur, cumbre-sur.base; @container cumbre-sur (width > 1px) { .x { animation: cumbre-sur-in 1s; font-family: "Cumbre Sur Sans", cumbre-sur } }', 'identifier prose'],
  ['vereda', 'a.less', '.albar-mix() { top: 0 } @albar: red; .x { .albar-mix(); color: @albar; @{albar}-x: 1 }', TWO, '.cumbre-sur-mix() { top: 0 } @cumbre-sur: red; .x { .cumbre-sur-mix(); color: @cumbre-sur; @{cumbre-sur}-x: 1 }', 'identifier'],
  ['vereda', 'a.scss', '%albar-base { top: 0 } .x { @extend %albar-base; --#{$albar}: 1; @include albar-mix($albar-ink: red) }', TWO, '%cumbre-sur-base { top: 0 } .x { @extend %cumbre-sur-base; --#{$cumbre-sur}: 1; @include cumbre-sur-mix($cumbre-sur-ink: red) }', 'identifier'],
  ['vereda', 'a.yaml', 'albar: &albar\n  name: Albar\nx: *albar\nlist: [albar, "albar-x"]\n', TWO, 'cumbre-sur: &cumbre-sur\n  name: Cumbre Sur\nx: *cumbre-sur\nlist: [cumbre-sur, "cumbre-sur-x"]\n', 'prose identifier'],
  ['vereda', 'a.ini', '[albar]\nalbar.title = Albar\npath = themes/albar/x\n; Albar\n', TWO, '[cumbre-sur]\ncumbre-sur.title = Cumbre Sur\npath = themes/cumbre-sur/x\n; Cumbre Sur\n', 'identifier prose'],
  ['vereda', 'a.po', 'msgid "Albar has %d huts"\nmsgstr "Albar tiene %d refugios"\n#: albar/main.html:3\nmsgctxt "albar"\n', TWO, 'msgid "Cumbre Sur has %d huts"\nmsgstr "Cumbre Sur tiene %d refugios"\n#: cumbre-sur/main.html:3\nmsgctxt "cumbre-sur"\n', 'prose identifier'],
  ['vereda', 'a.csv', 'id,title\nalbar,Albar\n', TWO, 'id,title\ncumbre-sur,Cumbre Sur\n', 'prose'],
  ['vereda', 'a.xml', '<albar:menu xmlns:albar="urn:albar:1" id="albar">Albar</albar:menu>', TWO, '<cumbre-sur:menu xmlns:cumbre-sur="urn:cumbre-sur:1" id="cumbre-sur">Cumbre Sur</cumbre-sur:menu>', 'identifier prose'],
  ['vereda', 'a.svg', '<svg id="albar"><title>Albar</title><use href="#albar-x"/></svg>', TWO, '<svg id="cumbre-sur"><title>Cumbre Sur</title><use href="#cumbre-sur-x"/></svg>', 'identifier prose'],
  ['vereda', '.htaccess', 'RewriteRule ^albar/(.*)$ /themes/albar/$1\n', TWO, 'RewriteRule ^cumbre-sur/(.*)$ /themes/cumbre-sur/$1\n', 'identifier'],
  ['vereda', 'a.service', '[Unit]\nDescription=Albar pages\n[Service]\nExecStart=/usr/bin/albar\n', TWO, '[Unit]\nDescription=Cumbre Sur pages\n[Service]\nExecStart=/usr/bin/albar\n', 'identifier outside'],
  ['vereda', 'Makefile', 'albar.zip: albar\n\tzip -r albar.zip albar\n', TWO, 'cumbre-sur.zip: cumbre-sur\n\tzip -r cumbre-sur.zip cumbre-sur\n', 'prose'],
  ['vereda', 'a.php', "<?php\nnamespace Albar\\Menus;\nuse function Albar\\run;\nclass_exists('\\Albar\\X');\n$f = [Albar::class, 'albar_run'];\n", TWO, "<?php\nnamespace CumbreSur\\Menus;\nuse function CumbreSur\\run;\nclass_exists('\\CumbreSur\\X');\n$f = [CumbreSur::class, 'cumbre_sur_run'];\n", 'identifier'],
  ['vereda', 'a.php', '<?php $s = "albar_{$n} {$albar->x} $albar[x] ${albar}"; $t = \'albar-\' . $n;', TWO, '<?php $s = "cumbre_sur_{$n} {$cumbre_sur->x} $cumbre_sur[x] ${cumbre_sur}"; $t = \'cumbre-sur-\' . $n;', 'prose identifier'],
  ['vereda', 'a.php', '<?php echo <<<HTML\n<p class="albar">Albar $albar</p>\nHTML;', TWO, '<?php echo <<<HTML\n<p class="cumbre-sur">Cumbre Sur $cumbre_sur</p>\nHTML;', 'identifier prose'],
  ['vereda', 'a.php', '<?php add("albar/albar.php"); load_text("albar", "albar/lang");', TWO, '<?php add("cumbre-sur/cumbre-sur.php"); load_text("cumbre-sur", "cumbre-sur/lang");', 'reference identifier', { 'albar.php': '<?php' }],
  ['vereda', 'a.php', '<?php /* translators: %s: Albar */ printf(__("%1$sAlbar%2$s is Albar’s", "albar"));', TWO, '<?php /* translators: %s: Cumbre Sur */ printf(__("%1$sCumbre Sur%2$s is Cumbre Sur’s", "cumbre-sur"));', 'prose identifier'],
  ['vereda', 'a.md', '`albar_setup()` and **Albar** and _albar_ and ~~Albar~~ and Albar’s, “Albar”, (Albar).', TWO, '`cumbre_sur_setup()` and **Cumbre Sur** and _cumbre-sur_ and ~~Cumbre Sur~~ and Cumbre Sur’s, “Cumbre Sur”, (Cumbre Sur).', 'identifier prose'],
  ['vereda', 'a.md', '```php\nclass Albar {}\nalbar_x();\n```\n\n    albar --help\n', TWO, '```php\nclass CumbreSur {}\ncumbre_sur_x();\n```\n\n    cumbre-sur --help\n', 'identifier prose'],
  ['vereda', 'a.md', '| key | value |\n|---|---|\n| `albar` | Albar |\n', TWO, '| key | value |\n|---|---|\n| `cumbre-sur` | Cumbre Sur |\n', 'identifier prose'],
  ['vereda', 'a.rst', '.. |Albar| replace:: Albar\n.. _Albar hut: x.html\n\nSee |Albar| and `Albar hut`_.\n\n.. albar:: x\n', TWO, '.. |Cumbre Sur| replace:: Cumbre Sur\n.. _Cumbre Sur hut: x.html\n\nSee |Cumbre Sur| and `Cumbre Sur hut`_.\n\n.. cumbre-sur:: x\n', 'prose identifier'],
  ['vereda', 'a.adoc', '= Albar\n:albar-x: 1\n\nSee {albar-x} and <<albar>>.\n\n[[albar]]\n', TWO, '= Cumbre Sur\n:cumbre-sur-x: 1\n\nSee {cumbre-sur-x} and <<cumbre-sur>>.\n\n[[cumbre-sur]]\n', 'prose identifier'],
  ['vereda', 'a.txt', 'Unpack albar.zip into themes/, then choose Albar.', TWO, 'Unpack cumbre-sur.zip into themes/, then choose Cumbre Sur.', 'prose'],
  ['vereda', 'a.php', "<?php load_style('albar-style', url('/css/albar.css')); add('albar/v1', '/x');", TWO, "<?php load_style('cumbre-sur-style', url('/css/cumbre-sur.css')); add('cumbre-sur/v1', '/x');", 'identifier reference', { 'css/albar.css': '' }],
  ['vereda', 'bundle.config.js', "module.exports = { entry: { albar: './src/albar.js' }, output: { filename: '[name].js', library: 'Albar' } };", TWO, "module.exports = { entry: { cumbreSur: './src/cumbre-sur.js' }, output: { filename: '[name].js', library: 'CumbreSur' } };", 'identifier reference', { 'src/albar.js': '' }],
  ['vereda', 'package.json', '{ "name": "albar", "main": "dist/albar.js", "scripts": { "build": "sass scss/albar.scss css/albar.css", "x": "albar-cli run" }, "repository": "github:hutfriend/albar", "homepage": "https://albar.example", "files": ["albar/"], "author": "Albar <a@b.example>", "keywords": ["albar", "theme"] }', TWO, '{ "name": "cumbre-sur", "main": "dist/cumbre-sur.js", "scripts": { "build": "sass scss/cumbre-sur.scss css/cumbre-sur.css", "x": "cumbre-sur-cli run" }, "repository": "github:hutfriend/albar", "homepage": "https://albar.example", "files": ["cumbre-sur/"], "author": "Albar <a@b.example>", "keywords": ["cumbre-sur", "theme"] }', 'declared identifier reference account link credit', { 'scss/albar.scss': '', 'css/albar.css': '' }],
  ['vereda', 'composer.json', '{ "name": "hutleague/albar", "require": { "albar/core": "^1" }, "autoload": { "psr-4": { "HutLeague\\\\Albar\\\\": "src/" } }, "support": { "issues": "https://x.example/albar/issues" } }', TWO, '{ "name": "hutleague/cumbre-sur", "require": { "albar/core": "^1" }, "autoload": { "psr-4": { "HutLeague\\\\CumbreSur\\\\": "src/" } }, "support": { "issues": "https://x.example/albar/issues" } }', 'identifier dependency link'],
  ['vereda', 'a.php', '<?php /** @see Albar_Menu::run() @link https://albar.example @uses albar_x */ do_action("albar_{$x}_done", $albar);', TWO, '<?php /** @see Cumbre_Sur_Menu::run() @link https://albar.example @uses cumbre_sur_x */ do_action("cumbre_sur_{$x}_done", $cumbre_sur);', 'identifier link prose'],
  ['vereda', 'a.js', '/* global Albar, albarL10n */\nroot(document).on("click.albar", ".albar-open:not(.albar-x)", fn);', TWO, '/* global CumbreSur, cumbreSurL10n */\nroot(document).on("click.cumbre-sur", ".cumbre-sur-open:not(.cumbre-sur-x)", fn);', 'prose identifier'],
  ['vereda', '.gitignore', '/dist/albar.zip\nalbar/*.log\n# Albar\n', TWO, '/dist/cumbre-sur.zip\ncumbre-sur/*.log\n# Cumbre Sur\n', 'identifier prose'],
  ['vereda', 'style.xml', '<ruleset name="Albar"><file>albar.php</file><property name="prefixes" value="albar,ALBAR"/><element value="albar"/></ruleset>', TWO, '<ruleset name="Cumbre Sur"><file>cumbre-sur.php</file><property name="prefixes" value="cumbre-sur,CUMBRE_SUR"/><element value="cumbre-sur"/></ruleset>', 'identifier reference prose', { 'albar.php': '<?php' }],
  ['vereda', 'a.html', '<link rel="stylesheet" href="{{ base }}/albar.css?v=1"><meta property="og:site_name" content="Albar"><html class="no-js albar" data-theme="albar">', TWO, '<link rel="stylesheet" href="{{ base }}/cumbre-sur.css?v=1"><meta property="og:site_name" content="Cumbre Sur"><html class="no-js cumbre-sur" data-theme="cumbre-sur">', 'reference identifier prose', { 'albar.css': '' }],
  ['vereda', 'README.md', '# Albar\n\n[![Build](https://ci.example/albar.svg)](https://ci.example/albar)\n\nInstall `get albar`, see [docs](docs/albar.md) and [Albar Hut](https://x.example).\n', TWO, '# Cumbre Sur\n\n[![Build](https://ci.example/albar.svg)](https://ci.example/albar)\n\nInstall `get cumbre-sur`, see [docs](docs/cumbre-sur.md) and [Cumbre Sur Hut](https://x.example).\n', 'prose link reference', { 'docs/albar.md': '' }],
  ['vereda', 'a.rst', 'Albar API\n---------\n\n.. code-block:: python\n\n   import albar\n   albar.run()\n\n.. toctree::\n   albar/index\n', TWO, 'Cumbre Sur API\n--------------\n\n.. code-block:: python\n\n   import cumbre_sur\n   cumbre_sur.run()\n\n.. toctree::\n   cumbre-sur/index\n', 'prose derived identifier'],
  ['vereda', 'a.scss', '@import "albar/mixins"; @import "albar-vars"; @use "sass:math";', TWO, '@import "cumbre-sur/mixins"; @import "cumbre-sur-vars"; @use "sass:math";', 'reference identifier', { 'albar/_mixins.scss': '', '_albar-vars.scss': '' }],
  ['vereda', 'a.yml', '- id: albar\n  title: "Albar: the theme"\n  url: /albar/\n  path: ../albar-icons/x.svg\n  deps: {albar-icons: 1}\n', TWO, '- id: cumbre-sur\n  title: "Cumbre Sur: the theme"\n  url: /cumbre-sur/\n  path: ../albar-icons/x.svg\n  deps: {cumbre-sur-icons: 1}\n', 'prose identifier outside'],
  ['vereda', 'tests/a.test.js', "import { albar } from '../src/albar';\nimport x from '@albar/core';\ndescribe('Albar', () => { expect(albar.name).toBe('albar'); });", TWO, "import { cumbreSur } from '../src/cumbre-sur';\nimport x from '@albar/core';\ndescribe('Cumbre Sur', () => { expect(cumbreSur.name).toBe('cumbre-sur'); });", 'identifier reference import', { 'src/albar.js': '' }],
  ['horquilla', 'a.php', "<?php $string['title'] = 'Albar'; $string['albar_x'] = 'Albar x'; $plugin->component = 'look_albar';", 'albar → lumbre', "<?php $string['title'] = 'Lumbre'; $string['lumbre_x'] = 'Lumbre x'; $plugin->component = 'look_lumbre';", 'identifier prose'],
  ['vereda', 'a.php', "<?php class Norte_Cima_Walker extends NorteCima\\Base { const NORTE_CIMA = 'norte-cima'; function norteCima() { return norte_cima()->norteCimaX; } }", 'norte-cima → albar', "<?php class Albar_Walker extends Albar\\Base { const ALBAR = 'albar'; function albar() { return albar()->albarX; } }", 'identifier'],
  ['vereda', 'a.js', "import NorteCima, { norteCimaX as x } from './norte-cima/norteCima.js'; const NORTE_CIMA = `${norteCima}-norte-cima`;", 'norte-cima → alto-valle-sur', "import AltoValleSur, { altoValleSurX as x } from './alto-valle-sur/altoValleSur.js'; const ALTO_VALLE_SUR = `${altoValleSur}-alto-valle-sur`;", 'identifier reference', { 'norte-cima/norteCima.js': '' }],
  ['vereda', 'a.css', '.norte-cima--x, .norteCima, .nortecima_x, #norte_cima { background: url("norte-cima.png"); --norteCima: 1 }', 'norte-cima → alto-valle-sur', '.alto-valle-sur--x, .altoValleSur, .altovallesur_x, #alto_valle_sur { background: url("alto-valle-sur.png"); --altoValleSur: 1 }', 'identifier reference', { 'norte-cima.png': '' }],
  ['vereda', 'a.md', 'NORTE CIMA, Norte cima’s, norte-cima-based, “Norte Cima”, Norte-Cima, norte.cima.x, Nortecima', 'norte-cima → alto-valle-sur', 'ALTO VALLE SUR, Alto valle sur’s, alto-valle-sur-based, “Alto Valle Sur”, Alto-Valle-Sur, alto.valle.sur.x, Altovallesur', 'prose identifier'],
  ['vereda', 'a.py', 'class NorteCima(Theme):\n    """The Norte Cima theme.\n\n    Norte\n    Cima is high.\n    """\n    name = "norte_cima"\n', 'norte-cima → alto-valle-sur', 'class AltoValleSur(Theme):\n    """The Alto Valle Sur theme.\n\n    Alto\n    Valle Sur is high.\n    """\n    name = "alto_valle_sur"\n', 'identifier prose'],
  ['vereda', 'a.html', '<title>Norte&nbsp;Cima &ndash; x</title><a href="/norte-cima/?s=norte+cima">Norte  Cima</a>', 'norte-cima → albar', '<title>Albar &ndash; x</title><a href="/albar/?s=albar">Albar</a>', 'prose identifier'],
  ['vereda', 'a.json', '{"Norte Cima":"norteCima","norte_cima":["norte-cima","NORTE_CIMA"]}', 'norte-cima → alto-valle-sur', '{"Alto Valle Sur":"altoValleSur","alto_valle_sur":["alto-valle-sur","ALTO_VALLE_SUR"]}', 'identifier'],
  ['vereda', 'a.php', '<?php function oak_setup() {} add("oak_setup"); class Oak_Menu {} // an oak tree, the oak theme', 'oak → lumbre', '<?php function lumbre_setup() {} add("lumbre_setup"); class Lumbre_Menu {} // an oak tree, the lumbre theme', 'declared-name identifier short-name called-theme'],
  ['vereda', 'a.css', '.oak { } .page-oak { } .soak { } .oak-nav.is-oak { }', 'oak → lumbre', '.lumbre { } .page-oak { } .soak { } .lumbre-nav.is-oak { }', 'identifier host longer-word short-name'],
  ['vereda', 'a.js', 'const menu = page.menu; pageMenu(); function pageInit() {} pageInit();', 'page → lumbre', 'const menu = page.menu; pageMenu(); function lumbreInit() {} lumbreInit();', 'common-name declaration proven'],
  ['vereda', 'a.html', '<main class="page"><page-card></page-card> Page 1 of the page</main>', 'page → lumbre', SAME, 'common-name host'],
  ['vereda', 'a.php', '<?php paso2_setup(); class Paso2 {} // Paso 2, paso-2', 'paso2 → alto-valle', '<?php alto_valle_setup(); class AltoValle {} // Alto Valle, alto-valle', 'identifier prose'],
  ['vereda', 'a.css', '.paso2-x { } .paso20 { } .paso { }', 'paso2 → albar', '.albar-x { } .paso20 { } .paso { }', 'identifier longer-word'],
  ['vereda', 'a.php', '<?php albar_x(); // Albar, albar-x', 'albar → albar-plus', '<?php albar_plus_x(); // Albar Plus, albar-plus-x', 'identifier prose'],
  ['vereda', 'a.js', '/* Albar */ const albar = "albar"; albar.x("albar-plus");', 'albar → albar-plus', '/* Albar Plus */ const albarPlus = "albar-plus"; albarPlus.x("albar-plus-plus");', 'prose identifier'],
  ['vereda', 'a.php', '<?php echo "Albar"; // Albar', 'albar (Albar) → alto (L’Alto & Co)', '<?php echo "L’Alto & Co"; // L’Alto & Co', 'identifier prose'],
  ['vereda', 'a.html', '<h1>Albar</h1>', 'albar (Albar) → alto (Alto & Co)', '<h1>Alto &amp; Co</h1>', 'prose'],
  ['vereda', 'a.json', '{"t":"Albar hut"}', 'albar (Albar) → alto (The "A")', '{"t":"The \\"A\\" hut"}', 'prose'],
  ['vereda', 'a.rst', '===== =\nAlbar x\n===== =\na     b\n\nc     d\n===== =\n\nAlbar\n', TWO, '========== =\nCumbre Sur x\n========== =\na          b\n\nc          d\n========== =\n\nCumbre Sur\n', 'derived prose'],
  ['vereda', 'a.md', '```js\nconst albar = 1;\n```\n\nAlbar\n\n```\nalbar x\n```\n', TWO, '```js\nconst cumbreSur = 1;\n```\n\nCumbre Sur\n\n```\ncumbre-sur x\n```\n', 'identifier prose'],
  ['vereda', 'package.json', '{ "name": "albar-theme", "scripts": { "x": "albar-theme" } }', TWO, '{ "name": "cumbre-sur-theme", "scripts": { "x": "cumbre-sur-theme" } }', 'identifier', { 'package-lock.json': '{ "name": "albar-theme", "packages": { "": { "name": "albar-theme" }, "node_modules/albar-icons": {} } }' }],
];

const WHOLE = ROWS.map(
  ([platform, file, before, names, after, judges, files = {}]) => [platform, file, before, names, after, judges, files] as const,
);

describe('an awkward place', () => {
  it('is one of at least 150, with the examples of the judges, in at least ten languages', () => {
    const examples = JUDGES.flatMap((each) => each.examples);
    expect(ROWS.length + examples.length).toBeGreaterThanOrEqual(150);
    expect(new Set(ROWS.map(([, file]) => file.split('.').at(-1))).size).toBeGreaterThan(30);
  });

  it.each(WHOLE)('of %s, %s: %s (%s)', (platform, file, before, names, after, judges, files) => {
    const [from, to] = names.split(' → ').map((name) => {
      const [, id = '', title] = /^(\S+)(?: \((.+)\))?$/.exec(name) ?? [];
      return named(id, title);
    }) as [ReturnType<typeof named>, ReturnType<typeof named>];
    const renamed = rename({ ...files, [file]: before }, from, to, { platform });
    const path = renamed.moves.find((move) => move.from === file)?.to ?? file;
    expect(renamed.tree.read(path).toString()).toBe(after === SAME ? before : after);
    const places = [...renamed.edits, ...renamed.kept, ...renamed.unsure].filter(({ was }) => was.file === file && was.line > 0);
    const inOrder = places.sort((a, b) => a.was.line - b.was.line || a.was.column - b.was.column);
    const said = inOrder.map((place) => place.judge ?? ('kind' in place ? place.kind : ''));
    expect([...new Set(said)].join(' ')).toBe(judges);
    expect(renamed.leftovers).toEqual([]);
  });
});
