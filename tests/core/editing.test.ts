import { mkdtempSync, realpathSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it, onTestFinished } from 'vitest';
import { completionsAt } from '../../src/core/editor/completions.ts';
import { EditorWorkspace } from '../../src/core/editor/editor-workspace.ts';
import { findDeclarations } from '../../src/core/contents/identifiers.ts';
import { matchesAny } from '../../src/core/files/glob.ts';
import { moveEdits } from '../../src/core/editor/move-references.ts';
import { spotsIn } from '../../src/core/editor/spots.ts';
import { usesOf } from '../../src/core/editor/uses.ts';
import { ownCompletions, ownProblems } from '../../src/core/editor/own-files.ts';
import { checkTheme, openSession, shippedPlatforms, type EditSession } from '../../src/core/index.ts';
import { isOneFile } from '../../src/core/theme/place.ts';
import { applyEdits } from '../../src/core/text/edits.ts';
import { kitFiles, onShelf, platformNamed, themeOf, writeFiles } from '../support/trees.ts';

const PLATFORMS = shippedPlatforms().map((platform) => [platform.contract.name, platform] as const);
/** Of each platform a small theme and a large one. */
const THEMES = PLATFORMS.flatMap(([name, platform]) => ['bare', 'standard'].map((kit) => [`${name}, ${kit}`, platform, kit] as const));
const ID = 'albar';

/** A theme of a platform's kit on disk, and the texts of it. */
function placed(
  platform: (typeof PLATFORMS)[number][1],
  kit = 'bare',
): {
  folder: string;
  shelf: string;
  texts: [path: string, text: string][];
  open: () => EditSession;
} {
  const shelf = realpathSync(mkdtempSync(join(tmpdir(), 'pionero-editing-')));
  onTestFinished(() => rmSync(shelf, { recursive: true }));
  const files = kitFiles(platform, ID, kit);
  const isFile = isOneFile(platform);
  const folder = isFile ? join(shelf, Object.keys(files)[0] ?? '') : join(shelf, ID);
  writeFiles(isFile ? shelf : folder, files);
  const texts = Object.entries(files).flatMap(([path, bytes]): [string, string][] =>
    bytes.includes(0) || bytes.length > 60_000 ? [] : [[path, bytes.toString()]],
  );
  return { folder, shelf, texts, open: () => openSession(folder, { currentFolder: shelf, platform: platform.contract.name }) };
}

/** The rules that find a file which is named and not there. */
const BROKEN = new Set(['asset/missing', 'bundle/unknown', 'field/path', 'template/partial']);

/** Whether the platform asks for a fragment in a file, or for what its role prints. */
function isOffered({ contract: { templates } }: (typeof PLATFORMS)[number][1], path: string, word: string): boolean {
  const fragment = templates?.fragments.find(({ text }) => text === word);
  const isOfRole = Object.values(templates?.roles ?? {}).some(({ file, prints }) => file === path && prints.includes(word));
  return isOfRole || (fragment !== undefined && matchesAny(path, templates?.files ?? []) && matchesAny(path, fragment.files ?? ['**']));
}

/** What somebody who types does to a text: takes a line out, doubles it, slips in a word of it, or breaks off. */
const typing = fc.record({
  file: fc.nat(),
  line: fc.nat(),
  how: fc.constantFrom<(line: string) => string>(
    () => '',
    (line) => `${line}\n${line}`,
    (line) => line.replace(/(\w)(\w)(?=\w*)/, '$2$1'),
    (line) => line.replace(/\w+(?=\W*$)/, 'norte'),
    (line) => line.slice(0, line.length / 2),
    (line) => line.replace(/[A-Za-z-]+(?=\.\w+)/, 'cierzo'),
  ),
});

