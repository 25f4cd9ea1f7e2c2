import { describe, expect, it } from 'vitest';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { plannedTree } from '../../src/core/changes/plan.ts';
import { readText } from '../../src/core/files/read-text.ts';
import { renameTree } from '../../src/core/rename/rename-tree.ts';
import { readPlatform } from '../../src/core/platform/load.ts';
import type { Platform } from '../../src/core/platform/platform.ts';
import { checkTheme } from '../../src/core/rules/engine/check.ts';
import { checkPlatform } from '../../src/core/scaffold/check-platform.ts';
import { setFacts } from '../../src/core/facts/set-facts.ts';
import { fillShape } from '../../src/core/names/shape.ts';
import { isOneFile, placeOfFolder } from '../../src/core/theme/place.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { codeOf } from '../support/advice.ts';
import { onShelf, platformNamed, themeOf } from '../support/trees.ts';
import { named as name } from '../support/renaming.ts';

/** A host of huts with a manifest and nothing else; each test widens it by the words that it is about. */
function platformWith(more: string, fields = ''): Platform {
  const text = `pionero: platform/1
name: refugio
title: Refugio
summary: A theme is a folder with a manifest
releases: ["1", "2", "3"]
${more.includes('home:') ? '' : 'home: themes/{id}\n'}id: { pattern: "^[a-z][a-z0-9-]*$", grammar: small letters }
recognise: [{ path: hut.json }]
package: { formats: [zip] }
${more.includes('documents:') ? '' : `documents: [{ path: hut.json, syntax: json, required: always, fields: [${fields}] }]\n`}${more}
`;
  return readPlatform(MemoryTree.of({ 'refugio.platform.yaml': text }), 'refugio.platform.yaml', 'refugio.platform.yaml', '/nowhere');
}

type Files = Readonly<Record<string, string>>;

function findingsOf(platform: Platform, files: Files, siblings: Readonly<Record<string, Files>> = {}): string[] {
  const others = Object.entries(siblings).map(([id, own]) => themeOf(platform, id, own));
  const { theme, chain, shelves } = onShelf(themeOf(platform, 'cierzo', files), others);
  return checkTheme(theme, chain, shelves).findings.map(({ rule, file, line, message }) => `${rule} ${file}:${line} ${message}`);
}

it.each([
  ['home: looks/{id}', false],
  ['home: looks/{id}.css', true],
  ['home: looks/{id}.look\ntheme-is: folder', false],
  ['home: looks/look_{id}\ntheme-is: file', true],
])('%s: whether a theme is one file', (home, isFile) => {
  const platform = platformWith(home);
  const place = `/site/${fillShape(platform.contract.home, { id: 'cierzo' })}`;
  expect([isOneFile(platform), placeOfFolder(platform, place)]).toEqual([isFile, { shelf: '/site/looks', names: { id: 'cierzo' } }]);
});

const json = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

const TEMPLATES = `templates: { files: ["*.tpl"], roles: {}, any-page: true, language: { include: ['<< "{path}" >>'] }, partials: { file: "{path}.tpl" } }`;
const names = platformWith(`templates:
  files: ["*.tpl"]
  roles: {}
  any-page: true
  partials: { file: "{path}.tpl" }
  language:
    comment: ["{# {text} #}"]
    extend: ['{% extends "{path}" %}']
    opens: ["{% block {text} %}"]
    closes: ["{% end %}"]
    names:
      - { called: filter, shape: "| {name}", within: ["{{ {text} }}"], known: [upper, "date_*"] }
      - { called: function, shape: "{name}(", within: ["{{ {text} }}"], known: [link], declared: ["macro {name}("] }
      - { called: object, shape: '<h:o name="{name}"', known: [menu], any-case: true }
      - { called: block, shape: "{% block {name}", known: [foot], inherited: true, once: true }
`);
const several2 = platformWith(`templates:
  files: ["pages/*.{ejs,njk,pug}"]
  language: { like: ejs, include: ["part('{path}')"], names: [{ called: function, known: [part, link] }] }
  languages:
    - { files: ["**/*.njk"], language: jinja }
    - { files: ["**/*.pug"], language: { comment: ["//- {text}\\n"], include: ["include {path}.pug"] } }
  endings: [ejs, njk, pug]
  roles: { front: { file: pages/front.ejs } }
  any-page: true
  partials: { file: "pages/{path}.ejs" }
references: [{ files: ["pages/**"], shape: "sheet('{path}')", file: ["css/{path}", "css/{path}.css"] }]
strings: { file: "texts/{locale}.yaml", format: yaml, used: "say('{path}')", used-in: ["pages/**"] }
`);
const outside = platformWith('', '{ key: base, fact: base, type: path, outside: allowed }');
const scripts = platformWith('files: [{ path: "scripts/*.js", required: always, empty: refused, without: nothing moves }]');
const GROUND = `${TEMPLATES}
images: [{ role: cover, path: cover.svg, formats: [svg] }]
inheritance: { kind: chain, always-last: ground, built-in: [ground], built-in-files: { ground: [front.tpl, "parts/{a,b}.css"] }, inherits: ["**"] }`;
const unasked = platformWith(GROUND);
const unaskedFolders = platformWith(GROUND, '{ key: folders, fact: folders, type: list }');
const bare2 = platformWith('', '{ key: title, fact: title }');
const shaped = platformWith(
  'inheritance: { kind: chain, fact: icons, built-in: [ground] }',
  '{ key: icons, fact: icons, type: theme, shape: "icons/{id}_look" }, { key: more, fact: more, type: list, of: theme, shape: "icons/{id}_look" }',
);

