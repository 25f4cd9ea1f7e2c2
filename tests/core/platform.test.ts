import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { platformJsonSchema } from '../../src/core/platform/json-schema.ts';
import { loadPlatform, readPlatform, shippedPlatforms } from '../../src/core/platform/load.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { checkTheme } from '../../src/core/rules/engine/check.ts';
import { checkPlatform } from '../../src/core/scaffold/check-platform.ts';
import { mergeContracts } from '../../src/core/platform/merge.ts';
import { isInSpan, judgeName, releasesInRange } from '../../src/core/platform/platform.ts';
import { fillShape, shapePattern, wholePattern } from '../../src/core/names/shape.ts';
import { onShelf, platformNamed, themeOf } from '../support/trees.ts';
import { isOneFile } from '../../src/core/theme/place.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { PlatformSchema } from '../../src/core/platform/schema.ts';
import { ruleSettings } from '../../src/core/rules/engine/settings.ts';
import { parseConfiguration } from '../../src/core/configuration/configuration.ts';
import { RULES } from '../../src/core/rules/rules.ts';

const read = (path: string) => readFileSync(new URL(`../../${path}`, import.meta.url), 'utf8');

/** Every key that a platform file can have, at any depth. */
function languageKeys(): string[] {
  const keys = new Set<string>();
  const walk = (schema: unknown): void => {
    if (typeof schema !== 'object' || schema === null) return;
    if ('properties' in schema) Object.keys(schema.properties as object).forEach((key) => keys.add(key));
    Object.values(schema).forEach(walk);
  };
  walk(platformJsonSchema());
  return [...keys];
}

it('has its JSON Schema in platforms/ (made by “npm run docs”)', () => {
  expect(JSON.parse(read('platforms/platform.schema.json'))).toEqual(platformJsonSchema());
});

it('the program carries each shipped platform file as it would be read anew', () => {
  const prepared = JSON.parse(read('dist/platforms.json')) as Record<string, unknown>;
  expect(Object.keys(prepared)).toHaveLength(shippedPlatforms().length);
  for (const { source, contract } of shippedPlatforms()) {
    expect(prepared[createHash('sha256').update(source.text).digest('hex')]).toEqual(contract);
  }
});

it('is documented: every entry of the language stands in docs/platform-files.md', () => {
  const page = read('docs/platform-files.md');
  expect(languageKeys().filter((key) => !new RegExp(`(?<![\\w-])${key}(?![\\w-])`).test(page))).toEqual([]);
});

it('every entry of the language is used by a shipped platform, the tutorial, or a test', () => {
  const names = ['vereda', 'cordada', 'tramo', 'estrato', 'horquilla', 'bloque', 'icons', 'sphinx', 'roundcube'];
  const texts = [
    ...names.map((name) => `platforms/${name}/${name}.platform.yaml`),
    'docs/examples/sendero.platform.yaml',
    'tests/cli/platforms.test.ts',
    'tests/cli/templates.test.ts',
    'tests/cli/main-way.test.ts',
    'tests/core/language.test.ts',
    'tests/cli/lineage.test.ts',
  ].map((path) => read(path).replaceAll('\\n', '\n'));
  expect(languageKeys().filter((key) => !texts.some((text) => new RegExp(`(?<![\\w-])"?${key}"?:`).test(text)))).toEqual([]);
});

describe('shapes', () => {
  it.each([
    ['look_{id}/{name}', 'look_paso/general', { name: 'general' }],
    ['{id:constant}_LOOK_{name}', 'PASO_LOOK_X', { name: 'X' }],
    ['site/{vendor}/{id}', 'site/Wardens/paso', { vendor: 'Wardens' }],
    ['strings/{locale}/look_{id}.po', 'strings/pt-BR/look_paso.po', { locale: 'pt-BR' }],
    ['{{{areas.{name}}}}', '{{{areas.content}}}', { name: 'content' }],
    ['{{> {path} }}', '{{>parts/top}}', { path: 'parts/top' }],
  ])('%s matches %s', (shape, text, groups) => {
    expect({ ...wholePattern(shape, { id: 'paso' }).exec(text)?.groups }).toEqual(groups);
  });

  it('are filled with what is known, and match in linear time', () => {
    expect(fillShape('{id:pascal}Theme {title} {name}', { id: 'cumbre-sur', title: 'T' })).toBe('CumbreSurTheme T {name}');
    const start = performance.now();
    shapePattern('{{> {path} }}').test(`${'{{> '.repeat(50_000)}${'a'.repeat(200_000)}`);
    expect(performance.now() - start).toBeLessThan(2000);
  });
});

describe('names', () => {
  const grammar = platformNamed('vereda').contract.id;
  it.each([
    ['cierzo', undefined],
    ['Cierzo', 'cierzo'],
    ['Ünï Berg', 'uni-berg'],
    ['x', 'theme-x'],
    ['con', 'theme-con'],
    ['..', undefined],
  ])('%s', (name, suggestion) => {
    const verdict = judgeName(name, grammar);
    expect(verdict === undefined).toBe(name === 'cierzo');
    expect(verdict?.suggestion).toBe(suggestion);
  });
});

describe('releases', () => {
  const vereda = platformNamed('vereda');
  it.each([
    ['>=3', ['3', '4', '5']],
    ['2 || 4', ['2', '4']],
    ['>=3.2 <4', ['3']],
    ['nonsense', ['2', '3', '4', '5']],
  ])('in %s', (range, releases) => {
    expect(releasesInRange(vereda, range)).toEqual(releases);
  });

  it('decide what applies', () => {
    expect([isInSpan({ since: '3' }, ['2']), isInSpan({ until: '3' }, ['3', '4']), isInSpan({ since: '5.1' }, ['5.10'])]).toEqual([
      false,
      true,
      true,
    ]);
  });
});

