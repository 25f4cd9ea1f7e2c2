import { readFileSync, rmSync } from 'node:fs';
import { describe, expect, it, onTestFinished } from 'vitest';
import { advise } from '../../src/core/rules/advice.ts';
import type { FileTree } from '../../src/core/files/file-tree.ts';
import { planFixes } from '../../src/core/rules/engine/fix.ts';
import type { Rule } from '../../src/core/rules/rule.ts';
import { RULES } from '../../src/core/rules/rules.ts';
import { Workplace } from '../support/program.ts';
import { onShelf, platformNamed, themeOf, writeFiles } from '../support/trees.ts';

/** A theme of a platform that changes a shipped one. */
async function withPlatform(base: string, changes: string, id = 'paso') {
  const place = new Workplace();
  writeFiles(place.folder, { 'own.platform.yaml': `pionero: platform/1\nextend: ${base}\nname: own\ntitle: Own\n${changes}` });
  const vendor = base === 'tramo' ? ['--vendor', 'Wardens'] : [];
  expect(await place.run('new', id, '--platform', base, '--yes', ...vendor)).toMatchObject({ status: 0 });
  const at = ['--platform', './own.platform.yaml'];
  const rules = async (...argv: string[]) =>
    ((await place.json('check', ...argv, ...at))['findings'] as { rule: string; file: string; line: number }[]).map(
      ({ rule, file, line }) => `${rule} ${file}:${line}`,
    );
  return { place, at, rules };
}

const field = (syntax: string, path: string, more: string): string =>
  `documents:\n  - path: ${path}\n    syntax: ${syntax}\n    fields: [{ ${more} }]\n`;

describe('a field is written once, and read back', () => {
  it('deep in an XML manifest, into the elements that are there', async () => {
    const wanted = field('xml', 'theme.tramo.xml', 'key: [look, base, font], fact: font, type: choice, values: [plain], required: always');
    const { place, at, rules } = await withPlatform('tramo', wanted);
    const manifest = 'Wardens/paso/theme.tramo.xml';
    const text = readFileSync(place.path(manifest), 'utf8');
    writeFiles(place.folder, {
      [manifest]: text.replace('</theme>', '  <look>\n    <base>\n      <width>9</width>\n    </base>\n  </look>\n</theme>'),
    });
    expect((await place.run('check', 'Wardens/paso', ...at, '--fix', '--yes')).stdout).toMatch(/✓ 1 place fixed/);
    expect(readFileSync(place.path(manifest), 'utf8')).toContain(
      '    <base>\n      <font>plain</font>\n      <width>9</width>\n    </base>\n',
    );
    expect(await rules('Wardens/paso')).toEqual([]);
    writeFiles(place.folder, { [manifest]: text });
    await place.run('check', 'Wardens/paso', ...at, '--fix', '--yes');
    expect(readFileSync(place.path(manifest), 'utf8').match(/<look>/g)).toHaveLength(1);
    expect(await rules('Wardens/paso')).toEqual([]);
  });

  it.each([
    ['header-lines', 'README.md', '[look, base]', /a header line has one key/],
    ['ini', 'own.ini', '[look, base, font]', /a section and a key in it, and nothing below/],
    ['xml', 'own.xml', '[look, "@base", font]', /only the last part of the path can be an attribute/],
  ])('a path that %s cannot hold is told by platform check', async (syntax, path, key, says) => {
    const place = new Workplace();
    const changes = field(syntax, path, `key: ${key}, fact: font`);
    writeFiles(place.folder, { 'own.platform.yaml': `pionero: platform/1\nextend: bloque\nname: own\ntitle: Own\n${changes}` });
    const { status, stderr } = await place.run('platform', 'check', './own.platform.yaml');
    expect([status, stderr]).toEqual([2, expect.stringMatching(says)]);
  });

  it('a fix that does not mend its finding is taken back and told, and none is made twice', () => {
    const vereda = platformNamed('vereda');
    const theme = themeOf(vereda, 'paso', {
      'sheet.css': '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n',
      'main.html': 'x\n',
      'a.txt': 'old\n',
    });
    const stubborn: Rule = {
      meta: { id: 'test/stubborn', severity: 'error', summary: 'x', why: 'x.', messages: { a: 'never right' }, example: { none: 'x' } },
      *check({ theme: now }) {
        const fix = {
          title: advise('write', { value: 'more' }),
          isSafe: true,
          file: 'a.txt',
          edits: [{ start: 0, end: 0, text: 'more ' }],
        };
        yield { message: 'a', file: 'a.txt', source: now.source('a.txt'), range: { start: 0, end: 3 }, fix };
      },
    };
    (RULES as Rule[]).push(stubborn);
    onTestFinished(() => void (RULES as Rule[]).pop());
    const { shelves } = onShelf(theme);
    const planned = planFixes(theme, shelves, '/paso', {});
    expect(planned.failed.map(({ finding }) => finding.rule)).toEqual(['test/stubborn']);
    expect(planned.plan.operations).toEqual([]);
  });
});

