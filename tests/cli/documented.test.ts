import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { COMMANDS } from '../../src/cli/command-table.ts';
import { REPORT_NAMES } from '../../src/cli/report-streams.ts';
import { ARCHIVE_FORMAT_NAMES } from '../../src/core/archives/format-names.ts';
import { syntaxNames } from '../../src/core/documents/syntaxes.ts';
import { TEMPLATE_LANGUAGES } from '../../src/core/templates/languages.ts';
import { lacks, need, runTool } from '../support/needs.ts';
import { HUTS, makeBoards } from '../support/boards.ts';
import { PROGRAM, Workplace } from '../support/program.ts';
import { kitFiles, platformNamed, writeFiles } from '../support/trees.ts';

const ROOT = join(import.meta.dirname, '../..');
const blocksOf = (page: string): string[] =>
  [...readFileSync(join(ROOT, page), 'utf8').matchAll(/```sh\n([^]*?)```/g)].map(([, text = '']) => text);

it.each<[what: string, names: readonly string[], page: string]>([
  ['command', COMMANDS.map(({ name }) => name), 'README.md'],
  ['report', REPORT_NAMES, 'README.md'],
  ['report', REPORT_NAMES, 'docs/checking.md'],
  ['syntax', syntaxNames(), 'docs/platform-files.md'],
  ['template language', TEMPLATE_LANGUAGES, 'docs/platform-files.md'],
  ['archive format', ARCHIVE_FORMAT_NAMES, 'docs/platform-files.md'],
  ['archive format', ARCHIVE_FORMAT_NAMES, 'docs/packing.md'],
])('no %s is missing in a page that names them all', (_what, names, page) => {
  const text = readFileSync(join(ROOT, page), 'utf8');
  expect(names.filter((name) => !new RegExp(`(?<![\\w-])${name.replaceAll('.', '\\.')}(?![\\w-])`).test(text))).toEqual([]);
});

/** A repository of themes as the pages have it: lumbre beside its parent, a site, a package of an update, and the program on the path. */
async function surroundings(place: Workplace): Promise<void> {
  const git = (...args: string[]) =>
    runTool('git', ['-c', 'user.name=Lumbre', '-c', 'user.email=lumbre@lumbre.example', ...args], { cwd: place.folder });
  for (const id of ['albar', 'albar-noche']) cpSync(join(ROOT, 'demo/shelf', id), place.path(id), { recursive: true });
  await place.run('clone', 'albar-noche', 'lumbre', '--yes');
  cpSync(place.path('albar'), place.path('themes/albar'), { recursive: true });
  cpSync(join(ROOT, 'demo/lineage'), place.path('league'), { recursive: true });
  writeFiles(place.path('docs'), { 'index.rst': 'Cierzo\n======\n' });
  writeFiles(place.folder, { 'packages.txt': 'albar\nlumbre\n' });
  mkdirSync(place.path('docs/_themes'), { recursive: true });
  mkdirSync(place.path('srv/site/themes'), { recursive: true });
  mkdirSync(place.path('sites/staging/themes'), { recursive: true });
  mkdirSync(place.path('dist'));
  await place.run('pack', 'lumbre', '--out', 'dist/lumbre-1.3.0.zip');
  writeFiles(place.folder, {
    'pionero.yaml': 'sites: { staging: { folder: sites/staging } }\n',
    '.gitignore': '.*\nbin\nsrv\nsites\n',
    'boards/albar/board.yaml': 'name: Albar\nversion: 1.0.0\n',
  });
  makeBoards(place.path('huts'));
  makeBoards(place.path('more-huts'), HUTS.slice(0, 8), (_id, files) => ({ ...files, 'rules.about': 'x\n' }));
  cpSync(join(ROOT, 'docs/examples/check-shards.mk'), place.path('check-shards.mk'));
  mkdirSync(place.path('bin'));
  mkdirSync(place.path('home/.local/share/bash-completion/completions'), { recursive: true });
  writeFileSync(place.path('bin/pionero'), `#!/bin/sh\nexec "${process.execPath}" "${PROGRAM}" "$@"\n`, { mode: 0o755 });
  if (lacks('git')) return;
  git('init', '-b', 'main');
  git('add', '.');
  git('commit', '-m', 'all');
}