type Siblings = Readonly<Record<string, Files>>;
type Case = readonly [why: string, platform: Platform, files: Files, wanted: readonly (string | RegExp)[], siblings?: Siblings];

const modules = platformWith(
  '',
  '{ key: [modules, "*", name], fact: moduleName, required: always }, { key: [modules, "*", sheets], fact: moduleSheets, type: list, of: path }',
);
const deep = platformWith(
  '',
  '{ key: ["**", icon], fact: icon, type: path }, { key: title, fact: title }, { key: [pages, "*", "*"], fact: pages }',
);
const named = platformWith('', '{ key: [themes, "{id}", title], fact: title, required: always }');
const several = platformWith(
  '',
  '{ key: author, fact: author, type: text, or: [list, map] }, { key: size, fact: size, type: integer, or: [boolean] }',
);
const sections = platformWith(
  '',
  '{ key: [open], fact: open, type: map, other-fields: allowed }, { key: [open, a], fact: openA }, { key: [shut, a], fact: shutA }, { key: [none], fact: none, type: map, other-fields: ignored }',
);
const patterned = platformWith('', '{ key: colour, fact: colour, pattern: "#[0-9a-f]{6}", grammar: "a colour like #336699" }');
const conditional = platformWith(
  'files: [{ path: shop.html, required-when: { fact: kind, is: shop } }]\ndocuments: [{ path: hut.json, syntax: json, fields: [{ key: kind, fact: kind }, { key: currency, fact: currency, required-when: { fact: kind, is: [shop, market] }, allowed-when: { fact: kind, is: [shop, market] } }] }, { path: prices.json, syntax: json, required-when: { fact: currency, is: "*" } }]',
);
const releases = platformWith(
  '',
  '{ key: hosts, fact: hosts, type: list, of: range }, { key: old, fact: old, required: always, until: "1" }, { key: new, fact: new, required: always, since: "3" }',
);
const places = platformWith(
  'inheritance: { kind: parent, fact: parent }',
  '{ key: parent, fact: parent, type: parent }, { key: cover, fact: cover, type: path, shape: "/srv/refugio/themes/{id}/{path}" }, { key: sheets, fact: sheets, type: list, of: path, shape: "/srv/refugio/themes/{id}/{path}" }',
);
const either = platformWith(
  '',
  '{ key: icons, fact: icons, type: theme, none: default }, { key: more, fact: more, type: list, of: theme }',
);
const lines = platformWith(
  'documents: [{ path: hut.conf, syntax: key-value, fields: [{ key: title, fact: title, required: always }, { key: sheets, fact: sheets, type: list, of: path, separator: " " }] }]',
);
const assigned = platformWith(
  `documents: [{ path: conf.php, syntax: php, options: { at: assignments }, fields: [{ key: ["$conf", title], fact: title, required: always }, { key: ["$meta", sheet], fact: sheet, type: path }] }]`,
);
const mentions = platformWith(
  'references: [{ files: ["*.tcl"], shape: "image(\\"{path}\\")" }, { files: ["lib/*.txt"], shape: "see <{path}>", relative: true }, { files: ["*.lst"], shape: "[{path}]", under: pictures }]',
);
const includes = (relative: string): Platform =>
  platformWith(
    `templates: { files: ["**/*.tpl"], roles: {}, any-page: true, language: { include: ['<< "{path}" >>'] }, partials: { file: "{path}.tpl", relative: ${relative} } }`,
  );
const texts = platformWith(
  'strings: { file: "words/{locale}.php", format: php, options: { at: "$words =" }, keys: "{id:flat}-{name}", host-keys: ["save", "date-*"], used: "say(\'{path}\')", incomplete: true }',
);
const bare = platformWith('documents: []');

