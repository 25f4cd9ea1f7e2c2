import { describe, expect, it } from 'vitest';
import { findSyntax, syntaxNames } from '../../src/core/documents/syntaxes.ts';
import { MemoryTree } from '../../src/core/files/memory-tree.ts';
import { shippedPlatforms } from '../../src/core/platform/load.ts';
import { checkTheme } from '../../src/core/rules/engine/check.ts';
import { planFixes } from '../../src/core/rules/engine/fix.ts';
import { applyEdits } from '../../src/core/text/edits.ts';
import { beginDocument } from '../../src/core/facts/begin-document.ts';
import { setFacts } from '../../src/core/facts/set-facts.ts';
import { Theme } from '../../src/core/theme/theme.ts';
import { kitFiles, onShelf, platformNamed, themeOf } from '../support/trees.ts';

/** A fact as somebody would type it. */
function valueOf(theme: Theme, fact: string): string | undefined {
  const value = theme.fact(fact)?.value;
  return Array.isArray(value) ? (value as string[]).join(',') : theme.text(fact);
}

/** Begins a document in a text and gives it a field, as one text. */
function begun(syntax: string, text: string, path = 'file.css', options: Record<string, unknown> = {}): string | undefined {
  const found = findSyntax(syntax);
  const edits = found?.begin?.(text, options, path);
  if (found === undefined || edits === undefined) return undefined;
  const begunText = applyEdits(text, edits);
  return applyEdits(begunText, found.set(begunText, syntax === 'ini' ? ['Hut', 'title'] : ['title'], 'Cierzo', { options, order: [] }));
}

describe('a document is begun', () => {
  const SHEET = { open: '/*---', close: '---*/' };

  it.each<[syntax: string, before: string, after: string | undefined, path?: string, options?: Record<string, unknown>]>([
    ['yaml', '', 'title: Cierzo\n'],
    ['json', '', '{"title": "Cierzo"}\n'],
    ['toml', '', 'title = "Cierzo"\n'],
    ['ini', '\n', '[Hut]\ntitle=Cierzo\n'],
    ['xml', '', '<?xml version="1.0" encoding="UTF-8"?>\n<theme>\n  <title>Cierzo</title>\n</theme>\n'],
    ['comment-header', 'a { }\n', '/*---\ntitle: Cierzo\n---*/\na { }\n', 'a.css', SHEET],
    [
      'comment-header',
      '@charset "utf-8";\r\na { }\r\n',
      '@charset "utf-8";\r\n/*---\r\ntitle: Cierzo\r\n---*/\r\na { }\r\n',
      'a.css',
      SHEET,
    ],
    ['comment-header', '# Hut\n', '---\ntitle: Cierzo\n---\n# Hut\n', 'a.md', { open: '---', close: '---' }],
    ['comment-header', '', '/*---\ntitle: Cierzo\n---*/\n', 'a.css', SHEET],
    ['comment-header', '/*---\ntitle: Hut\n', undefined, 'a.css', SHEET],
    ['header-lines', 'a { }\n', '/*\n * title: Cierzo\n */\na { }\n', 'a.css'],
    ['header-lines', '<p>x</p>\n', '<!--\n * title: Cierzo\n-->\n<p>x</p>\n', 'a.html'],
    ['header-lines', '<?php\nx();\n', '<?php\n/*\n * title: Cierzo\n */\nx();\n', 'a.php'],
    ['header-lines', '/* said: so */\n', undefined, 'a.css'],
    ['php', '', "<?php\n\nreturn [\n  'title' => 'Cierzo',\n];\n", 'a.php', { at: 'return' }],
    ['php', '<?php\nx();\n?>\n', "<?php\nx();\n\n$look = [\n  'title' => 'Cierzo',\n];\n?>\n", 'a.php', { at: '$look =' }],
    ['php', "<?php\nreturn ['id' => 'x'];\n", undefined, 'a.php', { at: 'return' }],
    ['php', '<?php\nx(;\n', undefined, 'a.php', { at: 'return' }],
    ['php', '', undefined, 'a.php', { at: 'Host::theme(2' }],
    ['javascript', 'x();\n', "x();\n\nexport default {\n  title: 'Cierzo',\n};\n", 'a.mjs', { at: 'export default' }],
    ['javascript', '', "window.look = {\n  title: 'Cierzo',\n};\n", 'a.js', { at: 'window.look =' }],
    ['javascript', 'x(;\n', undefined, 'a.js', { at: 'window.look =' }],
    ['po', '', undefined],
  ])('%s in %j: %j', (syntax, before, after, path, options) => {
    expect(begun(syntax, before, path, options)).toBe(after);
  });

  it('in every syntax that a manifest can have', () => {
    expect(syntaxNames().filter((name) => begun(name, name === 'ini' ? '\n' : '', 'a.php', { at: 'return' }) === undefined)).toEqual([
      // A sheet without such a rule lacks nothing.
      'at-rules',
      'po',
    ]);
  });
});