/** In place of its themes, those of a platform with few kinds of pages: a browser takes its time for each. */
async function withFewPages(place: Workplace): Promise<void> {
  for (const path of ['albar', 'albar-noche', 'lumbre', 'dist/lumbre-1.3.0.zip']) rmSync(place.path(path), { recursive: true });
  await place.run('new', 'albar', '--platform', 'estrato', '--yes');
  await place.run('new', 'lumbre', '--platform', 'estrato', '--parent', 'albar', '--yes');
  await place.run('pack', 'lumbre', '--out', 'dist/lumbre-1.3.0.zip');
}

/** The words of a line that a shell would only take apart at its spaces. */
const plainWords = (line: string): string[] | undefined => /^pionero ([\w ./=-]+?) *(?:#.*)?$/.exec(line)?.[1]?.split(/ +/);

/** The surroundings, made once. */
const made = new Workplace(afterAll);
beforeAll(async () => surroundings(made));

/** Each example as it is printed, but for a site that is not ours and questions that nobody is there to answer. */
function asRun(text: string, place: Workplace): string {
  const local = text.replaceAll('/srv/site', place.path('srv/site'));
  return local.replace(
    /^(pionero (?:new|install|clone|rename|kit make|override|rehearse|pack|cover|meta set)\b[^#\n]*)/gm,
    (line) => `${line.trimEnd()} --yes `,
  );
}

describe.each([
  'docs/adopt.md',
  'docs/build-server.md',
  'docs/packing.md',
  'docs/parent-update.md',
  'docs/renaming.md',
  'docs/installing.md',
  'docs/sphinx.md',
  'docs/roundcube.md',
  'docs/lineage.md',
  'docs/rehearsing.md',
  'docs/learning.md',
])('the examples of %s', (page) => {
  it.each(blocksOf(page).map((text, i) => [i + 1, text] as const))(
    '%d runs as printed',
    async (_number, text) => {
      const place = new Workplace();
      cpSync(made.folder, place.folder, { recursive: true });
      if (page === 'docs/rehearsing.md') await withFewPages(place);
      const env = { PATH: `${place.path('bin')}:${process.env['PATH']}`, HOME: place.path('home') };
      const lines = asRun(text, place)
        .split('\n')
        .filter((line) => line !== '' && !line.startsWith('#'));
      for (const [i, line] of lines.entries()) {
        if (line.startsWith('cd ')) continue;
        if (line.includes('--shots')) need('chromium');
        if (line.includes('--since')) need('git');
        // A later example starts where an earlier one ended, as for somebody who types them one after another.
        const moves = lines.slice(0, i).filter((each) => each.startsWith('cd '));
        const folder = join('.', ...moves.map((move) => move.slice('cd '.length)));
        const words = plainWords(line);
        const { status, stderr } =
          words === undefined
            ? runTool('bash', ['-c', line], { cwd: place.path(folder), env: { ...place.env, ...env } })
            : await place.runThere(folder, env, ...words);
        const wanted = Number(/# exit status (\d)/.exec(line)?.[1] ?? 0);
        const isTaken = /--link/.test(line) && /in the site already/.test(stderr);
        expect([line, isTaken ? 0 : status, isTaken ? '' : stderr]).toEqual([line, wanted, '']);
      }
    },
    240_000,
  );
});

it('every command has examples that its own options understand', async () => {
  for (const { name, load } of COMMANDS) {
    const { default: command } = await load();
    expect([name, command.examples.length > 0]).toEqual([name, true]);
    for (const example of command.examples) {
      for (const line of example.split('; ').filter((each) => each.startsWith('pionero '))) {
        const place = new Workplace();
        writeFiles(place.path('paso'), kitFiles(platformNamed('vereda'), 'paso'));
        // A server would not end: a file is in the place of its folder, and nobody speaks to the other one.
        writeFiles(place.folder, { catalogue: '' });
        const words = [...line.matchAll(/"([^"]*)"|(\S+)/g)].map(([, quoted, plain]) => quoted ?? plain ?? '').slice(1);
        const { stderr } = await place.run(
          ...words.filter((word, i) => word !== '>' && words[i - 1] !== '>' && !['--watch', '--stdio'].includes(word)),
        );
        expect([line, stderr]).toEqual([
          line,
          expect.not.stringMatching(/^✗ (?:missing|option|too many)|unknown|does not take this value|defect/),
        ]);
      }
    }
  }
}, 60_000);