const CASES: readonly Case[] = [
  [
    'keys by pattern',
    modules,
    { 'hut.json': json({ modules: { a: { name: 'A', sheets: ['gone.css'] }, b: {} } }) },
    [/^field\/missing hut.json:.*no “modules.b.name”/, /^field\/path hut.json:6 .*“modules.a.sheets” names gone.css/],
  ],
  ['keys by pattern, of which none is there', modules, { 'hut.json': json({}) }, []],
  [
    'keys by pattern, one misspelt',
    modules,
    { 'hut.json': json({ modules: { a: { nmae: 'A' } } }) },
    [/^field\/unknown hut.json:4 “modules.a.nmae” is not a field of hut.json; “modules.a.name” is/],
  ],
  [
    'keys at any depth, and in lists',
    deep,
    { 'hut.json': json({ title: 'x', icon: 'a.svg', pages: { front: { icon: 'b.svg' } }, menu: [{ icon: 'c.svg' }] }), 'b.svg': '<svg/>' },
    [/field\/path hut.json:11 “menu.0.icon” names c.svg/, /field\/path hut.json:3 .*a.svg/],
  ],
  ['a key that is the id', named, { 'hut.json': json({ themes: { cierzo: { title: 'Cierzo' } } }) }, []],
  [
    'a key that is another id',
    named,
    { 'hut.json': json({ themes: { cierza: { title: 'Cierzo' } } }) },
    [/field\/unknown hut.json:3 “themes.cierza” is not a field of hut.json; “themes.cierzo” is/],
  ],
  [
    'a page in another language',
    several2,
    { 'hut.json': '{}', 'pages/front.njk': '{% include "top" %}\n', 'pages/top.pug': 'b Huts\n' },
    [],
  ],
  [
    'partials that are nowhere, each asked for as its language does',
    several2,
    {
      'hut.json': '{}',
      'pages/front.ejs': "<%- part('top') %>",
      'pages/a.njk': '{% include "beds" %}',
      'pages/b.pug': '//- include huts.pug\ninclude way.pug\n',
    },
    [/pages\/a.njk:1 .*“beds”/, /pages\/b.pug:2 .*“way”/, /pages\/front.ejs:1 .*“top”/],
  ],
  [
    'a partial that says its ending',
    several2,
    { 'hut.json': '{}', 'pages/front.ejs': "<%- part('top.njk') %>", 'pages/top.pug': '' },
    [/template\/partial pages\/front.ejs:1 .*“top.njk”/],
  ],
  [
    'code that cannot be compiled',
    several2,
    { 'hut.json': '{}', 'pages/front.ejs': '<% for (const hut of huts) { -%>\n<%= hut; %><%_ if (hut) { %>\n<% } %>' },
    ['template/syntax pages/front.ejs:3 the template cannot be compiled: unexpected token'],
  ],
  [
    'functions that are called and nobody has',
    several2,
    {
      'hut.json': '{}',
      'pages/front.ejs':
        '<% const own = (a) => a; for (const hut of huts) { %><%- own(hut) + link(hut) + hut.text() + lnik(1) + told(2) %><% } %>',
      'pages/b.ejs': "<%- part('front', { told: 1 }) %>",
    },
    ['template/name pages/front.ejs:1 “lnik” is not a function of the host or the theme'],
  ],
  [
    'a partial that includes itself without a condition',
    several2,
    {
      'hut.json': '{}',
      'pages/front.ejs': "<%- part('a') + part('b') %>",
      'pages/a.ejs': "<% if (deep) { %><%- part('a') %><% } %>",
      'pages/b.ejs': "<%- part('b') %>",
    },
    ['partial/circle pages/b.ejs:1 the partial “b” includes itself: b → b'],
  ],
  [
    'files that are meant with or without their ending',
    several2,
    {
      'hut.json': '{}',
      'pages/front.ejs': "<%- link(sheet('/hut')) %>sheet('hut.css') $x.sheet('no') mysheet('no') sheet('//huts') sheet('way')",
      'css/hut.css': 'p {}\n',
    },
    [
      'template/name pages/front.ejs:1 “sheet” is not a function of the host or the theme',
      'asset/missing pages/front.ejs:1 “css/way.css” does not exist',
    ],
  ],
  [
    'texts that are asked for where they can be',
    several2,
    {
      'hut.json': '{}',
      'pages/front.pug': "p= say('menu.home') + say('beds')\n",
      'a.js': "say('nowhere');\n",
      'texts/en.yaml': 'menu:\n  home: "\nHome\n"\n',
      'texts/es.yaml': 'menu: [\n',
    },
    [/strings\/undefined pages\/front.pug:1 “beds” is in none of the catalogues \(texts\/en.yaml\)/, /strings\/syntax texts\/es.yaml:2/],
  ],
  ['a text where a list may be', several, { 'hut.json': json({ author: 'Lumbre', size: true }) }, []],
  ['a list, a map', several, { 'hut.json': json({ author: { name: 'Lumbre' }, size: 4 }) }, []],
  [
    'none of the types',
    several,
    { 'hut.json': json({ size: 'big' }) },
    ['field/type hut.json:2 “size” is “big”; expected: a whole number, or true or false'],
  ],
  [
    'open and closed sections',
    sections,
    { 'hut.json': json({ open: { b: 1 }, shut: { b: 1 }, none: { x: 1 } }) },
    [
      'field/unknown hut.json:6 “shut.b” is not a field of hut.json; “shut.a” is',
      'field/unknown hut.json:9 “none.x” is not a field of hut.json',
    ],
  ],
  [
    'a slip in an open section',
    platformWith('', '{ key: [open], fact: open, type: map, other-fields: allowed }, { key: [open, colour], fact: colour }'),
    { 'hut.json': json({ open: { colout: 1, wide: 2 } }) },
    ['field/unknown hut.json:3 “open.colout” is not a field of hut.json; “open.colour” is'],
  ],
  ['a value that matches', patterned, { 'hut.json': json({ colour: '#00ff00' }) }, []],
  [
    'a value of which only a part does',
    patterned,
    { 'hut.json': json({ colour: 'like #00ff00' }) },
    ['field/type hut.json:2 “colour” is “like #00ff00”; expected: a colour like #336699'],
  ],
  [
    'a value that does not',
    patterned,
    { 'hut.json': json({ colour: 'green' }) },
    ['field/type hut.json:2 “colour” is “green”; expected: a colour like #336699'],
  ],
  ['nothing decides', conditional, { 'hut.json': json({ kind: 'blog' }) }, []],
  [
    'required with a fact',
    conditional,
    { 'hut.json': json({ kind: 'shop' }), 'shop.html': '' },
    ['field/missing hut.json:1 hut.json has no “currency”'],
  ],
  [
    'a file, and a document',
    conditional,
    { 'hut.json': json({ kind: 'shop', currency: 'EUR' }) },
    ['document/missing prices.json:1 prices.json is missing: the host does not recognize the theme', /file\/missing shop.html/],
  ],
  [
    'allowed with a fact',
    conditional,
    { 'hut.json': json({ kind: 'blog', currency: 'EUR' }), 'prices.json': '{}' },
    ['field/elsewhere hut.json:3 “currency” counts only where kind is “shop” or “market”'],
  ],
  ['releases as a list', releases, { 'hut.json': json({ hosts: ['2', '3'] }) }, ['field/missing hut.json:1 hut.json has no “new”']],
  ['one release', releases, { 'hut.json': json({ hosts: ['1'] }) }, ['field/missing hut.json:1 hut.json has no “old”']],
  [
    'releases that are none',
    releases,
    { 'hut.json': json({ hosts: ['7', '8'] }) },
    ['range/releases hut.json:2 “7 || 8” includes none of the releases 1, 2, 3'],
  ],
  [
    'the host’s own place',
    places,
    {
      'hut.json': json({
        cover: '/srv/refugio/themes/cierzo/a.png',
        sheets: ['/srv/refugio/themes/cierzo/b.css', '/srv/refugio/themes/cierzo/c.css'],
      }),
      'b.css': 'b{}',
    },
    [/field\/path hut.json:2 “cover” names \/srv\/refugio\/themes\/cierzo\/a.png/, /field\/path hut.json:5 .*c.css/],
  ],
  [
    'another place',
    places,
    { 'hut.json': json({ cover: 'a.png' }), 'a.png.txt': 'x' },
    ['field/type hut.json:2 “cover” is “a.png”; expected: a text like /srv/refugio/themes/{id}/{path}'],
  ],
  [
    'this theme, or another',
    either,
    { 'hut.json': json({ icons: 'cierzo', more: ['cierzo', 'cierza'] }) },
    ['field/theme hut.json:5 “more” names the theme “cierza”, which is on no shelf'],
  ],
  ['no theme', either, { 'hut.json': json({ icons: 'default' }) }, []],
  [
    'lines of keys and values',
    lines,
    { 'hut.conf': '# so\ntitel\tCierzo\nsheets a.css b.css\n', 'a.css': 'a{}' },
    ['field/unknown hut.conf:2 “titel” is not a field of hut.conf; “title” is', /field\/path hut.conf:3 “sheets” names b.css/],
  ],
  [
    'repeated assignments',
    assigned,
    { 'conf.php': "<?php\n$conf['titel'] = 'x';\n$meta['sheet'] = 'a.css';\n$own = 1;\n" },
    [
      /field\/unknown conf.php:2 “\$conf.titel” .*“\$conf.title” is/,
      /field\/path conf.php:3 “\$meta.sheet” names a.css/,
      /field\/unknown conf.php:4 “\$own”/,
    ],
  ],
  [
    'mentions elsewhere',
    mentions,
    {
      'hut.json': '{}',
      'a.tcl': 'x image("b.svg") image("gone.png")\n',
      'b.svg': '<svg/>',
      'lib/c.txt': 'see <d.txt> see <e.txt>\n',
      'lib/d.txt': 'x',
      'f.lst': '[ridge.svg] [g.svg]\n',
      'pictures/ridge.svg': '<svg/>',
    },
    [/asset\/missing a.tcl:1 “gone.png”/, /asset\/missing f.lst:1 “g.svg”/, /asset\/missing lib\/c.txt:1 “e.txt”/],
  ],
  [
    'includes from the theme',
    includes('never'),
    { 'hut.json': '{}', 'a/b.tpl': '<< "a/c" >><< "c" >>', 'a/c.tpl': 'x' },
    [/template\/partial a\/b.tpl:1 .*“c” does not exist: there is no c.tpl/],
  ],
  [
    'includes beside the file',
    includes('always'),
    { 'hut.json': '{}', 'a/b.tpl': '<< "a/c" >><< "c" >>', 'a/c.tpl': 'x' },
    [/template\/partial .*there is no a\/a\/c.tpl/],
  ],
  [
    'includes with a dot',
    includes('dotted'),
    { 'hut.json': '{}', 'a/b.tpl': '<< "./c" >><< "a/c" >><< "../d" >><< "../../e" >>', 'a/c.tpl': 'x', 'd.tpl': 'x' },
    [],
  ],
  [
    'includes beside the file first',
    includes('first'),
    { 'hut.json': '{}', 'a/b.tpl': '<< "c" >><< "d" >><< "e" >>', 'a/c.tpl': 'x', 'd.tpl': 'x' },
    [/template\/partial .*there is no e.tpl/],
  ],
  [
    'a circle beside the file',
    platformWith(
      `templates: { files: ["**/*.tpl"], roles: {}, language: { include: ['<< "{path}" >>'], opens: ["<if>"], closes: ["</if>"] }, partials: { file: "{path}.tpl", relative: first } }`,
    ),
    { 'hut.json': '{}', 'a/b.tpl': '<< "c" >>', 'a/c.tpl': '<< "b" >>', 'c.tpl': 'x' },
    [/partial\/circle a\/b.tpl:1 .*a\/b → a\/c → a\/b/, /partial\/circle a\/c.tpl/],
  ],
  [
    'a template that takes in the one of its name of another theme',
    platformWith(
      `inheritance: { kind: chain, fact: parent, built-in: [ground], inherits: ["*"] }\ntemplates: { files: ["*.tpl"], roles: {}, any-page: true, named-theme: "{id}/{path}", language: { include: ['<< "{path}" >>'], opens: ["<if>"], closes: ["</if>"] }, partials: { file: "{path}" } }`,
      '{ key: parent, fact: parent, type: parent }',
    ),
    { 'hut.json': json({ parent: 'ground' }), 'a.tpl': '<< "ground/a.tpl" >>', 'b.tpl': '<< "cierzo/b.tpl" >>' },
    [/partial\/circle b.tpl:1/],
  ],
  [
    'texts in code',
    texts,
    {
      'hut.json': '{}',
      'words/es.php': "<?php\n$words = [\n'cierzo-hi' => 'Hola',\n'save' => 'Guardar',\n'bye' => 'Adiós'];\n",
      'words/en.php': "<?php\n$words = ['cierzo-hi' => 'Hi', 'cierzo-more' => 'x'];\n",
      'a.php': "<?php say('cierzo-hi'); say('date-long'); say('cierzo-gone');\n",
    },
    [/strings\/key words\/es.php:5 “bye” must look like cierzo-\{name\}/, /strings\/undefined a.php:1 “cierzo-gone”/],
  ],
  ['no documents', bare, { 'hut.json': '{}', 'a.css': 'a{}' }, []],
  [
    'names that the host or the theme has, as they are written in its tags',
    names,
    {
      'hut.json': '{}',
      'a.tpl':
        '{{ x|upper|date_long }}{{ link(1) }}{{ own(x | upper) }}{{ hut.lnk(1) }}{{ "lnk(" ~ \'|uper\' }} lnk( |uper {# {{ lnk(1) }} #}<h:o name="MENU">',
      'b.tpl': '{% macro own(a) %}{{ made(a) }}',
      'hooks.php': "<?php add('made');",
    },
    [],
  ],
  [
    'names that neither has',
    names,
    { 'hut.json': '{}', 'a.tpl': '{{ x|uper }}\n{{ lnk(1) }}\n{% macro own(a) %}{{ owm(x|lower) }}<h:o name="menus">' },
    [
      'template/name a.tpl:1 “uper” is not a filter of the host or the theme',
      'template/name a.tpl:2 “lnk” is not a function of the host or the theme',
      'template/name a.tpl:3 “owm” is not a function of the host or the theme',
      'template/name a.tpl:3 “lower” is not a filter of the host or the theme',
      'template/name a.tpl:3 “menus” is not a object of the host or the theme',
    ],
  ],
  [
    'places that the template has which they are laid into, or the host, or a template between',
    names,
    {
      'hut.json': '{}',
      'a.tpl': '{% block page %}{% block side %}{% end %}{% end %}',
      'b.tpl': '{% extends "a" %}{% block side %}{% block inner %}{% end %}{% end %}{% block foot %}{% end %}',
      'c.tpl': '{% extends "b" %}{% block inner %}{% end %}{% block page %}{% end %}',
    },
    [],
  ],
  [
    'places that nothing has',
    names,
    {
      'hut.json': '{}',
      'a.tpl': '{% block side %}{% end %}',
      'b.tpl': '{% extends "a" %}{% block sid %}{% end %}\n{% block fot %}{% end %}\n{% block side %}{% end %}{% block side %}{% end %}',
    },
    [
      'template/name b.tpl:3 the block “side” is there twice, and the host stops at the second',
      'template/place b.tpl:1 the block “sid” has no place in a: what is in it is never shown',
      'template/place b.tpl:2 the block “fot” has no place in a: what is in it is never shown',
    ],
  ],
  ...(
    [
      [
        'liquid',
        '{%- comment -%}{% render "no.t" %}{% endcomment %}{% if x %}{% render "gone.t", a: 1 %}{%- section "gone2.t" -%}{% endif %}',
      ],
      ['ejs', '<%# <%- include("no.t") %><% if (x) { %><%- include("gone.t", { a }) %><% } %><%- include(\'gone2.t\') %>'],
      ['jinja', '{#- {% include "no.t" %} -#}{%- if x -%}{%- include "gone.t" -%}{%- endif -%}{% include "gone2.t" ignore missing %}'],
    ] as const
  ).map(([language, text]): Case => [
    `${language} by its name`,
    platformWith(`templates: { language: ${language}, files: ["*.t"], roles: {}, any-page: true, partials: { file: "{path}" } }`),
    { 'hut.json': '{}', 'a.t': '{% block x %}{% endblock %}', 'b.t': text },
    [/^template\/partial b.t:1 .*“gone.t”/, /^template\/partial b.t:1 .*“gone2.t”/],
  ]),
  [
    'what is like a language, with names of its own and of the language',
    platformWith(
      'templates: { language: { like: jinja, names: [{ called: filter, known: [metres] }, { called: tag, known: [] }] }, files: ["*.t"], roles: {}, any-page: true }',
    ),
    { 'hut.json': '{}', 'a.t': '{{ x|metres|upper|feet }}{% set y = x|lowre %}{% trans %}{% endtrans %}{% do x %}{{ anything(x) }}' },
    [/“feet” is not a filter/, /“lowre” is not a filter/, /“do” is not a tag/],
  ],
  [
    'a path that may lead out',
    platformWith('', '{ key: base, fact: base, type: path, outside: allowed }, { key: sheet, fact: sheet, type: path }'),
    { 'hut.json': json({ base: '../../shared/base.css', sheet: '../a.css' }) },
    [/^field\/path hut.json:3 “sheet” names \.\.\/a.css/, /^field\/type hut.json:3 .*a path inside the theme/],
  ],
  ['a path that may lead out, and does not', outside, { 'hut.json': json({ base: 'gone.css' }) }, [/^field\/path hut.json:2 .*gone.css/]],
  ['a path that may lead out, from the root of the system', outside, { 'hut.json': json({ base: '/srv/base.css' }) }, []],
  [
    'mentions that say a part of a path, or nothing of it',
    platformWith(
      'references: [{ files: ["*.php"], shape: "show_part({name})", file: "parts/{name}.php" }, { files: ["*.php"], shape: "show_head()", file: head.php }]',
    ),
    { 'hut.json': '{}', 'a.php': '<?php show_part(menu); show_part(gone);\nshow_head();', 'parts/menu.php': '<?php' },
    ['asset/missing a.php:1 “parts/gone.php” does not exist', 'asset/missing a.php:2 “head.php” does not exist'],
  ],
  [
    'identifiers of several shapes',
    platformWith(
      'identifiers: [{ files: ["*.php"], declared: "function {name}(", shape: ["{id}_{name}", "{id:pascal}{name}"], why: one space }]',
    ),
    { 'hut.json': '{}', 'a.php': '<?php function cierzo_a() {} function CierzoB() {} function AlbarC() {} function d() {}' },
    [
      'identifier/prefix a.php:1 “AlbarC” carries the name of the theme “albar”; names here look like cierzo_… or Cierzo…',
      'identifier/prefix a.php:1 “d” does not carry the theme’s id; names here look like cierzo_… or Cierzo…',
    ],
    { albar: { 'hut.json': '{}' } },
  ],
  ['a glob that is required, and there', scripts, { 'hut.json': '{}', 'scripts/a.js': 'a();' }, []],
  [
    'a glob that is required, and names nothing',
    scripts,
    { 'hut.json': '{}', 'scripts/a.ts': 'a();' },
    ['file/missing scripts/*.js:1 scripts/*.js is missing: nothing moves'],
  ],
  ['a glob of which one is empty', scripts, { 'hut.json': '{}', 'scripts/a.js': ' ', 'scripts/b.js': 'b' }, [/^file\/empty scripts\/a.js/]],
  ['what ends every chain unasked serves its files', unasked, { 'hut.json': '{}', 'a.tpl': '<< "front" >>' }, []],
  ['and no others', unasked, { 'hut.json': '{}', 'a.tpl': '<< "back" >>' }, [/template\/partial a.tpl:1 .*there is no back.tpl/]],
  [
    'in another case, or a folder of another name, than one of the parent, than one that is looked for',
    unasked,
    {
      'hut.json': '{}',
      'Front.tpl': 'x',
      'part/b.css': 'b{}',
      'more/b.css': 'b{}',
      'Cover.SVG': '<svg xmlns="http://www.w3.org/2000/svg"/>',
    },
    [
      /^file\/passed-over Front.tpl:1 the host takes front.tpl of ground, and ignores Front.tpl/,
      'file/passed-over part/b.css:1 the host looks for parts/b.css, and ignores part/b.css: its folder has another name',
      /^file\/passed-over Cover.SVG:1 .*looks for cover.svg/,
    ],
  ],
  [
    'a folder of nearly the name of the parent’s, which the theme names',
    unaskedFolders,
    { 'hut.json': json({ folders: ['part'] }), 'part/b.css': 'b{}' },
    [],
  ],
  [
    'a document in another case',
    bare2,
    { 'Hut.json': '{}' },
    ['document/missing hut.json:1 hut.json is missing; “Hut.json” differs by case only, which counts on most servers'],
  ],
  [
    'addresses by a function, of a theme that is served as it is',
    platformWith(`${TEMPLATES}\nassets: { addresses: ['at("{path}")'] }`),
    { 'hut.json': '{}', 'a.tpl': 'at("b.css") at("gone.css") at("folder/")', 'b.css': 'b{}' },
    ['asset/missing a.tpl:1 “gone.css” does not exist'],
  ],
  [
    'addresses by a function, of folders that are served under other names',
    platformWith(`${TEMPLATES}\nassets: { addresses: ['at("{path}")'], served: [{ folder: art, as: _art }] }`),
    { 'hut.json': '{}', 'a.tpl': 'at("_art/b.css") at("art/b.css") at("b.css") at("index") at("_art/gone.css")', 'art/b.css': 'b{}' },
    [
      'asset/missing a.tpl:1 “art/b.css” is not served: what lies in art/ is _art/ in pages',
      'asset/missing a.tpl:1 “b.css” is not served: what lies in art/ is _art/ in pages',
      'asset/missing a.tpl:1 “art/gone.css” does not exist',
    ],
  ],
  [
    'a theme among other text',
    shaped,
    { 'hut.json': json({ icons: 'icons/albar_look', more: ['icons/ground_look', 'icons/albar_look', 'icons/cierza_look', 'cierzo'] }) },
    [
      'field/theme hut.json:6 “more” names the theme “icons/cierza_look”, which is on no shelf',
      /field\/type hut.json:3 “more” is not a text like/,
    ],
    { albar: { 'hut.json': '{}' } },
  ],
  [
    'comments of the code that a template is',
    platformWith(`templates: { files: ["*.php"], roles: {}, language: { include: ['take("{path}")'] }, partials: { file: "{path}.php" } }`),
    { 'hut.json': '{}', 'a.php': '<?php // take("gone")\n/* take("gone") */\n?><!-- <?php take("gone2") ?> --><?php take("gone3");' },
    [/template\/partial a.php:3 .*“gone2”/, /template\/partial a.php:3 .*“gone3”/],
  ],
  [
    'identifiers after a title, beside a theme that has none',
    platformWith(
      'identifiers: [{ files: ["*.php"], declared: "function {name}(", shape: "{title:pascal}{name}", why: one space }]',
      '{ key: title, fact: title }',
    ),
    { 'hut.json': json({ title: 'Cierzo' }), 'a.php': '<?php function setup() {} function AlbarRun() {} function CierzoRun() {}' },
    [
      'identifier/prefix a.php:1 “AlbarRun” carries the name of the theme “albar”; names here look like Cierzo…',
      'identifier/prefix a.php:1 “setup” does not carry the theme’s id; names here look like Cierzo…',
    ],
    { albar: { 'hut.json': json({ title: 'Albar' }) }, neveron: { 'hut.json': '{}' } },
  ],
  [
    'names of a library, and of what the host asks for',
    platformWith(
      'identifiers: [{ files: ["**/*.php"], declared: "function {name}(", shape: "{id}_{name}", why: one space }]\nfiles: [{ path: albar.php }]',
    ),
    {
      'hut.json': '{}',
      'albar.php': '<?php function cierzo_a() {}',
      'lib/albar-x.php': '<?php\n/*! Albar X 2.1.0 | MIT license */\nfunction albar_x() {} // TODO: remove it\n',
    },
    [],
    { albar: { 'hut.json': '{}', 'albar.php': '', 'lib/albar-x.php': '' } },
  ],
  [
    'the folder of a theme beside it',
    platformWith(`${TEMPLATES}\nassets: { theme-root: "%root%/" }`),
    { 'hut.json': '{}', 'a.tpl': '<img src="%root%/../albar/"><img src="%root%/../albar/gone.svg">' },
    ['asset/missing a.tpl:1 “../albar/gone.svg” does not exist: albar has no gone.svg'],
    { albar: { 'hut.json': '{}' } },
  ],
  [
    'plain releases',
    platformWith('', '{ key: hosts, fact: hosts, type: list, of: release }, { key: least, fact: least, type: release }'),
    { 'hut.json': json({ hosts: ['2', '>=3'], least: '9' }) },
    [
      'field/type hut.json:2 “hosts” is not a release of the host like 3',
      'range/releases hut.json:6 “9” includes none of the releases 1, 2, 3',
    ],
  ],
];