it('a fix is made though another place, which cannot be mended, has the same words said of it', () => {
  const theme = themeOf(platformNamed('vereda'), 'paso', { 'sheet.css': 'x', 'main.html': 'x', 'a.txt': 'bad bad\n' });
  const twice: Rule = {
    meta: { id: 'test/twice', severity: 'error', summary: 'x', why: 'x.', messages: { a: 'bad' }, example: { none: 'x' } },
    *check({ theme: now }) {
      const source = now.source('a.txt');
      for (const { index } of source?.text.matchAll(/bad/g) ?? []) {
        const edits = [{ start: index, end: index + 3, text: 'good' }];
        const fix = index === 0 ? { title: advise('write', { value: 'good' }), isSafe: true, file: 'a.txt', edits } : undefined;
        yield { message: 'a', file: 'a.txt', source, range: { start: index, end: index + 3 }, fix };
      }
    },
  };
  (RULES as Rule[]).push(twice);
  onTestFinished(() => void (RULES as Rule[]).pop());
  const planned = planFixes(theme, onShelf(theme).shelves, '/paso', { severities: { 'document/missing': 'off' } });
  const [operation] = planned.plan.operations;
  expect([planned.failed, operation?.op === 'edit' ? operation.bytes.toString() : operation]).toEqual([[], 'good bad\n']);
});

it('a fix is planned on what was judged, not on what somebody saved since', () => {
  const sheet = '/*---\ntitle: Paso\nversion: 1.0.0\nhosts: ">=2"\n---*/\n';
  const { tree } = themeOf(platformNamed('vereda'), 'paso', { 'sheet.css': sheet, 'main.html': 'a\r\nb\n' });
  let more = '';
  const disk: FileTree = {
    entries: tree.entries,
    get: (path) => tree.get(path),
    parts: (path) => tree.parts(path),
    tail: (path, bytes) => tree.tail(path, bytes),
    read(path) {
      if (path !== 'main.html') return tree.read(path);
      const bytes = Buffer.from(`a\r\nb\n${more}`);
      more += 'mine\n';
      return bytes;
    },
  };
  const theme = themeOf(platformNamed('vereda'), 'paso', disk);
  const { plan } = planFixes(theme, onShelf(theme).shelves, '/paso', {});
  const mended = plan.operations.flatMap((each) => (each.op === 'edit' && each.path === 'main.html' ? [each.before.toString()] : []));
  expect(mended).toEqual(['a\r\nb\n']);
});