describe('a theme whose texts change', () => {
  it.each(PLATFORMS)('%s: what is told at once is what a fresh check says', async (_name, platform) => {
    const { texts, open } = placed(platform);
    await fc.assert(
      fc.asyncProperty(fc.array(typing, { minLength: 1, maxLength: 3 }), async (steps) => {
        const session = open();
        const now = new Map(texts);
        const changed = steps.map(({ file, line, how }) => {
          const path = texts[file % texts.length]?.[0] ?? '';
          const lines = (now.get(path) ?? '').split('\n');
          const at = line % lines.length;
          now.set(path, lines.with(at, how(lines[at] ?? '')).join('\n'));
          return path;
        });
        for (const [i, path] of changed.entries()) {
          await session.update(path, now.get(path));
          if (i === 0) await session.findings();
        }
        const whole = await session.findings();
        const fresh = open();
        for (const path of changed) await fresh.update(path, now.get(path));
        expect(whole).toEqual(await fresh.findings());
        // What was told of an older state, and what was typed over again, leaves nothing behind.
        for (const path of changed) expect(await session.update(path, now.get(path))).toEqual(whole?.get(path) ?? []);
      }),
      { numRuns: 12 },
    );
  });

  it.each(THEMES)('%s: what stands in a place can be completed there', (_name, platform, kit) => {
    const { folder, shelf, texts } = placed(platform, kit);
    const workspace = new EditorWorkspace({ currentFolder: shelf, platform: platform.contract.name });
    const opened = workspace.opened(folder);
    if (opened === undefined) throw new Error('no theme');
    const missed: string[] = [];
    for (const [path, text] of texts) {
      const place = isOneFile(platform) ? folder : join(folder, path);
      for (const { start, end, target } of spotsIn(workspace.fileIn(opened, place))) {
        if (target.kind !== 'file') continue;
        workspace.setText(place, text.slice(0, start) + text.slice(end));
        const found = completionsAt(workspace.fileIn(opened, place), start);
        const completed = found.map((each) => text.slice(0, each.start) + each.insert + text.slice(end));
        if (!completed.includes(text))
          missed.push(`${path}: ${text.slice(start - 20, start)}|${text.slice(start, end)}|${text.slice(end, end + 10)} ${found.length}`);
      }
      workspace.setText(place, undefined);
    }
    expect(missed).toEqual([]);
  });

  it.each(THEMES)('%s: what its host fills, and names that carry the id, can be completed', (_name, platform, kit) => {
    const { folder, shelf, texts } = placed(platform, kit);
    const workspace = new EditorWorkspace({ currentFolder: shelf, platform: platform.contract.name });
    const opened = workspace.opened(folder);
    if (opened === undefined) throw new Error('no theme');
    const { fragments = [], roles = {} } = platform.contract.templates ?? {};
    const filled = [...fragments, ...Object.values(roles).flatMap(({ prints }) => prints.map((text) => ({ text })))];
    const declared = [...findDeclarations(opened.theme)];
    const missed: string[] = [];
    const tryAt = (path: string, text: string, start: number, word: string, begun: string): void => {
      const place = isOneFile(platform) ? folder : join(folder, path);
      const typed = text.slice(0, start) + begun;
      const rest = text.slice(start + word.length);
      workspace.setText(place, typed + rest);
      const found = completionsAt(workspace.fileIn(opened, place), typed.length);
      if (!found.some((each) => typed.slice(0, each.start) + each.insert + rest === text.slice(0, start) + word + rest))
        missed.push(`${path}: ${begun} for ${word}: ${found.map(({ label }) => label).join()}`);
      workspace.setText(place, undefined);
    };
    for (const [path, text] of texts) {
      for (const { text: word } of filled) {
        const start = text.indexOf(word);
        if (start >= 0 && text.indexOf(word, start + 1) < 0 && isOffered(platform, path, word))
          tryAt(path, text, start, word, word.slice(0, 4));
      }
      for (const { start, name, file, fits } of declared)
        if (file === path && fits) tryAt(path, text, start, name, name.replace(/^.*[_/]/, ''));
    }
    expect(missed).toEqual([]);
  });

  it.each(THEMES)('%s: all that names a file names it where it is moved to', (_name, platform, kit) => {
    const { folder, shelf } = placed(platform, kit);
    const workspace = new EditorWorkspace({ currentFolder: shelf, platform: platform.contract.name });
    const opened = workspace.opened(folder);
    if (opened === undefined) throw new Error('no theme');
    const file = { opened, ...workspace.edited(opened) };
    const { tree } = file.theme;
    const named = tree.entries.flatMap(({ path }) => spotsIn({ ...file, path }).map(({ target }) => target));
    const targets = new Map(
      named.flatMap((target) => (target.kind === 'file' && target.theme === file.theme ? [[target.path, target]] : [])),
    );
    for (const [path, target] of targets) {
      const to = path.replace(/[^/.]+(?=[^/]*$)/, '$&_umbria');
      const edits = moveEdits(usesOf(target, [file]), to);
      const files = new Map(tree.entries.flatMap((each) => (each.kind === 'file' ? [[each.path, tree.read(each.path)]] : [])));
      for (const [at, bytes] of files) {
        const own = edits.filter(({ use }) => use.path === at).map(({ edit }) => edit);
        if (own.length > 0) files.set(at, Buffer.from(applyEdits(bytes.toString(), own)));
      }
      files.set(to, files.get(path) ?? Buffer.of());
      files.delete(path);
      const moved = onShelf(themeOf(platform, ID, Object.fromEntries(files)));
      const broken = checkTheme(moved.theme, moved.chain, moved.shelves).findings.filter(({ rule }) => BROKEN.has(rule));
      expect([path, broken.map(({ message }) => message)]).toEqual([path, []]);
    }
  });

  it('a check of it can be cancelled, and is given up when a text changes', async () => {
    const { texts, open } = placed(platformNamed('vereda'));
    const session = open();
    expect(await session.findings(AbortSignal.abort())).toBeUndefined();
    const running = session.findings();
    await session.update(texts[0]?.[0] ?? '', `${texts[0]?.[1]}\n`);
    expect(await running).toBeUndefined();
    expect(await session.findings()).toBeInstanceOf(Map);
  });
});