it.each<[...Required<Case>]>(CASES.map(([why, platform, files, wanted, siblings = {}]) => [why, platform, files, wanted, siblings]))(
  '%s',
  (_why, platform, files, wanted, siblings) => {
    expect(checkPlatform(platform)).toEqual([]);
    const found = findingsOf(platform, files, siblings).filter(
      (text) => !text.startsWith('asset/unused') && !text.startsWith('partial/unused'),
    );
    // One finding for each, whatever the order.
    expect(found.length === wanted.length ? [] : found).toEqual([]);
    const isFound = (each: string | RegExp): boolean => found.some((text) => (typeof each === 'string' ? text === each : each.test(text)));
    expect(wanted.filter((each) => !isFound(each))).toEqual([]);
  },
);

describe('a rename', () => {
  it.each<[why: string, platform: Platform, files: Files, wanted: Files]>([
    [
      'gives keys the new id',
      named,
      { 'hut.json': '{"themes": {"page": {"title": "The page"}}}' },
      { 'hut.json': '{"themes": {"lumbre": {"title": "Lumbre"}}}' },
    ],
    [
      'follows what may be this theme or another',
      either,
      { 'hut.json': '{"icons": "page", "more": ["ground", "page"]}' },
      { 'hut.json': '{"icons": "lumbre", "more": ["ground", "lumbre"]}' },
    ],
    [
      'leaves what the host owns: names, keys, values, modules',
      platformWith(
        'host-names: ["page-*", page, "host.styles.*"]',
        '{ key: title, fact: title }, { key: kind, fact: kind, type: choice, values: [page, list] }',
      ),
      {
        'hut.json': '{"title": "The page", "kind": "page", "page-size": 3, "style": "host.styles.PageStyle", "code": "page_setup"}',
        'page.tcl': 'page_setup host.styles.PageStyle page-size\n',
      },
      {
        'hut.json': '{"title": "Lumbre", "kind": "page", "page-size": 3, "style": "host.styles.PageStyle", "code": "lumbre_setup"}',
        'lumbre.tcl': 'lumbre_setup host.styles.PageStyle page-size\n',
      },
    ],
    [
      'follows its own name among other text, and leaves another’s',
      shaped,
      { 'hut.json': '{"icons": "icons/page_look", "more": ["icons/ground_look", "icons/page_look"]}' },
      { 'hut.json': '{"icons": "icons/lumbre_look", "more": ["icons/ground_look", "icons/lumbre_look"]}' },
    ],
    ['leaves another theme', either, { 'hut.json': '{"icons": "ground"}' }, { 'hut.json': '{"icons": "ground"}' }],
    [
      'follows the host’s own place',
      places,
      { 'hut.json': '{"cover": "/srv/refugio/themes/page/page.png", "sheets": ["/srv/refugio/themes/ground/page/a.css"]}' },
      { 'hut.json': '{"cover": "/srv/refugio/themes/lumbre/page.png", "sheets": ["/srv/refugio/themes/ground/page/a.css"]}' },
    ],
  ])('%s', (_why, platform, files, wanted) => {
    const theme = new Theme(platform, MemoryTree.of(files), { id: 'page' }, 'page');
    const from = { id: 'page', title: theme.names.title ?? 'Page' };
    const { operations } = renameTree({ theme, from, to: name('lumbre'), otherThemes: [], keep: [], include: ['unsure'] });
    const after = plannedTree(operations);
    expect(Object.fromEntries(after.entries.map(({ path }) => [path, readText(after, path)?.text]))).toEqual(wanted);
  });
});

