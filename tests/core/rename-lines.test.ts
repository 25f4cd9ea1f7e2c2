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
  ['vereda', 'a.html', '<script>window.ALBAR = {}; albar.init();</script>', 'albar → cumbre', '<script>window.CUMBRE = {}; cumbre.init();</script>', 'text'],
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
  ['vereda', 'a.css', '.x { position: absolute; color: solid-sol }', 'sol → oak', '.x { position: absolute; color: solid-sol }', 'unsure'],
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
  // Titles and vendors.
  ['tramo', 'a.php', '<?php use Refugio\\Albar\\Setup;', 'Refugio/albar → Paso/lumbre', '<?php use Paso\\Lumbre\\Setup;', 'identifier'],
  ['tramo', 'a.md', 'Refugio is a house. See Refugio_Albar.', 'Refugio/albar → Paso/lumbre', 'Refugio is a house. See Paso_Lumbre.', 'unsure'],
];

/** `albar`, or `Refugio/albar` with a vendor. */
function parse(name: string): FullName {
  const [id = '', vendor] = name.split('/').toReversed();
  return { ...named(id), vendor };
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