it('a file that extends another merges maps, and lists by what their entries describe', () => {
  const below = { a: 1, list: ['x'], documents: [{ path: 'm', fields: [{ key: 'k', required: 'no' }, { key: 'l' }] }] };
  const above = { list: ['y'], documents: [{ path: 'm', fields: [{ key: 'k', required: 'always' }] }, { path: 'n' }] };
  expect(mergeContracts(below, above)).toEqual({
    a: 1,
    list: ['y'],
    documents: [{ path: 'm', fields: [{ key: 'k', required: 'always' }, { key: 'l' }] }, { path: 'n' }],
  });
});

describe('the examples of the documentation', () => {
  const blocks = (page: string): string[] => [...read(page).matchAll(/```yaml\n([^]*?)```/g)].map(([, text = '']) => text);

  it('of templates are templates as a platform file may have them', () => {
    const shown = blocks('docs/platform-files.md').filter((text) => text.startsWith('templates:'));
    const parsed = shown.map((text) => PlatformSchema.shape.templates.safeParse((parse(text) as { templates: unknown }).templates));
    expect(parsed.map(({ success, error }) => [success, error?.issues])).toEqual([
      [true, undefined],
      [true, undefined],
      [true, undefined],
      [true, undefined],
      [true, undefined],
    ]);
  });

  it('of the language are read, part by part', () => {
    const parts = blocks('docs/platform-files.md').map((text) => parse(text) as Record<string, unknown>);
    // One that changes another file says only what differs.
    const whole = parts.filter((part) => !('extend' in part));
    const problems = whole.flatMap((part) =>
      Object.entries(part)
        .filter(([, value]) => value !== '…')
        .flatMap(([key, value]) => {
          const schema = (PlatformSchema.shape as Record<string, { safeParse(given: unknown): { error?: Error | undefined } } | undefined>)[
            key
          ];
          return schema?.safeParse(value).error?.message ?? [];
        }),
    );
    expect([parts.length > 20, problems]).toEqual([true, []]);
  });

  it('of a theme that is one file reads one', () => {
    const block = blocks('docs/platform-files.md').find((text) => text.includes('home: looks/{id}.css')) ?? '';
    const head =
      'pionero: platform/1\nname: own\ntitle: Own\nsummary: One\nreleases: ["1"]\nid: { pattern: "^[a-z]+$", grammar: letters }\npackage: { formats: [zip] }\n';
    const platform = readPlatform(
      MemoryTree.of({ 'own.platform.yaml': head + block }),
      'own.platform.yaml',
      'own.platform.yaml',
      '/nowhere',
    );
    const tree = MemoryTree.of({ 'albar.css': '/*\n * @look albar\n */\n\n@import "ground";\n' });
    const theme = new Theme(platform, tree, { id: 'albar' }, 'albar.css');
    expect([isOneFile(platform), theme.text('id'), theme.parents]).toEqual([true, 'albar', ['ground']]);
  });

  it('of pionero.yaml are read, with the options of their rules', () => {
    const [shown = ''] = blocks('docs/checking.md');
    const { settings, severities } = ruleSettings(parseConfiguration('/pionero.yaml', Buffer.from(shown)), RULES);
    expect(severities).toEqual({ 'asset/remote': 'error', 'asset/unused': 'warning' });
    expect(settings['asset/unused']).toEqual({ ignore: ['extras/**'] });
  });
});

it.each([
  ['inheritance: { kind: chain, fact: title, built-in-files: { oak: [a.html] } }', /“oak” is not one of the parents that the host brings/],
  ['made: [{ file: a.css, from: a.css }]', /made of itself/],
  ['made: [{ file: "{path}.css", from: a.scss }]', /both or neither must hold \{path\}/],
  ['templates: { named-theme: "{id}/{path}" }', /themes have no parents/],
])('has no contradiction like %j', (more, says) => {
  const text = `pionero: platform/1\nextend: bloque\nname: own\ntitle: Own\nsummary: Like it\n${more}\n`;
  const given = [MemoryTree.of({ 'own.platform.yaml': text }), 'own.platform.yaml', 'own.platform.yaml', '/nowhere'] as const;
  expect(checkPlatform(readPlatform(...given)).map(({ message }) => message)).toEqual([expect.stringMatching(says)]);
  // What is refused there is refused wherever it is to be used.
  expect(() => loadPlatform(...given)).toThrow(expect.objectContaining({ problems: [expect.objectContaining({ line: 6 })] }) as Error);
});

it('takes a file that is made of another for one that is there', () => {
  const text =
    'pionero: platform/1\nextend: vereda\nname: own\ntitle: Own\nsummary: Like it\nmade: [{ file: "styles/{path}.css", from: "scss/{path}.scss" }, { file: main.css, from: main.scss }]\n';
  const platform = loadPlatform(MemoryTree.of({ 'own.platform.yaml': text }), 'own.platform.yaml', 'own.platform.yaml', '/nowhere');
  const sheet = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
  const files = {
    'sheet.css': `${sheet}@import "styles/hut.css";\n@import "main.css";\n@import "styles/gone.css";\n`,
    'scss/hut.scss': '',
    'main.scss': '',
    'main.html': '<p>x</p>',
  };
  const { theme, chain, shelves } = onShelf(themeOf(platform, 'paso', files));
  const found = checkTheme(theme, chain, shelves).findings.filter(({ rule }) => rule === 'asset/missing');
  expect(found.map(({ args, hint }) => [args['target'], hint?.text])).toEqual([
    ['styles/gone.css', 'add styles/gone.css, or scss/gone.scss, of which it is made'],
  ]);
});