it('a fact that assignments or lines carry is written where it stands', () => {
  const php = setFacts(themeOf(assigned, 'cierzo', { 'conf.php': "<?php\n$conf['title'] = 'x';\n" }), [
    { fact: 'title', op: 'set', value: 'Cierzo' },
  ]);
  expect(php.source('conf.php')?.text).toBe("<?php\n$conf['title'] = 'Cierzo';\n");
  const conf = setFacts(themeOf(lines, 'cierzo', { 'hut.conf': 'title\tx\n' }), [{ fact: 'sheets', op: 'set', value: 'a.css, b.css' }]);
  expect(conf.source('hut.conf')?.text).toBe('title\tx\nsheets\ta.css b.css\n');
});

it('what a parent has counts: a file that it loads is used, and one that it has is to be copied', () => {
  const platform = platformWith(
    `${TEMPLATES}\nassets: { theme-root: "%root%/" }\ninheritance: { kind: chain, fact: parent, inherits: ["*.tpl"] }`,
    '{ key: parent, fact: parent, type: parent }',
  );
  const files = {
    'hut.json': json({ parent: 'albar' }),
    'look.css': 'a{}',
    'other.css': 'a{}',
    'a.tpl': '<script src="%root%/deep/x.js">',
  };
  const albar = themeOf(platform, 'albar', {
    'hut.json': '{}',
    'front.tpl': '<link href="%root%/look.css">',
    'look.css': '',
    'deep/x.js': '',
  });
  const { theme, chain, shelves } = onShelf(themeOf(platform, 'cierzo', files), [albar]);
  expect(checkTheme(theme, chain, shelves).findings.map(({ rule, message, hint }) => [rule, message, codeOf(hint)])).toEqual([
    ['asset/missing', '“deep/x.js” does not exist', 'take-copy (id: albar, path: deep/x.js)'],
    ['asset/unused', 'nothing in the theme refers to other.css', 'load-or-remove'],
  ]);
});