it.each([
  ['roundcube', 'skinpath="skins/%"'],
  ['sphinx', '{% include "%/box.html" %}'],
])('another parent is written where templates of %s name it, too, and taken back', async (platform, shape) => {
  const place = new Workplace();
  const start = ['--platform', platform, '--yes'];
  for (const id of ['albar', 'cierzo']) await place.run('new', id, ...start);
  await place.run('new', 'lumbre', '--kit', 'child', '--parent', 'albar', ...start);
  const page = platform === 'sphinx' ? 'lumbre/page.html' : 'lumbre/templates/includes/layout.html';
  if (platform === 'sphinx') writeFiles(place.folder, { [page]: `${shape.replace('%/', 'albar/')}\n` });
  const named = (id: string): string => shape.replace(/%(?=["/])/, id);
  const text = (): string => readFileSync(place.path(page), 'utf8');
  expect(text()).toContain(named('albar'));
  const { stdout } = await place.run('meta', 'set', 'lumbre', 'parent=cierzo', '--yes');
  expect(stdout).toContain(`parent  ${page.slice('lumbre/'.length)}\n  − albar\n  + cierzo\n`);
  expect(text()).toContain(named('cierzo'));
  await place.run('undo', '--yes');
  expect(text()).toContain(named('albar'));
  // While the parent is not there, its name is no stranger's.
  rmSync(place.path('albar'), { recursive: true });
  const { findings } = (await place.json('check', 'lumbre')) as { findings: { rule: string }[] };
  const rules = new Set(findings.map(({ rule }) => rule));
  expect([rules.has('parent/missing'), rules.has('template/partial')]).toEqual([true, false]);
});

describe('what is packed', () => {
  it('is what a submission is judged by: check and pack agree', async () => {
    const { place, at, rules } = await withPlatform(
      'vereda',
      'package: { submission: { requires: [notes.txt], forbids: ["**/*.tmp"] } }\n',
    );
    writeFiles(place.path('paso'), { '.cache/a.tmp': 'x', 'notes.txt': 'x\n' });
    expect(await rules('paso', '--for', 'submission')).toEqual([]);
    expect(await place.run('pack', 'paso', ...at, '--for', 'submission')).toMatchObject({ status: 0 });
    writeFiles(place.path('paso'), { 'pionero.yaml': 'pack: { exclude: [notes.txt] }\n' });
    expect(await rules('paso', '--for', 'submission')).toEqual(['submission/contents notes.txt:1']);
    expect(await place.run('pack', 'paso', ...at, '--for', 'submission')).toMatchObject({ status: 1 });
  });

  it.each([['zip'], ['tar.gz']])('may be the theme itself, without a folder around it: %s', async (format) => {
    const { place, at } = await withPlatform('vereda', `package: { top: "", formats: [${format}] }\n`);
    expect(await place.run('platform', 'check', './own.platform.yaml')).toMatchObject({ status: 0 });
    const { verified, entries } = (await place.json('pack', 'paso', ...at)) as { verified: boolean; entries: { path: string }[] };
    expect([verified, entries.map(({ path }) => path)]).toEqual([true, expect.arrayContaining(['sheet.css', 'main.html'])]);
    expect(await place.run('rehearse', `paso.${format}`, ...at)).toMatchObject({ status: 0 });
    rmSync(place.path('paso'), { recursive: true });
    expect(await place.json('clone', `paso.${format}`, 'lumbre', ...at, '--yes')).toMatchObject({ leftovers: [] });
    expect(readFileSync(place.path('lumbre/sheet.css'), 'utf8')).toContain('title: Lumbre');
  });
});

describe('rules bring their own settings', () => {
  it('that are read with their severity, and said where they are wrong', async () => {
    const place = new Workplace();
    await place.run('new', 'paso', '--platform', 'vereda', '--yes');
    writeFiles(place.path('paso'), { 'extras/print.css': 'p { margin: 0 }\n' });
    const told = async (text: string) => {
      writeFiles(place.folder, { 'pionero.yaml': text });
      const { status, stdout, stderr } = await place.run('check', 'paso', '--format', 'json');
      if (status === 2) return stderr;
      return (JSON.parse(stdout) as { findings: { rule: string; severity: string }[] }).findings.map(
        ({ rule, severity }) => `${rule} ${severity}`,
      );
    };
    expect(await told('')).toEqual(['asset/unused note']);
    expect(await told('rules: { asset/unused: { severity: warning } }\n')).toEqual(['asset/unused warning']);
    expect(await told('rules: { asset/unused: { ignore: ["extras/**"] } }\n')).toEqual([]);
    expect(await told('rules:\n  asset/unused:\n    ignor: ["extras/**"]\n')).toMatch(
      /pionero\.yaml\s+3:\d+ .*asset\/unused has no option “ignor”; did you mean “ignore”/s,
    );
    expect(await told('rules:\n  asset/unused: { ignore: 7 }\n')).toMatch(/\s2:\d+ .*“ignore” is wrong: expected array/s);
    expect(await told('rules:\n  asset/unusd: off\n')).toMatch(
      /\s2:\d+ .*there is no rule “asset\/unusd”;\s+did you mean “asset\/unused”/s,
    );
  });
});