describe.each(shippedPlatforms().map((platform) => [platform.contract.name, platform] as const))(
  'a theme for %s that lost its documents',
  (_name, platform) => {
    const names = { id: 'paso', vendor: 'HutLeague' };
    const whole = new Theme(platform, MemoryTree.of(kitFiles(platform, 'paso')), names, 'paso');
    const required = whole.documents.filter(({ contract }) => contract.required === 'always');
    const lost = Object.fromEntries(
      whole.tree.entries.flatMap(({ path, kind }) =>
        kind !== 'file' || required.some((each) => each.path === path) ? [] : [[path, whole.tree.read(path)]],
      ),
    );
    const theme = new Theme(platform, MemoryTree.of(lost), names, 'paso');

    it('gets them back by suggested fixes, and only by them', () => {
      const { shelves } = onShelf(theme);
      const sure = planFixes(theme, shelves, '/paso', {});
      const likely = planFixes(theme, shelves, '/paso', { isGuessing: true });
      const missing = (each: Theme) =>
        each.documents.filter(({ contract, state }) => contract.required === 'always' && state === 'missing').length;
      // What asks for something that nobody can know is left to people.
      const unknown = required.filter(
        (document) =>
          (beginDocument(theme, { ...document, state: 'missing', root: undefined, source: undefined })?.lacking.length ?? 1) > 0,
      );
      expect(missing(likely.theme)).toBe(unknown.length);
      expect(missing(sure.theme)).toBeGreaterThan(missing(likely.theme) - 1);
      for (const { finding } of likely.fixes)
        expect(likely.findings.map(({ rule, file }) => `${rule} ${file}`)).not.toContain(`${finding.rule} ${finding.file}`);
      expect(planFixes(likely.theme, shelves, '/paso', { isGuessing: true }).fixes).toEqual([]);
    });

    it('gets them by its facts', () => {
      const changes = required.flatMap(({ contract }) =>
        contract.fields.flatMap(({ fact, required: need, shape, none }) => {
          const value = valueOf(whole, fact) ?? none;
          return need !== 'always' || shape !== undefined || value === undefined ? [] : [{ fact, op: 'set' as const, value }];
        }),
      );
      const done = setFacts(theme, changes);
      for (const { fact, value } of changes) expect([fact, valueOf(done, fact)]).toEqual([fact, value]);
    });
  },
);

describe('what a header that is begun must say', () => {
  const platform = platformNamed('vereda');
  const files = { ...kitFiles(platform, 'paso'), 'sheet.css': 'body { margin: 0 }\n' };
  const { theme, shelves } = onShelf(themeOf(platform, 'paso', files));

  it('is asked for when facts are set', () => {
    expect(() => setFacts(theme, [{ fact: 'title', op: 'set', value: 'The Paso' }])).toThrow('must say more than that');
    const done = setFacts(theme, [
      { fact: 'title', op: 'set', value: 'The Paso' },
      { fact: 'version', op: 'set', value: '1.2.0' },
      { fact: 'hosts', op: 'set', value: '>=3' },
      { fact: 'tags', op: 'add', value: 'huts' },
    ]);
    expect(done.tree.read('sheet.css').toString()).toBe(
      '/*---\ntitle: The Paso\nversion: 1.2.0\nhosts: ">=3"\ntags: [huts]\n---*/\nbody { margin: 0 }\n',
    );
  });

  it('is taken from where it is said already, and then sure', () => {
    const told = themeOf(platform, 'paso', { ...files, 'README.md': '<!--\nVersion: 2.0.0\n-->\n' });
    const found = checkTheme(told, onShelf(told).chain, shelves).findings.find(({ rule }) => rule === 'document/syntax');
    expect([found?.fix?.isSafe, found?.fix?.edits[0]?.text]).toEqual([false, '/*---\ntitle: Paso\nversion: 2.0.0\nhosts: ">=5"\n---*/\n']);
  });
});