it('a parent in a shape is read, written and followed through it', () => {
  const theme = setFacts(themeOf(shaped, 'cierzo', { 'hut.json': '{"icons": ""}' }), [{ fact: 'icons', op: 'set', value: 'albar' }]);
  expect([theme.source('hut.json')?.text, theme.parents]).toEqual(['{"icons": "icons/albar_look"}', ['albar']]);
});

it.each([
  [
    'regions: { fact: regoins, printed: "<{name}>" }',
    '{ key: a, fact: regions, type: list }',
    /no field carries the fact “regoins”; did you mean “regions”/,
  ],
  ['', '{ key: a, fact: a, required: always, required-when: { fact: b, is: x } }, { key: b, fact: b }', /required always/],
  ['', '{ key: a, fact: a, required-when: { fact: b, is: x } }', /no field carries the fact “b”/],
  ['', '{ key: a, fact: a, allowed-when: { fact: a, is: x } }', /cannot decide itself/],
  ['', '{ key: a, fact: a, grammar: x }', /no pattern/],
  ['', '{ key: a, fact: a, type: text, or: [text] }', /its type already/],
  ['', '{ key: a, fact: a, type: path, shape: "/srv/{id}" }', /must hold \{path\}/],
  ['', '{ key: a, fact: a, pattern: "[a-z]+", default: "1" }', /default “1” does not match/],
  ['', '{ key: ["{name}"], fact: a }', /“\{name\}” stands for no name of the theme/],
  ['references: [{ files: ["*.x"], shape: "a" }]', '', /must hold \{path\} or \{name\}/],
  ['references: [{ files: ["*.x"], shape: "a()", file: "{name}.x" }]', '', /nothing that could stand in it/],
  ['references: [{ files: ["*.x"], shape: "a({path})", under: b, relative: true }]', '', /or from this one/],
  ['templates: { language: { opens: ["{% if {text} %}"] }, files: ["*.x"], roles: {} }', '', /“opens” and “closes” belong together/],
  [
    'templates: { language: { names: [{ called: filter, known: [a] }] }, files: ["*.x"], roles: {} }',
    '',
    /nothing says how such a name is written/,
  ],
  ['strings: { file: "{locale}.ini", format: ini, host-keys: [a] }', '', /nothing says how texts are asked for/],
])('%j with fields %j is a contradiction', (more, fields, says) => {
  expect(checkPlatform(platformWith(more, fields)).map(({ message }) => message)).toEqual([expect.stringMatching(says)]);
});