describe('a file of Pionero’s own', () => {
  it.each<[file: string, text: string, has: string[]]>([
    ['pionero.yaml', 'acc|', ['accept', 'platform', 'shelves']],
    ['pionero.yaml', 'rules:\n  asset/|\n', ['asset/unused', 'template/partial']],
    ['pionero.yaml', 'rules:\n  asset/unused: |\n', ['error', 'off']],
    ['pionero.yaml', 'accept:\n  - rule: |\n    reason: it is so\n', ['asset/unused']],
    ['pionero.yaml', 'platform: ve|', ['vereda', 'sphinx']],
    ['own.platform.yaml', 'templates:\n  lang|\n', ['language', 'files']],
    ['kit.yaml', 'pionero: kit/1\nfor: |\n', ['standalone', 'child']],
    ['pionero.overrides.yaml', 'overrides:\n  - file: a\n    sh|\n', ['sha256', 'theme']],
  ])('%s: %j can be completed', (file, marked, has) => {
    const offset = marked.indexOf('|');
    const found = ownCompletions(`/huts/${file}`, marked.replace('|', ''), offset)?.map(({ label }) => label) ?? [];
    expect(has.filter((each) => !found.includes(each))).toEqual([]);
    expect(found).not.toContain('pionero');
  });

  it.each<[file: string, text: string, problems: [line: number, column: number, message: RegExp][]]>([
    ['pionero.yaml', 'shelves: []\nrulez: {}\n', [[2, 1, /“rulez” is not known here; did you mean “rules”/]]],
    ['mochila.kit.yaml', 'pionero: kit/2\n', [[1, 10, /must be "kit\/1"/]]],
    ['pionero.yaml', 'shelves: []\n', []],
  ])('%s: %j has its mistakes where they are', (file, text, problems) => {
    expect(
      ownProblems(`/huts/${file}`, text)
        ?.slice(0, 1)
        .map(({ line, column, message }) => [line, column, message]),
    ).toEqual(problems.map(([line, column, message]) => [line, column, expect.stringMatching(message)]));
  });

  it('others are none', () => {
    expect(ownCompletions('/huts/notes.yaml', 'a', 1)).toBeUndefined();
    expect(ownProblems('/huts/notes.yaml', 'a')).toBeUndefined();
  });
});
