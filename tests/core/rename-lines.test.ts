import { describe, expect, it } from 'vitest';
import type { FullName } from '../../src/core/names/full-name.ts';
import { named, rename } from '../support/renaming.ts';

type Row = readonly [platform: string, file: string, before: string, names: string, after: string, hasClass: string];

/** Awkward lines: what becomes of each, and a class that one of its places must have. */
// prettier-ignore
const ROWS: readonly Row[] = [
  // One word: what touches it decides.
  ['vereda', 'a.php', 'function albar_setup() {}', 'albar → cumbre-sur', 'function cumbre_sur_setup() {}', 'identifier'],
  ['horquilla', 'a.php', "const ALBAR_VERSION = '1';", 'albar → cumbre-sur', "const CUMBRE_SUR_VERSION = '1';", 'identifier'],
  ['vereda', 'a.php', 'class AlbarWalker {}', 'albar → cumbre-sur', 'class CumbreSurWalker {}', 'identifier'],
  ['horquilla', 'a.php', 'class Albar_Walker {}', 'albar → cumbre-sur', 'class Cumbre_Sur_Walker {}', 'identifier'],
  ['vereda', 'a.php', '<?php $albar = new Albar();', 'albar → cumbre-sur', '<?php $cumbre_sur = new CumbreSur();', 'identifier'],
  ['horquilla', 'a.php', '<?php $theme->albar->x;', 'albar → cumbre-sur', '<?php $theme->cumbre_sur->x;', 'identifier'],
  ['vereda', 'a.php', "<?php load('albar');", 'albar → cumbre-sur', "<?php load('cumbre-sur');", 'identifier'],
  ['horquilla', 'a.php', '<?php use Albar\\Setup;', 'albar → cumbre-sur', '<?php use CumbreSur\\Setup;', 'identifier'],
  ['vereda', 'a.php', '<?php $x = "Vendor\\\\Albar\\\\Setup";', 'albar → cumbre-sur', '<?php $x = "Vendor\\\\CumbreSur\\\\Setup";', 'identifier'],
  ['horquilla', 'a.php', '<?php // the setup of Albar', 'albar → cumbre-sur', '<?php // the setup of Cumbre Sur', 'text'],
  ['vereda', 'a.php', '<?php echo "one\\nalbar";', 'albar → lumbre', '<?php echo "one\\nlumbre";', 'text'],
  ['estrato', 'a.js', 'const albar = setupAlbar();', 'albar → cumbre-sur', 'const cumbreSur = setupCumbreSur();', 'identifier'],
  ['estrato', 'a.js', 'function albarSetup() {}', 'albar → cumbre-sur', 'function cumbreSurSetup() {}', 'identifier'],
  ['estrato', 'a.js', "on('albar:menu', x)", 'albar → cumbre-sur', "on('cumbre-sur:menu', x)", 'identifier'],
  ['cordada', 'a.css', '.albar-nav { --albar-ink: red }', 'albar → cumbre-sur', '.cumbre-sur-nav { --cumbre-sur-ink: red }', 'identifier'],
  ['cordada', 'a.css', '.albar { }', 'albar → cumbre-sur', '.cumbre-sur { }', 'identifier'],
  ['cordada', 'a.css', '.theme-albar__item { }', 'albar → cumbre-sur', '.theme-cumbre-sur__item { }', 'identifier'],
  ['vereda', 'a.html', '<p data-albar-hut="x" class="nav albar">', 'albar → cumbre-sur', '<p data-cumbre-sur-hut="x" class="nav cumbre-sur">', 'identifier'],
  ['cordada', 'a.html', '<a href="/themes/albar/x.css">', 'albar → cumbre-sur', '<a href="/themes/cumbre-sur/x.css">', 'identifier'],
  ['tramo', 'a.html', '<h1>Welcome to Albar</h1>', 'albar → cumbre-sur', '<h1>Welcome to Cumbre Sur</h1>', 'text'],
  ['vereda', 'a.html', '<h1>THE HUTS OF ALBAR</h1>', 'albar → cumbre-sur', '<h1>THE HUTS OF CUMBRE SUR</h1>', 'text'],
  ['bloque', 'a.json', '{"albar":{"albarSpacing":4}}', 'albar → cumbre-sur', '{"cumbre-sur":{"cumbreSurSpacing":4}}', 'identifier'],
  ['icons', 'a.ini', '[albar.menu]', 'albar → lumbre', '[lumbre.menu]', 'text'],
  ['tramo', 'a.md', 'Albarテーマ and テーマalbar', 'albar → lumbre', 'Lumbreテーマ and テーマlumbre', 'text'],
  ['icons', 'a.md', 'See %20albar%20 and /albar', 'albar → lumbre', 'See %20lumbre%20 and /lumbre', 'text'],
  // Escapes, placeholders and patterns: what they match is spelled as they are.
  ['vereda', 'a.php', "<?php preg_match('/^albar_(\\w+)$/', $x);", 'albar → cumbre-sur', "<?php preg_match('/^cumbre_sur_(\\w+)$/', $x);", 'text'],
  ['vereda', 'a.php', "<?php $like = 'albar\\_%';", 'albar → cumbre-sur', "<?php $like = 'cumbre_sur\\_%';", 'identifier'],
  ['vereda', 'a.php', '<?php echo "\\nAlbar is";', 'albar → cumbre-sur', '<?php echo "\\nCumbre Sur is";', 'text'],
  ['tramo', 'a.php', "<?php printf('%sAlbar%s', $a);", 'albar → cumbre-sur', "<?php printf('%sCumbre Sur%s', $a);", 'text'],
  ['tramo', 'a.php', "<?php call(['Albar', 'run']);", 'albar → cumbre-sur', "<?php call(['CumbreSur', 'run']);", 'identifier'],
  ['tramo', 'a.php', "<?php $huts = ['Albar', 'Neveron'];", 'albar → cumbre-sur', "<?php $huts = ['Cumbre Sur', 'Neveron'];", 'identifier'],
  ['estrato', 'a.js', "const r = new RegExp('\\\\balbar-');", 'albar → cumbre-sur', "const r = new RegExp('\\\\bcumbre-sur-');", 'text'],
  ['estrato', 'a.js', 'const r = /^albar_[a-z]+$/;', 'albar → cumbre-sur', 'const r = /^cumbre_sur_[a-z]+$/;', 'text'],
  ['estrato', 'a.js', '// albar.init() begins', 'albar → cumbre-sur', '// cumbreSur.init() begins', 'text'],
  ['cordada', 'a.css', '.md\\:albar-w { top: 0 }', 'albar → cumbre-sur', '.md\\:cumbre-sur-w { top: 0 }', 'identifier'],
  ['vereda', 'a.sh', 'cp -r . /srv/site/themes/albar', 'albar → cumbre-sur', 'cp -r . /srv/site/themes/cumbre-sur', 'identifier'],
  // What has a length keeps it.
  ['vereda', 'a.rst', 'Albar\n=====\n\n.. _albar:\n\nSee :ref:`albar`.', 'albar → cumbre-sur', 'Cumbre Sur\n==========\n\n.. _cumbre-sur:\n\nSee :ref:`cumbre-sur`.', 'derived'],
  ['vereda', 'a.rst', '=========\nThe Albar\n=========', 'albar → paso', '========\nThe Paso\n========', 'derived'],
  ['vereda', 'a.rst', 'Albar\n=====\nAlbar\n=====', 'albar → lumbre', 'Lumbre\n======\nLumbre\n======', 'derived'],
  ['vereda', 'a.md', 'Albar\n---', 'albar → cumbre-sur', 'Cumbre Sur\n---', 'text'],
  // Several words show their spelling themselves.
  ['horquilla', 'a.txt', 'cumbre-sur cumbre_sur cumbreSur CumbreSur', 'cumbre-sur → paso', 'paso paso paso Paso', 'text'],
  ['bloque', 'a.txt', 'CUMBRE_SUR CUMBRE-SUR CUMBRESUR', 'cumbre-sur → paso', 'PASO PASO PASO', 'text'],
  ['icons', 'a.txt', 'Cumbre Sur, cumbre sur, Cumbre sur, CUMBRE SUR', 'cumbre-sur → alto-valle', 'Alto Valle, alto valle, Alto valle, ALTO VALLE', 'text'],
  ['horquilla', 'a.txt', 'Cumbre_Sur Cumbre-Sur cumbre.sur cumbresur', 'cumbre-sur → alto-valle', 'Alto_Valle Alto-Valle alto.valle altovalle', 'text'],
  ['bloque', 'a.txt', 'cumbre_surNav x_cumbre_sur_y', 'cumbre-sur → alto-valle', 'alto_valleNav x_alto_valle_y', 'identifier'],
  // Names within names.
  ['icons', 'a.txt', 'paso paso-nav pasoNav', 'paso → paso2', 'paso2 paso2-nav paso2Nav', 'text'],
  ['horquilla', 'a.txt', 'cumbre-sur cumbre_sur', 'cumbre-sur → cumbre', 'cumbre cumbre', 'text'],
  // What stays.
  ['estrato', 'a.md', 'Words such as albarda, albares, malbar', 'albar → lumbre', 'Words such as albarda, albares, malbar', 'kept'],
  ['tramo', 'a.md', 'albarés and albaŕ and аalbar', 'albar → lumbre', 'albarés and albaŕ and аlumbre', 'kept'],
  ['horquilla', 'a.php', '// Copyright 2026 The Albar people', 'albar → lumbre', '// Copyright 2026 The Albar people', 'kept'],
  ['vereda', 'a.php', ' * @author Albar Hut League', 'albar → lumbre', ' * @author Albar Hut League', 'kept'],
  ['cordada', 'a.css', '/* Icons by Albar */', 'albar → lumbre', '/* Icons by Albar */', 'kept'],
  ['cordada', 'a.html', '<a href="https://albar.example/albar">', 'albar → lumbre', '<a href="https://albar.example/albar">', 'kept'],
  ['icons', 'a.md', 'Write to wardens@albar.example', 'albar → lumbre', 'Write to wardens@albar.example', 'kept'],
  ['estrato', 'a.md', 'See albar-noche and AlbarNoche', 'albar → lumbre', 'See albar-noche and AlbarNoche', 'kept'],
  ['vereda', 'LICENSE', 'Albar, a theme', 'albar → lumbre', 'Albar, a theme', 'kept'],
  ['tramo', 'CHANGELOG.md', '- Albar prints', 'albar → lumbre', '- Albar prints', 'kept'],
  ['estrato', 'vendor/x.js', 'albar()', 'albar → lumbre', 'albar()', 'kept'],
  ['vereda', 'a.lock', 'albar 1', 'albar → lumbre', 'albar 1', 'kept'],
  ['estrato', 'a.js', '/* @generated */ albar()', 'albar → lumbre', '/* @generated */ albar()', 'kept'],
  ['icons', 'a.md', 'the wooden sign of aLBaR', 'albar → lumbre', 'the wooden sign of aLBaR', 'unsure'],
  ['estrato', 'a.md', 'The white stone', 'stone → lumbre', 'The white stone', 'unsure'],
  ['vereda', 'a.php', '<?php stone_setup();', 'stone → lumbre', '<?php lumbre_setup();', 'identifier'],
  // Other places that code and data have for a name.
  ['vereda', 'a.php', "<?php __('Read on', 'albar');", 'albar → cumbre-sur', "<?php __('Read on', 'cumbre-sur');", 'identifier'],
  ['tramo', 'a.php', '<?php namespace Refugio\\Albar;', 'albar → cumbre-sur', '<?php namespace Refugio\\CumbreSur;', 'identifier'],
  ['estrato', 'a.mjs', "export default { id: 'albar', base: './albar/base.js' };", 'albar → cumbre-sur', "export default { id: 'cumbre-sur', base: './cumbre-sur/base.js' };", 'identifier'],
  ['cordada', 'a.yaml', 'bundles: [albar/base, albar.print]', 'albar → cumbre-sur', 'bundles: [cumbre-sur/base, cumbre-sur.print]', 'identifier'],
  ['bloque', 'a.toml', 'slug = "albar"', 'albar → cumbre-sur', 'slug = "cumbre-sur"', 'identifier'],
  ['tramo', 'a.xml', '<theme id="albar"><title>Albar</title></theme>', 'albar → cumbre-sur', '<theme id="cumbre-sur"><title>Cumbre Sur</title></theme>', 'identifier'],
  ['icons', 'a.theme', 'Inherits=albar,paso', 'albar → cumbre-sur', 'Inherits=cumbre-sur,paso', 'identifier'],
  ['horquilla', 'a.po', 'msgid "Albar opens in June"', 'albar → cumbre-sur', 'msgid "Cumbre Sur opens in June"', 'text'],
  ['cordada', 'a.scss', "$albar-ink: map.get(albar.$inks, 'albar');", 'albar → cumbre-sur', "$cumbre-sur-ink: map.get(cumbre-sur.$inks, 'cumbre-sur');", 'identifier'],
  ['estrato', 'a.ts', 'type AlbarProps = { albarId: string };', 'albar → cumbre-sur', 'type CumbreSurProps = { cumbreSurId: string };', 'identifier'],
  ['vereda', 'a.html', '<script>window.ALBAR = {}; albar.init();</script>', 'albar → cumbre', '<script>window.CUMBRE = {}; cumbre.init();</script>', 'identifier'],
  ['vereda', 'a.php', '<?php get("/themes/albar/?x=albar#albar");', 'albar → lumbre', '<?php get("/themes/lumbre/?x=lumbre#lumbre");', 'identifier'],
  // Digits, with and without a separator.
  ['icons', 'a.txt', 'paso2 paso-2 paso_2 PASO_2 Paso 2 Paso2', 'paso2 → cierzo3', 'cierzo3 cierzo-3 cierzo_3 CIERZO_3 Cierzo 3 Cierzo3', 'text'],
  ['bloque', 'a.css', '.paso2-nav { --paso-2-ink: red }', 'paso2 → cierzo3', '.cierzo3-nav { --cierzo-3-ink: red }', 'identifier'],
  ['vereda', 'a.txt', 'paso and paso3 are others', 'paso2 → cierzo3', 'paso and paso3 are others', 'none'],
  // Lengths that follow.
  ['vereda', 'a.txt', 'a:1:{s:5:"albar";s:9:"albar_nav";}', 'albar → lumbre', 'a:1:{s:6:"lumbre";s:10:"lumbre_nav";}', 'derived'],
  ['cordada', 'a.json', '{"x":"s:5:\\"albar\\";"}', 'albar → paso', '{"x":"s:4:\\"paso\\";"}', 'derived'],
  ['tramo', 'a.txt', 's:18:"a:1:{s:5:"albar";}";', 'albar → lumbreras', 's:22:"a:1:{s:9:"lumbreras";}";', 'derived'],
  ['tramo', 'a.txt', 's:9:"el albar!";s:8:"ñ albar";', 'albar → lumbre', 's:10:"el lumbre!";s:9:"ñ lumbre";', 'derived'],
  ['vereda', 'a.txt', 's:99:"albar";', 'albar → lumbre', 's:99:"lumbre";', 'identifier'],
  // A short name: only where the place supports it.
  ['vereda', 'a.css', '.oak-nav { --oak-ink: red }', 'oak → sol', '.sol-nav { --sol-ink: red }', 'identifier'],
  ['vereda', 'a.md', 'Under the oak tree, a cork-oak, and to soak', 'oak → sol', 'Under the oak tree, a cork-oak, and to soak', 'unsure'],
  ['bloque', 'a.md', '# Oak', 'oak → sol', '# Sol', 'text'],
  ['estrato', 'a.md', 'Set `oak`, “oak”, `oak_`, the theme oak, the oak theme', 'oak → sol', 'Set `sol`, “sol”, `sol_`, the theme sol, the sol theme', 'identifier'],
  ['cordada', 'a.yaml', 'tree: oak', 'oak → sol', 'tree: oak', 'unsure'],
  ['tramo', 'a.html', '<p class="box oak">the old oak</p>', 'oak → sol', '<p class="box sol">the old oak</p>', 'identifier'],
  ['horquilla', 'a.php', '<?php $x = "oak.weather"; // el sol', 'oak → sol', '<?php $x = "sol.weather"; // el sol', 'identifier'],
  ['vereda', 'a.css', '.x { position: absolute; color: solid-sol }', 'sol → oak', '.x { position: absolute; color: solid-sol }', 'kept'],
  // A common word: only where the place proves it.
  ['vereda', 'a.css', '.menu-item .menu { }', 'menu → lumbre', '.menu-item .menu { }', 'kept'],
  ['vereda', 'hooks.php', '<?php function core_setup() { core_render(); }', 'core → lumbre', '<?php function lumbre_setup() { lumbre_render(); }', 'identifier'],
  ['tramo', 'a.php', '<?php function core_setup() { core_render(); }', 'core → lumbre', '<?php function lumbre_setup() { core_render(); }', 'unsure'],
  ['horquilla', 'lib/a.php', '<?php core_look_menu(core_text());', 'core → lumbre', '<?php lumbre_look_menu(core_text());', 'unsure'],
  ['bloque', 'a.md', 'Core of the matter: what Core is.', 'core → lumbre', 'Core of the matter: what Lumbre is.', 'text'],
  ['bloque', 'a.css', '/* Core: base styles */ .core-wall { }', 'core → lumbre', '/* Lumbre: base styles */ .core-wall { }', 'unsure'],
  ['estrato', 'a.mjs', "import core from 'host/core'; export const x = 'core';", 'core → lumbre', "import core from 'host/core'; export const x = 'core';", 'unsure'],
  // Part of another theme's name: that one stays, and prose may mean either.
  ['vereda', 'a.md', 'The albar family: albar-noche, `albar`.', 'albar → lumbre', 'The albar family: albar-noche, `lumbre`.', 'unsure'],
  ['vereda', 'a.css', '.albar-nav, .albar-noche-nav { }', 'albar → lumbre', '.lumbre-nav, .albar-noche-nav { }', 'kept'],
  // Position before vocabulary: a property, a keyword, an element is the language’s.
  ['vereda', 'a.css', '.a { margin-right: 1px; right: 0; text-align: right }', 'right → lumbre', '.a { margin-right: 1px; right: 0; text-align: right }', 'kept'],
  ['cordada', 'a.css', '.theme-right .right-nav { --right-ink: red; border: double }', 'right → lumbre', '.theme-right .right-nav { --right-ink: red; border: double }', 'unsure'],
  ['tramo', 'a.css', '.a { box-shadow: 0 0 }\n@keyframes shadow-in { from { color: red } }', 'shadow → lumbre', '.a { box-shadow: 0 0 }\n@keyframes shadow-in { from { color: red } }', 'kept'],
  ['estrato', 'a.css', '@media (orientation: landscape) { .landscape-x { color: #bad } }', 'landscape → lumbre', '@media (orientation: landscape) { .landscape-x { color: #bad } }', 'unsure'],
  ['estrato', 'a.css', '.a{animation:cierzo-in 2s;grid-area:cierzo}@layer cierzo,base;@font-face{font-family:cierzo}', 'cierzo → lumbre', '.a{animation:lumbre-in 2s;grid-area:lumbre}@layer lumbre,base;@font-face{font-family:lumbre}', 'identifier'],
  ['vereda', 'a.scss', '@include cierzo-grid(2);\n.a { width: cierzo-size(1); @extend %cierzo-box; &-cierzo { top: 0 } }', 'cierzo → alto-valle', '@include alto-valle-grid(2);\n.a { width: alto-valle-size(1); @extend %alto-valle-box; &-alto-valle { top: 0 } }', 'identifier'],
  ['vereda', 'a.html', '<style>.a { float: right }</style><table frame="void"><menu class="x">', 'frame → lumbre', '<style>.a { float: right }</style><table frame="void"><menu class="x">', 'kept'],
  ['vereda', 'a.html', '<albar-card data-albar="1"></albar-card>', 'albar → cumbre-sur', '<cumbre-sur-card data-cumbre-sur="1"></cumbre-sur-card>', 'identifier'],
  ['tramo', 'a.js', 'switch (x) { default: break }\nexport default 1;', 'default → lumbre', 'switch (x) { default: break }\nexport default 1;', 'kept'],
  ['vereda', 'a.php', '<?php abstract class X { public static function y() {} }', 'static → lumbre', '<?php abstract class X { public static function y() {} }', 'kept'],
  ['bloque', 'a.py', 'from x import y\nclass Z: pass', 'class → lumbre', 'from x import y\nclass Z: pass', 'kept'],
  // One token stays one token, in every language.
  ['vereda', 'a.py', 'from albar import hut\nclass Albar(Hut):\n    """Albar, a theme"""  # of Albar', 'albar → cumbre-sur', 'from cumbre_sur import hut\nclass CumbreSur(Hut):\n    """Cumbre Sur, a theme"""  # of Cumbre Sur', 'identifier'],
  ['vereda', 'a.rb', "module Albar\n  require 'albar/hut'\n  albar = ALBAR", 'albar → cumbre-sur', "module CumbreSur\n  require 'cumbre-sur/hut'\n  cumbre_sur = CUMBRE_SUR", 'identifier'],
  ['icons', 'a.lua', 'local albar = require("albar.menu") -- of Albar', 'albar → cumbre-sur', 'local cumbre_sur = require("cumbre-sur.menu") -- of Cumbre Sur', 'identifier'],
  ['icons', 'a.go', 'type Albar struct { albar string } // Albar', 'albar → cumbre-sur', 'type CumbreSur struct { cumbreSur string } // Cumbre Sur', 'identifier'],
  ['icons', 'a.qml', 'Albar { id: albar; source: "albar/x.png" }', 'albar → cumbre-sur', 'CumbreSur { id: cumbreSur; source: "cumbre-sur/x.png" }', 'identifier'],
  ['icons', 'a.sh', 'ALBAR_DIR="/themes/albar"; albar() { echo "$albar"; } # Albar', 'albar → cumbre-sur', 'CUMBRE_SUR_DIR="/themes/cumbre-sur"; cumbre_sur() { echo "$cumbre_sur"; } # Cumbre Sur', 'identifier'],
  ['icons', 'a.java', 'public class Albar extends Theme { String albar = "The Albar"; }', 'albar → cumbre-sur', 'public class CumbreSur extends Theme { String cumbreSur = "The Cumbre Sur"; }', 'identifier'],
  ['tramo', 'a.html', '<script>\nvar albar = new Albar("albar");\n</script>\n<style>.albar-x { top: 0 }</style>', 'albar → cumbre-sur', '<script>\nvar cumbreSur = new CumbreSur("cumbre-sur");\n</script>\n<style>.cumbre-sur-x { top: 0 }</style>', 'identifier'],
  ['vereda', 'a.php', '<script>var albar = <?php echo albar_x(); ?>;</script><p>Albar</p>', 'albar → cumbre-sur', '<script>var cumbreSur = <?php echo cumbre_sur_x(); ?>;</script><p>Cumbre Sur</p>', 'identifier'],
  ['vereda', 'a.page', "{# of Albar #}{% set albar = Albar.x %}{{ albar }}{% include 'albar/x.html' %}", 'albar → cumbre-sur', "{# of Cumbre Sur #}{% set cumbre_sur = CumbreSur.x %}{{ cumbre_sur }}{% include 'cumbre-sur/x.html' %}", 'identifier'],
  ['icons', 'a.zz', 'class Albar(x)\nimport albar', 'albar → cumbre-sur', 'class CumbreSur(x)\nimport albar', 'unsure'],
  ['icons', 'a.zz', 'name = "albar"\ntitle = "The Albar"\n# Albar', 'albar → cumbre-sur', 'name = "cumbre-sur"\ntitle = "The Cumbre Sur"\n# Cumbre Sur', 'text'],
  // Prefixes that code puts together agree with what they make.
  ['vereda', 'a.php', "<?php x('albar_' . $x, \"albar_{$n}\", sprintf('albar_%s', 'albar-%d'));", 'albar → cumbre-sur', "<?php x('cumbre_sur_' . $x, \"cumbre_sur_{$n}\", sprintf('cumbre_sur_%s', 'cumbre-sur-%d'));", 'text'],
  ['estrato', 'a.js', "x('albar_' + n, `albar-${x}`, `albar_${x}`, 'ALBAR_' + y);", 'albar → cumbre-sur', "x('cumbre_sur_' + n, `cumbre-sur-${x}`, `cumbre_sur_${x}`, 'CUMBRE_SUR_' + y);", 'text'],
  ['estrato', 'a.py', "x = 'albar_' + n + f'albar_{n}' + 'albar_%s' % n", 'albar → cumbre-sur', "x = 'cumbre_sur_' + n + f'cumbre_sur_{n}' + 'cumbre_sur_%s' % n", 'text'],
  ['estrato', 'a.js', 'window["albar"] = 1; window.albar(); x = { "albar": 2 };', 'albar → cumbre-sur', 'window["cumbreSur"] = 1; window.cumbreSur(); x = { "cumbre-sur": 2 };', 'identifier'],
  // The exact id is not respelled where it stands alone.
  ['vereda', 'a.json', '{"theme": "Zefira", "for": "The Zefira theme"}', 'Zefira → paso', '{"theme": "paso", "for": "The Paso theme"}', 'text'],
  ['vereda', 'a.yaml', 'theme: Zefira\nuses: [Zefira, x]\npath: themes/Zefira/x.css\n# of Zefira', 'Zefira → paso-alto', 'theme: paso-alto\nuses: [paso-alto, x]\npath: themes/paso-alto/x.css\n# of Paso Alto', 'identifier'],
  ['vereda', 'a.php', "<?php load('Zefira'); // of Zefira", 'Zefira → paso-alto', "<?php load('paso-alto'); // of Paso Alto", 'identifier'],
  ['icons', 'a.ini', '[x]\nInherits=Zefira,hicolor\nComment=The Zefira icons', 'Zefira → paso-alto', '[x]\nInherits=paso-alto,hicolor\nComment=The Paso Alto icons', 'identifier'],
  // Credit by the comment, the attribute or the entry.
  ['vereda', 'a.css', '/*! Copyright 2026 Albar League */.albar-nav .author:hover{--albar-author:57px}.albar-x{top:0}', 'albar → lumbre', '/*! Copyright 2026 Albar League */.lumbre-nav .author:hover{--lumbre-author:57px}.lumbre-x{top:0}', 'identifier'],
  ['vereda', 'a.js', '/* (c) 2026 Albar */ albar.author = { author: "x", albar: 1 };', 'albar → lumbre', '/* (c) 2026 Albar */ lumbre.author = { author: "x", lumbre: 1 };', 'identifier'],
  ['vereda', 'a.html', '<meta name="author" content="Albar League"><p class="author albar-x">', 'albar → lumbre', '<meta name="author" content="Albar League"><p class="author lumbre-x">', 'identifier'],
  ['vereda', 'a.json', '{"author":"Albar League","name":"albar","authors":[{"name":"Albar People"}]}', 'albar → lumbre', '{"author":"Albar League","name":"lumbre","authors":[{"name":"Albar People"}]}', 'identifier'],
  ['vereda', 'a.php', '<?php\n/*\n * Albar\n * Copyright 2026 the league\n *\n * Albar prints huts.\n */', 'albar → lumbre', '<?php\n/*\n * Albar\n * Copyright 2026 the league\n *\n * Lumbre prints huts.\n */', 'kept'],
  // What says that it is generated says so in a leading comment.
  ['vereda', 'a.html', '<p>albar: this page was generated by hand</p>', 'albar → lumbre', '<p>lumbre: this page was generated by hand</p>', 'text'],
  ['vereda', 'a.py', '# Generated by a tool\nalbar = 1', 'albar → lumbre', '# Generated by a tool\nalbar = 1', 'kept'],
  ['vereda', 'a.yaml', 'about: generated by albar', 'albar → lumbre', 'about: generated by lumbre', 'text'],
  ['vereda', 'a.js', 'const x = "do not edit albar";', 'albar → lumbre', 'const x = "do not edit lumbre";', 'text'],
  // Not by look.
  ['vereda', 'a.css', '.x { background: image("albar-logo@2x.png") }', 'albar → lumbre', '.x { background: image("lumbre-logo@2x.png") }', 'identifier'],
  ['vereda', 'a.md', 'Load albar@1.2.0 from the shelf', 'albar → lumbre', 'Load lumbre@1.2.0 from the shelf', 'text'],
  ['vereda', 'a.js', '//albar.init()', 'albar → lumbre', '//lumbre.init()', 'identifier'],
  ['vereda', 'pages/news.html', '<p class="albar">', 'albar → lumbre', '<p class="lumbre">', 'identifier'],
  ['vereda', 'authors.html', '<p class="albar">', 'albar → lumbre', '<p class="lumbre">', 'identifier'],
  ['vereda', 'history.js', 'albar()', 'albar → lumbre', 'lumbre()', 'identifier'],
  // An id in one piece has the words of its title.
  ['vereda', 'a.php', '<?php function norte_cima_alta_setup() {} class Norte_Cima_Alta_Walker {} nortecimaalta_x();', 'nortecimaalta=Norte Cima-Alta → cumbre-sur', '<?php function cumbre_sur_setup() {} class Cumbre_Sur_Walker {} cumbre_sur_x();', 'identifier'],
  ['vereda', 'a.php', "<?php require 'class-norte-cima-alta-menu.php'; // Norte Cima-Alta, NorteCimaAlta, NORTE_CIMA_ALTA", 'nortecimaalta=Norte Cima-Alta → valleclaro=Valle Claro', "<?php require 'class-valle-claro-menu.php'; // Valle Claro, ValleClaro, VALLE_CLARO", 'text'],
  ['cordada', 'a.css', '/* Norte Cima-Alta */ .nortecimaalta-nav .norte-cima-alta { --norteCimaAlta: 0 }', 'nortecimaalta=Norte Cima-Alta → valleclaro=Valle Claro', '/* Valle Claro */ .valleclaro-nav .valle-claro { --valleClaro: 0 }', 'identifier'],
  ['estrato', 'a.js', "const norteCimaAlta = 'nortecimaalta'; NorteCimaAlta(NORTECIMAALTA);", 'nortecimaalta=Norte Cima-Alta → cumbre-sur', "const cumbreSur = 'cumbre-sur'; CumbreSur(CUMBRE_SUR);", 'identifier'],
  ['vereda', 'a.php', '<?php function norte_cima_setup() { norte_cima_menu(); } // norte-cima', 'nortecima=The North → valleclaro', '<?php function valleclaro_setup() { valleclaro_menu(); } // valleclaro', 'identifier'],
  ['estrato', 'a.js', 'class NorteCimaMenu {}', 'nortecima=The North → valle-claro', 'class ValleClaroMenu {}', 'identifier'],
  ['vereda', 'a.md', 'Under the norte cima, Nortecima', 'nortecima=The North → valle-claro', 'Under the norte cima, Valle Claro', 'text'],
  ['vereda', 'a.md', 'NORTE CIMA-ALTA and norte cima-alta', 'nortecimaalta=Norte Cima-Alta → valleclaro=Valle Claro', 'VALLE CLARO and valle claro', 'text'],
  ['vereda', 'a.md', 'InBob, inbob and in_bob_x', 'inbob=InBob → lumbre', 'Lumbre, lumbre and lumbre_x', 'text'],
  ['vereda', 'a.md', 'By iHut and IHUT; ihut', 'ihut=iHut → lumbre=luMbre', 'By luMbre and LUMBRE; lumbre', 'text'],
  ['vereda', 'a.md', 'soaked in Oak, and an oaken hut', 'albar=Oak → lumbre', 'soaked in Lumbre, and an oaken hut', 'text'],
  ['vereda', 'a.php', '<?php $host.foot; $x->foot(); // Foo', 'albar=Foo → lumbre', '<?php $host.foot; $x->foot(); // Lumbre', 'text'],
  // The text of a link that stays, where it names what is linked.
  ['vereda', 'a.md', 'See [Albar](https://x.example/albar), [the Albar theme](https://x.example/albar), [Albar](docs/albar.md)', 'albar → lumbre', 'See [Albar](https://x.example/albar), [the Albar theme](https://x.example/albar), [Lumbre](docs/lumbre.md)', 'kept'],
  ['vereda', 'a.html', '<a href="https://albar.example"><b>Albar</b></a> <a href="https://albar.example">Albar</a> <a href="/x">Albar</a>', 'albar → lumbre', '<a href="https://albar.example"><b>Albar</b></a> <a href="https://albar.example">Albar</a> <a href="/x">Lumbre</a>', 'kept'],
  // Documents of open standards declare the name.
  ['vereda', 'package.json', '{ "name": "core", "keywords": ["core"] }', 'core → lumbre', '{ "name": "lumbre", "keywords": ["core"] }', 'declared'],
  ['vereda', 'site.webmanifest', '{ "name": "Stone", "short_name": "Stone", "start_url": "/stone" }', 'stone=Stone → alto-valle', '{ "name": "Alto Valle", "short_name": "Alto Valle", "start_url": "/stone" }', 'declared'],
  ['vereda', 'CITATION.cff', 'cff-version: 1.2.0\ntitle: Core\nauthors:\n  - name: Core People', 'core=Core → lumbre=The "L"', 'cff-version: 1.2.0\ntitle: "The \\"L\\""\nauthors:\n  - name: Core People', 'declared'],
  ['vereda', 'a.scss', '$sizes: (albar: 1px, right: 2px); #{albar}-x { top: 0 } @font-feature-values Albar { top: 0 }', 'albar → cumbre-sur', '$sizes: (cumbre-sur: 1px, right: 2px); #{cumbre-sur}-x { top: 0 } @font-feature-values CumbreSur { top: 0 }', 'identifier'],
  ['vereda', 'a.html', '<p style="float: right; margin-right: 0; --right-x: 1">x</p>', 'right → lumbre', '<p style="float: right; margin-right: 0; --right-x: 1">x</p>', 'kept'],
  ['vereda', 'a.conf', '[theme]\nname = Albar\ninherit = albar\nAlias /albar\nServer Albar', 'albar → cumbre-sur', '[theme]\nname = Cumbre Sur\ninherit = cumbre-sur\nAlias /cumbre-sur\nServer CumbreSur', 'identifier'],
  ['vereda', 'a.py', "load('albar.menu', 'albar')", 'albar → cumbre-sur', "load('cumbre_sur.menu', 'cumbre-sur')", 'identifier'],
  // Code in strings, attributes and recipes; what only looks like it.
  ['estrato', 'a.js', 'x(`${albar}-albar ${x} albar`);', 'albar → cumbre-sur', 'x(`${cumbreSur}-cumbre-sur ${x} cumbre-sur`);', 'identifier'],
  ['estrato', 'a.py', "x = f'{albar}/albar' + '{albar}' + 'albar.css' + 'albar.menu'", 'albar → cumbre-sur', "x = f'{cumbre_sur}/cumbre-sur' + '{cumbre-sur}' + 'cumbre-sur.css' + 'cumbre_sur.menu'", 'identifier'],
  ['estrato', 'a.rb', 'x = "#{albar}/albar"', 'albar → cumbre-sur', 'x = "#{cumbre_sur}/cumbre-sur"', 'identifier'],
  ['vereda', 'a.html', '<b onclick="albar.run(\'albar\')" class="albar">x</b>', 'albar → cumbre-sur', '<b onclick="cumbreSur.run(\'cumbre-sur\')" class="cumbre-sur">x</b>', 'identifier'],
  ['vereda', 'a.php', '<?php\n/** @package Albar */', 'albar → cumbre-sur', '<?php\n/** @package Cumbre_Sur */', 'text'],
  ['vereda', 'a.md', 'An _albar_ and **Albar**', 'albar → cumbre-sur', 'An _cumbre-sur_ and **Cumbre Sur**', 'text'],
  ['vereda', 'Makefile', 'NAME = albar\nall: albar.css # Albar', 'albar → cumbre-sur', 'NAME = cumbre-sur\nall: cumbre-sur.css # Cumbre Sur', 'text'],
  ['vereda', 'a.txt', 'ImageDir=/x/themes\nScriptFile=/x/hut', 'script → lumbre', 'ImageDir=/x/themes\nScriptFile=/x/hut', 'unsure'],
  // Letters without case are no hump.
  ['vereda', 'a.md', 'Albarのテーマ、ALBARの', 'albar → cumbre-sur', 'Cumbre Surのテーマ、CUMBRE SURの', 'text'],
  // Titles and vendors.
  ['tramo', 'a.php', '<?php use Refugio\\Albar\\Setup;', 'Refugio/albar → Paso/lumbre', '<?php use Paso\\Lumbre\\Setup;', 'identifier'],
  ['tramo', 'a.md', 'Refugio is a house. See Refugio_Albar.', 'Refugio/albar → Paso/lumbre', 'Refugio is a house. See Paso_Lumbre.', 'unsure'],
];

/** `albar`, `albar=The title`, or `Refugio/albar` with a vendor. */
function parse(name: string): FullName {
  const [own = '', title] = name.split('=');
  const [id = '', vendor] = own.split('/').toReversed();
  return { ...named(id, title), vendor };
}

describe('a line', () => {
  it('is one of at least sixty, over all kinds of platforms', () => {
    expect(ROWS.length).toBeGreaterThanOrEqual(60);
    expect(new Set(ROWS.map(([platform]) => platform)).size).toBe(7);
  });

  it.each(ROWS)('of %s, %s: %s (%s)', (platform, file, before, names, after, hasClass) => {
    const [from, to] = names.split(' → ').map(parse);
    const others = /noche/i.test(before) ? ['albar-noche'] : [];
    const result = rename({ [file]: `${before}\n` }, from ?? named(''), to ?? named(''), { platform, others });
    expect(result.tree.read(result.moves[0]?.to ?? file).toString()).toBe(`${after}\n`);
    const classes = [...result.edits.map((edit) => edit.kind), ...result.kept.map(() => 'kept'), ...result.unsure.map(() => 'unsure')];
    expect(classes.length === 0 ? ['none'] : classes).toContain(hasClass);
    expect(result.leftovers).toEqual([]);
  });
});