it.each(['constructor', '{ like: constructor }', '{ like: nothing }', 'toString'])('%s is no language', (language) => {
  expect(() => platformWith(`templates: { language: ${language}, files: ["*.x"], roles: {} }`)).toThrow(/not a valid platform file/);
});

it('names of a parent that an include names, and of its code, are known', () => {
  const sphinx = platformNamed('sphinx');
  const manifest = (parent: string): Files => ({ 'theme.conf': `[theme]\ninherit = ${parent}\nstylesheet = basic.css\n` });
  const parent = {
    ...manifest('basic'),
    'parts/a.html': '{% if x %}{% block beds %}{% endblock %}{% endif %}\n',
    '__init__.py': 'def hut_name(): pass\n',
  };
  const own =
    '{% extends "albar/parts/a.html" %}\n{% block beds %}{{ hut_name() }}{% endblock %}\n{% block bets %}{{ hut_nam() }}{% endblock %}\n';
  expect(
    findingsOf(sphinx, { ...manifest('albar'), 'parts/a.html': own }, { albar: parent }).filter((text) => text.startsWith('template')),
  ).toEqual([
    'template/place parts/a.html:3 the block “bets” has no place in albar/parts/a.html: what is in it is never shown',
    'template/name parts/a.html:3 “hut_nam” is not a function of the host or the theme',
  ]);
});
